package desk

import (
	"context"
	"encoding/json"
	"errors"
	"iter"
	"strconv"

	"uzzel/core/brief"
	"uzzel/core/engine"
	"uzzel/core/table"
)

// Extract is what is taken out of the application: a table, and what it is about. Its lines are worked out as they are
// written.
type Extract struct {
	table.Sheet
	Title string
	View  string      // in words: records, summary, totals, groups and records
	About [][2]string // what is said of it, in words: the sentence, its conditions, who, when
	Brief brief.Public
}

// Export takes a brief's records, summary, totals or outline out. report is the kept report that it is a reading of, 0 for
// none. Readers take out what was kept, narrowed or for other dates and people (brief.Within); what an owner does not let
// out is refused. Headers are as they are shown; with keys, as uzzel run writes them.
func (d *Desk) Export(ctx context.Context, who Person, report int64, b *brief.Brief, view string, keys bool) (*Extract, error) {
	title, asked, err := d.mayTake(ctx, who, report, b)
	if err != nil {
		return nil, err
	}
	out := &Extract{Title: title, View: view, Brief: brief.ForOwner(b)}
	v := d.view(who)
	var said brief.Sentence
	var records int64
	var unseen string
	switch view {
	case "records":
		l, err := d.List(ctx, who, asked)
		if err != nil {
			return nil, err
		}
		out.Sheet, records, said, unseen = table.OfRecords(l.Records, asked, l.inTurn(ctx, 0, l.Len())), int64(l.Len()), l.Sentence, l.Unseen
		if keys {
			for i := range out.Columns {
				out.Columns[i].Label = l.Labels[i]
			}
		}
	case "summary", "totals", "outline":
		a, err := d.ask(ctx, v, asked)
		if err != nil {
			return nil, err
		}
		records, said, unseen = a.Result.Records, a.Sentence, a.Unseen
		switch {
		case view == "totals":
			out.Sheet = table.Plain(a.Result.Totals().Table())
		case view == "summary" && keys:
			out.Sheet = table.Plain(a.Result.SummaryTable())
		case view == "summary":
			out.Sheet = table.Summary(a.Result, a.Writer)
		default:
			if out.Sheet, err = d.outline(ctx, v, asked, a); err != nil {
				return nil, err
			}
		}
		if title == "" {
			out.Title = a.Drawing.Title
		}
	default:
		return nil, fail(Invalid, "/view", "a view is records, summary, outline or totals, not %q", view)
	}
	out.About = [][2]string{{"Report", out.Title}, {"Sentence", said.String()}}
	for _, c := range said {
		if c.Key == "whose" || c.Key == "period" || c.Key == "filter" {
			out.About = append(out.About, [2]string{map[string]string{"whose": "Whose", "period": "Period", "filter": "Condition"}[c.Key], c.Text})
		}
	}
	if out.View == "outline" {
		out.View = "groups"
		if out.Deepest > len(b.Groups) {
			out.View = "groups and records"
		}
	}
	if brief.Narrowed(asked) {
		out.About = append(out.About, [2]string{"Condition", brief.Unsaid})
	}
	out.About = append(out.About, [2]string{"Records", brief.Thousands(strconv.FormatInt(records, 10))})
	if unseen != "" {
		out.About = append(out.About, [2]string{"Not seen", unseen})
	}
	out.About = append(out.About, [2]string{"Taken by", who.Name}, [2]string{"On", brief.DayWords(v.day)})
	return out, nil
}

// outline is a result as it is laid out on the screen: its groups, with the records under them where they are shown.
func (d *Desk) outline(ctx context.Context, v view, b *brief.Brief, a *Answer) (table.Sheet, error) {
	if b.TotalsOnly || len(b.Parts) > 0 || a.Bound.Rows == 0 {
		return table.Outline(a.Result, a.Writer, nil), nil
	}
	g, err := d.grouped(ctx, v, b)
	if err != nil {
		return table.Sheet{}, err
	}
	run := map[int]engine.GroupRun{}
	for _, r := range g.Runs {
		run[r.Node] = r
	}
	return table.Outline(g.Result, a.Writer, &table.Under{List: g.Records, Of: func(n int) iter.Seq2[engine.Line, error] {
		return g.inTurn(ctx, run[n].First, run[n].First+run[n].Count)
	}}), nil
}

