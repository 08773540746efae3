package chart

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/exact"
	"uzzel/core/result"
	"uzzel/core/schema"
)

// scales sets the axes, and the shades of a heat grid.
func (d *drawer) scales(sums []int) {
	all := d.d.Series
	switch d.c.Kind {
	case "column_line":
		// Two amounts have one axis: with two, any height could be made to look like any other.
		if len(all) > 1 && d.kind(sums[0]) != schema.Money || len(all) > 1 && d.kind(sums[1]) != schema.Money {
			d.d.Second = d.ticks(all[1:2], false, sums[1])
			all = all[:1]
		}
	case "scatter", "bubble":
		if len(all) > 1 {
			d.d.Second = d.ticks(all[:1], false, sums[0])
			d.d.Ticks = d.ticks(all[1:2], false, sums[1])
			return
		}
	case "heat":
		most := 0.0
		for _, s := range all {
			for _, p := range s.Points {
				if p.Value != nil {
					most = math.Max(most, math.Abs(*p.Value))
				}
			}
		}
		for _, s := range all {
			for i, p := range s.Points {
				if p.Value != nil && most > 0 {
					s.Points[i].Weight = math.Abs(*p.Value) / most
				}
			}
		}
	}
	if d.bridged() {
		k, f := d.kind(d.sum), d.r.Bound.Summaries[d.sum].Source.Format
		d.d.bridgeAxis(d.counts(d.sum), func(n exact.Num) string { return tickLabel(d.w, k, f, n) })
		return
	}
	if d.hundred() {
		d.toHundred()
		return
	}
	if d.c.Measure == "share" && slices.Contains(upright, d.c.Kind) {
		d.d.Ticks = d.percents()
		return
	}
	d.d.Ticks = d.ticks(all, d.c.Stacked, d.sum)
}

// toHundred makes each category's marks shares of the category.
func (d *drawer) toHundred() {
	for i := range d.d.Categories {
		sum := 0.0
		for _, s := range d.d.Series {
			if p := s.Points[i]; p.Value != nil {
				sum += math.Max(*p.Value, 0)
			}
		}
		for k := range d.d.Series {
			p := &d.d.Series[k].Points[i]
			if p.Value == nil || sum == 0 {
				continue
			}
			v := math.Max(*p.Value, 0) / sum
			p.Value = &v
			p.Label = d.w.Form.Number(fmt.Sprintf("%.1f", v*100)) + " %"
			p.Share = p.Label
			p.Say += fmt.Sprintf(", %s of %s", p.Label, d.d.Categories[i].Label)
		}
	}
	for _, v := range []float64{0, 0.25, 0.5, 0.75, 1} {
		d.d.Ticks = append(d.d.Ticks, Tick{v, fmt.Sprintf("%.0f %%", v*100)})
	}
}

// counts says whether a summary's values are shown as whole numbers of records or values.
func (d *drawer) counts(sum int) bool {
	fn := d.r.Bound.Summaries[sum].Source.Fn
	return !d.asShare(sum) && d.c.Measure != "share" && (fn == "count" || fn == "filled" || fn == "distinct")
}

// ticks cuts a value axis, which starts at zero, into round steps.
func (d *drawer) ticks(series []Series, stacked bool, sum int) []Tick {
	low, high := 0.0, 0.0
	for i := range d.d.Categories {
		up, down := 0.0, 0.0
		for _, s := range series {
			if p := s.Points[i]; p.Value != nil {
				if stacked {
					up, down = up+math.Max(*p.Value, 0), down+math.Min(*p.Value, 0)
				} else {
					up, down = math.Max(up, *p.Value), math.Min(down, *p.Value)
				}
			}
		}
		low, high = math.Min(low, down), math.Max(high, up)
	}
	low, high = d.bounds(low, high)
	return cut(low, high, d.counts(sum), func(n exact.Num) string { return tickLabel(d.w, d.kind(sum), d.format(sum), n) })
}

// tickLabel writes a value beside its tick: 2.5 M, not 2.50 M.
func tickLabel(w Writer, k schema.Kind, f *brief.Format, n exact.Num) string {
	label := w.Short(k, result.Value{Set: true, Num: n}, f)
	point := strings.Trim(w.Form.Number("0.5"), "05")
	return strings.Replace(strings.Replace(label, point+"00 M", " M", 1), point+"50 M", point+"5 M", 1)
}

// cut cuts an axis that holds low and high into round steps; whole ones where half of one is none.
func cut(low, high float64, whole bool, label func(exact.Num) string) []Tick {
	if high <= low {
		high = low + 1
	}
	step := math.Pow(10, math.Floor(math.Log10((high-low)/4)))
	if whole {
		step = math.Max(1, step)
	}
	for _, m := range []float64{1, 2, 2.5, 5, 10} {
		if (high-low)/(step*m) <= 5 && (!whole || step*m == math.Round(step*m)) {
			step *= m
			break
		}
	}
	var list []Tick
	for i := math.Floor(low / step); ; i++ {
		v := i * step
		n, _ := exact.Parse(fmt.Sprintf("%.6f", v))
		list = append(list, Tick{v, label(n)})
		if v >= high || len(list) > 20 {
			return list
		}
	}
}
