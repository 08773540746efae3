package picture

import (
	"encoding/xml"
	"errors"
	"fmt"
	"image/color"
	"io"
	"math"
	"strconv"
	"strings"

	"github.com/tdewolff/canvas"
)

// element is one of an SVG.
type element struct {
	XMLName  xml.Name
	Attrs    []xml.Attr `xml:",any,attr"`
	Text     string     `xml:",chardata"`
	Children []element  `xml:",any"`
}

func (e *element) attr(name string) string {
	style := ""
	for _, a := range e.Attrs {
		switch a.Name.Local {
		case name:
			return a.Value
		case "style":
			style = a.Value
		}
	}
	for _, rule := range strings.Split(style, ";") {
		if key, value, ok := strings.Cut(rule, ":"); ok && strings.TrimSpace(key) == name {
			return strings.TrimSpace(value)
		}
	}
	return ""
}

func (e *element) number(name string, otherwise float64) float64 {
	n, err := strconv.ParseFloat(strings.TrimSuffix(e.attr(name), "px"), 64)
	if err != nil {
		return otherwise
	}
	return n
}

// paintSVG paints what ECharts writes as SVG, of which it is a part: shapes and texts in groups, moved and turned, cut by
// rectangles. A shape that it does not know is an error, and nothing is left out silently. at is where its upper left corner goes.
func (s *sheet) paintSVG(text string, x, y float64) error {
	var root element
	d := xml.NewDecoder(strings.NewReader(text))
	if err := d.Decode(&root); err != nil && !errors.Is(err, io.EOF) {
		return fmt.Errorf("reading the drawing: %w", err)
	}
	v := vectors{s: s, clips: map[string]*canvas.Path{}}
	v.define(&root)
	return v.paint(&root, canvas.Identity.Translate(x, y), 1, nil)
}

type vectors struct {
	s     *sheet
	clips map[string]*canvas.Path
}

func (v *vectors) define(e *element) {
	for i := range e.Children {
		c := &e.Children[i]
		if c.XMLName.Local == "clipPath" && len(c.Children) > 0 {
			if p, err := canvas.ParseSVGPath(c.Children[0].attr("d")); err == nil {
				v.clips[c.attr("id")] = p.Transform(transformOf(c.Children[0].attr("transform")))
			}
		}
		v.define(c)
	}
}

func (v *vectors) paint(e *element, m canvas.Matrix, opacity float64, clip *canvas.Path) error {
	m = m.Mul(transformOf(e.attr("transform")))
	opacity *= e.number("opacity", 1)
	if id, ok := strings.CutPrefix(e.attr("clip-path"), "url(#"); ok {
		if p := v.clips[strings.TrimSuffix(id, ")")]; p != nil {
			clip = p.Copy().Transform(m)
		}
	}
	switch e.XMLName.Local {
	case "defs", "style":
		return nil
	case "path":
		p, err := canvas.ParseSVGPath(e.attr("d"))
		if err != nil {
			return fmt.Errorf("a path of the drawing: %w", err)
		}
		v.path(e, p, m, opacity, clip)
	case "rect":
		p := canvas.Rectangle(e.number("width", 0), e.number("height", 0))
		v.path(e, p.Translate(e.number("x", 0), e.number("y", 0)), m, opacity, clip)
	case "polygon", "polyline":
		p, err := canvas.ParseSVGPath("M" + strings.TrimSpace(e.attr("points")))
		if err != nil {
			return fmt.Errorf("a shape of the drawing: %w", err)
		}
		if e.XMLName.Local == "polygon" {
			p.Close()
		}
		v.path(e, p, m, opacity, clip)
	case "circle":
		p := canvas.Circle(e.number("r", 0))
		v.path(e, p.Translate(e.number("cx", 0), e.number("cy", 0)), m, opacity, clip)
	case "ellipse":
		p := canvas.Ellipse(e.number("rx", 0), e.number("ry", 0))
		v.path(e, p.Translate(e.number("cx", 0), e.number("cy", 0)), m, opacity, clip)
	case "line":
		p := &canvas.Path{}
		p.MoveTo(e.number("x1", 0), e.number("y1", 0))
		p.LineTo(e.number("x2", 0), e.number("y2", 0))
		v.path(e, p, m, opacity, clip)
	case "svg", "g", "tspan":
	case "text": // whole, or not at all
		at := m.Dot(canvas.Point{X: e.number("x", 0), Y: e.number("y", 0)})
		if clip == nil || clip.Bounds().ContainsPoint(at) {
			v.text(e, m, opacity)
		}
	default:
		return fmt.Errorf("the drawing has a <%s>, which is not known here", e.XMLName.Local)
	}
	for i := range e.Children {
		if err := v.paint(&e.Children[i], m, opacity, clip); err != nil {
			return err
		}
	}
	return nil
}

