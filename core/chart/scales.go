package chart

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"uzzel/core/exact"
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

// shortened takes what says nothing out of a short number: €2.50 M is €2.5 M.
func shortened(w Writer, label string) string {
	point := strings.Trim(w.Form.Number("0.5"), "05")
	return strings.Replace(strings.Replace(label, point+"00 M", " M", 1), point+"50 M", point+"5 M", 1)
}
