package chart

import (
	"fmt"
	"hash/fnv"
	"math"

	"uzzel/core/brief"
	"uzzel/core/engine"
)

// shade is a member's colour where each category has its own: ordered ones go from sea to amber, others take turns.
func (d *drawer) shade(m engine.Member, i, n int) string {
	if len(d.r.Bound.Groups) > 0 {
		if c := d.w.Style.colour(d.r.Bound.Groups[0], m.Label); c != "" {
			return c
		}
	}
	own := d.w.Style.palette()
	switch {
	case !m.Value():
		return restColour
	case len(d.r.Bound.Groups) > 0 && engine.Natural(d.r.Bound.Groups[0]):
		return ramp(i, n)
	}
	return own[i%len(own)]
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

// colours gives each series a colour that it keeps when others come and go: by its place among the listed choices,
// else by its label.
func colours(g *brief.BoundGroup, members []engine.Member, style *Style) []string {
	palette := style.palette()
	taken := map[int]bool{}
	out := make([]string, len(members))
	for i, m := range members {
		if !m.Value() {
			out[i] = restColour
			continue
		}
		if out[i] = style.colour(g, m.Label); out[i] != "" {
			continue
		}
		at := -1
		if f := g.Values[0].Field; f != nil {
			for k, c := range f.Choices {
				if c == m.Label {
					at = k % len(palette)
				}
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