// path fills and strokes a path.
func (v *vectors) path(e *element, p *canvas.Path, m canvas.Matrix, opacity float64, clip *canvas.Path) {
	if p.Empty() {
		return
	}
	style := canvas.Style{
		StrokeWidth:  e.number("stroke-width", 1),
		StrokeCapper: canvas.ButtCap,
		StrokeJoiner: canvas.MiterJoin,
	}
	fill := e.attr("fill")
	if fill == "" {
		fill = "#000"
	}
	if c, ok := colourOf(fill, opacity*e.number("fill-opacity", 1)); ok {
		style.Fill = canvas.Paint{Color: c}
	}
	if c, ok := colourOf(e.attr("stroke"), opacity*e.number("stroke-opacity", 1)); ok && style.StrokeWidth > 0 {
		style.Stroke = canvas.Paint{Color: c}
	}
	if !style.HasFill() && !style.HasStroke() {
		return // only there to be pointed at
	}
	switch e.attr("stroke-linecap") {
	case "round":
		style.StrokeCapper = canvas.RoundCap
	case "square":
		style.StrokeCapper = canvas.SquareCap
	}
	switch e.attr("stroke-linejoin") {
	case "round":
		style.StrokeJoiner = canvas.RoundJoin
	case "bevel":
		style.StrokeJoiner = canvas.BevelJoin
	}
	for _, d := range strings.FieldsFunc(e.attr("stroke-dasharray"), func(r rune) bool { return r == ',' || r == ' ' }) {
		if n, err := strconv.ParseFloat(d, 64); err == nil {
			style.Dashes = append(style.Dashes, n)
		}
	}
	p = p.Transform(m)
	if clip != nil && !within(p.FastBounds(), clip.FastBounds()) {
		v.clipped(p, style, clip)
		return
	}
	v.s.path(p, style)
}

// clipped paints the part of a path that lies within another: what is stroked becomes an area first.
func (v *vectors) clipped(p *canvas.Path, style canvas.Style, clip *canvas.Path) {
	if style.HasFill() {
		v.s.path(p.And(clip), canvas.Style{Fill: style.Fill})
	}
	if style.HasStroke() {
		if len(style.Dashes) > 0 {
			p = p.Dash(style.DashOffset, style.Dashes...)
		}
		area := p.Stroke(style.StrokeWidth, style.StrokeCapper, style.StrokeJoiner, 0.05)
		v.s.path(area.And(clip), canvas.Style{Fill: style.Stroke})
	}
}

func within(in, of canvas.Rect) bool {
	const edge = 1.5 // a line along the edge is not worth cutting
	return in.X0 >= of.X0-edge && in.Y0 >= of.Y0-edge && in.X1 <= of.X1+edge && in.Y1 <= of.Y1+edge
}

// text paints a text where its anchor and its baseline say.
func (v *vectors) text(e *element, m canvas.Matrix, opacity float64) {
	said := e.Text
	for i := range e.Children {
		said += e.Children[i].Text
	}
	fill := e.attr("fill")
	if fill == "" {
		fill = "#000"
	}
	c, ok := colourOf(fill, opacity*e.number("fill-opacity", 1))
	if !ok || said == "" {
		return
	}
	w := plain
	if b := e.attr("font-weight"); b == "bold" || b == "600" || b == "700" {
		w = bold
	}
	size := e.number("font-size", 12)
	if font := e.attr("font"); font != "" {
		w, size = fontOf(font)
	}
	x, y := e.number("x", 0), e.number("y", 0)
	wide := v.s.l.width(said, w, size)
	switch e.attr("text-anchor") {
	case "middle":
		x -= wide / 2
	case "end":
		x -= wide
	}
	switch e.attr("dominant-baseline") {
	case "central", "middle":
		y += size * middle
	case "hanging", "text-before-edge":
		y += size * 0.8
	}
	if halo, ok := colourOf(e.attr("stroke"), opacity); ok && e.number("stroke-width", 0) > 0 {
		v.s.halo(said, w, size, m, x, y, canvas.Paint{Color: halo}, e.number("stroke-width", 0))
	}
	v.s.letters(said, w, size, m, x, y, c)
}

// middle is how far below the middle of a line its letters stand, as a part of their size.
const middle = 0.35

// path paints a path that is given with y from the top.
func (s *sheet) path(p *canvas.Path, style canvas.Style) {
	if !p.Empty() {
		s.RenderPath(p.Transform(s.up()), style, canvas.Identity)
	}
}

// up turns what is given with y from the top over.
func (s *sheet) up() canvas.Matrix { return canvas.Matrix{{1, 0, 0}, {0, -1, s.H}} }

