package answers

import (
	"context"
	"errors"
	"fmt"

	"uzzel/core/advise"
	"uzzel/core/brief"
	"uzzel/core/engine"
	"uzzel/internal/fault"
)

// Step is one step of the sift, in words.
type Step struct {
	engine.Sifted
	Words string
}

// Explained is what a report's conditions do, and what could mislead in it.
type Explained struct {
	Sift     [][]Step // by part
	Warnings []advise.Warning
}

// Explain sifts a brief and looks for what could mislead.
func (v *View) Explain(ctx context.Context, b *brief.Brief) (*Explained, error) {
	q, err := v.question(b, "explain")
	if err != nil {
		return nil, err
	}
	return once(ctx, v, q, func(ctx context.Context) (*Explained, error) {
		a, err := v.Ask(ctx, b)
		if err != nil {
			return nil, err
		}
		e := &Explained{}
		return e, v.run(ctx, a.Bound, true, func(ctx context.Context, opts engine.Options) error {
			return e.find(ctx, v, a, opts)
		})
	}, func(e *Explained) int64 { return int64(len(e.Warnings)+len(e.Sift)) * 2000 })
}

func (e *Explained) find(ctx context.Context, v *View, a *Answer, opts engine.Options) error {
	words := func(at string) string { return conditionWords(a.Sentence, at) }
	in := advise.Input{Snap: v.Snap, Bound: a.Bound, Opts: opts, Result: a.Result, Words: words, Notes: a.Drawing.Notes}
	for part := range a.Bound.Parts {
		sift, err := engine.Sift(ctx, v.Snap, a.Bound, opts, part)
		if err != nil {
			return err
		}
		steps := make([]Step, len(sift))
		for i, s := range sift {
			steps[i] = Step{s, words(pointer(a.Bound, part, s.What, s.At))}
			if said := outWords[s.What]; said != "" {
				steps[i].Words = said
			}
		}
		e.Sift = append(e.Sift, steps)
		in.Sift = sift
	}
	var err error
	e.Warnings, err = advise.Find(ctx, in)
	return err
}

// pointer is where a condition of a part is in the whole brief: the engine names whose and period by their part.
func pointer(b *brief.Bound, part int, what, at string) string {
	if len(b.Parts) > 1 && (what == "whose" || what == "period") {
		return fmt.Sprintf("/parts/%d%s", part, at)
	}
	return at
}

// conditionWords are what the sentence says of the condition at a pointer; "" where it says nothing of it.
func conditionWords(said brief.Sentence, at string) string {
	for _, c := range said {
		if c.At == at {
			return c.Text
		}
	}
	return ""
}

// outWords say why a record is out where that is no single condition of the sentence.
var outWords = map[string]string{
	"fixed": brief.Unsaid,
	"rates": "there is an exchange rate for its amounts",
	"bring": "it has none of the records that the report brings",
	"blank": "it is in (blank), which the report leaves out",
	"top":   "its group is not among those that the report keeps",
}

// Dropped lists the records that a step of the sift took out; step counts from 0, without the first.
func (v *View) Dropped(ctx context.Context, b *brief.Brief, part, step int) (*List, error) {
	if part < 0 || part >= max(1, len(b.Parts)) {
		return nil, fault.New(fault.Invalid, "/part", "there is no part %d", part)
	}
	return v.list(
		ctx,
		b,
		fmt.Sprintf("dropped %d %d", part, step),
		func(ctx context.Context, bound *brief.Bound, opts engine.Options) (*engine.Records, error) {
			l, err := engine.Dropped(ctx, v.Snap, bound, opts, part, step)
			if errors.Is(err, engine.ErrStep) {
				err = fault.New(fault.Invalid, "/step", "%s", err)
			}
			return l, err
		},
	)
}

// FailedCondition is one condition that takes a record out, in words, with what the record itself has.
type FailedCondition struct {
	Words string
	Has   []engine.Own
}

// Verdict says of a record whether it is in a result, and why not.
type Verdict struct {
	*engine.Verdict
	Name    string
	Failing []FailedCondition
}

// Why says of a record whether it is in the result of a brief, in which groups, or what takes it out.
func (v *View) Why(ctx context.Context, b *brief.Brief, part int, id string) (*Verdict, error) {
	bound, err := v.Bind(b)
	if err != nil {
		return nil, err
	}
	if part < 0 || part >= len(bound.Parts) {
		return nil, fault.New(fault.Invalid, "/part", "there is no part %d", part)
	}
	var found *engine.Verdict
	err = v.run(ctx, bound, false, func(ctx context.Context, opts engine.Options) error {
		found, err = engine.Check(ctx, v.Snap, bound, opts, part, id)
		return err
	})
	if err != nil {
		return nil, err
	}
	if !found.Known {
		return nil, fault.New(fault.NotFound, "", "There is no such record, or you may not see it.")
	}
	out := &Verdict{Verdict: found, Name: v.name(bound.Parts[part].Start().Key, id)}
	said, w := v.Say(bound), v.PlainWriter()
	for _, f := range found.Out {
		failed := FailedCondition{Words: outWords[f.What]}
		if failed.Words == "" {
			failed.Words = conditionWords(said, pointer(bound, part, f.What, f.At))
		}
		switch {
		case failed.Words == "":
			failed.Words = "each condition is met, but all of them by no one row"
		case f.What == "fixed":
			f.Values = nil
		case f.What == "period" || f.What == "whose":
			failed.Words = f.What + " is " + failed.Words
		}
		for _, own := range f.Values {
			failed.Has = append(
				failed.Has,
				engine.Own{Path: v.pathWords(bound.Parts[part], own.Path), Text: w.Inner(own.Kind, own.Text, nil), Kind: own.Kind},
			)
		}
		out.Failing = append(out.Failing, failed)
	}
	return out, nil
}

// pathWords names what a path leads to.
func (v *View) pathWords(p *brief.BoundPart, path string) string {
	b := brief.Brief{Version: brief.Version, Part: *p.Part, Columns: []brief.Column{{Field: path}}}
	b.Key, b.Summaries = "", nil
	if bound, err := brief.Bind(&b, v.Snap.Schema); err == nil {
		return brief.ValueWords(bound.Columns[0])
	}
	return path
}
