package diary

import (
	"cmp"
	"context"
	"slices"
	"strconv"

	"uzzel/core/column"
	"uzzel/core/schema"
	"uzzel/internal/answers"
	"uzzel/internal/lookup"
)

// What an entry of a time line is.
const (
	Did     = "did"
	Planned = "planned"
	Changed = "changed"
	Made    = "made"
)

// Entry is one entry of the time line of a record. Of what people did or plan there is its number, kind, what it was
// about and what came of it; of a change the field with what it was and is, for people and as they are kept.
type Entry struct {
	What    string
	At      int64 // seconds since 1970
	Written int64 // when it was written down, as At
	When    string
	Person  string
	By      int64 // the person's number, 0 for nobody known
	ID      int64
	Kind    string
	About   string
	Notes   string
	Outcome string
	With    string
	WithID  string
	Minutes string
	Late    bool // planned, and its time is over

	Field    string
	Label    string
	From, To string
	Was, Is  string
}

// Asked narrows a time line. What is Changed, Planned or empty, Kind one of the kinds of what people do; Person is who did it, 0
// for everyone; From and To are days, 0 for none.
type Asked struct {
	What, Kind string
	Person     int64
	From, To   int32
	Before     int64 // entries before a time alone, 0 for the latest
}

// keeps says whether an entry of a day is asked for.
func (a Asked) keeps(e Entry, day int32) bool {
	change := e.What == Changed || e.What == Made
	switch {
	case a.What == Changed && !change, a.What == Planned && e.What != Planned:
		return false
	case a.Kind != "" && (change || e.Kind != a.Kind), a.Person != 0 && e.By != a.Person:
		return false
	case a.From != 0 && day < a.From, a.To != 0 && day > a.To, a.Before != 0 && e.At >= a.Before:
		return false
	}
	return true
}

// Line is a page of a time line, the latest first: what is planned comes before what was.
type Line struct {
	Entries []Entry
	More    bool
	// Kinds counts what people did and plan by kind, Changes how many changes are told, of all that one may see.
	Kinds   map[string]int
	Changes int
}

// pageOf is how many entries a page has; maxChanges how many changes of one record are told.
const (
	pageOf     = 100
	maxChanges = 2000
)

// Read tells the time line of a record.
func (d *Diary) Read(ctx context.Context, v *answers.View, about Ref, asked Asked) (Line, error) {
	out := Line{Kinds: map[string]int{}}
	all, err := d.all(ctx, v, about)
	if err != nil {
		return out, err
	}
	for _, e := range all {
		if e.What == Changed || e.What == Made {
			out.Changes++
		} else {
			out.Kinds[e.Kind]++
		}
	}
	cal := v.Snap.Cal
	all = slices.DeleteFunc(all, func(e Entry) bool { return !asked.keeps(e, cal.DayOf(e.At)) })
	slices.SortStableFunc(all, func(a, b Entry) int { return cmp.Or(cmp.Compare(b.At, a.At), cmp.Compare(b.ID, a.ID)) })
	n := min(len(all), pageOf)
	for n < len(all) && n > 0 && all[n].At == all[n-1].At { // those of one moment stay together
		n++
	}
	out.Entries, out.More = all[:n], n < len(all)
	for i := range out.Entries {
		out.Entries[i].When = when(v, out.Entries[i].At)
	}
	return out, nil
}

// all are the entries of a record, in no order.
func (d *Diary) all(ctx context.Context, v *answers.View, about Ref) ([]Entry, error) {
	t, table, row, err := lookup.Seen(v, about.Type, strconv.FormatInt(about.ID, 10))
	if err != nil {
		return nil, err
	}
	list, err := d.did(ctx, v, t, row)
	if err != nil {
		return nil, err
	}
	changes, err := d.changes(ctx, v, t, about.ID)
	if err != nil {
		return nil, err
	}
	if made, ok := made(v, t, table, row); ok {
		changes = append(changes, made)
	}
	return append(list, changes...), nil
}

// did is what people did and plan to do about a record, as far as the person sees it.
func (d *Diary) did(ctx context.Context, v *answers.View, of *schema.Type, row int32) ([]Entry, error) {
	t, err := diaryType(v)
	if err != nil || t == of {
		return nil, nil // nothing is done about what is done
	}
	table, err := v.Snap.Table(t.Key)
	if err != nil {
		return nil, err
	}
	read, now := reader{v: v, t: t, table: table}, d.now(v)
	told := map[int32]bool{}
	var list []Entry
	for i := range of.Backs {
		back := &of.Backs[i]
		if back.Type != t.Key || back.Via == t.Owner {
			continue
		}
		many, err := v.Snap.Many(of.Key, back.Key)
		if err != nil {
			return nil, err
		}
		for _, r := range many.Of(row) {
			if told[r] || !v.Sight.Sees(t.Key, r) {
				continue
			}
			told[r] = true
			if ctx.Err() != nil {
				return nil, ctx.Err()
			}
			e, err := read.entry(r, now)
			if err != nil {
				return nil, err
			}
			list = append(list, e)
		}
	}
	return list, nil
}

