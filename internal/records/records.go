// Package records is the one way in which records are written, whether from a screen, an import, a program or a command:
// made, changed, deleted and brought back, each checked by its fields, written with its history in one transaction, and
// told to open windows.
package records

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"maps"
	"slices"
	"sort"
	"strconv"
	"strings"

	"uzzel/core/column"
	"uzzel/core/entry"
	"uzzel/core/schema"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/feed"
	"uzzel/internal/people"
	"uzzel/internal/progress"
	"uzzel/internal/store"
)

// Values are what fields are set to, in their CSV form by key; an empty text empties a field.
type Values = map[string]string

// Most is how many records are written at once from a screen or by a program.
const Most = 1000

// Records writes records.
type Records struct {
	store *store.Store
	feed  *feed.Hub
	today func() int32
}

// New writes the records of a store. today is the organisation's day.
func New(s *store.Store, f *feed.Hub, today func() int32) *Records { return &Records{s, f, today} }

// Record is a record with its version.
type Record struct {
	ID      int64
	Values  Values // those that are kept, without empty ones
	Version string // changes with every value
}

// Conflict says that a record was changed since it was read: the record as it is now.
type Conflict struct{ Now Record }

func (c *Conflict) Error() string { return "the record was changed by someone else meanwhile" }

// versionOf is the same for the same values, and for no others.
func versionOf(values Values) string {
	keys := make([]string, 0, len(values))
	for k := range values {
		keys = append(keys, k)
	}
	slices.Sort(keys)
	h := sha256.New()
	for _, k := range keys {
		h.Write(fmt.Appendf(nil, "%d:%s=%d:%s;", len(k), k, len(values[k]), values[k]))
	}
	return hex.EncodeToString(h.Sum(nil)[:12])
}

// Writes says whether records of a type are written here. People and teams are looked after elsewhere (package roster),
// and history writes itself.
func Writes(s *schema.Schema, t *schema.Type) bool {
	readers := s.Readers()
	return !t.History && t != readers && (readers.Team == "" || t.Key != readers.Field(readers.Team).To)
}

// Writable is a type whose records are written here.
func Writable(v *answers.View, typ string) (*schema.Type, error) {
	t := v.Snap.Schema.Type(typ)
	switch {
	case t == nil:
		return nil, fault.New(fault.NotFound, "", "There is no record type “%s”.", typ)
	case !Writes(v.Snap.Schema, t):
		return nil, fault.New(fault.Invalid, "", "%s are not written here.", t.Label)
	case t.Rates && !v.Who.May(people.Shape):
		return nil, fault.New(
			fault.Forbidden,
			"",
			"Exchange rates change everyone’s numbers: who shapes records enters them.",
		)
	}
	return t, nil
}

// Sees says whether the person may see a record, which is what lets them change it: NotFound where not.
func Sees(v *answers.View, t *schema.Type, id int64) error {
	table, err := v.Snap.Table(t.Key)
	if err != nil {
		return err
	}
	row := table.IDs.Row(strconv.FormatInt(id, 10))
	if row < 0 || !v.Sight.Sees(t.Key, row) {
		return fault.New(fault.NotFound, "", "There is no such %s, or it is not yours to see.", t.One)
	}
	return nil
}

// Read reads a record with its version.
func (r *Records) Read(ctx context.Context, v *answers.View, typ string, id int64) (Record, error) {
	t, err := Writable(v, typ)
	if err != nil {
		return Record{}, err
	}
	if err := Sees(v, t, id); err != nil {
		return Record{}, err
	}
	values, err := r.store.ReadRecord(ctx, typ, id)
	if errors.Is(err, store.ErrNotFound) {
		return Record{}, fault.New(fault.NotFound, "", "There is no such %s.", t.One)
	}
	return r.shown(v, t, id, values), err
}

