package chart

import (
	"strconv"

	"uzzel/core/exact"
	"uzzel/core/result"
	"uzzel/core/schema"
)

// StageBar is a stage of a funnel: how many came into it, and what is said of them.
type StageBar struct {
	Label, Detail, Step string
	Count               int64
}

// Stages draws a funnel of stages, each as wide as many came into it.
func Stages(w Writer, title, name string, bars []StageBar) *Drawing {
	d := &Drawing{
		Kind: "funnel", Title: title, Apart: true, Notes: []string{}, Second: []Tick{}, Legend: "none", Guides: "none",
		Categories: []Category{},
	}
	line, most := Series{Name: name, Paint: paint(palette[0]), Points: []Point{}}, int64(0)
	for i, b := range bars {
		most = max(most, b.Count)
		v := float64(b.Count)
		text := w.Form.Number(strconv.FormatInt(b.Count, 10))
		d.Categories = append(d.Categories, Category{
			Label: b.Label, Detail: b.Detail, Step: b.Step, Paint: paint(ramp(i, len(bars))),
		})
		line.Points = append(line.Points, Point{
			Value: &v, Label: text, Say: b.Label + ": " + text + ", " + b.Step, Closed: true,
			Mark: result.Mark{Rows: []string{}, Across: []string{}},
		})
	}
	d.Series = []Series{line}
	d.Ticks = cut(0, float64(most), true, func(n exact.Num) string { return tickLabel(w, schema.Number, nil, n) })
	return d
}
