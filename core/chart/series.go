package chart

import (
	"cmp"
	"fmt"
	"sort"

	"uzzel/core/brief"
	"uzzel/core/result"
)

// series draws one row of values for each summary, or for each group of the second field.
func (d *drawer) series(cats []place, sums []int) {
	r := d.r
	across := r.Bound.Rows > 0 && len(r.Bound.Groups) > r.Bound.Rows
	inner := r.Bound.Rows > 1
	single := d.c.Kind == "pie" || d.c.Kind == "ring" || d.c.Kind == "funnel" || d.c.Kind == "figure" ||
		d.c.Kind == "progress" || d.c.Kind == "bridge"
	if len(sums) > 1 || single || (!across && !inner) {
		for i, s := range sums {
			d.add(SummaryName(r, s), d.w.Style.palette()[i%len(d.w.Style.palette())], s, cats)
			if d.c.Kind == "column_line" {
				d.d.Series[i].Form = []string{"column", "line"}[min(i, 1)]
			}
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
	tints := colours(g, members, d.w.Style)
	var rest []result.Member
	if len(members) > MaxSeries {
		members, rest = members[:MaxSeries], members[MaxSeries:]
	}
	for i, m := range members {
		places := make([]place, len(cats))
		for k, c := range cats {
			places[k] = find(c, m)
		}
		d.add(d.w.Label(g, m), tints[i], d.sum, places)
	}
	if len(rest) > 0 {
		d.others(cats, rest, find)
	}
}

// others draws the series that are too many to be told apart as one, where what they show adds up; else it says that
// they are left out.
func (d *drawer) others(cats []place, rest []result.Member, find func(place, result.Member) place) {
	if !d.adds() || d.c.Kind == "line" {
		d.note("the first %d of %d series are drawn", MaxSeries, MaxSeries+len(rest))
		return
	}
	begin := len(d.d.Series)
	for _, m := range rest {
		places := make([]place, len(cats))
		for k, c := range cats {
			places[k] = find(c, m)
		}
		d.add("other", restColour, d.sum, places)
	}
	together := d.d.Series[begin]
	together.Name = fmt.Sprintf("%d others", len(rest))
	for i := range together.Points {
		var list []Point
		for _, s := range d.d.Series[begin:] {
			list = append(list, s.Points[i])
		}
		together.Points[i] = d.together(list, d.d.Categories[i].Label+", "+together.Name)
	}
	d.d.Series = append(d.d.Series[:begin], together)
}

// second lists the groups of the second field in their order, and finds the cell of one in a category; row −1 is none.
func (d *drawer) second(cats []place, across bool) ([]result.Member, func(place, result.Member) place) {
	r := d.r
	if across {
		var members []result.Member
		at := map[result.Member]int{}
		for _, n := range r.Cols[0].Children {
			members = append(members, r.Cols[n].Member)
			at[r.Cols[n].Member] = n
		}
		return members, func(c place, m result.Member) place { return place{c.row, at[m]} }
	}
	var members []result.Member
	seen := map[result.Member]bool{}
	at := map[int]map[result.Member]int{}
	for _, c := range cats {
		at[c.row] = map[result.Member]int{}
		for _, n := range r.Rows[c.row].Children {
			m := r.Rows[n].Member
			at[c.row][m] = n
			if !seen[m] {
				seen[m] = true
				members = append(members, m)
			}
		}
	}
	sort.SliceStable(members, func(i, j int) bool { return result.Before(r.Bound.Groups[1], members[i], members[j]) })
	return members, func(c place, m result.Member) place {
		if n, ok := at[c.row][m]; ok {
			return place{n, 0}
		}
		return place{-1, 0}
	}
}

func (d *drawer) add(name, colour string, s int, places []place) {
	r := d.r
	line := Series{Name: name, Paint: paint(colour), Points: []Point{}}
	total := r.Cell(0, 0).Plain[s]
	sum := r.Bound.Summaries[s].Source
	for i, p := range places {
		pt := Point{Mark: result.Mark{Rows: []string{}, Across: []string{}}}
		if p.row >= 0 {
			cell := r.Cell(p.row, p.col)
			v, plain := cell.Shown[s], cell.Plain[s]
			pt.Mark = result.Mark{Rows: r.Keys(true, p.row), Across: r.Keys(false, p.col)}
			pt.Label, pt.exact = d.w.Short(d.kind(s), v, d.format(s)), plain
			switch {
			case v.Set:
				f := v.Num.Float()
				pt.Value = &f
			case sum.Fn == "sum":
				zero := 0.0
				pt.Value = &zero
			}
			if plain.Set && total.Set {
				if q, ok := plain.Num.Quo(total.Num); ok {
					pt.Share = d.w.Ratio(result.Value{Set: true, Num: q})
				}
			}
			pt.Say = d.d.Categories[i].Label
			if name != SummaryName(r, s) {
				pt.Say += ", " + name
			}
			pt.Say += ": " + cmp.Or(d.w.Value(d.kind(s), v, d.format(s)), "nothing")
		}
		line.Points = append(line.Points, pt)
	}
	d.d.Series = append(d.d.Series, line)
}
