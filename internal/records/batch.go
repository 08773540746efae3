package records

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"uzzel/core/column"
	"uzzel/core/entry"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/store"
)

// named marks a link to a record that is not there yet, by its name: it is made with that name.
const named = "\x00"

// Named is the value of a link to a record that Batch makes, with nothing but a name.
func Named(name string) string { return named + name }

// MadeRecord is a record that a batch made, with the version that it had then.
type MadeRecord struct {
	Type    string
	ID      int64
	Version string
}

// ChangedField is a field that a batch changed.
type ChangedField struct {
	ID       int64
	Field    string
	From, To string
}

// Make is a record to be made, with what came before of the fields that it has now, in the order of time.
type Make struct {
	Values Values
	Past   []Past
}

// Past is a change of a field that was made elsewhere, before the record came here; At is in seconds.
type Past struct {
	Field, From, To string
	At              int64
}

// Done is what a batch did.
type Done struct {
	Made    []MadeRecord
	Changed []ChangedField
}

// made notes a record that was made, as it is.
func (d *Done) made(w *store.Writer, typ string, id int64) error {
	now, err := w.Read(typ, id)
	d.Made = append(d.Made, MadeRecord{typ, id, versionOf(Values(now))})
	return err
}

// madeMany notes records that were made, of numbers that follow one another.
func (d *Done) madeMany(w *store.Writer, typ string, first int64, n int) error {
	ids := make([]int64, n)
	for i := range ids {
		ids[i] = first + int64(i)
	}
	now, err := w.ReadMany(typ, ids)
	for _, id := range ids {
		d.Made = append(d.Made, MadeRecord{typ, id, versionOf(Values(now[id]))})
	}
	return err
}

// atOnce is how many records a batch writes between two steps.
const atOnce = 1000

// Batch makes and changes any number of records of a type in one transaction, all of them or none. Their values were
// checked (Checked). step is told as it goes how many were written; its error ends the batch. keep is called at the end,
// in the transaction.
func (r *Records) Batch(
	ctx context.Context,
	v *answers.View,
	typ string,
	makes []Make,
	edits []Edit,
	step func(done int) error,
	keep func(ctx context.Context, done Done) error,
) (Done, error) {
	var done Done
	t, err := Writable(v, typ)
	if err != nil {
		return done, err
	}
	all := whole(v, t)
	err = r.store.Write(ctx, func(w *store.Writer) error {
		w.Person = v.Who.ID
		if err := r.makeNamed(w, v, typ, valuesOf(edits, makes), &done); err != nil {
			return err
		}
		linked := len(done.Made)
		next, err := w.Next(typ)
		if err != nil {
			return err
		}
		list, taken := make([]store.Record, len(makes)), claims{}
		var past []store.PastChange
		for i, m := range makes {
			values := m.Values
			for _, p := range m.Past {
				past = append(past, store.PastChange{Record: next + int64(i), Field: p.Field, From: p.From, To: p.To, At: p.At})
			}
			r.close(all, nil, store.Record(values))
			if err := taken.all(w, all, next+int64(i), values); err != nil {
				return err
			}
			values["id"] = strconv.FormatInt(next+int64(i), 10)
			list[i] = store.Record(values)
		}
		for some := range slices.Chunk(list, atOnce) {
			if err := w.Add(typ, some); err != nil {
				return err
			}
			if err := done.madeMany(w, typ, next+int64(len(done.Made)-linked), len(some)); err != nil {
				return err
			}
			if err := step(len(done.Made) - linked); err != nil {
				return err
			}
		}
		if err := w.AddPast(typ, past); err != nil {
			return err
		}
		for i, e := range edits {
			if i%atOnce == 0 {
				if err := step(len(list) + i); err != nil {
					return err
				}
			}
			was, err := w.Read(typ, e.ID)
			if err != nil {
				return fault.FromStore(err, t.One)
			}
			r.close(all, Values(was), store.Record(e.Values))
			if err := taken.all(w, all, e.ID, e.Values); err != nil {
				return err
			}
			if err := w.Change(typ, e.ID, store.Record(e.Values)); err != nil {
				return err
			}
			for key, to := range e.Values {
				if was[key] != to {
					done.Changed = append(done.Changed, ChangedField{e.ID, key, was[key], to})
				}
			}
		}
		return keep(w.Together(ctx), done)
	})
	if err == nil {
		r.tell()
	}
	return done, err
}

