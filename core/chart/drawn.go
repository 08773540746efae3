package chart

import (
	"cmp"
	"fmt"
	"slices"
	"sort"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/exact"
	"uzzel/core/result"
)

// drawn are the groups that are drawn, in their order: one of the field's own or one that was asked for, else by what
// is drawn, the largest first. On an axis of time, groups without a date have no place; they are left out, and named.
func (d *drawer) drawn(nodes []result.Node) []int {
	kids := slices.Clone(nodes[0].Children)
	if len(d.r.Bound.Groups) == 0 {
		return kids
	}
	g := d.r.Bound.Groups[0]
	if g.Group.Order == nil && !result.Natural(g) {
		sort.SliceStable(kids, func(i, j int) bool {
			a, b := &nodes[kids[i]], &nodes[kids[j]]
			if a.Value() != b.Value() {
				return a.Value()
			}
			if !a.Value() {
				return false // Other, (blank) and (hidden) stay last as they are
			}
			return d.more(kids[i], kids[j])
		})
	}
	if !d.timed() {
		return kids
	}
	left := kids[:0]
	for _, n := range kids {
		if nodes[n].Value() {
			left = append(left, n)
			continue
		}
		if !d.said {
			d.note(
				"%s without %s: %s, not drawn",
				d.records(n),
				brief.Small(brief.ValueWords(g.Values[0])),
				cmp.Or(d.w.Value(d.kind(d.sum), d.value(n), d.format(d.sum)), "nothing"),
			)
		}
	}
	d.said = true
	return left
}

// timed says whether the picture has an axis of time that goes on.
func (d *drawer) timed() bool {
	g := d.r.Bound.Groups[0]
	return g.Values[0].Kind.Dated() && g.Group.By.Round() == 0 &&
		slices.Contains([]string{"line", "area", "column", "column_line", "bar", "figure"}, d.c.Kind)
}

// cell is the value of a category: the groups that are drawn go down, or across where none go down.
func (d *drawer) cell(n int) result.Cell {
	if d.r.Bound.Rows == 0 {
		return d.r.Cell(0, n)
	}
	return d.r.Cell(n, 0)
}

// value is the drawn summary's of a category.
func (d *drawer) value(n int) result.Value { return d.cell(n).Plain[d.sum] }

func (d *drawer) more(a, b int) bool {
	x, y := d.value(a), d.value(b)
	if x.Set != y.Set {
		return x.Set
	}
	return x.Set && x.Num.Cmp(y.Num) > 0
}

// records says how many records a category has, where a count is shown; else just that there are some.
func (d *drawer) records(n int) string {
	if at := d.countOf(); at >= 0 {
		return d.counted(d.cell(n).Plain[at], at)
	}
	return brief.Small(d.r.Bound.Parts[0].Start().Label)
}

// name is what a category is called: stages of several pipelines with their pipeline, so that these are kept apart.
func (d *drawer) name(m result.Member) string {
	g := d.r.Bound.Groups[0]
	label := d.w.Label(g, m)
	if f := g.Values[0].Field; f == nil || !f.Stages || !m.Value() || d.c.Kind != "funnel" {
		return label
	}
	if d.pipelines == nil {
		d.pipelines = map[string]string{}
		nodes, _ := d.along()
		for _, n := range nodes[0].Children {
			for _, s := range g.Values[0].Type.Stages {
				if s.Name == nodes[n].Label {
					d.pipelines[s.Name] = s.Pipeline
				}
			}
		}
		seen := map[string]bool{}
		for _, p := range d.pipelines {
			seen[p] = true
		}
		if len(seen) < 2 {
			d.pipelines = map[string]string{}
		} else {
			d.note("the stages of %d pipelines, one after the other", len(seen))
		}
	}
	if p := d.pipelines[m.Label]; p != "" {
		return p + ": " + label
	}
	return label
}

// adds says whether what is drawn adds up: counts and sums do, an average does not.
func (d *drawer) adds() bool {
	s := d.r.Bound.Summaries[d.sum].Source
	return (s.Fn == "sum" || s.Fn == "count" || s.Fn == "filled") &&
		(s.Show == "" || s.Show == "value" || s.Show == "percent_of_total")
}

// MaxSlices is how many slices a pie has: as many as are told apart by their colours and can be named.
const MaxSlices = 8

