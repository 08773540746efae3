// Package picture paints pictures without a browser: charts of the same options as on the screen, figures, tables,
// reports and whole dashboards, as SVG, PNG and PDF.
package picture

import (
	"bytes"
	"context"
	"image/color"
	"image/png"
	"math"

	"github.com/tdewolff/canvas"
	"github.com/tdewolff/canvas/renderers/rasterizer"
	"github.com/tdewolff/canvas/renderers/svg"

	"uzzel/core/chart"
)

// Panel is one thing that is painted, with what stands around it.
type Panel struct {
	Title   string
	Below   string // a line under the title
	Text    string // the sentence
	Drawing *chart.Drawing
	Share   bool   // whether shares are drawn
	Table   *Table // in place of a drawing, or, in a document, under it
	Words   string // what it says in place of both
	Heading bool   // whether the words are a heading over what follows
	Note    string // small, at the end: as of when, what it leaves out
}

// Sizes of texts, in pixels.
const (
	titleSize = 16
	textSize  = 12
	smallSize = 11
	margin    = 14
)

// PNG paints a panel; fine is how many dots a pixel has.
func (ps *Painters) PNG(ctx context.Context, p Panel, on string, width, height, fine float64) (out []byte, err error) {
	err = ps.With(ctx, func(ctx context.Context, by *Painter) error {
		s, err := by.alone(ctx, p, groundOf(on), width, height)
		if err != nil {
			return err
		}
		var w bytes.Buffer
		err = png.Encode(&w, rasterizer.Draw(s.Canvas, canvas.DPMM(fine), canvas.DefaultColorSpace))
		out = w.Bytes()
		return err
	})
	return out, err
}

// SVG paints a panel with letters that it carries with it.
func (ps *Painters) SVG(ctx context.Context, p Panel, on string, width, height float64) (out []byte, err error) {
	err = ps.With(ctx, func(ctx context.Context, by *Painter) error {
		s, err := by.alone(ctx, p, groundOf(on), width, height)
		if err != nil {
			return err
		}
		var w bytes.Buffer
		r := svg.New(&w, s.W, s.H, &svg.Options{EmbedFonts: true, SubsetFonts: true, SizeUnits: "px"})
		s.RenderTo(r)
		err = r.Close()
		out = w.Bytes()
		return err
	})
	return out, err
}

// alone is a panel on a ground of its own.
func (p *Painter) alone(ctx context.Context, panel Panel, on tokens, width, height float64) (*sheet, error) {
	s := p.sheet(width, height)
	s.box(0, 0, width, height, on.Paper)
	return s, p.panel(ctx, s, panel, on, rect{margin, margin, width - 2*margin, height - 2*margin})
}

// Drawn is a drawing alone, as SVG in the very shapes in which the screen draws it at that size.
func (ps *Painters) Drawn(
	ctx context.Context,
	d *chart.Drawing,
	share bool,
	on string,
	width, height float64,
) (out string, err error) {
	err = ps.With(ctx, func(ctx context.Context, by *Painter) error {
		out, err = by.svg(ctx, d, share, groundOf(on), width, height)
		return err
	})
	return out, err
}

type rect struct{ x, y, w, h float64 }

