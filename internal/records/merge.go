package records

import (
	"context"
	"encoding/json"
	"errors"
	"slices"
	"strconv"

	"uzzel/core/schema"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/store"
)

// mostMerged is how many records become one at a time.
const mostMerged = 20

// relinked is a link that leads to the record that was kept, and led to another.
type relinked struct {
	Type  string
	ID    int64
	Field string
	From  int64
}

// merged is what a merge did.
type merged struct {
	Dropped []int64
	Changed []ChangedField
	Links   []relinked
	History map[int64][]int64 // by the record that it was of: the changes that moved
}

// Merge has records of a type become one: what links to the others, and their history, is the kept one's from then on,
// which has the values that are given, and the others are deleted. It gives what the merge is undone by.
func (r *Records) Merge(
	ctx context.Context,
	v *answers.View,
	typ string,
	keep int64,
	drop []int64,
	values Values,
) (int64, error) {
	t, err := Writable(v, typ)
	if err != nil {
		return 0, err
	}
	if len(drop) == 0 || len(drop) > mostMerged || slices.Contains(drop, keep) ||
		len(slices.Compact(slices.Sorted(slices.Values(drop)))) < len(drop) {
		return 0, fault.New(
			fault.Invalid,
			"/drop",
			"One to %d other records, each named once, are merged into one.",
			mostMerged,
		)
	}
	names := map[int64]string{}
	for _, id := range append([]int64{keep}, drop...) {
		if err := Sees(v, t, id); err != nil {
			return 0, err
		}
		names[id] = v.Snap.NameOf(typ, strconv.FormatInt(id, 10), nil)
	}
	var wrong Refusals
	checked := r.check(v, t, values, "/values", &wrong)
	if len(wrong) > 0 {
		return 0, wrong.sorted()
	}
	all := whole(v, t)
	m := store.Merge{Person: v.Who.ID, RecordType: typ, Record: keep}
	err = r.store.Write(ctx, func(w *store.Writer) error {
		w.Person = v.Who.ID
		did := merged{History: map[int64][]int64{}}
		for _, from := range drop {
			if err := r.absorb(w, all, keep, from, names[from], &did); err != nil {
				return err
			}
		}
		was, err := w.Read(typ, keep)
		if err != nil {
			return fault.FromStore(err, t.One)
		}
		// Afterwards, so that a value that no two may have is free by now.
		if err := r.together(w, all, keep, checked, "/values", claims{}); err != nil {
			return err
		}
		if err := w.Change(typ, keep, store.Record(checked)); err != nil {
			return err
		}
		for key, to := range checked {
			if was[key] != to {
				did.Changed = append(did.Changed, ChangedField{keep, key, was[key], to})
			}
		}
		text, err := json.Marshal(did)
		if err != nil {
			return err
		}
		m.At, m.Done = w.At, string(text)
		return r.store.AddMerge(w.Together(ctx), &m)
	})
	if err != nil {
		return 0, err
	}
	r.tell()
	return m.ID, nil
}

// absorb has all that is of one record be another's, and deletes it.
func (r *Records) absorb(w *store.Writer, t *schema.Type, keep, from int64, name string, did *merged) error {
	for _, back := range t.Backs {
		other := r.store.Schema().Type(back.Type)
		if other.History || other.Field(back.Via).Worked != nil {
			continue
		}
		ids, err := w.Linking(back.Type, back.Via, from)
		if err != nil {
			return err
		}
		for _, id := range ids {
			to := strconv.FormatInt(keep, 10)
			if back.Type == t.Key {
				var wrong Refusals
				switch err := above(w, t, t.Field(back.Via), id, to, ""); {
				case errors.As(err, &wrong):
					to = "" // it would be above itself
				case err != nil:
					return err
				}
			}
			if err := w.Change(back.Type, id, store.Record{back.Via: to}); err != nil {
				return err
			}
			did.Links = append(did.Links, relinked{back.Type, id, back.Via, from})
		}
	}
	moved, err := w.MoveHistory(t.Key, from, keep, nil)
	if err != nil {
		return err
	}
	did.History[from] = moved
	did.Dropped = append(did.Dropped, from)
	return w.Delete(t.Key, from, name)
}

// Unmerge undoes a merge, for whoever merged or an administrator: the others come back, with their history, what linked to
// them and does still link to the kept one leads to them again, and fields that nobody changed since are as they were.
func (r *Records) Unmerge(ctx context.Context, v *answers.View, id int64) error {
	m, err := r.store.Merge(ctx, id)
	if err != nil {
		return fault.FromStore(err, "merge")
	}
	if m.Person != v.Who.ID && !v.Who.Administers() {
		return fault.New(fault.NotFound, "", "There is no such merge.")
	}
	var did merged
	if err := json.Unmarshal([]byte(m.Done), &did); err != nil {
		return err
	}
	keep := strconv.FormatInt(m.Record, 10)
	err = r.store.Write(ctx, func(w *store.Writer) error {
		w.Person = v.Who.ID
		if err := r.store.MergeUndone(w.Together(ctx), id, w.At); err != nil {
			return err
		}
		back := store.Record{}
		now, err := w.Read(m.RecordType, m.Record)
		if err != nil {
			return fault.FromStore(err, "record that was kept")
		}
		for _, c := range did.Changed {
			if now[c.Field] == c.To {
				back[c.Field] = c.From
			}
		}
		if err := w.Change(m.RecordType, m.Record, back); err != nil {
			return err
		}
		for _, from := range did.Dropped {
			if err := w.BringBack(m.RecordType, from); err != nil {
				return fault.FromStore(err, "record that was merged")
			}
			if _, err := w.MoveHistory(m.RecordType, m.Record, from, did.History[from]); err != nil {
				return err
			}
		}
		for _, l := range did.Links {
			at, err := w.Read(l.Type, l.ID)
			if errors.Is(err, store.ErrNotFound) {
				continue // deleted since
			}
			if err != nil {
				return err
			}
			if led := at[l.Field]; led != keep && led != "" {
				continue // it leads elsewhere by now
			}
			if err := w.Change(l.Type, l.ID, store.Record{l.Field: strconv.FormatInt(l.From, 10)}); err != nil {
				return err
			}
		}
		return nil
	})
	if errors.Is(err, store.ErrStale) {
		return fault.New(fault.Stale, "", "This was taken apart already.")
	}
	if err == nil {
		r.tell()
	}
	return err
}
