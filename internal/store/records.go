package store

import (
	"context"
	"errors"
	"fmt"
	"strconv"

	"gorm.io/gorm"

	"uzzel/core/column"
	"uzzel/core/period"
	"uzzel/core/schema"
)

// ErrNotFound says that there is no such thing, or none that the asking person may see.
var ErrNotFound = errors.New("not found")

// Record is the fields of one record in their CSV form, by field key, without those that are empty.
type Record map[string]string

// columnSQL is how a field is read. The record of a change is also its link to a type where it is one of that type.
func columnSQL(t *schema.Type, f *schema.Field) string {
	if t.History && f.Kind == schema.Link && f.Key != "person" {
		return fmt.Sprintf("CASE WHEN record_type = '%s' THEN record END", f.To)
	}
	return `"` + f.Key + `"`
}

// row turns a record into the values of its table's columns.
func (s *Store) row(t *schema.Type, r Record) (map[string]any, error) {
	row := map[string]any{}
	cal := s.Snapshot().Cal
	for key, text := range r {
		f := t.Field(key)
		switch {
		case f == nil:
			return nil, fmt.Errorf("%s have no field %q", t.Label, key)
		case f.Worked != nil:
			return nil, fmt.Errorf("%s is worked out, not kept", key)
		}
		v, err := inner(f, text, cal)
		if err != nil {
			return nil, err
		}
		row[key] = v
	}
	return row, nil
}

// Writer adds and changes records inside one transaction.
type Writer struct {
	s  *Store
	tx *gorm.DB
	// At is when the changes are made, in seconds; Person who makes them, 0 for nobody.
	At     int64
	Person int64
	// After is done once the file has the shape of new settings, in the same transaction; only by Reshape.
	After func(now *schema.Schema) error

	undo  *reversal // what it takes to undo a change of shape; nil where that is not kept
	edits []column.Edit
	many  bool // more was written than is worth applying record by record
}

// maxEdits is how many records a transaction may write, its history included, before tables are read anew instead.
const maxEdits = 50_000

// note remembers a written record, so that the columns can follow.
func (w *Writer) note(e column.Edit) {
	w.many = w.many || len(w.edits) >= maxEdits
	if !w.many {
		w.edits = append(w.edits, e)
	}
}

// Write runs do in one transaction; its changes are seen by snapshots taken after it. do reads no snapshot: a table that is
// not loaded yet is loaded when the write is over, so that do would wait for itself.
func (s *Store) Write(ctx context.Context, do func(w *Writer) error) error {
	s.writing.Lock()
	defer s.writing.Unlock()
	w := &Writer{s: s, At: s.Now().Unix()}
	s.loading.Lock()
	err := s.tx(ctx, func(tx *gorm.DB) error {
		w.tx = tx
		return do(w)
	})
	s.loading.Unlock()
	if err != nil {
		return err
	}
	s.follow(w)
	return nil
}

// follow brings the columns up to what was written. What was written is written: where the columns cannot follow, they
// are read anew, now or, if that fails too, at the next look (Follow).
func (s *Store) follow(w *Writer) {
	if !w.many && !s.behind.Load() {
		next, err := s.Snapshot().Apply(w.edits)
		if err == nil {
			s.snapshot.Store(next)
			return
		}
		s.failed(fmt.Errorf("columns following a write: %w", err))
	}
	err := s.reload()
	s.behind.Store(err != nil)
	s.failed(err)
}

// Add adds records of one type; each has its id.
func (w *Writer) Add(typ string, records []Record) error {
	t := w.s.Schema().Type(typ)
	if t == nil || t.History {
		return fmt.Errorf("records of %q cannot be added", typ)
	}
	rows := make([]map[string]any, len(records))
	for i, r := range records {
		row, err := w.s.row(t, r)
		if err != nil {
			return fmt.Errorf("%s %s: %w", t.One, r["id"], err)
		}
		for k := range t.Fields {
			if f := &t.Fields[k]; f.Worked == nil {
				if _, ok := row[f.Key]; !ok {
					row[f.Key] = nil
				}
			}
		}
		if t.Field("created") != nil && row["created"] == nil {
			row["created"] = w.At
			if w.Person != 0 {
				row["created_by"] = w.Person
			}
		}
		rows[i] = row
	}
	for i, r := range records {
		e := column.Edit{Type: typ, ID: r["id"], New: true, Values: map[string]string{}}
		for key, text := range r {
			e.Values[key] = text
		}
		if at, ok := rows[i]["created"].(int64); ok {
			e.Values["created"] = w.s.Snapshot().Cal.FormatInstant(at)
		}
		if who, ok := rows[i]["created_by"].(int64); ok {
			e.Values["created_by"] = strconv.FormatInt(who, 10)
		}
		w.note(e)
	}
	return w.tx.Table(tableOf(t)).CreateInBatches(rows, 500).Error
}