func valuesOf(edits []Edit, makes []Make) []Values {
	var list []Values
	for _, e := range edits {
		list = append(list, e.Values)
	}
	for _, m := range makes {
		list = append(list, m.Values)
	}
	return list
}

// makeNamed makes the records that values link to by name, each once, and puts their numbers into the values.
func (r *Records) makeNamed(w *store.Writer, v *answers.View, typ string, list []Values, done *Done) error {
	t := v.Snap.Schema.Type(typ)
	ids := map[[2]string]string{}
	for _, values := range list {
		for key, text := range values {
			name, ok := strings.CutPrefix(text, named)
			if !ok {
				continue
			}
			to := whole(v, v.Snap.Schema.Type(t.Field(key).To))
			at := [2]string{to.Key, column.Fold(name)}
			if ids[at] == "" {
				next, err := w.Next(to.Key)
				if err != nil {
					return err
				}
				ids[at] = strconv.FormatInt(next, 10)
				record := store.Record(begun(v, to, Values{"id": ids[at], to.Name: name}))
				if err := w.Add(to.Key, []store.Record{record}); err != nil {
					return err
				}
				if err := done.made(w, to.Key, next); err != nil {
					return err
				}
			}
			values[key] = ids[at]
		}
	}
	return nil
}

// Checked gives values in their written form, or what is refused of them. Links by name (Named) are left as they are,
// where records of that type are made here.
func (r *Records) Checked(v *answers.View, typ string, values Values, makes bool) (Values, Refusals) {
	t, err := Writable(v, typ)
	if err != nil {
		var wrong Refusals
		wrong.add("", "%s", err)
		return nil, wrong
	}
	if makes {
		values = begun(v, t, values)
	}
	plain, links := Values{}, Values{}
	var wrong Refusals
	created := ""
	for key, text := range values {
		f := t.Field(key)
		if f != nil && key == "created" { // when it was made elsewhere; a record that is here keeps its own
			if text, err := entry.Check(f, text, v.Snap.Cal); err != nil {
				wrong.add("/"+key, "%s: %s.", f.Label, err)
			} else if makes {
				created = text
			}
			continue
		}
		if f != nil && strings.HasPrefix(text, named) {
			if to, err := Writable(v, f.To); err == nil && to.Name != "" {
				links[key] = text
				continue
			}
		}
		plain[key] = text
	}
	out := r.check(v, t, plain, "", &wrong)
	if makes {
		unasked(t, whole(v, t), out)
	}
	if created != "" {
		out["created"] = created
	}
	maps.Copy(out, links)
	return out, wrong.sorted()
}

// Undo takes back what a batch did, as far as nobody has changed it since: what it made goes to what was deleted, fields
// are what they were. It says how many records were left as they are. keep is called in the transaction.
func (r *Records) Undo(
	ctx context.Context,
	v *answers.View,
	typ string,
	done Done,
	keep func(ctx context.Context) error,
) (left int, err error) {
	err = r.store.Write(ctx, func(w *store.Writer) error {
		w.Person = v.Who.ID
		for i := len(done.Made) - 1; i >= 0; i-- {
			m := done.Made[i]
			now, err := w.Read(m.Type, m.ID)
			if errors.Is(err, store.ErrNotFound) {
				continue
			}
			if err != nil {
				return err
			}
			if versionOf(Values(now)) != m.Version {
				left++
				continue
			}
			if err := w.Delete(m.Type, m.ID, now[v.Snap.Schema.Type(m.Type).Name]); err != nil {
				return err
			}
		}
		fields := map[int64]store.Record{}
		kept := map[int64]bool{}
		for _, c := range done.Changed {
			now, err := w.Read(typ, c.ID)
			if errors.Is(err, store.ErrNotFound) {
				continue
			}
			if err != nil {
				return err
			}
			if now[c.Field] != c.To {
				kept[c.ID] = true
				continue
			}
			if fields[c.ID] == nil {
				fields[c.ID] = store.Record{}
			}
			fields[c.ID][c.Field] = c.From
		}
		left += len(kept)
		for id, back := range fields {
			if err := w.Change(typ, id, back); err != nil {
				return fmt.Errorf("undoing: %w", err)
			}
		}
		return keep(w.Together(ctx))
	})
	if err == nil {
		r.tell()
	}
	return left, err
}