// panel paints a panel into a part of a sheet. What has no room is left out of it, and said to be.
func (p *Painter) panel(ctx context.Context, s *sheet, panel Panel, on tokens, r rect) error {
	if panel.Heading {
		s.write(s.l.fit(panel.Words, title, 19, r.w), title, 19, r.x, r.y+r.h-12, on.Ink)
		s.box(r.x, r.y+r.h-5, r.w, 1, on.Ink)
		return nil
	}
	left := r
	head := func(text string, w weight, size float64, ink string, most int) {
		if text == "" {
			return
		}
		lines := s.l.wrap(text, w, size, left.w)
		if len(lines) > most {
			lines = append(lines[:most-1], s.l.fit(lines[most-1]+" "+lines[most], w, size, left.w))
		}
		for _, line := range lines {
			s.write(s.l.fit(line, w, size, left.w), w, size, left.x, left.y+size, ink)
			left.y, left.h = left.y+size*1.35, left.h-size*1.35
		}
	}
	head(panel.Title, title, titleSize, on.Ink, 2)
	head(panel.Below, plain, textSize, on.Ink2, 2)
	head(panel.Text, plain, smallSize, on.Ink2, 3)
	if panel.Note != "" {
		lines := s.l.wrap(panel.Note, plain, smallSize, r.w)
		if len(lines) > 3 {
			lines = lines[:3]
		}
		for i := range lines {
			at := r.y + r.h - float64(len(lines)-1-i)*smallSize*1.3
			s.write(s.l.fit(lines[i], plain, smallSize, r.w), plain, smallSize, r.x, at-2, on.Ink2)
		}
		left.h -= float64(len(lines))*smallSize*1.3 + 3
	}
	left.y, left.h = left.y+4, left.h-4
	if left.h < 20 {
		return nil
	}
	d := panel.Drawing
	switch {
	case panel.Words != "":
		for _, line := range s.l.wrap(panel.Words, plain, textSize+1, left.w) {
			if left.h < textSize*1.4 {
				break
			}
			s.write(line, plain, textSize+1, left.x, left.y+textSize, on.Ink)
			left.y, left.h = left.y+textSize*1.4, left.h-textSize*1.4
		}
		return nil
	case d == nil && panel.Table != nil:
		s.first(panel.Table, on, left)
		return nil
	case d == nil:
		return nil
	case d.Kind == "figure" || d.Kind == "progress":
		s.figure(d, on, left)
		return nil
	}
	return p.chart(ctx, s, d, panel.Share, on, left)
}

// chart paints a drawing with what its owner says over and under it.
func (p *Painter) chart(ctx context.Context, s *sheet, d *chart.Drawing, share bool, on tokens, r rect) error {
	if d.On != "" && groundOf(d.On) != on {
		on = groundOf(d.On)
		s.box(r.x, r.y, r.w, r.h, on.Paper)
		r = rect{r.x + 6, r.y + 6, r.w - 12, r.h - 12}
	}
	line := func(text string, w weight, ink string) {
		if text != "" {
			s.write(s.l.fit(text, w, textSize, r.w), w, textSize, r.x, r.y+textSize, ink)
			r.y, r.h = r.y+textSize*1.4, r.h-textSize*1.4
		}
	}
	line(d.Heading, bold, on.Ink)
	line(d.Below, plain, on.Ink2)
	line(d.Totals, plain, on.Ink)
	var under []string
	for _, n := range append(append([]string{}, d.Notes...), d.Source) {
		if n != "" {
			under = append(under, s.l.wrap(n, plain, smallSize, r.w)...)
		}
	}
	for i := range under {
		at := r.y + r.h - float64(len(under)-1-i)*smallSize*1.3
		s.write(under[i], plain, smallSize, r.x, at-2, on.Ink2)
	}
	r.h -= float64(len(under)) * smallSize * 1.3
	if len(d.Categories) == 0 {
		s.write("No record meets all conditions, so there is nothing to draw.", plain, textSize, r.x, r.y+20, on.Ink2)
		return nil
	}
	if r.w < 40 || r.h < 40 {
		return nil
	}
	text, err := p.svg(ctx, d, share, on, r.w, r.h)
	if err != nil {
		return err
	}
	return s.paintSVG(text, r.x, r.y)
}

