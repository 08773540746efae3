package picture

import (
	"bytes"
	"context"
	"fmt"

	"github.com/tdewolff/canvas"
	"github.com/tdewolff/canvas/renderers/pdf"
)

// Document is a report or a dashboard on pages.
type Document struct {
	Title  string
	Lines  []string // under the title: the sentence, whose eyes it was seen through, when
	Panels []Placed
	Wide   bool // whether its pages lie
}

// Placed is a panel with its place on a grid twelve wide; without a width it is as wide as the page, and its table goes on
// over as many pages as it needs.
type Placed struct {
	Panel
	X, Y, W, H int
}

// Pages are A4, in pixels of 96 to the inch.
const (
	pageShort, pageLong = 794.0, 1123.0
	edge                = 44.0
	cellHigh            = 30.0 // of the grid of dashboards
	chartHigh           = 330.0
	mostPages           = 400
)

type pages struct {
	p    *Painter
	doc  Document
	w, h float64
	list []*sheet
	y    float64 // where the next thing on the last page goes
}

// PDF paints a document: its texts can be searched, its pages are numbered, heads of tables stand on each.
func (ps *Painters) PDF(ctx context.Context, doc Document) (out []byte, err error) {
	err = ps.With(ctx, func(ctx context.Context, by *Painter) error {
		g := &pages{p: by, doc: doc, w: pageShort, h: pageLong}
		if doc.Wide {
			g.w, g.h = pageLong, pageShort
		}
		if err := g.lay(ctx); err != nil {
			return err
		}
		out, err = g.write()
		return err
	})
	return out, err
}

func (g *pages) turn() *sheet {
	s := g.p.sheet(g.w, g.h)
	s.box(0, 0, g.w, g.h, "#ffffff")
	g.list, g.y = append(g.list, s), edge
	return s
}

func (g *pages) last() *sheet { return g.list[len(g.list)-1] }

func (g *pages) left() float64 { return g.h - edge - 24 - g.y }

func (g *pages) lay(ctx context.Context) error {
	s := g.turn()
	room := g.w - 2*edge
	for _, line := range s.l.wrap(g.doc.Title, title, 22, room) {
		s.write(line, title, 22, edge, g.y+22, paper.Ink)
		g.y += 29
	}
	for i, text := range g.doc.Lines {
		size, ink := 12.0, paper.Ink2
		if i == 0 {
			size, ink = 13.5, paper.Ink
		}
		for _, line := range s.l.wrap(text, plain, size, room) {
			s.write(line, plain, size, edge, g.y+size, ink)
			g.y += size * 1.4
		}
	}
	g.y += 10
	var row []Placed
	for _, p := range g.doc.Panels {
		if p.W == 0 {
			if err := g.whole(ctx, p.Panel); err != nil {
				return err
			}
			continue
		}
		row = append(row, p)
	}
	return g.grid(ctx, row)
}

// whole lays a panel out over the width of the page: its drawing first, then its table, on as many pages as that takes.
func (g *pages) whole(ctx context.Context, p Panel) error {
	room := g.w - 2*edge
	if p.Drawing != nil || p.Words != "" {
		high := chartHigh
		if p.Words != "" {
			high = 60
		}
		if g.left() < high {
			g.turn()
		}
		shown := p
		shown.Table = nil
		if err := g.p.panel(ctx, g.last(), shown, paper, rect{edge, g.y, room, high}); err != nil {
			return err
		}
		g.y += high + 14
	}
	if p.Table == nil {
		return nil
	}
	for from := 0; ; {
		if g.left() < 4*rowHeight {
			g.turn()
		}
		next := g.last().table(p.Table, paper, rect{edge, g.y, room, g.left() - 20}, from)
		g.y += float64(next-from+1)*rowHeight + 12
		if next >= len(p.Table.Rows) || next == from || len(g.list) >= mostPages {
			p.Table.More += len(p.Table.Rows) - next
			break
		}
		from = next
		g.turn()
	}
	if p.Table.More > 0 {
		g.last().write(
			fmt.Sprintf("and %d more rows that are not here", p.Table.More),
			bold,
			smallSize,
			edge,
			g.y+smallSize,
			paper.Ink,
		)
		g.y += 20
	}
	return ctx.Err()
}

// grid lays panels out as they stand on a dashboard; those that begin in a row that has no room left go to the next page.
func (g *pages) grid(ctx context.Context, list []Placed) error {
	if len(list) == 0 {
		return nil
	}
	col := (g.w - 2*edge) / 12
	top := list[0].Y
	for _, p := range list {
		top = min(top, p.Y)
	}
	for _, p := range list {
		most := (g.h - 2*edge - 24)
		high := min(float64(p.H)*cellHigh, most)
		y := g.y + float64(p.Y-top)*cellHigh
		if y+high > g.h-edge-24 {
			g.turn()
			top, y = p.Y, g.y
		}
		s := g.last()
		r := rect{edge + float64(p.X)*col, y, float64(p.W) * col, high}
		if !p.Heading {
			s.frame(r.x+4, r.y+4, r.w-8, r.h-8, paper.Line)
		}
		if err := g.p.panel(ctx, s, p.Panel, paper, rect{r.x + 14, r.y + 13, r.w - 28, r.h - 26}); err != nil {
			return err
		}
	}
	return ctx.Err()
}

// write numbers the pages and writes them down.
func (g *pages) write() ([]byte, error) {
	const mm = 25.4 / 96
	var w bytes.Buffer
	out := pdf.New(&w, g.w*mm, g.h*mm, &pdf.Options{Compress: true, SubsetFonts: true})
	out.SetInfo(g.doc.Title, "", "", "", "Uzzel")
	out.SetLang("en")
	for i, s := range g.list {
		if i > 0 {
			out.NewPage(g.w*mm, g.h*mm)
		}
		number := fmt.Sprintf("page %d of %d", i+1, len(g.list))
		at := g.h - edge + 4
		s.write(s.l.fit(g.doc.Title, plain, smallSize, g.w-2*edge-120), plain, smallSize, edge, at, paper.Ink2)
		s.write(number, plain, smallSize, g.w-edge-s.l.width(number, plain, smallSize), at, paper.Ink2)
		s.RenderViewTo(out, canvas.Identity.Scale(mm, mm))
	}
	err := out.Close()
	return w.Bytes(), err
}
