package chart

import (
	"math"

	"uzzel/core/brief"
	"uzzel/core/exact"
	"uzzel/core/result"
	"uzzel/core/schema"
)

// CourseLine is what one group came to on each of some days; the zero Member of a line by itself stands for all.
type CourseLine struct {
	Member result.Member
	Values []exact.Num
}

// Course draws how a summary stood at the ends of days: a line for each group of g, which is nil for all together, the
// largest on the last day first and the others as one, or areas that lie on one another where none goes below nothing.
// goal is the target of the whole, a line across; nil where there is none.
func Course(
	w Writer, title string, s *brief.BoundSummary, g *brief.BoundGroup, days []string, lines []CourseLine, goal *exact.Num,
	areas bool,
) *Drawing {
	d := &Drawing{
		Kind: "line", Title: title, Timed: true, Notes: []string{}, Second: []Tick{}, Legend: "top", Guides: "values",
		Categories: []Category{}, Series: []Series{},
	}
	if len(lines) > MaxSeries {
		rest := CourseLine{Member: result.Member{Label: "Other", Other: true}, Values: make([]exact.Num, len(days))}
		for _, l := range lines[MaxSeries:] {
			for i, v := range l.Values {
				rest.Values[i] = rest.Values[i].Add(v)
			}
		}
		lines = append(lines[:MaxSeries:MaxSeries], rest)
	}
	members := make([]result.Member, len(lines))
	below := false
	for i, l := range lines {
		members[i] = l.Member
		for _, v := range l.Values {
			below = below || v.Sign() < 0
		}
	}
	tints := []string{w.Style.palette()[0]}
	if g != nil {
		tints = colours(g, members, w.Style)
	}
	if areas && !below {
		d.Kind, d.Stacked = "area", len(lines) > 1
	}
	if len(lines) < 2 {
		d.Legend = "none"
	}
	low, high := 0.0, 0.0
	for i, day := range days {
		d.Categories = append(d.Categories, Category{Label: day, Paint: paint(tints[0])})
		whole := exact.Num{}
		for _, l := range lines {
			whole = whole.Add(l.Values[i])
			low, high = math.Min(low, l.Values[i].Float()), math.Max(high, l.Values[i].Float())
		}
		d.Categories[i].Total = w.Value(s.Kind, result.Value{Set: true, Num: whole}, s.Source.Format)
		if d.Stacked {
			high = math.Max(high, whole.Float())
		}
	}
	for i, l := range lines {
		name := d.Title
		if g != nil {
			name = w.Label(g, l.Member)
		}
		line := Series{Name: name, Paint: paint(tints[i]), Points: []Point{}}
		for k, v := range l.Values {
			is := v.Float()
			text := w.Value(s.Kind, result.Value{Set: true, Num: v}, s.Source.Format)
			line.Points = append(line.Points, Point{
				Value:  &is,
				Label:  w.Short(s.Kind, result.Value{Set: true, Num: v}, s.Source.Format),
				Say:    name + ", " + days[k] + ": " + text,
				Closed: true,
				Mark:   result.Mark{Rows: []string{}, Across: []string{}},
			})
		}
		d.Series = append(d.Series, line)
	}
	if goal != nil {
		high = math.Max(high, goal.Float())
		d.Series = append(d.Series, level(w, s, days, *goal))
	}
	d.Ticks = cut(low, high, s.Kind != schema.Money && s.Source.Fn == "count", func(n exact.Num) string {
		return tickLabel(w, s.Kind, s.Source.Format, n)
	})
	return d
}

// level is the target as a line across all days.
func level(w Writer, s *brief.BoundSummary, days []string, goal exact.Num) Series {
	is, value := goal.Float(), result.Value{Set: true, Num: goal}
	line := Series{Name: "the target", Paint: paint(restColour), Form: Aim, Points: []Point{}}
	for _, day := range days {
		line.Points = append(line.Points, Point{
			Value: &is, Label: w.Short(s.Kind, value, s.Source.Format),
			Say:  day + ", the target: " + w.Value(s.Kind, value, s.Source.Format),
			Mark: result.Mark{Rows: []string{}, Across: []string{}},
		})
	}
	return line
}
