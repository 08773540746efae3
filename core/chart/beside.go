package chart

import (
	"slices"
	"strings"

	"uzzel/core/exact"
	"uzzel/core/result"
)

// Aims gives what is aimed at in one group of the first field; false where nothing is set for it.
type Aims func(m result.Member) (exact.Num, bool)

// Forms of series that are beside the values.
const (
	Ghost = "ghost" // what it was in the earlier period
	Aim   = "aim"   // what was aimed at
)

var upright = []string{"column", "bar", "line", "area"}

// beside adds, to a picture of one value along an axis, what it was in the earlier period and what is aimed at.
func (d *drawer) beside(cats []place) {
	r := d.r
	if !slices.Contains(upright, d.c.Kind) || len(d.d.Series) != 1 || d.c.Measure == "share" {
		if r.Bound.Brief.Compare != "" && len(r.Bound.Groups) > 0 && d.c.Kind != "table" && d.c.Kind != "bridge" {
			d.note("the earlier period is not drawn here; the table has it")
		}
		return
	}
	sum := r.Bound.Summaries[d.sum]
	if r.Bound.Brief.Compare != "" && (sum.Source.Show == "" || sum.Source.Show == "value") {
		name := "the period before"
		if r.Bound.Brief.Compare == "year_before" {
			name = "the year before"
		}
		d.extra(name, Ghost, func(i int) (result.Value, bool) {
			v := r.Cell(cats[i].row, cats[i].col).Before
			if v == nil {
				return result.Value{}, false
			}
			return v[d.sum], v[d.sum].Set
		})
	}
	if d.sum != 0 || len(r.Bound.Groups) == 0 {
		return // a target is the first summary's
	}
	running := sum.Source.Show == "running_total"
	switch {
	case d.w.Aims != nil && (running || sum.Source.Show == "" || sum.Source.Show == "value"):
		so := exact.Num{}
		nodes, rows := d.along()
		d.extra("the target", Aim, func(i int) (result.Value, bool) {
			n := cats[i].row
			if !rows {
				n = cats[i].col
			}
			aim, ok := d.w.Aims(nodes[n].Member)
			if running {
				so = so.Add(aim)
				return result.Value{Set: true, Num: so}, true
			}
			return result.Value{Set: ok, Num: aim}, ok
		})
	case running && r.Progress != nil:
		d.extra(
			"the target",
			Aim,
			func(int) (result.Value, bool) { return result.Value{Set: true, Num: r.Progress.Target}, true },
		)
	}
}

// extra adds a series beside the values, where it has any.
func (d *drawer) extra(name, form string, at func(i int) (result.Value, bool)) {
	line, some := Series{Name: name, Paint: paint(restColour), Form: form, Points: []Point{}}, false
	for i, c := range d.d.Categories {
		p := Point{Mark: result.Mark{Rows: []string{}, Across: []string{}}}
		if v, ok := at(i); ok {
			f := v.Num.Float()
			p.Value, p.Label = &f, d.w.Short(d.kind(d.sum), v, d.format(d.sum))
			p.Say = c.Label + ", " + name + ": " + d.w.Value(d.kind(d.sum), v, d.format(d.sum))
			some = true
		}
		line.Points = append(line.Points, p)
	}
	if some {
		d.d.Series = append(d.d.Series, line)
	}
}

// axis sets what the value axis is called and how far it goes, as the chart asks for.
func (d *drawer) axis() {
	d.d.ValueTitle, d.d.GroupTitle = d.c.ValueTitle, d.c.GroupTitle
	d.d.Height = d.c.Height
	if d.c.Kind == "bar" || d.c.Kind == "column" || d.c.Kind == "area" || d.c.Kind == "column_line" {
		if from, ok := exact.Parse(d.c.From); ok && from.Sign() != 0 {
			d.note("bars and areas start at zero, so the axis does not begin at %s", strings.TrimSpace(d.c.From))
		}
	}
}

// bounds are the lowest and highest value of the axis, after what the chart asks for.
func (d *drawer) bounds(low, high float64) (float64, float64) {
	if from, ok := exact.Parse(d.c.From); ok && d.c.From != "" && d.c.Kind == "line" {
		low = from.Float()
	}
	if to, ok := exact.Parse(d.c.To); ok && d.c.To != "" && slices.Contains(append(upright, "column_line"), d.c.Kind) {
		high = to.Float()
	}
	return low, high
}