// Page lists the records of a type that a person may see, by number, those after one; more says that others follow.
func (r *Records) Page(
	ctx context.Context,
	v *answers.View,
	typ string,
	after int64,
	count int,
) (list []Record, more bool, err error) {
	t, err := Writable(v, typ)
	if err != nil {
		return nil, false, err
	}
	table, err := v.Snap.Table(typ)
	if err != nil {
		return nil, false, err
	}
	number := func(row int) int64 {
		id, _ := strconv.ParseInt(table.IDs.At(int32(row)), 10, 64)
		return id
	}
	var ids []int64
	for row := sort.Search(table.N, func(row int) bool { return number(row) > after }); row < table.N; row++ {
		if !v.Sight.Sees(typ, int32(row)) {
			continue
		}
		if more = len(ids) == count; more {
			break
		}
		ids = append(ids, number(row))
	}
	kept, err := r.store.ReadRecords(ctx, typ, ids)
	if err != nil {
		return nil, false, err
	}
	for _, id := range ids {
		if values, ok := kept[id]; ok { // not deleted meanwhile
			list = append(list, r.shown(v, t, id, values))
		}
	}
	return list, more, nil
}

// shown is a record as a person sees it: links to records that are not theirs to see are left out. Its version is that of
// all of it.
func (r *Records) shown(v *answers.View, t *schema.Type, id int64, values Values) Record {
	out := Record{ID: id, Values: Values{}, Version: versionOf(values)}
	for key, text := range values {
		f := t.Field(key)
		if f == nil || f.Kind == schema.ID || (f.Kind == schema.Link && !linkSeen(v, f, text)) {
			continue
		}
		out.Values[key] = text
	}
	return out
}

func linkSeen(v *answers.View, f *schema.Field, id string) bool {
	table, err := v.Snap.Table(f.To)
	if err != nil {
		return false
	}
	row := table.IDs.Row(id)
	return row >= 0 && v.Sight.Sees(f.To, row)
}

// Create makes records of a type, all of them or none, and gives their numbers. Who makes one owns it where no owner is
// named.
func (r *Records) Create(ctx context.Context, v *answers.View, typ string, list []Values) ([]int64, error) {
	t, err := Writable(v, typ)
	if err != nil {
		return nil, err
	}
	if len(list) == 0 || len(list) > Most {
		return nil, fault.New(
			fault.Invalid,
			"/records",
			"One to %d records are written at a time; these are %d.",
			Most,
			len(list),
		)
	}
	checked, all := make([]store.Record, len(list)), whole(v, t)
	var wrong Refusals
	for i, values := range list {
		checked[i] = store.Record(r.check(v, t, begun(v, t, values), fmt.Sprintf("/records/%d", i), &wrong))
		unasked(t, all, Values(checked[i]))
		r.close(all, nil, checked[i])
	}
	if len(wrong) > 0 {
		return nil, wrong.sorted()
	}
	ids := make([]int64, len(list))
	err = r.store.Write(ctx, func(w *store.Writer) error {
		w.Person = v.Who.ID
		next, err := w.Next(typ)
		if err != nil {
			return err
		}
		taken := claims{}
		for i, values := range checked {
			ids[i] = next + int64(i)
			if err := r.together(w, all, ids[i], Values(values), fmt.Sprintf("/records/%d", i), taken); err != nil {
				return err
			}
			values["id"] = strconv.FormatInt(ids[i], 10)
		}
		return w.Add(typ, checked)
	})
	if err != nil {
		return nil, err
	}
	r.tell()
	return ids, nil
}

// Edit is what a record that was read at a version is changed to; without a version it is changed whatever it is by now.
type Edit struct {
	ID      int64
	Version string
	Values  Values
}

