package desk

import (
	"context"

	"uzzel/core/engine"
	"uzzel/internal/store"
)

func (d *Desk) readSees(ctx context.Context) (*map[string]engine.Sees, error) {
	rows, err := d.store.Sees(ctx)
	sees := map[string]engine.Sees{}
	for typ, how := range rows {
		sees[typ] = engine.Sees(how)
	}
	return &sees, err
}

// Sees says which records of each type people may see.
func (d *Desk) Sees() map[string]engine.Sees { return *d.sees.now() }

// SeesVersions are the versions of what is set, by record type.
func (d *Desk) SeesVersions(ctx context.Context) (map[string]int, error) {
	return d.store.SettingVersions(ctx, store.SettingSees)
}

// SetSees sets which records of a type people may see: everyone's (""), their team's or their own.
func (d *Desk) SetSees(ctx context.Context, who Person, typ string, how engine.Sees, version int) error {
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
		return fail(Invalid, "/how", "%s have no owner: they are seen where what they belong to is seen.", t.Label)
	}
	if err := d.store.SetSees(ctx, typ, string(how), version); err != nil {
		return mapStore(err, "setting")
	}
	d.settled(ctx, d.sees.refresh)
	d.tell(Event{Kind: KindRecords})
	return nil
}
