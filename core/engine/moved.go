package engine

import (
	"errors"
	"slices"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/exact"
	"uzzel/core/schema"
)

// Moved is one record of a step: what it added to each summary then and adds now, and what it had and has of what put it
// into the step, where that is one field.
type Moved struct {
	ID, Name  string
	Then, Now []exact.Num // nil where the brief did not find it
	Was, Is   string
}

// Decides is the value that puts records into a step: the field of the period, of a condition, of whose; of those that
// grew or shrunk, what the summary adds up. It is nil where no one field does.
func (m *Moves) Decides(step string) *brief.Value {
	part := m.now.run.part
	t := part.Start()
	field := func(key string) *brief.Value {
		f := t.Field(key)
		if f == nil {
			return nil
		}
		return &brief.Value{
			Text:  f.Key,
			Label: f.Label,
			Kind:  f.Kind,
			To:    f.To,
			Scale: column.Scale(f.Kind),
			Type:  t,
			Field: f,
		}
	}
	_, by, _ := strings.Cut(step, ":")
	switch {
	case step == MoveReopened || step == MoveWon || step == MoveLost:
		if f := t.Staged(); f != nil {
			return field(f.Key)
		}
	case (step == MoveGrown || step == MoveShrunk || step == MoveRates) && m.By >= 0:
		return m.Summaries[m.By].Of
	case by == "whose":
		return field(t.Owner)
	case by == "period" && part.Period != nil:
		return part.Period.Value
	case by != "":
		for k, n := range m.now.list {
			if n.what == "filter" && m.now.name(k) == by {
				if c := m.now.sources[k]; c != nil && c.Op == brief.OnField && c.Value.Level == 0 {
					return c.Value
				}
			}
		}
	}
	return nil
}

// ErrNoStep says that there is no such step among what moved.
var ErrNoStep = errors.New("there is no such step")

// Records lists the records of a step, those that change the result most first, from one place up to another, and says
// how many there are. It goes on with the budget and the time of RunMoves.
func (m *Moves) Records(step string, from, to int) (list []Moved, n int, err error) {
	defer whole(&err)
	at := slices.IndexFunc(m.Steps, func(s Move) bool { return s.Step == step })
	if at < 0 {
		return nil, 0, ErrNoStep
	}
	rows := slices.Clone(m.Steps[at].rows)
	if m.By >= 0 {
		change := func(p pair) int64 {
			d := m.now.value(m.By, p.now) - m.then.value(m.By, p.then)
			return max(d, -d)
		}
		slices.SortStableFunc(rows, func(a, b pair) int {
			switch ca, cb := change(a), change(b); {
			case ca > cb:
				return -1
			case ca < cb:
				return 1
			}
			return 0
		})
	}
	from, to = max(0, min(from, len(rows))), max(0, min(to, len(rows)))
	typ, decides := m.now.table.Type.Key, m.Decides(step)
	for _, p := range rows[from:max(from, to)] {
		var one Moved
		if p.now >= 0 {
			one.ID, one.Name = m.now.table.IDs.At(p.now), m.now.run.snap.Name(typ, p.now)
		} else {
			one.ID, one.Name = m.then.table.IDs.At(p.then), m.then.run.snap.Name(typ, p.then)
		}
		if one.Was, err = m.then.had(p.then, decides); err != nil {
			return nil, 0, err
		}
		if one.Is, err = m.now.had(p.now, decides); err != nil {
			return nil, 0, err
		}
		for i, s := range m.Summaries {
			if m.then.finds(p.then) {
				one.Then = append(one.Then, exact.Frac(m.then.value(i, p.then), s.Scale))
			}
			if m.now.finds(p.now) {
				one.Now = append(one.Now, exact.Frac(m.now.value(i, p.now), s.Scale))
			}
		}
		list = append(list, one)
	}
	return list, len(rows), nil
}

// DaysBetween are the days from a date that each record of a step had then to one that it has now, of those that have
// both. It goes on with the budget and the time of RunMoves.
func (m *Moves) DaysBetween(step string, from, to *schema.Field) (days []int32, err error) {
	defer whole(&err)
	at := slices.IndexFunc(m.Steps, func(s Move) bool { return s.Step == step })
	if at < 0 {
		return nil, nil
	}
	rows := m.Steps[at].rows
	read := func(s *standing, f *schema.Field, row func(pair) int32) ([]int64, error) {
		n, err := s.run.value(&brief.Value{Text: f.Key, Kind: f.Kind, Type: s.table.Type, Field: f})
		if err != nil {
			return nil, err
		}
		list, out := make([]int32, len(rows)), make([]int64, len(rows))
		for i, p := range rows {
			list[i] = row(p)
		}
		day := s.run.asDays(n)
		s.each(list, func(first int, b *batch) { day.eval(b, out[first:first+b.n]) })
		return out, nil
	}
	before, err := read(m.then, from, func(p pair) int32 { return p.then })
	if err != nil {
		return nil, err
	}
	after, err := read(m.now, to, func(p pair) int32 { return p.now })
	if err != nil {
		return nil, err
	}
	for i, b := range before {
		if b != column.Null && after[i] != column.Null {
			days = append(days, int32(after[i]-b))
		}
	}
	return days, nil
}