// Change changes records, all of them or none, and gives them as they are then. A *Conflict says that one is another by
// now than it was read.
func (r *Records) Change(ctx context.Context, v *answers.View, typ string, list []Edit) ([]Record, error) {
	t, err := Writable(v, typ)
	if err != nil {
		return nil, err
	}
	if len(list) == 0 || len(list) > Most {
		return nil, fault.New(
			fault.Invalid,
			"/records",
			"One to %d records are written at a time; these are %d.",
			Most,
			len(list),
		)
	}
	at := func(i int) string {
		if len(list) == 1 {
			return ""
		}
		return fmt.Sprintf("/records/%d/values", i)
	}
	var wrong Refusals
	checked, all := make([]Values, len(list)), whole(v, t)
	for i, e := range list {
		if err := Sees(v, t, e.ID); err != nil {
			return nil, err
		}
		checked[i] = r.check(v, t, e.Values, at(i), &wrong)
	}
	if len(wrong) > 0 {
		return nil, wrong.sorted()
	}
	after, conflict := make([]Values, len(list)), -1
	err = r.store.Write(ctx, func(w *store.Writer) error {
		w.Person = v.Who.ID
		taken := claims{}
		for i, e := range list {
			was, err := w.Read(typ, e.ID)
			if err != nil {
				return fault.FromStore(err, t.One)
			}
			if e.Version != "" && e.Version != versionOf(Values(was)) {
				after[i], conflict = Values(was), i
				return &Conflict{}
			}
			r.close(all, Values(was), store.Record(checked[i]))
			if err := r.together(w, all, e.ID, checked[i], at(i), taken); err != nil {
				return err
			}
			if err := w.Change(typ, e.ID, store.Record(checked[i])); err != nil {
				return err
			}
			now, err := w.Read(typ, e.ID)
			if err != nil {
				return err
			}
			after[i] = Values(now)
		}
		return nil
	})
	// What the person sees of them is worked out afterwards: a table that is not loaded yet waits for writes.
	if conflict >= 0 {
		return nil, &Conflict{r.shown(v, t, list[conflict].ID, after[conflict])}
	}
	if err != nil {
		return nil, err
	}
	r.tell()
	out := make([]Record, len(list))
	for i, e := range list {
		out[i] = r.shown(v, t, e.ID, after[i])
	}
	return out, nil
}

// fewDeleted are as many records as are told from others of their names when they are deleted: looking for those takes
// as long as deleting does.
const fewDeleted = 50

// Delete takes records away, all of them or none, to be brought back for 30 days.
func (r *Records) Delete(ctx context.Context, v *answers.View, typ string, ids []int64) error {
	t, err := Writable(v, typ)
	if err != nil {
		return err
	}
	if len(ids) == 0 || len(ids) > MostMany {
		return fault.New(fault.Invalid, "/ids", "One to %d records are deleted at a time; these are %d.", MostMany, len(ids))
	}
	table, err := v.Snap.Table(typ)
	if err != nil {
		return err
	}
	names := make([]string, len(ids))
	for i, id := range ids {
		if err := Sees(v, t, id); err != nil {
			return err
		}
		key := strconv.FormatInt(id, 10)
		if names[i] = v.Snap.Name(typ, table.IDs.Row(key)); len(ids) <= fewDeleted {
			names[i] = v.Snap.NameOf(typ, key, nil)
		}
	}
	err = r.store.Write(ctx, func(w *store.Writer) error {
		w.Person = v.Who.ID
		for i, id := range ids {
			if err := goesOn(ctx, i, len(ids)); err != nil {
				return err
			}
			if err := w.Delete(typ, id, names[i]); err != nil {
				return fault.FromStore(err, t.One)
			}
		}
		return nil
	})
	if err == nil {
		r.tell()
	}
	return err
}

// goesOn tells how far work on many records is, now and then, and why it ends: nobody waits for it any more.
func goesOn(ctx context.Context, done, of int) error {
	if done%200 == 0 {
		progress.Tell(ctx, done, of)
	}
	return ctx.Err()
}

// Deleted lists what was deleted of a type and can be brought back by a person: administrators see all of it, others what
// they deleted or owned.
func (r *Records) Deleted(ctx context.Context, v *answers.View, typ string) ([]store.DeletedRecord, error) {
	t, err := Writable(v, typ)
	if err != nil {
		return nil, err
	}
	list, err := r.store.DeletedRecords(ctx, typ, Most)
	return slices.DeleteFunc(list, func(d store.DeletedRecord) bool { return !mine(v.Who, t, &d) }), err
}

