package chart

import (
	"fmt"
	"hash/fnv"
	"math"
	"slices"

	"uzzel/core/brief"
	"uzzel/core/result"
)

// tints are the colours of categories that have one each.
func (d *drawer) tints(nodes []result.Node, kids []int) []string {
	if len(d.r.Bound.Groups) == 0 {
		return []string{d.w.Style.palette()[0]}
	}
	members := make([]result.Member, len(kids))
	for i, n := range kids {
		members[i] = nodes[n].Member
	}
	return colours(d.r.Bound.Groups[0], members, d.w.Style)
}

// statusColours are the places in the palette of the three statuses, on every chart.
var statusColours = map[string]int{"open": 3, "won": 0, "lost": 4}

// colours gives each member of a field a colour that it has on every chart, whatever is beside it: the one that is
// set for the value; a status its own; one of a set order by its place among all of them, from sea over moss to amber;
// a choice by its place among the choices; else by its label. Numbers, dates and bands go from sea to amber in their
// order.
func colours(g *brief.BoundGroup, members []result.Member, style *Style) []string {
	palette := style.palette()
	taken := map[int]bool{}
	out := make([]string, len(members))
	f := g.Values[0].Field
	for i, m := range members {
		switch {
		case m.Hidden:
			out[i] = hiddenColour
		case m.Blank:
			out[i] = blankColour
		case m.Other:
			out[i] = restColour
		default:
			out[i] = style.colour(g, m.Label)
		}
		if out[i] != "" {
			continue
		}
		if f != nil && f.Worked != nil && f.Worked.As == "stage_status" {
			if at, ok := statusColours[m.Label]; ok {
				out[i] = palette[at%len(palette)]
				continue
			}
		}
		if result.Natural(g) {
			at, n := i, len(members)
			if f != nil && f.Ordered && slices.Contains(f.Choices, m.Label) {
				at, n = slices.Index(f.Choices, m.Label), len(f.Choices)
			}
			out[i] = ramp(at, n)
			if style != nil && len(style.Palette) > 0 {
				out[i] = palette[at%len(palette)]
			}
			continue
		}
		at := -1
		if f != nil {
			if k := slices.Index(f.Choices, m.Label); k >= 0 {
				at = k % len(palette)
			}
		}
		if at < 0 {
			h := fnv.New32a()
			_, _ = h.Write([]byte(m.Label))
			at = int(h.Sum32() % uint32(len(palette)))
		}
		for n := 0; taken[at] && n < len(palette); n++ {
			at = (at + 1) % len(palette)
		}
		taken[at] = true
		out[i] = palette[at]
	}
	return out
}

// ramp is step i of n from sea over moss to amber.
func ramp(i, n int) string {
	stops := [][3]float64{{0, 124, 125}, {121, 148, 84}, {202, 129, 0}}
	at := 0.0
	if n > 1 {
		at = float64(i) / float64(n-1) * 2
	}
	k := min(int(at), 1)
	var c [3]int
	for j := range c {
		c[j] = int(math.Round(stops[k][j] + (stops[k+1][j]-stops[k][j])*(at-float64(k))))
	}
	return fmt.Sprintf("#%02X%02X%02X", c[0], c[1], c[2])
}

// paint is a colour with what goes with it: its lighter sister on ink, and text that can be read on both (WCAG 2.2,
// 1.4.3).
func paint(colour string) Paint {
	if brief.CheckColour(colour) != nil {
		return Paint{Colour: colour, Text: "#000000", OnInk: colour, TextOnInk: "#000000"}
	}
	p := Paint{Colour: colour, OnInk: sister(colour)}
	p.Text, p.TextOnInk = textOn(p.Colour), textOn(p.OnInk)
	return p
}

// PaintOf is a colour with its lighter sister on ink and the colours of text on both.
func PaintOf(colour string) Paint { return paint(colour) }

// Contrast is the contrast of two colours (WCAG 2.2).
func Contrast(a, b string) float64 { return contrast(linear(a), linear(b)) }

// minText is the least contrast of text against its ground.
const minText = 4.5

// textOn is the colour of text on a mark: white, ink, or, where neither can be read well, black.
func textOn(colour string) string {
	for _, c := range []string{"#FFFFFF", "#191A1F"} {
		if contrast(linear(c), linear(colour)) >= minText {
			return c
		}
	}
	return "#000000"
}

// sister is a colour as light as it stands out well on ink.
func sister(colour string) string {
	ink := linear("#1D1F25")
	for part := 0; part <= 100; part += 4 {
		var rgb [3]int
		for i := range rgb {
			var v int
			_, _ = fmt.Sscanf(colour[1+2*i:3+2*i], "%02X", &v)
			rgb[i] = v + (255-v)*part/100
		}
		if c := fmt.Sprintf("#%02X%02X%02X", rgb[0], rgb[1], rgb[2]); contrast(linear(c), ink) >= 5.5 {
			return c
		}
	}
	return "#FFFFFF"
}
