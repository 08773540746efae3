package answers

import (
	"context"
	"fmt"
	"time"

	"uzzel/core/brief"
	"uzzel/core/chart"
	"uzzel/core/engine"
	"uzzel/core/exact"
	"uzzel/core/period"
	"uzzel/internal/fault"
)

// Stood is a report's totals as they stood at the ends of days, weeks or months, the latest last.
type Stood struct {
	Summaries []string
	Drawn     string // the summary that the bars are of
	Target    string // of the brief, for the line that is drawn; "" where there is none
	Points    []StoodPoint
	// Drawing is by the brief's first group where what is told adds up, else of the whole; nil where there is not a value
	// for each day.
	Drawing *chart.Drawing
}

// StoodPoint is how a report stood at the end of a day. From and To are where its bar stands, as parts of the width: of
// the first sum, or, where there is none, of the first summary.
type StoodPoint struct {
	Day      string
	Date     string // as a brief names it, "" for now
	Values   []string
	Records  int64
	From, To float64
}

// mostStood is how many points are told at most.
const mostStood = 92

// StoodPoints are how many points a panel tells by unit: a quarter, a quarter and a year.
var StoodPoints = map[period.Unit]int{period.ByDay: 90, period.ByWeek: 13, period.ByMonth: 12}

// Stood tells how a report stood at the ends of so many units, and now. lines draws groups as lines, not as areas.
func (v *View) Stood(ctx context.Context, b *brief.Brief, unit period.Unit, count int, lines bool) (*Stood, error) {
	if count < 1 || count > mostStood {
		return nil, fault.New(fault.Invalid, "/count", "One to %d points are told.", mostStood)
	}
	days, err := v.ends(unit, count)
	if err != nil {
		return nil, err
	}
	bare := *b
	bare.AsOf, bare.Since, bare.Across, bare.Blank, bare.Compare, bare.Chart = nil, nil, nil, nil, "", nil
	bare.Target, bare.TargetOf, bare.TotalsOnly = "", "", false
	if len(bare.Groups) > 1 {
		bare.Groups = bare.Groups[:1]
	}
	days = append(days, v.Day)
	goal, err := v.goal(ctx, b)
	if err != nil {
		return nil, err
	}
	if out, err := v.over(ctx, &bare, days, goal, lines); out != nil || err != nil {
		return out, err
	}
	bare.Groups = nil
	// All of it is one question: many states of very many records take long, and end as one that takes long does.
	ctx, end := context.WithTimeout(ctx, QuestionTime)
	defer end()
	out, all := &Stood{}, true
	var amounts []exact.Num
	var drawn *brief.BoundSummary
	var names []string
	for _, day := range days {
		then := bare
		point := v.point(day)
		if point.Date != "" {
			then.AsOf = &brief.Moment{Date: point.Date}
		}
		a, err := v.Ask(ctx, &then)
		if err != nil {
			return nil, err
		}
		if out.Summaries == nil {
			for _, s := range a.Bound.Summaries {
				out.Summaries = append(out.Summaries, brief.SummaryLabel(a.Bound, s))
			}
		}
		w, cell, by := v.PlainWriter(), a.Result.Cell(0, 0), 0
		for i := len(a.Bound.Summaries) - 1; i >= 0; i-- {
			if a.Bound.Summaries[i].Source.Fn == "sum" {
				by = i
			}
		}
		out.Drawn, drawn = out.Summaries[by], a.Bound.Summaries[by]
		for i, s := range a.Bound.Summaries {
			point.Values = append(point.Values, w.Value(s.Kind, cell.Plain[i], s.Source.Format))
		}
		point.Records = a.Result.Records
		amounts, names = append(amounts, cell.Plain[by].Num), append(names, point.Day)
		all = all && cell.Plain[by].Set
		out.Points = append(out.Points, point)
	}
	out.bars(amounts)
	if all {
		v.drawStood(out, drawn, nil, names, []chart.CourseLine{{Values: amounts}}, goal, true)
	}
	return out, nil
}

// goal is the target of a brief, where it has one and this is of the summary that is drawn.
func (v *View) goal(ctx context.Context, b *brief.Brief) (*exact.Num, error) {
	if b.Target == "" && b.TargetOf == "" {
		return nil, nil
	}
	whole := *b
	whole.AsOf, whole.Since, whole.Groups, whole.Across, whole.Blank, whole.Compare, whole.Chart = nil, nil, nil, nil, nil, "", nil
	a, err := v.Ask(ctx, &whole)
	if err != nil || a.Result.Progress == nil {
		return nil, err
	}
	return &a.Result.Progress.Target, nil
}

