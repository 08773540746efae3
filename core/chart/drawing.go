package chart

import (
	"fmt"
	"hash/fnv"
	"math"
	"sort"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/engine"
	"uzzel/core/exact"
	"uzzel/core/schema"
)

// Limits of docs/brief.md, "Limits".
const (
	MaxSeries     = 8
	MaxCategories = 400
)

// Drawing is what stands on a picture.
type Drawing struct {
	Kind       string     `json:"kind"`
	Title      string     `json:"title"`
	Categories []Category `json:"categories"`
	Series     []Series   `json:"series"`
	Ticks      []Tick     `json:"ticks" doc:"Of the value axis, from the lowest to the highest"`
	Notes      []string   `json:"notes" doc:"What the picture leaves out"`
	Total      string     `json:"total"`
	Unit       string     `json:"unit" doc:"What the values are, for the axis"`
	Stacked    bool       `json:"stacked"`
}

// Category is one place along the picture.
type Category struct {
	Label  string `json:"label"`
	Detail string `json:"detail" doc:"How many records"`
	Colour string `json:"colour"`
}

// Series is one row of values, of one colour.
type Series struct {
	Name   string  `json:"name"`
	Colour string  `json:"colour"`
	Points []Point `json:"points"`
}

// Point is one mark: its value as a number for drawing, and in words.
type Point struct {
	Value *float64    `json:"value" doc:"Null where there is a gap"`
	Label string      `json:"label"`
	Share string      `json:"share"`
	Say   string      `json:"say" doc:"The mark read out"`
	Mark  engine.Mark `json:"mark"`
}

// Tick is one mark on the value axis.
type Tick struct {
	Value float64 `json:"value"`
	Label string  `json:"label"`
}

// palette is ours: told apart by colour-blind readers, each with contrast on paper and on ink.
var palette = []string{"#1F7A72", "#E0930C", "#6B4A80", "#4A8CB8", "#A8563A", "#8A9A2B", "#C2577E", "#5D6B8A"}

const restColour = "#B3A892"

type drawer struct {
	r   *engine.Result
	w   Writer
	c   *brief.Chart
	d   *Drawing
	sum int // the summary that is drawn, where there is one
}

// Draw draws a result as a chart asks for; without one, as a column.
func Draw(r *engine.Result, c *brief.Chart, w Writer) *Drawing {
	if c == nil {
		c = &brief.Chart{Kind: "column"}
	}
	d := &drawer{r: r, w: w, c: c, d: &Drawing{Kind: c.Kind, Stacked: c.Stacked, Notes: []string{}, Categories: []Category{}, Series: []Series{}, Ticks: []Tick{}}}
	sums := d.values()
	d.sum = sums[0]
	cats := d.categories()
	d.series(cats, sums)
	d.title(sums)
	d.d.Total = w.Value(d.kind(d.sum), r.Cell(0, 0).Plain[d.sum], d.format(d.sum))
	d.ticks()
	return d.d
}

func (d *drawer) format(s int) *brief.Format { return d.r.Bound.Summaries[s].Source.Format }

func (d *drawer) kind(s int) schema.Kind { return d.r.Bound.Summaries[s].Kind }

// values are the places of the summaries that are drawn: those named, else the last one, which is most often the sum
// after the count.
func (d *drawer) values() []int {
	var list []int
	for _, key := range d.c.Values {
		for i, s := range d.r.Bound.Summaries {
			if s.Source.Key == key {
				list = append(list, i)
			}
		}
	}
	if len(list) == 0 {
		at := 0
		for i, s := range d.r.Bound.Summaries {
			if s.Source.Fn == "sum" && s.Kind == schema.Money {
				at = i
				break
			}
		}
		list = []int{at}
	}
	return list
}

// place is a category: a node of the rows, or of across where there are no rows.
type place struct {
	row, col int
}

func (d *drawer) categories() []place {
	r := d.r
	nodes, rows := r.Rows, true
	if r.Bound.Rows == 0 {
		nodes, rows = r.Cols, false
	}
	kids := nodes[0].Children
	if len(r.Bound.Groups) == 0 {
		kids = []int{0}
	}
	if len(kids) > MaxCategories {
		d.note("the first %d of %d groups are drawn", MaxCategories, len(kids))
		kids = kids[:MaxCategories]
	}
	var list []place
	count := d.countOf()
	for i, n := range kids {
		p := place{row: n}
		if !rows {
			p = place{col: n}
		}
		list = append(list, p)
		label := "All"
		if len(r.Bound.Groups) > 0 {
			label = Label(r.Bound.Groups[0], nodes[n].Member, d.w.Cal)
		}
		c := Category{Label: label, Colour: d.shade(nodes[n].Member, i, len(kids))}
		if count >= 0 {
			c.Detail = d.counted(r.Cell(p.row, p.col).Plain[count], count)
		}
		d.d.Categories = append(d.d.Categories, c)
	}
	return list
}