// mine says whether a deleted record is a person’s to bring back: what they deleted or owned, and all of it to administrators.
func mine(who people.Person, t *schema.Type, d *store.DeletedRecord) bool {
	return who.Administers() || (d.DeletedBy != nil && *d.DeletedBy == who.ID) ||
		(t.Owner != "" && d.Owner(t.Owner) == who.Key())
}

// BringBack brings deleted records of a type back, all of them or none.
func (r *Records) BringBack(ctx context.Context, v *answers.View, typ string, ids ...int64) error {
	t, err := Writable(v, typ)
	if err != nil {
		return err
	}
	if len(ids) == 0 || len(ids) > MostMany {
		return fault.New(fault.Invalid, "/ids", "One to %d records are brought back at a time.", MostMany)
	}
	list, err := r.store.DeletedAmong(ctx, typ, ids)
	if err != nil {
		return err
	}
	mayBring := map[int64]bool{}
	for i := range list {
		mayBring[list[i].Record] = mine(v.Who, t, &list[i])
	}
	for _, id := range ids {
		if !mayBring[id] {
			return fault.New(fault.NotFound, "", "This was not deleted, or more than 30 days ago.")
		}
	}
	err = r.store.Write(ctx, func(w *store.Writer) error {
		for i, id := range ids {
			if err := errors.Join(goesOn(ctx, i, len(ids)), w.BringBack(typ, id)); err != nil {
				return err
			}
		}
		return nil
	})
	if err == nil {
		r.tell()
	}
	return fault.FromStore(err, "deleted record")
}

// check gives values in their written form, and adds what is refused, each with the pointer of its field.
func (r *Records) check(v *answers.View, t *schema.Type, values Values, at string, wrong *Refusals) Values {
	out := Values{}
	for key, text := range values {
		f := t.Field(key)
		pointer := at + "/" + key
		switch {
		case f == nil:
			wrong.add(pointer, "%s have no field “%s”.", t.Label, key)
			continue
		case !f.Entered():
			wrong.add(pointer, "%s is kept by the program.", f.Label)
			continue
		case f.Locked:
			wrong.add(pointer, "%s is not yours to change.", f.Label)
			continue
		}
		written, err := entry.Check(f, text, v.Snap.Cal)
		if err != nil {
			wrong.add(pointer, "%s: %s.", f.Label, err)
			continue
		}
		if f.Kind == schema.Link && written != "" && !linkSeen(v, f, written) {
			wrong.add(pointer, "%s: there is no record %s that you may see.", f.Label, written)
			continue
		}
		out[key] = written
	}
	return out
}

// claims are the values that records of one request take where no two may have the same.
type claims map[[2]string]bool

// take refuses a value that another record has, or another of the same request takes.
func (c claims) take(w *store.Writer, t *schema.Type, f *schema.Field, id int64, text, pointer string) error {
	if !f.Unique || text == "" {
		return nil
	}
	at := [2]string{f.Key, text}
	if c[at] {
		return refused(pointer, "%s: two of them have “%s”.", f.Label, text)
	}
	c[at] = true
	if holder, err := w.Holder(t.Key, f.Key, text, id); err != nil || holder == 0 {
		return err
	}
	return refused(pointer, "%s: another %s has “%s”.", f.Label, t.One, text)
}

// all takes the values of a record.
func (c claims) all(w *store.Writer, t *schema.Type, id int64, values Values) error {
	for i := range t.Fields {
		if f := &t.Fields[i]; f.Unique {
			if err := c.take(w, t, f, id, values[f.Key], "/"+f.Key); err != nil {
				return err
			}
		}
	}
	return nil
}

