package answers

import (
	"context"
	"errors"
	"iter"
	"strconv"

	"uzzel/core/brief"
	"uzzel/core/engine"
	"uzzel/core/result"
	"uzzel/core/table"
	"uzzel/internal/fault"
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

// Extract takes a brief's records, summary, totals or outline out. shown is the brief as the person has it, asked the
// one that is answered, with the conditions that a report's owner fixed; title is the report's, or "". Headers are as
// they are shown; with keys, as uzzel run writes them.
func (v *View) Extract(
	ctx context.Context,
	title string,
	shown, asked *brief.Brief,
	view string,
	keys bool,
) (*Extract, error) {
	out := &Extract{Title: title, View: view, Brief: brief.ForOwner(shown)}
	var said brief.Sentence
	var records int64
	var unseen, unrated string
	switch view {
	case "records":
		l, err := v.List(ctx, asked)
		if err != nil {
			return nil, err
		}
		out.Sheet = table.OfRecords(l.Records, asked, l.inTurn(ctx, 0, l.Len()))
		records, said, unseen, unrated = int64(l.Len()), l.Sentence, l.Unseen, l.Unrated
		if keys {
			for i := range out.Columns {
				out.Columns[i].Label = l.Labels[i]
			}
		}
	case "summary", "totals", "outline":
		a, err := v.Ask(ctx, asked)
		if err != nil {
			return nil, err
		}
		records, said, unseen, unrated = a.Result.Records, a.Sentence, a.Unseen, a.Unrated
		switch {
		case view == "totals":
			out.Sheet = table.Plain(a.Result.Totals().Table())
		case view == "summary" && keys:
			out.Sheet = table.Plain(a.Result.SummaryTable())
		case view == "summary":
			out.Sheet = table.Summary(a.Result, a.Writer)
		default:
			if out.Sheet, err = v.outline(ctx, asked, a); err != nil {
				return nil, err
			}
		}
		if title == "" {
			out.Title = a.Drawing.Title
		}
	default:
		return nil, fault.New(fault.Invalid, "/view", "a view is records, summary, outline or totals, not %q", view)
	}
	out.About = [][2]string{{"Report", out.Title}, {"Sentence", said.String()}}
	for _, c := range said {
		if c.Key == "whose" || c.Key == "period" || c.Key == "filter" {
			out.About = append(
				out.About,
				[2]string{map[string]string{"whose": "Whose", "period": "Period", "filter": "Condition"}[c.Key], c.Text},
			)
		}
	}
	if out.View == "outline" {
		out.View = "groups"
		if out.Deepest > len(shown.Groups) {
			out.View = "groups and records"
		}
	}
	if brief.Narrowed(asked) {
		out.About = append(out.About, [2]string{"Condition", brief.Unsaid})
	}
	out.About = append(out.About, [2]string{"Records", v.Figures.Form.Number(strconv.FormatInt(records, 10))})
	if unseen != "" {
		out.About = append(out.About, [2]string{"Not seen", unseen})
	}
	if unrated != "" {
		out.About = append(out.About, [2]string{"Left out", unrated})
	}
	out.About = append(out.About, [2]string{"Taken by", v.Who.Name}, [2]string{"On", v.Figures.Form.Day(v.Day)})
	return out, nil
}

// outline is a result as it is laid out on the screen: its groups, with the records under them where they are shown.
func (v *View) outline(ctx context.Context, b *brief.Brief, a *Answer) (table.Sheet, error) {
	if b.TotalsOnly || len(b.Parts) > 0 || a.Bound.Rows == 0 {
		return table.Outline(a.Result, a.Writer, nil), nil
	}
	g, err := v.Grouped(ctx, b)
	if err != nil {
		return table.Sheet{}, err
	}
	run := map[int]engine.GroupRun{}
	for _, r := range g.Runs {
		run[r.Node] = r
	}
	return table.Outline(g.Result, a.Writer, &table.Under{List: g.Records, Of: func(n int) iter.Seq2[result.Line, error] {
		return g.inTurn(ctx, run[n].First, run[n].First+run[n].Count)
	}}), nil
}

// inTurn is a stretch of the list, read in turn with what others ask.
func (l *List) inTurn(ctx context.Context, from, to int) iter.Seq2[result.Line, error] {
	return func(yield func(result.Line, error) bool) {
		if from >= to {
			return
		}
		err := l.v.run(ctx, l.Bound, true, func(ctx context.Context, opts engine.Options) error {
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
			yield(result.Line{}, err)
		}
	}
}

var errEnough = errors.New("no more lines are wanted")