// reader reads fields of records of what people do.
type reader struct {
	v     *answers.View
	t     *schema.Type
	table *column.Table
}

func (r *reader) text(field string, row int32) (string, error) {
	f := r.t.Field(field)
	if f == nil {
		return "", nil
	}
	c, err := r.v.Snap.Column(r.t.Key, field)
	if err != nil || c.At(row) == column.Null {
		return "", err
	}
	if f.Kind == schema.Link && !r.v.Sight.Sees(f.To, int32(c.At(row))) {
		return "", nil
	}
	return r.v.Snap.Text(c, c.At(row), r.table), nil
}

func (r *reader) entry(row int32, now int64) (e Entry, err error) {
	d, get := r.t.Diary, func(field string) (text string) {
		if err == nil {
			text, err = r.text(field, row)
		}
		return text
	}
	e.What = Did
	e.ID, _ = strconv.ParseInt(r.table.IDs.At(row), 10, 64)
	e.Kind, e.About, e.Notes, e.Outcome = get(d.Kind), get(d.About), get(d.Notes), get(d.Outcome)
	e.Minutes, e.WithID = get(d.Minutes), get(d.With)
	if f := r.t.Field(d.With); f != nil && e.WithID != "" {
		e.With = r.v.Names()(f.To, e.WithID)
	}
	if f := r.t.Field(r.t.Owner); f != nil {
		if id := get(r.t.Owner); id != "" {
			e.Person = r.v.Names()(f.To, id)
			e.By, _ = strconv.ParseInt(id, 10, 64)
		}
	}
	if get(d.Done) != "true" {
		e.What = Planned
	}
	if at := get(d.When); at != "" && err == nil {
		e.At, err = r.v.Snap.Cal.ParseInstant(at)
	}
	e.Late = e.What == Planned && e.At < now
	e.Written = e.At
	if made := get("created"); made != "" && err == nil {
		e.Written, err = r.v.Snap.Cal.ParseInstant(made)
	}
	return e, err
}

// changes is how a record was changed. What a link was or is that the person may not see is said as that.
func (d *Diary) changes(ctx context.Context, v *answers.View, t *schema.Type, id int64) ([]Entry, error) {
	rows, err := d.store.ChangesOf(ctx, t.Key, id, maxChanges)
	if err != nil {
		return nil, err
	}
	readers, names, w := v.Snap.Schema.Readers().Key, v.Names(), v.PlainWriter()
	say := func(f *schema.Field, text string) string {
		switch {
		case text == "":
			return ""
		case f.Kind != schema.Link:
			return w.Field(f.Kind, f, text, nil)
		case names(f.To, text) == "":
			return "not yours to see"
		}
		return names(f.To, text)
	}
	var list []Entry
	for _, c := range rows {
		f := t.Field(c.Field)
		if f == nil || !f.Entered() {
			continue // a field that there is no more
		}
		e := Entry{
			What: Changed, ID: c.ID, At: c.At, Written: c.At, Field: c.Field, Label: f.Label,
			From: say(f, c.From), To: say(f, c.To), Was: c.From, Is: c.To,
		}
		if f.Kind == schema.Link { // what is not theirs to see is not handed out
			e.Was, e.Is = onlySeen(v, f, c.From), onlySeen(v, f, c.To)
		}
		if c.Person != 0 {
			e.Person, e.By = names(readers, strconv.FormatInt(c.Person, 10)), c.Person
		}
		list = append(list, e)
	}
	return list, nil
}

func onlySeen(v *answers.View, f *schema.Field, id string) string {
	if id != "" && v.Names()(f.To, id) == "" {
		return ""
	}
	return id
}

// made is that a record was made, and by whom.
func made(v *answers.View, t *schema.Type, table *column.Table, row int32) (Entry, bool) {
	if t.Field("created") == nil {
		return Entry{}, false
	}
	r := reader{v: v, t: t, table: table}
	at, err := r.text("created", row)
	if err != nil || at == "" {
		return Entry{}, false
	}
	e := Entry{What: Made}
	if e.At, err = v.Snap.Cal.ParseInstant(at); err != nil {
		return Entry{}, false
	}
	e.Written = e.At
	if by, err := r.text("created_by", row); err == nil && by != "" {
		e.Person = v.Names()(t.Field("created_by").To, by)
		e.By, _ = strconv.ParseInt(by, 10, 64)
	}
	return e, true
}