// drawStood draws how a summary stood. A target is the first summary's: of others it is not told.
func (v *View) drawStood(
	out *Stood,
	s *brief.BoundSummary,
	g *brief.BoundGroup,
	names []string,
	drawn []chart.CourseLine,
	goal *exact.Num,
	lines bool,
) {
	w := v.Writer()
	if len(out.Summaries) > 0 && out.Drawn != out.Summaries[0] {
		goal = nil
	}
	if goal != nil {
		out.Target = amount(w, s, *goal)
	}
	out.Drawing = chart.Course(w, out.Drawn, s, g, names, drawn, goal, !lines)
}

// Words say what is told: "Sum of value at the end of each of 13 weeks, and now".
func (s *Stood) Words(unit period.Unit) string {
	return fmt.Sprintf("%s at the end of each of %d %ss, and now", s.Drawn, len(s.Points)-1, unit)
}

// point is how a report stood at the end of a day, without what it came to.
func (v *View) point(day int32) StoodPoint {
	if day == v.Day {
		return StoodPoint{Day: "now"}
	}
	return StoodPoint{Day: v.Figures.Form.Day(day), Date: period.FormatDay(day)}
}

// bars says where the bars of points stand.
func (s *Stood) bars(amounts []exact.Num) {
	bars := make([][2]exact.Num, len(amounts))
	for i, amount := range amounts {
		bars[i][1] = amount
	}
	parts, _ := widths(bars)
	for i, p := range parts {
		s.Points[i].From, s.Points[i].To = p[0], p[1]
	}
}

// over tells how a report stood where all that it shows adds up, all days at once; nil where something does not.
func (v *View) over(
	ctx context.Context, b *brief.Brief, days []int32, goal *exact.Num, lines bool,
) (*Stood, error) {
	aim := ""
	if goal != nil {
		aim = fmt.Sprint(*goal)
	}
	q, err := v.question(b, fmt.Sprint("over ", days, lines, " ", aim))
	if err != nil {
		return nil, err
	}
	return once(ctx, v, q, func(ctx context.Context) (*Stood, error) {
		bound, err := v.Bind(b)
		if err != nil || len(bound.Parts) > 1 || len(bound.Parts[0].Levels) > 1 {
			return nil, err
		}
		var o *engine.Over
		err = v.run(ctx, bound, true, func(ctx context.Context, opts engine.Options) (err error) {
			o, err = engine.RunOver(ctx, v.Snap, bound, opts, days)
			return err
		})
		if err != nil || len(o.Lines) == 0 {
			return nil, err
		}
		return v.tellOver(bound, o, goal, lines), nil
	}, func(s *Stood) int64 {
		if s == nil {
			return 100
		}
		return int64(len(s.Points)) * 2000
	})
}

func (v *View) tellOver(b *brief.Bound, o *engine.Over, goal *exact.Num, lines bool) *Stood {
	out, w, by := &Stood{}, v.PlainWriter(), o.By()
	for _, s := range o.Summaries {
		out.Summaries = append(out.Summaries, brief.SummaryLabel(b, s))
	}
	out.Drawn = out.Summaries[by]
	var names []string
	for i, day := range o.Days {
		p := v.point(day)
		p.Records = o.Lines[0].Records[i]
		for k, s := range o.Summaries {
			p.Values = append(p.Values, amount(w, s, o.Lines[0].Values[k][i]))
		}
		out.Points, names = append(out.Points, p), append(names, p.Day)
	}
	out.bars(o.Lines[0].Values[by])
	var g *brief.BoundGroup
	of := o.Lines[:1]
	if len(b.Groups) > 0 {
		g, of = b.Groups[0], o.Lines[1:]
	}
	var drawn []chart.CourseLine
	for _, l := range of {
		drawn = append(drawn, chart.CourseLine{Member: l.Member, Values: l.Values[by]})
	}
	v.drawStood(out, o.Summaries[by], g, names, drawn, goal, lines)
	return out
}

// ends are the last days of the units before the one that today is in, the latest last.
func (v *View) ends(unit period.Unit, count int) ([]int32, error) {
	cal, days := v.Snap.Cal, []int32{}
	for i := count - 1; i >= 0; i-- {
		switch unit {
		case period.ByDay:
			days = append(days, v.Day-1-int32(i))
		case period.ByWeek:
			days = append(days, cal.Resolve(period.Period{Word: "last_week"}, v.Day).To-7*int32(i))
		case period.ByMonth:
			y, m, _ := period.Civil(v.Day)
			days = append(days, period.Day(y, m-time.Month(i), 1)-1)
		default:
			return nil, fault.New(fault.Invalid, "/unit", "How it stood is told by day, week or month.")
		}
	}
	return days, nil
}