// letters writes a text from a place on its baseline, under a matrix that moves and turns.
func (s *sheet) letters(text string, w weight, size float64, m canvas.Matrix, x, y float64, ink color.Color) {
	turned := math.Atan2(m[1][0], m[0][0])
	for _, r := range s.l.runs(text, w) {
		face := s.l.face(r.w, size, ink)
		at := m.Dot(canvas.Point{X: x, Y: y})
		to := canvas.Identity.Translate(at.X, s.H-at.Y).Rotate(-turned * 180 / math.Pi)
		s.RenderText(canvas.NewTextLine(face, r.text, canvas.Left), to)
		x += face.TextWidth(r.text)
	}
}

// halo paints the ground around letters, so that no line runs through them.
func (s *sheet) halo(
	text string,
	w weight,
	size float64,
	m canvas.Matrix,
	x, y float64,
	paint canvas.Paint,
	wide float64,
) {
	for _, r := range s.l.runs(text, w) {
		face := s.l.face(r.w, size, canvas.Black)
		p, advance, err := face.ToPath(r.text)
		if err != nil {
			return
		}
		at := m.Dot(canvas.Point{X: x, Y: y})
		to := canvas.Identity.Translate(at.X, s.H-at.Y).Rotate(-math.Atan2(m[1][0], m[0][0]) * 180 / math.Pi)
		s.RenderPath(p, canvas.Style{
			Stroke: paint, StrokeWidth: wide, StrokeCapper: canvas.RoundCap, StrokeJoiner: canvas.RoundJoin,
		}, to)
		x += advance
	}
}

// transformOf reads the transforms that are written one after another.
func transformOf(text string) canvas.Matrix {
	m := canvas.Identity
	for text != "" {
		name, rest, ok := strings.Cut(text, "(")
		if !ok {
			break
		}
		inner, after, _ := strings.Cut(rest, ")")
		text = strings.TrimLeft(after, " ,")
		var n []float64
		for _, t := range strings.FieldsFunc(inner, func(r rune) bool { return r == ' ' || r == ',' }) {
			f, err := strconv.ParseFloat(t, 64)
			if err != nil {
				return m
			}
			n = append(n, f)
		}
		switch name = strings.TrimSpace(name); {
		case name == "translate" && len(n) == 1:
			m = m.Translate(n[0], 0)
		case name == "translate" && len(n) == 2:
			m = m.Translate(n[0], n[1])
		case name == "rotate" && len(n) == 1:
			m = m.Rotate(n[0])
		case name == "rotate" && len(n) == 3:
			m = m.Translate(n[1], n[2]).Rotate(n[0]).Translate(-n[1], -n[2])
		case name == "scale" && len(n) == 1:
			m = m.Scale(n[0], n[0])
		case name == "scale" && len(n) == 2:
			m = m.Scale(n[0], n[1])
		case name == "matrix" && len(n) == 6:
			m = m.Mul(canvas.Matrix{{n[0], n[2], n[4]}, {n[1], n[3], n[5]}})
		}
	}
	return m
}

// colourOf reads a colour as ECharts writes it; ok is false where nothing is painted.
func colourOf(text string, opacity float64) (c color.RGBA, ok bool) {
	text = strings.TrimSpace(text)
	if text == "" || text == "none" || text == "transparent" || opacity <= 0 {
		return c, false
	}
	var r, g, b uint8
	a := 1.0
	switch {
	case strings.HasPrefix(text, "#"):
		hex := text[1:]
		if len(hex) == 3 {
			hex = string([]byte{hex[0], hex[0], hex[1], hex[1], hex[2], hex[2]})
		}
		n, err := strconv.ParseUint(hex, 16, 32)
		if err != nil || len(hex) != 6 {
			return c, false
		}
		r, g, b = uint8(n>>16), uint8(n>>8&0xff), uint8(n&0xff)
	case strings.HasPrefix(text, "rgb"):
		_, inner, _ := strings.Cut(text, "(")
		parts := strings.FieldsFunc(strings.TrimSuffix(inner, ")"), func(x rune) bool { return x == ',' || x == ' ' })
		if len(parts) < 3 {
			return c, false
		}
		for i, to := range []*uint8{&r, &g, &b} {
			n, err := strconv.ParseFloat(parts[i], 64)
			if err != nil {
				return c, false
			}
			*to = uint8(math.Round(max(0, min(255, n))))
		}
		if len(parts) > 3 {
			if n, err := strconv.ParseFloat(parts[3], 64); err == nil {
				a = n
			}
		}
	default:
		return c, false
	}
	if a *= opacity; a <= 0 {
		return c, false
	}
	times := func(v uint8) uint8 { return uint8(math.Round(float64(v) * a)) }
	return color.RGBA{times(r), times(g), times(b), times(255)}, true
}
