package desk

import (
	"context"

	"uzzel/core/engine"
)

func (d *Desk) readSees(ctx context.Context) error {
	rows, err := d.store.Sees(ctx)
	sees := map[string]engine.Sees{}
	for typ, how := range rows {
		sees[typ] = engine.Sees(how)
	}
	d.sees.Store(&sees)
	return err
}

// Sees says which records of each type people may see.
func (d *Desk) Sees() map[string]engine.Sees { return *d.sees.Load() }

// SetSees sets which records of a type people may see: everyone's (""), their team's or their own.
func (d *Desk) SetSees(ctx context.Context, who Person, typ string, how engine.Sees) error {
	if who.Role != Administrator {
		return fail(Forbidden, "", "Only administrators say which records people may see.")
	}
	t := d.Snapshot().Schema.Type(typ)
	switch {
	case t == nil:
		return fail(NotFound, "", "There is no record type “%s”.", typ)
	case how != engine.SeesAll && how != engine.SeesTeam && how != engine.SeesOwn:
		return fail(Invalid, "/how", "People may see everyone's records, their team's or their own.")
	case how != engine.SeesAll && t.Owner == "":
		return fail(Invalid, "/how", "%s have no owner, so everyone sees them.", t.Label)
	}
	if err := d.store.SetSees(ctx, typ, string(how)); err != nil {
		return err
	}
	return d.readSees(ctx)
}

// Secret is what the application seals with what it hands out and takes back.
func (d *Desk) Secret(ctx context.Context) ([]byte, error) { return d.store.Secret(ctx, "seal") }
