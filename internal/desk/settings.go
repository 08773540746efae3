package desk

import (
	"context"
	"encoding/json"

	"uzzel/core/chart"
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

const houseStyle = "house style"

func (d *Desk) readStyle(ctx context.Context) error {
	text, err := d.store.Preference(ctx, houseStyle)
	style := chart.Style{}
	if err == nil && text != "" {
		err = json.Unmarshal([]byte(text), &style)
	}
	d.style.Store(&style)
	return err
}

// Style is the house style.
func (d *Desk) Style() chart.Style { return *d.style.Load() }

// SetStyle sets the house style: what it says holds for every chart that says nothing else.
func (d *Desk) SetStyle(ctx context.Context, who Person, s chart.Style) error {
	if who.Role != Administrator {
		return fail(Forbidden, "", "Only administrators set the house style.")
	}
	if err := s.Check(d.Snapshot().Schema); err != nil {
		return fail(Invalid, "/style", "%s.", err)
	}
	text, err := json.Marshal(s)
	if err != nil {
		return err
	}
	if err := d.store.SetPreference(ctx, houseStyle, string(text)); err != nil {
		return err
	}
	if err := d.readStyle(ctx); err != nil {
		return err
	}
	d.tell(Event{KindRecords, 0})
	return nil
}

// Secret is what the application seals with what it hands out and takes back.
func (d *Desk) Secret(ctx context.Context) ([]byte, error) { return d.store.Secret(ctx, "seal") }