// together checks what only the transaction knows: that links lead somewhere still, that no record comes to be above
// itself, and that no two have the same where each is to be another.
func (r *Records) together(w *store.Writer, t *schema.Type, id int64, values Values, at string, c claims) error {
	for key, text := range values {
		f := t.Field(key)
		if err := c.take(w, t, f, id, text, at+"/"+key); err != nil {
			return err
		}
		if f.Kind != schema.Link || text == "" {
			continue
		}
		there, err := w.There(f.To, text)
		if err != nil {
			return err
		}
		if !there {
			return refused(at+"/"+key, "%s: the record was taken away meanwhile.", f.Label)
		}
		if f.To != t.Key {
			continue
		}
		if err := above(w, t, f, id, text, at+"/"+key); err != nil {
			return err
		}
	}
	return nil
}

// above refuses a link to a record of the same type that leads back to the record itself.
func above(w *store.Writer, t *schema.Type, f *schema.Field, id int64, to, pointer string) error {
	for range 100 {
		n, err := strconv.ParseInt(to, 10, 64)
		if err != nil || to == "" {
			return nil
		}
		if n == id {
			return refused(pointer, "%s: a %s cannot be above itself.", f.Label, t.One)
		}
		up, err := w.Read(t.Key, n)
		if err != nil {
			return err
		}
		to = up[f.Key]
	}
	return refused(pointer, "%s: there are too many above one another.", f.Label)
}

// close sets the day that a record was closed on as its stage comes to be won or lost, and empties it where it is open
// again, unless the day is set as well.
func (r *Records) close(t *schema.Type, was Values, to store.Record) {
	for i := range t.Fields {
		f := &t.Fields[i]
		stage, moves := to[f.Closes]
		if _, set := to[f.Key]; f.Closes == "" || !moves || set {
			continue
		}
		open := t.Open(stage)
		switch {
		case open && was[f.Key] != "":
			to[f.Key] = ""
		case !open && (was == nil || t.Open(was[f.Closes]) || was[f.Key] == ""):
			to[f.Key] = column.Format(schema.Date, int64(r.today()), nil)
		}
	}
}

// begun is what a new record begins with: what is required is asked for, and who makes it owns it where no owner is named.
func begun(v *answers.View, t *schema.Type, values Values) Values {
	out := Values{}
	for i := range t.Fields {
		if f := &t.Fields[i]; !f.Locked && (f.Required || f.Default != "") {
			out[f.Key] = f.Default
		}
	}
	maps.Copy(out, values)
	if t.Owner != "" && out[t.Owner] == "" {
		out[t.Owner] = v.Who.Key()
	}
	return out
}

// unasked has a new record begin with the defaults of fields that whoever makes it may not write: all is the type with
// every field.
func unasked(t, all *schema.Type, values Values) {
	for i := range all.Fields {
		f := &all.Fields[i]
		if seen := t.Field(f.Key); f.Default != "" && (seen == nil || seen.Locked) {
			values[f.Key] = f.Default
		}
	}
}

// whole is a type with all its fields: what the program sets itself, and what no two may have, is also of fields that
// the person does not see.
func whole(v *answers.View, t *schema.Type) *schema.Type { return v.Snap.Schema.Whole().Type(t.Key) }

func (r *Records) tell() { r.feed.Tell(feed.Event{Kind: feed.Records}) }

// Refusals are the fields that are refused, each with words and a pointer into the request.
type Refusals []*fault.Error

func (r Refusals) Error() string {
	list := make([]string, len(r))
	for i, f := range r {
		list[i] = f.Message
	}
	return strings.Join(list, " ")
}

func (r *Refusals) add(pointer, format string, args ...any) {
	*r = append(*r, &fault.Error{Reason: fault.Invalid, Pointer: pointer, Message: fmt.Sprintf(format, args...)})
}

func (r Refusals) sorted() Refusals {
	slices.SortFunc(r, func(a, b *fault.Error) int { return strings.Compare(a.Pointer, b.Pointer) })
	return r
}

func refused(pointer, format string, args ...any) error {
	var r Refusals
	r.add(pointer, format, args...)
	return r
}