// Next is the number that the next record of a type has. Those of deleted ones are not given again.
func (w *Writer) Next(typ string) (int64, error) {
	t := w.s.Schema().Type(typ)
	if t == nil {
		return 0, fmt.Errorf("there is no record type %q", typ)
	}
	var last int64
	err := w.tx.Raw(`SELECT max(coalesce((SELECT max(id) FROM "`+tableOf(t)+`"), 0),
		coalesce((SELECT max(record) FROM deleted_records WHERE record_type = ?), 0))`, typ).Scan(&last).Error
	return last + 1, err
}

// Together is a context in which the store keeps what is not a record in the same transaction.
func (w *Writer) Together(ctx context.Context) context.Context {
	return context.WithValue(ctx, txKey{}, w.tx)
}

// Change sets fields of a record and keeps what each was, who changed it and when, in the same transaction.
func (w *Writer) Change(typ string, id int64, to Record) error {
	t, was, err := w.row(typ, id)
	if err != nil {
		return err
	}
	set, err := w.s.row(t, to)
	if err != nil {
		return err
	}
	var changes []map[string]any
	for key, text := range to {
		before := w.s.text(t.Field(key), was[key])
		if before == text {
			continue
		}
		changes = append(changes, map[string]any{"record_type": t.Key, "record": id, "field": key, "from": null(before),
			"to": null(text), "at": w.At, "person": nullID(w.Person)})
	}
	if len(changes) == 0 {
		return nil
	}
	if t.Field("changed") != nil {
		set["changed"], set["changed_by"] = w.At, nullID(w.Person)
	}
	if err := w.tx.Table(tableOf(t)).Where("id = ?", id).Updates(set).Error; err != nil {
		return err
	}
	return w.keep(t, id, to, changes)
}

// PastChange is a change of a field of a record that was made elsewhere; At is in seconds.
type PastChange struct {
	Record          int64
	Field, From, To string
	At              int64
}

// AddPast writes what came before of new records of a type into their history.
func (w *Writer) AddPast(typ string, list []PastChange) error {
	if len(list) == 0 {
		return nil
	}
	changes := make([]map[string]any, len(list))
	for i, c := range list {
		changes[i] = map[string]any{"record_type": typ, "record": c.Record, "field": c.Field,
			"from": null(c.From), "to": null(c.To), "at": c.At, "person": nullID(w.Person)}
	}
	return w.addChanges(w.s.Schema().Type(typ), changes)
}

// keep writes the history of a change, and notes it and the record for the columns.
func (w *Writer) keep(t *schema.Type, id int64, to Record, changes []map[string]any) error {
	at, who := w.s.Snapshot().Cal.FormatInstant(w.At), orNobody(w.Person)
	values := map[string]string{}
	for key, text := range to {
		values[key] = text
	}
	if t.Field("changed") != nil {
		values["changed"], values["changed_by"] = at, who
	}
	w.note(column.Edit{Type: t.Key, ID: strconv.FormatInt(id, 10), Values: values})
	return w.addChanges(t, changes)
}

func orNobody(person int64) string {
	if person == 0 {
		return ""
	}
	return strconv.FormatInt(person, 10)
}

// addChanges writes rows of the history of a type, which are given their numbers, and notes them for the columns.
func (w *Writer) addChanges(t *schema.Type, changes []map[string]any) error {
	var last int64
	if err := w.tx.Raw("SELECT coalesce(max(id), 0) FROM changes").Scan(&last).Error; err != nil {
		return err
	}
	cal, who, link := w.s.Snapshot().Cal, orNobody(w.Person), historyLink(w.s.Schema(), t.Key)
	for i, c := range changes {
		c["id"] = last + int64(i) + 1
		e := column.Edit{
			Type: "changes",
			ID:   fmt.Sprint(c["id"]),
			New:  true,
			Values: map[string]string{"record_type": t.Key, "record": fmt.Sprint(c["record"]), "field": c["field"].(string),
				"from": orEmpty(c["from"]), "to": orEmpty(c["to"]), "at": cal.FormatInstant(c["at"].(int64)), "person": who},
		}
		if link != "" {
			e.Values[link] = fmt.Sprint(c["record"])
		}
		w.note(e)
	}
	return w.tx.Table("changes").CreateInBatches(changes, 500).Error
}

// historyLink is the link of the type of changes to a type of records, "" where it has none.
func historyLink(s *schema.Schema, typ string) string {
	for _, b := range s.Type(typ).Backs {
		if s.Type(b.Type).History && b.Via != "person" {
			return b.Via
		}
	}
	return ""
}

func orEmpty(v any) string {
	s, _ := v.(string)
	return s
}

func null(s string) any {
	if s == "" {
		return nil
	}
	return s
}

func nullID(n int64) any {
	if n == 0 {
		return nil
	}
	return n
}

// text writes a kept value in its CSV form.
func (s *Store) text(f *schema.Field, v any) string { return csvOf(f, v, s.Snapshot().Cal) }

func csvOf(f *schema.Field, v any, cal *period.Calendar) string {
	switch v := v.(type) {
	case string:
		return v
	case int64:
		if f.Kind == schema.Link || f.Kind == schema.ID {
			return strconv.FormatInt(v, 10)
		}
		return column.Format(f.Kind, v, cal)
	}
	return ""
}