// inTurn is a stretch of the list, read in turn with what others ask.
func (l *List) inTurn(ctx context.Context, from, to int) iter.Seq2[engine.Line, error] {
	return func(yield func(engine.Line, error) bool) {
		if from >= to {
			return
		}
		err := l.d.run(ctx, l.v, l.Bound, true, func(ctx context.Context, opts engine.Options) error {
			opts.Budget.Rows = 1 << 40 // as many as there are
			for line, err := range l.Stretch(ctx, opts.Budget, from, to) {
				if err != nil {
					return err
				}
				if !yield(line, nil) {
					return errEnough
				}
			}
			return nil
		})
		if err != nil && !errors.Is(err, errEnough) {
			yield(engine.Line{}, err)
		}
	}
}

var errEnough = errors.New("no more lines are wanted")

// mayTake refuses to let out what a report's owner keeps in, and gives the report's title and what is asked: the reading
// with the conditions that the report's owner fixed.
func (d *Desk) mayTake(ctx context.Context, who Person, report int64, b *brief.Brief) (title string, asked *brief.Brief, err error) {
	if report == 0 {
		if !who.MayCompose() {
			return "", nil, fail(Forbidden, "/report", "Readers download from a saved report. Open one first.")
		}
		return "", b, d.notKeptIn(ctx, who, b)
	}
	r, err := d.Report(ctx, who, report)
	var gone *Error
	if errors.As(err, &gone) && gone.Reason == NotFound {
		gone.Pointer = "/report"
	}
	switch {
	case err != nil:
		return "", nil, err
	case r.MayChange:
		return r.Title, b, nil
	case r.NoDownload:
		return "", nil, fail(Forbidden, "", "%s does not let “%s” be downloaded. It can be read here and printed.", r.OwnerName, r.Title)
	}
	shown := r.Shown
	if bound, err := d.Bind(r.whole); err == nil && len(bound.Parts) == 1 && len(r.whole.Columns) == 0 {
		shown = append(DefaultColumns(bound.Parts[0].Start()), shown...)
	}
	if bad := brief.Within(b, r.Brief.Brief(), shown); bad != nil && !who.MayCompose() {
		var problems brief.Problems
		errors.As(bad, &problems)
		return "", nil, fail(Forbidden, problems[0].Pointer, "This is no longer what “%s” shows: %s. Readers download a report as it is kept, for whichever people and dates, and narrowed further; go back to as it is saved.",
			r.Title, problems[0].Message)
	} else if bad != nil {
		if err := d.notKeptIn(ctx, who, b); err != nil {
			return "", nil, err
		}
	}
	if asked, err = d.Reading(ctx, who, report, b); err != nil {
		return "", nil, err
	}
	title = r.Title
	if !sameQuestion(b, r.Brief.Brief()) {
		title += " (changed for this reading)"
	}
	return title, asked, nil
}

// notKeptIn refuses the very question of a report that its owner does not let out.
func (d *Desk) notKeptIn(ctx context.Context, who Person, b *brief.Brief) error {
	list, err := d.Reports(ctx, who)
	for _, r := range list {
		if r.NoDownload && !r.MayChange && sameQuestion(b, r.Brief.Brief()) {
			return fail(Forbidden, "", "%s does not let “%s” be downloaded. It can be read here and printed.", r.OwnerName, r.Title)
		}
	}
	return err
}

// sameQuestion says whether two briefs differ in their looks at most.
func sameQuestion(a, b *brief.Brief) bool {
	bare := func(b brief.Brief) string {
		b.Chart, b.TotalsOnly = nil, false
		text, err := json.Marshal(&b)
		if err != nil {
			return err.Error()
		}
		return string(text)
	}
	return bare(*a) == bare(*b)
}
