package desk

import (
	"context"
	"encoding/json"
	"errors"
	"strconv"

	"uzzel/core/brief"
	"uzzel/core/chart"
	"uzzel/core/engine"
)

// Extract is what is taken out of the application: a table, and what it is about. Its lines are worked out as they are
// written.
type Extract struct {
	engine.Table
	Title string
	About [][2]string // what is said of it, in words: the sentence, its conditions, who, when
	Brief brief.Public
}

// Export takes a brief's records, summary, totals or outline out. report is the kept report that it is a reading of, 0 for
// none. Readers take out what was kept, narrowed or for other dates and people (brief.Within); what an owner does not let
// out is refused.
func (d *Desk) Export(ctx context.Context, who Person, report int64, b *brief.Brief, view string) (*Extract, error) {
	title, asked, err := d.mayTake(ctx, who, report, b)
	if err != nil {
		return nil, err
	}
	out := &Extract{Title: title, Brief: brief.ForOwner(b)}
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
		out.Table, records, said, unseen = l.inTurn(ctx), int64(l.Len()), l.Sentence, l.Unseen
	case "summary", "totals", "outline":
		a, err := d.ask(ctx, v, asked)
		if err != nil {
			return nil, err
		}
		records, said, unseen = a.Result.Records, a.Sentence, a.Unseen
		switch view {
		case "totals":
			out.Table = a.Result.Totals().Table()
		case "summary":
			out.Table = a.Result.SummaryTable()
		default:
			var sums []string
			for i := range a.Bound.Summaries {
				sums = append(sums, chart.SummaryName(a.Result, i))
			}
			out.Table = a.Result.Outline(func(g int, m engine.Member) string { return chart.Label(a.Bound.Groups[g], m, a.Writer.Cal) }, sums)
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

// inTurn is the list as a table that is read in turn with what others ask.
func (l *List) inTurn(ctx context.Context) engine.Table {
	t := l.Table(ctx, nil)
	t.Rows = func(yield func(engine.Line, error) bool) {
		err := l.d.run(ctx, l.v, l.Bound, true, func(ctx context.Context, opts engine.Options) error {
			opts.Budget.Rows = 1 << 40 // as many as there are
			for line, err := range l.Table(ctx, opts.Budget).Rows {
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
	return t
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
