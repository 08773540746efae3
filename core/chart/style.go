package chart

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strconv"

	"uzzel/core/brief"
	"uzzel/core/schema"
)

// Style is how charts look that say nothing else: the organisation's house style, or one that is kept by name and that
// charts ask for.
type Style struct {
	Palette []string `json:"palette,omitempty" doc:"Colours of series and categories, in turn; none for our own"`
	// Values are the colours that values of a field have on every chart, by "type.field".
	Values map[string]map[string]string `json:"values,omitempty"`
	Legend string                       `json:"legend,omitempty"`
	Guides string                       `json:"guides,omitempty"`
	Labels string                       `json:"labels,omitempty"`
	Totals string                       `json:"totals,omitempty"`
	On     string                       `json:"on,omitempty"`
}

// over is this style where it says something, else what another says. Values keep their colours whatever the style.
func (s Style) over(below Style) Style {
	if len(s.Palette) == 0 {
		s.Palette = below.Palette
	}
	s.Values = below.Values
	s.Legend, s.Guides, s.Labels = cmp.Or(
		s.Legend,
		below.Legend,
	), cmp.Or(
		s.Guides,
		below.Guides,
	), cmp.Or(
		s.Labels,
		below.Labels,
	)
	s.Totals, s.On = cmp.Or(s.Totals, below.Totals), cmp.Or(s.On, below.On)
	return s
}

// Check says what is wrong with a style.
func (s *Style) Check(sc *schema.Schema) error {
	if err := brief.CheckPalette(s.Palette); err != nil {
		return err
	}
	for key, values := range s.Values {
		known := false
		for _, t := range sc.Types {
			for _, f := range t.Fields {
				known = known || key == t.Key+"."+f.Key
			}
		}
		if !known {
			return fmt.Errorf("there is no field %q", key)
		}
		for v, c := range values {
			if err := brief.CheckColour(c); err != nil {
				return fmt.Errorf("of %q: %w", v, err)
			}
		}
	}
	for _, look := range []struct {
		name, value string
		known       []string
	}{{"legend", s.Legend, brief.Legends}, {"guides", s.Guides, brief.Guides}, {"labels", s.Labels, brief.ChartLabels}, {"totals", s.Totals, brief.ChartTotals}, {"ground", s.On, brief.Grounds}} {
		if look.value != "" && !slices.Contains(look.known, look.value) {
			return fmt.Errorf("there is no %s %q", look.name, look.value)
		}
	}
	return nil
}

// colour is what a value of a field has on every chart, "" where it is not set.
func (s *Style) colour(g *brief.BoundGroup, label string) string {
	if s == nil || g == nil || g.Values[0].Field == nil {
		return ""
	}
	return s.Values[g.Values[0].Type.Key+"."+g.Values[0].Field.Key][label]
}

func (s *Style) palette() []string {
	if s == nil || len(s.Palette) == 0 {
		return palette
	}
	return s.Palette
}

// Palette is our own palette.
func Palette() []string { return slices.Clone(palette) }

// Finding is what is wrong with a palette for some readers.
type Finding struct {
	Text    string   `json:"text"`
	Colours []string `json:"colours"`
}

// grounds are what charts are drawn on: paper and ink.
var grounds = []struct{ name, colour string }{{"paper", "#FFFDF9"}, {"ink", "#1D1F25"}}

// MinContrast is the least contrast of a mark with its ground (WCAG 2.2, 1.4.11).
const MinContrast = 3.0

// minApart is the least distance of two colours in CIELAB that are told apart side by side.
const minApart = 11.0

// sights are how colours are seen: as they are, and by readers without one of the three sorts of cones (Machado,
// Oliveira and Fernandes, 2009, at full severity, in linear light).
var sights = []struct {
	name   string
	matrix [9]float64
}{
	{"", [9]float64{1, 0, 0, 0, 1, 0, 0, 0, 1}},
	{
		" by readers who do not see red",
		[9]float64{0.152286, 1.052583, -0.204868, 0.114503, 0.786281, 0.099216, -0.003882, -0.048116, 1.051998},
	},
	{
		" by readers who do not see green",
		[9]float64{0.367322, 0.860646, -0.227968, 0.280085, 0.672501, 0.047413, -0.011820, 0.042940, 0.968881},
	},
	{
		" by readers who do not see blue",
		[9]float64{1.255528, -0.076749, -0.178779, -0.078411, 0.930809, 0.147602, 0.004733, 0.691367, 0.303900},
	},
}

// CheckPalette lists the colours that stand out too little from the ground, and the pairs that are not told apart.
func CheckPalette(colours []string) []Finding {
	list := []Finding{}
	for _, c := range colours {
		if brief.CheckColour(c) != nil {
			return []Finding{{"A colour is written like #1F7A72.", []string{c}}}
		}
	}
	for _, c := range colours {
		for _, g := range grounds {
			if r := contrast(linear(c), linear(g.colour)); r < MinContrast {
				list = append(
					list,
					Finding{
						fmt.Sprintf("%s has a contrast of %.1f on %s; at least %.0f is wanted.", c, r, g.name, MinContrast),
						[]string{c},
					},
				)
			}
		}
	}
	for i, a := range colours {
		for _, b := range colours[:i] {
			for _, s := range sights {
				if apart(seen(linear(a), s.matrix), seen(linear(b), s.matrix)) < minApart {
					list = append(list, Finding{fmt.Sprintf("%s and %s are hard to tell apart%s.", b, a, s.name), []string{b, a}})
					break
				}
			}
		}
	}
	return list
}

// linear is a colour's red, green and blue in linear light.
func linear(c string) [3]float64 {
	var out [3]float64
	for i := range out {
		v, _ := strconv.ParseUint(c[1+2*i:3+2*i], 16, 8)
		x := float64(v) / 255
		if x <= 0.04045 {
			out[i] = x / 12.92
		} else {
			out[i] = math.Pow((x+0.055)/1.055, 2.4)
		}
	}
	return out
}

func seen(c [3]float64, m [9]float64) [3]float64 {
	var out [3]float64
	for i := range out {
		out[i] = math.Min(1, math.Max(0, m[3*i]*c[0]+m[3*i+1]*c[1]+m[3*i+2]*c[2]))
	}
	return out
}

func contrast(a, b [3]float64) float64 {
	light := func(c [3]float64) float64 { return 0.2126*c[0] + 0.7152*c[1] + 0.0722*c[2] + 0.05 }
	x, y := light(a), light(b)
	return math.Max(x, y) / math.Min(x, y)
}

// apart is the distance of two colours in CIELAB (CIE 1976, D65).
func apart(a, b [3]float64) float64 {
	lab := func(c [3]float64) [3]float64 {
		f := func(t float64) float64 {
			if t > 0.008856 {
				return math.Cbrt(t)
			}
			return 7.787*t + 16.0/116
		}
		x := f((0.4124*c[0] + 0.3576*c[1] + 0.1805*c[2]) / 0.95047)
		y := f(0.2126*c[0] + 0.7152*c[1] + 0.0722*c[2])
		z := f((0.0193*c[0] + 0.1192*c[1] + 0.9505*c[2]) / 1.08883)
		return [3]float64{116*y - 16, 500 * (x - y), 200 * (y - z)}
	}
	p, q := lab(a), lab(b)
	return math.Sqrt((p[0]-q[0])*(p[0]-q[0]) + (p[1]-q[1])*(p[1]-q[1]) + (p[2]-q[2])*(p[2]-q[2]))
}