// figure paints one number, large: how it changed, how far it has come, and its course.
func (s *sheet) figure(d *chart.Drawing, on tokens, r rect) {
	total := d.Total
	if total == "" {
		total = "–"
	}
	size := 44.0
	for size > 14 && s.l.width(total, title, size) > r.w {
		size--
	}
	y := r.y + size
	s.write(total, title, size, r.x, y, on.Ink)
	y += 8
	if c := d.Change; c != nil {
		text, ink := c.Text, on.Ink2
		if text == "" {
			text = "no change known"
		}
		switch {
		case c.Way > 0:
			ink = on.Sea
		case c.Way < 0:
			ink = on.Rust
		}
		before := c.Before
		if before == "" {
			before = "nothing"
		}
		y += textSize + 2
		s.write(text, bold, textSize, r.x, y, ink)
		s.write(" from "+before, plain, textSize, r.x+s.l.width(text, bold, textSize), y, on.Ink2)
	}
	if g := d.Progress; g != nil {
		y += 10
		s.box(r.x, y, r.w, 8, on.Sunk)
		s.box(r.x, y, r.w*max(0, min(1, g.Part)), 8, on.Sea)
		y += 8 + textSize + 4
		said := g.Share + " of " + g.Target
		if g.Missing != "" {
			said += ", " + g.Missing + " missing"
		}
		s.write(s.l.fit(said, plain, textSize, r.w), plain, textSize, r.x, y, on.Ink)
		if g.Of != "" {
			y += textSize * 1.4
			s.write(s.l.fit(g.Of, plain, smallSize, r.w), plain, smallSize, r.x, y, on.Ink2)
		}
	}
	if left := r.y + r.h - y - 12; d.Kind == "figure" && d.Timed && len(d.Categories) > 1 && len(d.Series) > 0 &&
		left > 24 {
		s.course(d.Series[0], on, rect{r.x, y + 10, r.w, min(left, 64)})
	}
}

// course is the course of a row of values, without axes.
func (s *sheet) course(row chart.Series, on tokens, r rect) {
	low, high := math.Inf(1), math.Inf(-1)
	for _, p := range row.Points {
		if p.Value != nil {
			low, high = min(low, *p.Value), max(high, *p.Value)
		}
	}
	if low > high {
		return
	}
	if high == low {
		high = low + 1
	}
	line, begun := &canvas.Path{}, false
	for i, p := range row.Points {
		if p.Value == nil {
			begun = false
			continue
		}
		x := r.x + r.w*float64(i)/float64(max(1, len(row.Points)-1))
		y := r.y + r.h - (*p.Value-low)/(high-low)*r.h
		if begun {
			line.LineTo(x, y)
		} else {
			line.MoveTo(x, y)
		}
		begun = true
	}
	ink := row.Colour
	if on.Dark {
		ink = row.OnInk
	}
	c, ok := colourOf(ink, 1)
	if !ok {
		c, _ = colourOf(on.Sea, 1)
	}
	s.path(line, canvas.Style{
		Stroke: canvas.Paint{Color: c}, StrokeWidth: 2, StrokeCapper: canvas.RoundCap, StrokeJoiner: canvas.RoundJoin,
	})
}

// box fills a rectangle.
func (s *sheet) box(x, y, w, h float64, ink string) {
	c, ok := colourOf(ink, 1)
	if ok && w > 0 && h > 0 {
		s.path(canvas.Rectangle(w, h).Translate(x, y), canvas.Style{Fill: canvas.Paint{Color: c}})
	}
}

// frame is the outline of a rectangle.
func (s *sheet) frame(x, y, w, h float64, ink string) {
	if c, ok := colourOf(ink, 1); ok {
		p := canvas.RoundedRectangle(w, h, 4).Translate(x, y)
		s.path(
			p,
			canvas.Style{
				Stroke:       canvas.Paint{Color: c},
				StrokeWidth:  1,
				StrokeCapper: canvas.ButtCap,
				StrokeJoiner: canvas.MiterJoin,
			},
		)
	}
}

// write writes a line with its baseline at y.
func (s *sheet) write(text string, w weight, size, x, y float64, ink string) {
	c, ok := colourOf(ink, 1)
	if !ok {
		c = color.RGBA{A: 255}
	}
	s.letters(text, w, size, canvas.Identity, x, y, c)
}
