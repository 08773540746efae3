package bringin

import (
	"context"
	"encoding/json"
	"errors"

	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/records"
	"uzzel/internal/store"
)

// remembered is how a file is brought in, as it is kept with the import: the names of its columns, and the plan.
func remembered(s *Sheet, p Plan) (header, plan string, err error) {
	h, err := json.Marshal(s.Header)
	if err != nil {
		return "", "", err
	}
	text, err := json.Marshal(p)
	return string(h), string(text), err
}

// lastTime is how the latest file with the same columns was brought in as records of a type, of any type where typ is "".
func (b *BringIn) lastTime(ctx context.Context, v *answers.View, s *Sheet, typ string) (p Plan, ok bool, err error) {
	header, _, err := remembered(s, Plan{})
	if err != nil {
		return p, false, err
	}
	text, _, err := b.store.LastPlan(ctx, header, typ)
	if errors.Is(err, store.ErrNotFound) {
		return p, false, nil
	}
	if err != nil {
		return p, false, err
	}
	if err := json.Unmarshal([]byte(text), &p); err != nil {
		return p, false, err
	}
	t, err := records.Writable(v, p.Type)
	if err != nil || checkPlan(t, s, &p) != nil {
		return p, false, nil // fields have changed since
	}
	// Values that cannot be written as they were are written otherwise now.
	for i := range p.Columns {
		c := &p.Columns[i]
		if f := t.Field(c.Field); f != nil && c.Form != "" {
			c.Form, _ = formOf(f, sample(s, i), c.Form)
		}
	}
	return p, true, nil
}

// Again brings a file in as the latest one with the same columns was, for whoever brought that in: every night, by command.
// as is the view of a person. A file that none was like is refused.
func (b *BringIn) Again(
	ctx context.Context,
	as func(person int64) (*answers.View, error),
	name string,
	data []byte,
) (store.Import, *Outcome, error) {
	var none store.Import
	s, err := Read(name, data)
	if err != nil {
		return none, nil, err
	}
	header, _, err := remembered(s, Plan{})
	if err != nil {
		return none, nil, err
	}
	_, person, err := b.store.LastPlan(ctx, header, "")
	if errors.Is(err, store.ErrNotFound) {
		return none, nil, fault.New(fault.Invalid, "/file",
			"No file with these columns was brought in before. Bring it in once from the screen, which is remembered.")
	}
	if err != nil {
		return none, nil, err
	}
	v, err := as(person)
	if err != nil {
		return none, nil, err
	}
	if err := May(v); err != nil {
		return none, nil, err
	}
	p, ok, err := b.lastTime(ctx, v, s, "")
	if err == nil && !ok {
		err = fault.New(
			fault.Invalid,
			"/file",
			"Fields have changed since such a file was brought in. Bring it in once from the screen.",
		)
	}
	if err != nil {
		return none, nil, err
	}
	return b.Do(ctx, v, s, p, func(string, int, int) error { return ctx.Err() })
}

// Of is the record type of a file, "" where none like it was brought in.
func (b *BringIn) Of(ctx context.Context, name string, data []byte) (string, error) {
	s, err := Read(name, data)
	if err != nil {
		return "", err
	}
	header, _, err := remembered(s, Plan{})
	if err != nil {
		return "", err
	}
	text, _, err := b.store.LastPlan(ctx, header, "")
	if errors.Is(err, store.ErrNotFound) {
		return "", nil
	}
	var p Plan
	if err == nil {
		err = json.Unmarshal([]byte(text), &p)
	}
	return p.Type, err
}
