package bringin

import (
	"context"
	"encoding/json"
	"errors"
	"slices"

	"uzzel/core/schema"
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

// past is how the latest file with the same columns was brought in as records of a type, of any type where typ is "", and
// by whom; nobody where none was.
func (b *BringIn) past(ctx context.Context, s *Sheet, typ string) (p Plan, person int64, err error) {
	header, _, err := remembered(s, p)
	if err != nil {
		return p, 0, err
	}
	text, person, err := b.store.LastPlan(ctx, header, typ)
	if errors.Is(err, store.ErrNotFound) {
		return p, 0, nil
	}
	if err == nil {
		err = json.Unmarshal([]byte(text), &p)
	}
	return p, person, err
}

// holds says whether a plan of a file before can be one for a file now, and has values that cannot be written as they were
// be read as they are written.
func holds(v *answers.View, s *Sheet, p *Plan) bool {
	t, err := records.Writable(v, p.Type)
	if err != nil || checkPlan(t, s, p) != nil {
		return false // fields have changed since
	}
	for i := range p.Columns {
		c := &p.Columns[i]
		if f := fieldOf(t, c.Field); f != nil && c.Form != "" {
			c.Form, _ = formOf(f, sample(s, i), c.Form)
		}
	}
	return true
}

// Known is a file like one that was brought in before: as records of a type, by a person.
type Known struct {
	Type   string
	Person int64

	sheet *Sheet
	plan  Plan
}

// Know reads a file that is to be brought in as the latest with the same columns was. One that none was like is refused.
func (b *BringIn) Know(ctx context.Context, name string, data []byte) (Known, error) {
	s, err := Read(name, data)
	if err != nil {
		return Known{}, err
	}
	p, person, err := b.past(ctx, s, "")
	if err == nil && person == 0 {
		err = fault.New(fault.Invalid, "/file",
			"No file with these columns was brought in before. Bring it in once from the screen, which is remembered.")
	}
	return Known{p.Type, person, s, p}, err
}

// Again brings a known file in as the one before was, for whoever brought that in, whose view is given: every night, by
// command.
func (b *BringIn) Again(ctx context.Context, v *answers.View, k Known) (store.Import, *Outcome, error) {
	if err := May(v); err != nil {
		return store.Import{}, nil, err
	}
	if !holds(v, k.sheet, &k.plan) {
		return store.Import{}, nil, fault.New(
			fault.Invalid,
			"/file",
			"Fields have changed since such a file was brought in. Bring it in once from the screen.",
		)
	}
	return b.Do(ctx, v, k.sheet, k.plan, func(string, int, int) error { return ctx.Err() })
}

// Place is where records of a type come among others that are brought in together: after those that they link to.
func (b *BringIn) Place(typ string) int {
	return slices.IndexFunc(b.store.Schema().Types, func(t *schema.Type) bool { return t.Key == typ })
}
