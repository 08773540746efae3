package roster

import (
	"context"
	"fmt"
	"slices"
	"strconv"

	"uzzel/core/column"
	"uzzel/core/schema"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

// Kinds of what is handed over besides records, which go by their type.
const (
	Reports = "reports of one's own"
	Boards  = "dashboards of one's own"
)

// doneField is the field that says of work that it was done: what was done stays with who did it.
const doneField = "done"

// Holding is how much of a kind someone has: records of a type, or what they keep.
type Holding struct {
	Kind  string
	Label string
	Count int64
}

// Holds says what someone has that another can take over.
func (r *Roster) Holds(ctx context.Context, v *answers.View, id int64) ([]Holding, error) {
	if _, _, err := r.entry(ctx, v, id); err != nil {
		return nil, err
	}
	list := []Holding{}
	for _, t := range v.Snap.Schema.Types {
		rows, err := held(v.Snap, t, id)
		if err != nil {
			return nil, err
		}
		if len(rows) == 0 {
			continue
		}
		label := t.Label
		if t.Field(doneField) != nil {
			label += " not done yet"
		}
		list = append(list, Holding{t.Key, label, int64(len(rows))})
	}
	reports, boards, err := r.store.Kept(ctx, id)
	if reports > 0 {
		list = append(list, Holding{Reports, "Reports", reports})
	}
	if boards > 0 {
		list = append(list, Holding{Boards, "Dashboards", boards})
	}
	return list, err
}

// held lists the rows of a type that a person owns, without work that was done.
func held(snap *column.Snapshot, t *schema.Type, person int64) ([]int32, error) {
	if t.Owner == "" {
		return nil, nil
	}
	owner, err := snap.Column(t.Key, t.Owner)
	if err != nil {
		return nil, err
	}
	readers, err := snap.Table(owner.To)
	if err != nil {
		return nil, err
	}
	var done *column.Column
	if t.Field(doneField) != nil {
		if done, err = snap.Column(t.Key, doneField); err != nil {
			return nil, err
		}
	}
	table, err := snap.Table(t.Key)
	if err != nil {
		return nil, err
	}
	is := int64(readers.IDs.Row(strconv.FormatInt(person, 10)))
	var rows []int32
	for row := range int32(table.N) {
		if owner.At(row) == is && (done == nil || done.At(row) != 1) {
			rows = append(rows, row)
		}
	}
	return rows, nil
}

// Leave takes someone off: they sign in no more, from their next request on, and what they have goes to those who are
// named for its kind, all in one transaction. A kind that nobody is named for stays with them. Who leaves is not
// oneself, nor the last administrator.
func (r *Roster) Leave(ctx context.Context, v *answers.View, id int64, to map[string]int64) error {
	e, list, err := r.touched(ctx, v, id)
	if err != nil {
		return err
	}
	if id == v.Who.ID {
		return fault.New(fault.Invalid, "", "You cannot take yourself off. Ask another administrator.")
	}
	for kind, person := range to {
		if person == id || !signsIn(list, person) {
			return fault.New(fault.Invalid, "/to", "Choose someone who can sign in to take over the %s.", kind)
		}
	}
	if e.Role == people.Administrator && !another(list, id) {
		return fault.New(fault.Invalid, "", "%s is the only administrator. Make someone else one first.", e.Name)
	}
	// Read before anything is written: a table that is not loaded yet waits for writes.
	records := map[*schema.Type][]int64{}
	for _, t := range v.Snap.Schema.Types {
		if _, ok := to[t.Key]; ok {
			if records[t], err = heldIDs(v.Snap, t, id); err != nil {
				return err
			}
		}
	}
	err = r.store.Write(ctx, func(w *store.Writer) error {
		w.Person = v.Who.ID
		ctx := w.Together(ctx)
		for t, ids := range records {
			heir := strconv.FormatInt(to[t.Key], 10)
			for _, record := range ids {
				if err := w.Change(t.Key, record, store.Record{t.Owner: heir}); err != nil {
					return err
				}
			}
		}
		for kind, table := range map[string]string{Reports: "reports", Boards: "boards"} {
			if heir, ok := to[kind]; ok {
				if err := r.store.HandOver(ctx, table, id, heir, "from "+e.Name); err != nil {
					return err
				}
			}
		}
		// What they have sent to people goes on in the name of who has their reports, or pauses.
		if heir, ok := to[Reports]; ok {
			err = r.store.HandOverDeliveries(ctx, id, heir)
		} else {
			err = r.store.PauseDeliveries(ctx, id, "Whoever sent it can no longer sign in.")
		}
		if err != nil {
			return err
		}
		if err := w.Change("people", id, store.Record{"active": "false"}); err != nil {
			return err
		}
		if err := r.grant(ctx, store.Access{Kind: store.ForPerson, Subject: id}, people.None, store.Unchecked); err != nil {
			return err
		}
		return r.store.DropAccount(ctx, id)
	})
	r.settings.Changed(ctx, r.people.Grants())
	r.tell()
	return err
}

func heldIDs(snap *column.Snapshot, t *schema.Type, person int64) ([]int64, error) {
	rows, err := held(snap, t, person)
	if err != nil || len(rows) == 0 {
		return nil, err
	}
	table, err := snap.Table(t.Key)
	if err != nil {
		return nil, err
	}
	ids := make([]int64, len(rows))
	for i, row := range rows {
		if ids[i], err = strconv.ParseInt(table.IDs.At(row), 10, 64); err != nil {
			return nil, fmt.Errorf("%s %s: %w", t.One, table.IDs.At(row), err)
		}
	}
	return ids, nil
}

func signsIn(list []Entry, id int64) bool {
	return slices.ContainsFunc(list, func(e Entry) bool {
		return e.ID == id && (e.State == Active || e.State == Invited)
	})
}