// countOf is the place of a plain count of records among the summaries, −1 where there is none.
func (d *drawer) countOf() int {
	for i, s := range d.r.Bound.Summaries {
		if s.Source.Fn == "count" && s.Where == nil && s.Of == nil {
			return i
		}
	}
	return -1
}

func (d *drawer) counted(v engine.Value, s int) string {
	t := d.r.Bound.Parts[d.r.Bound.Summaries[s].Part].Start()
	word := strings.ToLower(t.Label)
	if v.Num.Cmp(exact.Int(1)) == 0 {
		word = t.One
	}
	return brief.Thousands(v.Num.String()) + " " + word
}

func (d *drawer) note(format string, args ...any) {
	d.d.Notes = append(d.d.Notes, fmt.Sprintf(format, args...))
}

// shade is a member's colour where each category has its own: ordered ones go from sea to amber, others take turns.
func (d *drawer) shade(m engine.Member, i, n int) string {
	switch {
	case m.Other || m.Blank:
		return restColour
	case len(d.r.Bound.Groups) > 0 && engine.Natural(d.r.Bound.Groups[0]):
		return ramp(i, n)
	}
	return palette[i%len(palette)]
}

// ramp is step i of n from sea over moss to amber.
func ramp(i, n int) string {
	stops := [][3]float64{{31, 122, 114}, {121, 148, 84}, {224, 147, 12}}
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
func colours(g *brief.BoundGroup, members []engine.Member) []string {
	taken := map[int]bool{}
	out := make([]string, len(members))
	for i, m := range members {
		if m.Other || m.Blank {
			out[i] = restColour
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

// series draws one row of values for each summary, or for each group of the second field.
func (d *drawer) series(cats []place, sums []int) {
	r := d.r
	across := r.Bound.Rows > 0 && len(r.Bound.Groups) > r.Bound.Rows
	inner := r.Bound.Rows > 1
	single := d.c.Kind == "pie" || d.c.Kind == "funnel"
	if len(sums) > 1 || single || (!across && !inner) {
		for i, s := range sums {
			d.add(SummaryName(r, s), palette[i%len(palette)], s, cats)
			if single {
				return
			}
		}
		return
	}
	var g *brief.BoundGroup
	members, find := d.second(cats, across)
	if across {
		g = r.Bound.Groups[r.Bound.Rows]
	} else {
		g = r.Bound.Groups[1]
	}
	tints := colours(g, members)
	if len(members) > MaxSeries {
		d.note("the first %d of %d series are drawn", MaxSeries, len(members))
		members = members[:MaxSeries]
	}
	for i, m := range members {
		places := make([]place, len(cats))
		for k, c := range cats {
			places[k] = find(c, m)
		}
		d.add(Label(g, m, d.w.Cal), tints[i], d.sum, places)
	}
}

// second lists the groups of the second field in their order, and finds the cell of one in a category; row −1 is none.
func (d *drawer) second(cats []place, across bool) ([]engine.Member, func(place, engine.Member) place) {
	r := d.r
	if across {
		var members []engine.Member
		at := map[engine.Member]int{}
		for _, n := range r.Cols[0].Children {
			members = append(members, r.Cols[n].Member)
			at[r.Cols[n].Member] = n
		}
		return members, func(c place, m engine.Member) place { return place{c.row, at[m]} }
	}
	var members []engine.Member
	seen := map[engine.Member]bool{}
	at := map[int]map[engine.Member]int{}
	for _, c := range cats {
		at[c.row] = map[engine.Member]int{}
		for _, n := range r.Rows[c.row].Children {
			m := r.Rows[n].Member
			at[c.row][m] = n
			if !seen[m] {
				seen[m] = true
				members = append(members, m)
			}
		}
	}
	sort.SliceStable(members, func(i, j int) bool { return engine.Before(r.Bound.Groups[1], members[i], members[j]) })
	return members, func(c place, m engine.Member) place {
		if n, ok := at[c.row][m]; ok {
			return place{n, 0}
		}
		return place{-1, 0}
	}
}

func (d *drawer) add(name, colour string, s int, places []place) {
	r := d.r
	line := Series{Name: name, Colour: colour, Points: []Point{}}
	total := r.Cell(0, 0).Plain[s]
	sum := r.Bound.Summaries[s].Source
	for i, p := range places {
		pt := Point{Mark: engine.Mark{Rows: []string{}, Across: []string{}}}
		if p.row >= 0 {
			v := r.Cell(p.row, p.col).Plain[s]
			pt.Mark = engine.Mark{Rows: r.Keys(true, p.row), Across: r.Keys(false, p.col)}
			pt.Label = d.w.Short(d.kind(s), v, d.format(s))
			switch {
			case v.Set:
				f := v.Num.Float()
				pt.Value = &f
			case sum.Fn == "sum":
				zero := 0.0
				pt.Value = &zero
			}
			if v.Set && total.Set {
				if q, ok := v.Num.Quo(total.Num); ok {
					pt.Share = Ratio(engine.Value{Set: true, Num: q})
				}
			}
			pt.Say = d.d.Categories[i].Label
			if name != SummaryName(r, s) {
				pt.Say += ", " + name
			}
			pt.Say += ": " + or(d.w.Value(d.kind(s), v, d.format(s)), "nothing")
		}
		line.Points = append(line.Points, pt)
	}
	d.d.Series = append(d.d.Series, line)
}

func or(a, b string) string {
	if a != "" {
		return a
	}
	return b
}

// SummaryName names a summary of a result.
func SummaryName(r *engine.Result, s int) string {
	return brief.SummaryLabel(r.Bound, r.Bound.Summaries[s])
}

func (d *drawer) title(sums []int) {
	d.d.Title = Title(d.r.Bound, sums)
	d.d.Unit = SummaryName(d.r, d.sum)
	if d.kind(d.sum) == schema.Money {
		d.d.Unit += " (" + strings.TrimSpace(brief.Currency(d.w.Currency)) + ")"
	}
}

// Title names a chart by what it shows: "Value by stage".
func Title(b *brief.Bound, sums []int) string {
	var names []string
	for _, s := range sums {
		n := brief.SummaryLabel(b, b.Summaries[s])
		if cut, ok := strings.CutPrefix(n, "Sum of "); ok {
			n = strings.ToUpper(cut[:1]) + cut[1:]
		}
		if len(names) > 0 {
			n = strings.ToLower(n[:1]) + n[1:]
		}
		names = append(names, n)
	}
	title := strings.Join(names, " and ")
	for i, g := range b.Groups {
		switch {
		case i == 0:
			title += " by "
		case i == len(b.Groups)-1:
			title += " and "
		default:
			title += ", "
		}
		title += brief.GroupLabel(g)
	}
	return title
}

// ticks cuts the value axis, which starts at zero, into round steps.
func (d *drawer) ticks() {
	low, high := 0.0, 0.0
	for i := range d.d.Categories {
		up, down := 0.0, 0.0
		for _, s := range d.d.Series {
			if p := s.Points[i]; p.Value != nil {
				if d.c.Stacked {
					up, down = up+math.Max(*p.Value, 0), down+math.Min(*p.Value, 0)
				} else {
					up, down = math.Max(up, *p.Value), math.Min(down, *p.Value)
				}
			}
		}
		low, high = math.Min(low, down), math.Max(high, up)
	}
	if high == low {
		high = 1
	}
	step := math.Pow(10, math.Floor(math.Log10((high-low)/4)))
	for _, m := range []float64{1, 2, 2.5, 5, 10} {
		if (high-low)/(step*m) <= 5 {
			step *= m
			break
		}
	}
	for i := math.Floor(low / step); ; i++ {
		v := i * step
		n, _ := exact.Parse(fmt.Sprintf("%.6f", v))
		f := d.format(d.sum)
		label := d.w.Short(d.kind(d.sum), engine.Value{Set: true, Num: n}, f)
		label = strings.Replace(strings.Replace(label, ".00 M", " M", 1), ".50 M", ".5 M", 1)
		d.d.Ticks = append(d.d.Ticks, Tick{v, label})
		if v >= high || len(d.d.Ticks) > 20 {
			return
		}
	}
}
