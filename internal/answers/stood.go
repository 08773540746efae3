package answers

import (
	"context"
	"time"

	"uzzel/core/brief"
	"uzzel/core/exact"
	"uzzel/core/period"
	"uzzel/internal/fault"
)

// Stood is a report's totals as they stood at the ends of days, weeks or months, the latest last.
type Stood struct {
	Summaries []string
	Drawn     string // the summary that the bars are of
	Points    []StoodPoint
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
const mostStood = 60

// Stood tells how a report stood at the ends of so many units, and now.
func (v *View) Stood(ctx context.Context, b *brief.Brief, unit period.Unit, count int) (*Stood, error) {
	if count < 1 || count > mostStood {
		return nil, fault.New(fault.Invalid, "/count", "One to %d points are told.", mostStood)
	}
	days, err := v.ends(unit, count)
	if err != nil {
		return nil, err
	}
	bare := *b
	bare.Since, bare.Groups, bare.Across, bare.Blank, bare.Compare, bare.Chart = nil, nil, nil, nil, "", nil
	bare.Target, bare.TargetOf, bare.TotalsOnly = "", "", false
	// All of it is one question: many states of very many records take long, and end as one that takes long does.
	ctx, end := context.WithTimeout(ctx, QuestionTime)
	defer end()
	out := &Stood{}
	var amounts []exact.Num
	for _, day := range append(days, v.Day) {
		then := bare
		point := StoodPoint{Day: "now"}
		if then.AsOf = nil; day != v.Day {
			point.Date = period.FormatDay(day)
			then.AsOf, point.Day = &brief.Moment{Date: point.Date}, v.Figures.Form.Day(day)
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
		out.Drawn = out.Summaries[by]
		for i, s := range a.Bound.Summaries {
			point.Values = append(point.Values, w.Value(s.Kind, cell.Plain[i], s.Source.Format))
		}
		point.Records = a.Result.Records
		amounts = append(amounts, cell.Plain[by].Num)
		out.Points = append(out.Points, point)
	}
	bars := make([][2]exact.Num, len(amounts))
	for i, amount := range amounts {
		bars[i][1] = amount
	}
	parts, _ := widths(bars)
	for i, p := range parts {
		out.Points[i].From, out.Points[i].To = p[0], p[1]
	}
	return out, nil
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
