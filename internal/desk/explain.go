package desk

import (
	"context"
	"fmt"
	"strings"

	"uzzel/core/advise"
	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/engine"
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
func (d *Desk) Explain(ctx context.Context, who Person, b *brief.Brief) (*Explained, error) {
	q, err := d.question(who, b, "explain")
	if err != nil {
		return nil, err
	}
	if e, ok := d.explained.Get(q); ok {
		return e, nil
	}
	a, err := d.Ask(ctx, who, b)
	if err != nil {
		return nil, err
	}
	words := func(at string) string { return conditionWords(a.Sentence, a.Bound, at) }
	e := &Explained{}
	gentle := d.opts(who)
	gentle.Gentle = true
	in := advise.Input{Snap: q.snap, Bound: a.Bound, Opts: gentle, Result: a.Result, Words: words, Notes: a.Drawing.Notes}
	for part := range a.Bound.Parts {
		sift, err := engine.Sift(ctx, q.snap, a.Bound, gentle, part)
		if err != nil {
			return nil, d.runError(err)
		}
		steps := make([]Step, len(sift))
		for i, s := range sift {
			steps[i] = Step{s, words(pointer(a.Bound, part, s.What, s.At))}
		}
		e.Sift = append(e.Sift, steps)
		in.Sift = sift
	}
	if e.Warnings, err = advise.Find(ctx, in); err != nil {
		return nil, d.runError(err)
	}
	d.explained.Add(q, e)
	return e, nil
}

// pointer is where a condition of a part stands in the whole brief: the engine names whose and period by their part.
func pointer(b *brief.Bound, part int, what, at string) string {
	if len(b.Parts) > 1 && (what == "whose" || what == "period") {
		return fmt.Sprintf("/parts/%d%s", part, at)
	}
	return at
}

// conditionWords are what the sentence says of the condition at a pointer: brief.Unsaid where its owner fixed it, ""
// where there is none.
func conditionWords(said brief.Sentence, b *brief.Bound, at string) string {
	for _, c := range said {
		if c.At == at {
			return c.Text
		}
	}
	for _, p := range b.Parts {
		if p.Filter == nil {
			continue
		}
		for _, k := range append([]*brief.Cond{p.Filter}, p.Filter.Kids...) {
			if k.At == at && k.Source.Hidden {
				return brief.Unsaid
			}
		}
	}
	return ""
}

// outWords say why a record is out where that is no single condition of the sentence.
var outWords = map[string]string{"bring": "it has none of the records that the report brings", "blank": "it is in (blank), which the report leaves out",
	"top": "its group is not among those that the report keeps"}

// Dropped lists the records that a step of the sift took out; step counts from 0, without the first.
func (d *Desk) Dropped(ctx context.Context, who Person, b *brief.Brief, part, step int) (*List, error) {
	if part < 0 || part >= max(1, len(b.Parts)) {
		return nil, fail(Invalid, "/part", "there is no part %d", part)
	}
	return d.list(who, b, fmt.Sprintf("dropped %d %d", part, step), func(bound *brief.Bound, snap *column.Snapshot) (*engine.Records, error) {
		l, err := engine.Dropped(ctx, snap, bound, d.opts(who), part, step)
		if err != nil && ctx.Err() == nil {
			err = fail(Invalid, "/step", "%s", err)
		}
		return l, err
	})
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
func (d *Desk) Why(ctx context.Context, who Person, b *brief.Brief, part int, id string) (*Verdict, error) {
	bound, err := d.Bind(b)
	if err != nil {
		return nil, err
	}
	if part < 0 || part >= len(bound.Parts) {
		return nil, fail(Invalid, "/part", "there is no part %d", part)
	}
	snap := d.Snapshot()
	v, err := engine.Check(ctx, snap, bound, d.opts(who), part, id)
	if err != nil {
		return nil, d.runError(err)
	}
	if !v.Known {
		return nil, fail(NotFound, "", "There is no such record, or you may not see it.")
	}
	out := &Verdict{Verdict: v, Name: snap.NameOf(bound.Parts[part].Start().Key, id)}
	said, w := d.Say(who, bound), d.Writer()
	for _, f := range v.Out {
		failed := FailedCondition{Words: outWords[f.What]}
		if failed.Words == "" {
			failed.Words = conditionWords(said, bound, pointer(bound, part, f.What, f.At))
		}
		switch {
		case failed.Words == "":
			failed.Words = "each condition is met, but all of them by no one row"
		case strings.Contains(failed.Words, brief.Unsaid):
			f.Values = nil
		case f.What == "period" || f.What == "whose":
			failed.Words = f.What + " is " + failed.Words
		}
		for _, own := range f.Values {
			failed.Has = append(failed.Has, engine.Own{Path: d.pathWords(bound.Parts[part], own.Path), Text: w.Inner(own.Kind, own.Text, nil), Kind: own.Kind})
		}
		out.Failing = append(out.Failing, failed)
	}
	return out, nil
}

// pathWords names what a path leads to.
func (d *Desk) pathWords(p *brief.BoundPart, path string) string {
	b := brief.Brief{Version: brief.Version, Part: *p.Part, Columns: []brief.Column{{Field: path}}}
	b.Key, b.Summaries = "", nil
	if bound, err := brief.Bind(&b, d.Snapshot().Schema); err == nil {
		return brief.ValueWords(bound.Columns[0])
	}
	return path
}