// slices puts the small slices of a pie together, and says what a pie cannot show.
func (d *drawer) slices() {
	if d.c.Kind == "funnel" && len(d.r.Bound.Groups) > 0 && !staged(d.r.Bound) {
		d.note("%s has no set order, so these are no stages: the largest first", brief.GroupLabel(d.r.Bound.Groups[0]))
	}
	if (d.c.Kind != "pie" && d.c.Kind != "ring") || len(d.d.Series) == 0 {
		return
	}
	points := d.d.Series[0].Points
	below, none := 0, 0
	var keep []int
	for i, p := range points {
		switch {
		case p.Value == nil || *p.Value == 0:
			none++
		case *p.Value < 0:
			below++
		default:
			keep = append(keep, i)
		}
	}
	if below > 0 {
		d.note("%s below nothing, which no slice can show", groups(below, "is", "are"))
	}
	if none > 0 {
		d.note("%s nothing to show", groups(none, "has", "have"))
	}
	if !d.adds() {
		d.note("the slices are no parts of a whole: %s does not add up", brief.Small(SummaryName(d.r, d.sum)))
	}
	var small []int
	if len(keep) > MaxSlices && d.adds() {
		order := slices.Clone(keep)
		sort.SliceStable(order, func(a, b int) bool { return *points[order[a]].Value > *points[order[b]].Value })
		few := map[int]bool{}
		for _, i := range order[:MaxSlices-1] {
			few[i] = true
		}
		var large []int
		for _, i := range keep {
			if few[i] {
				large = append(large, i)
			} else {
				small = append(small, i)
			}
		}
		keep = large
	}
	cats, left := d.d.Categories, make([]Point, 0, len(keep)+1)
	d.d.Categories = make([]Category, 0, len(keep)+1)
	for _, i := range keep {
		d.d.Categories, left = append(d.d.Categories, cats[i]), append(left, points[i])
	}
	if len(small) > 0 {
		name := fmt.Sprintf("%d others", len(small))
		var list []Point
		for _, i := range small {
			list = append(list, points[i])
		}
		p := d.together(list, name)
		d.d.Categories = append(d.d.Categories, Category{Label: name, Paint: paint(restColour), Total: p.Label})
		left = append(left, p)
		d.note("the %d smallest are together in one slice", len(small))
	}
	d.d.Series[0].Points = left
	tints := map[string]bool{}
	for i := range d.d.Categories {
		c := &d.d.Categories[i]
		for n := 0; tints[c.Colour] && n < len(palette); n++ { // no colour twice beside itself
			c.Paint = paint(d.w.Style.palette()[(i+n)%len(d.w.Style.palette())])
		}
		tints[c.Colour] = true
	}
}

func groups(n int, is, are string) string {
	if n == 1 {
		return "one group " + is
	}
	return fmt.Sprintf("%d groups %s", n, are)
}

// together is several marks as one: their values added up exactly.
func (d *drawer) together(list []Point, name string) Point {
	sum, some := exact.Num{}, false
	out := Point{}
	for _, p := range list {
		if p.exact.Set {
			sum, some = sum.Add(p.exact.Num), true
		}
		if len(p.Mark.Rows)+len(p.Mark.Across) == 0 {
			continue
		}
		if len(out.Mark.Rows)+len(out.Mark.Across) == 0 {
			out.Mark = p.Mark
		} else {
			out.More = append(out.More, p.Mark)
		}
	}
	if out.Mark.Rows == nil {
		out.Mark = result.Mark{Rows: []string{}, Across: []string{}}
	}
	v := result.Value{Set: some, Num: sum}
	out.exact = v
	if some {
		f := sum.Float()
		out.Value = &f
	}
	out.Label = d.w.Short(d.kind(d.sum), v, d.format(d.sum))
	out.Say = name + ": " + cmp.Or(d.w.Value(d.kind(d.sum), v, d.format(d.sum)), "nothing")
	if total := d.r.Cell(0, 0).Plain[d.sum]; some && total.Set {
		if q, ok := sum.Quo(total.Num); ok {
			out.Share = d.w.Ratio(result.Value{Set: true, Num: q})
		}
	}
	return out
}

// hundred says whether each category is cut into its shares.
func (d *drawer) hundred() bool {
	return d.c.Stacked && d.c.Measure == "share" && len(d.d.Series) > 1 && slices.Contains(upright, d.c.Kind)
}

// shares draws shares of the total where they are asked for: a share is always a share, on an axis of per cents.
func (d *drawer) shares() {
	if d.c.Measure != "share" || d.hundred() || !slices.Contains(upright, d.c.Kind) {
		return
	}
	if !d.adds() {
		d.note("%s does not add up, so that it has no shares", brief.Small(SummaryName(d.r, d.sum)))
		return
	}
	total := d.r.Cell(0, 0).Plain[d.sum]
	for k := range d.d.Series {
		for i := range d.d.Series[k].Points {
			p := &d.d.Series[k].Points[i]
			if !p.exact.Set || !total.Set {
				continue
			}
			if q, ok := p.exact.Num.Quo(total.Num); ok {
				f := q.Float()
				p.Value, p.Label = &f, p.Share
				p.Say = strings.TrimSpace(p.Say) + ", " + p.Share
			}
		}
	}
	d.d.Unit = "share of " + brief.Small(SummaryName(d.r, d.sum))
}

// percents are the ticks of an axis of shares.
func (d *drawer) percents() []Tick {
	ticks := d.ticks(d.d.Series, d.c.Stacked, d.sum)
	for i, t := range ticks {
		ticks[i].Label = d.w.Form.Number(
			strings.TrimSuffix(strings.TrimRight(fmt.Sprintf("%.1f", t.Value*100), "0"), "."),
		) + " %"
	}
	return ticks
}
