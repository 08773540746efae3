package answers

import (
	"context"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/chart"
	"uzzel/core/engine"
	"uzzel/core/figures"
	"uzzel/core/result"
	"uzzel/internal/aims"
)

// Answer is the answer to a brief, with its sentence.
type Answer struct {
	numbers
	Bound    *brief.Bound
	Sentence brief.Sentence
	Drawing  *chart.Drawing
	Writer   chart.Writer
	Unseen   string // what the reader does not see of what it reads, in words
	Unrated  string // what is left out for want of an exchange rate, in words
}

// Ask answers a brief.
func (v *View) Ask(ctx context.Context, b *brief.Brief) (*Answer, error) {
	q, err := v.question(b, "answer")
	if err != nil {
		return nil, err
	}
	return once(ctx, v, q, func(ctx context.Context) (*Answer, error) {
		bound, err := brief.Bind(b, v.Snap.Schema)
		if err != nil {
			return nil, err
		}
		a := &Answer{Bound: bound, Sentence: v.Say(bound), Writer: v.Writer()}
		var aim aims.Aim
		if b.TargetOf != "" {
			aim = v.Scene().Of(bound)
			a.Writer.Aims, bound.Target = aim.Groups, aim.Amount
		}
		if a.numbers, err = v.result(ctx, bound); err != nil {
			return nil, err
		}
		if c := b.Chart; c != nil && c.Steps && c.Kind == "funnel" {
			if a.Writer.Steps, err = v.steps(ctx, bound); err != nil {
				return nil, err
			}
		}
		a.Drawing = chart.Draw(a.Result, b.Chart, a.Writer)
		if a.Drawing.Progress != nil {
			a.Drawing.Progress.Of = aim.Words
		}
		if aim.Missing != "" {
			a.Drawing.Notes = append(a.Drawing.Notes, aim.Missing)
		}
		a.Unseen, a.Unrated = unseen(bound, a.Result.Hidden, a.Result.Partly, v), bound.LeftOut(a.Result.Unrated)
		if a.Unrated != "" {
			a.Drawing.Notes = append(a.Drawing.Notes, brief.Capital(a.Unrated))
		}
		return a, nil
	}, func(a *Answer) int64 {
		points := 0
		for _, s := range a.Drawing.Series {
			points += len(s.Points)
		}
		return a.bytes() + int64(points+len(a.Drawing.Categories))*400
	})
}

// unseen says in words what a reader does not see of what a brief reads: "" for nothing.
func unseen(b *brief.Bound, hidden int64, partly []string, v *View) string {
	var list []string
	if hidden > 0 {
		what := b.Counted(hidden)
		verb := "have"
		if hidden == 1 {
			verb = "has"
		}
		list = append(list, what+" "+verb+" something here that is not yours to see")
	}
	for _, typ := range partly {
		if t := v.Snap.Schema.Type(typ); t != nil {
			list = append(list, "of the "+strings.ToLower(t.Label)+" it reads only those that you may see")
		}
	}
	return strings.Join(list, "; ")
}

// numbers is the answer to a brief before it is drawn.
type numbers struct {
	Result *result.Result
}

func (n numbers) bytes() int64 { return n.Result.Bytes() }

// bare is the question that a brief's numbers answer: they hang neither on its chart, nor on the house style, nor on
// whether records are shown.
func (v *View) bare(bound *brief.Bound, more string) (question, error) {
	b := *bound.Brief
	b.Chart, b.TotalsOnly = nil, false
	q, err := v.question(&b, more)
	q.looks, q.form = nil, figures.Form{}
	return q, err
}

// steps works out how many of a brief's records went on from each stage.
func (v *View) steps(ctx context.Context, bound *brief.Bound) (map[string]engine.Onward, error) {
	q, err := v.bare(bound, "steps")
	if err != nil {
		return nil, err
	}
	return once(ctx, v, q, func(ctx context.Context) (by map[string]engine.Onward, err error) {
		return by, v.run(ctx, bound, false, func(ctx context.Context, opts engine.Options) error {
			by, err = engine.OnwardByStage(ctx, v.Snap, bound, opts)
			return err
		})
	}, func(by map[string]engine.Onward) int64 { return int64(len(by)) * 60 })
}

// result works out the answer to a bound brief; not again where one was answered that differs in its looks alone.
func (v *View) result(ctx context.Context, bound *brief.Bound) (numbers, error) {
	q, err := v.bare(bound, "numbers")
	if err != nil {
		return numbers{}, err
	}
	return once(ctx, v, q, func(ctx context.Context) (n numbers, err error) {
		return n, v.run(ctx, bound, false, func(ctx context.Context, opts engine.Options) error {
			n.Result, err = engine.Run(ctx, v.Snap, bound, opts)
			return err
		})
	}, numbers.bytes)
}
