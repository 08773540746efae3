package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strconv"

	"gorm.io/gorm"

	"uzzel/core/column"
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

func setAdded(b *column.Builder, text string) error {
	var added Record
	if err := json.Unmarshal([]byte(text), &added); err != nil {
		return fmt.Errorf("added fields of a record of %s: %w", b.Type.Key, err)
	}
	for i := range b.Type.Fields {
		if f := &b.Type.Fields[i]; f.Added {
			if err := b.Set(i, added[f.Key]); err != nil {
				return err
			}
		}
	}
	return nil
}

// row turns a record into the values of its table's columns.
func (s *Store) row(t *schema.Type, r Record) (map[string]any, error) {
	row := map[string]any{}
	added := Record{}
	cal := s.Snapshot().Cal
	for key, text := range r {
		f := t.Field(key)
		switch {
		case f == nil:
			return nil, fmt.Errorf("%s have no field %q", t.Label, key)
		case f.Worked != nil:
			return nil, fmt.Errorf("%s is worked out, not kept", key)
		case f.Added:
			added[key] = text
		case text == "":
			row[key] = nil
		case f.Kind.Coded():
			row[key] = text
		case f.Kind == schema.ID || f.Kind == schema.Link:
			n, err := strconv.ParseInt(text, 10, 64)
			if err != nil {
				return nil, fmt.Errorf("%s: %q is not the number of a record", key, text)
			}
			row[key] = n
		default:
			v, err := column.Parse(f.Kind, text, cal)
			if err != nil {
				return nil, fmt.Errorf("%s: %w", key, err)
			}
			row[key] = v
		}
	}
	if len(added) > 0 {
		text, err := json.Marshal(added)
		if err != nil {
			return nil, err
		}
		row["added"] = string(text)
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
}

// Write runs do in one transaction; its changes are seen by snapshots taken after it.
func (s *Store) Write(ctx context.Context, do func(w *Writer) error) error {
	s.loading.Lock()
	err := s.tx(ctx, func(tx *gorm.DB) error { return do(&Writer{s: s, tx: tx, At: s.Now().Unix()}) })
	s.loading.Unlock()
	if err != nil {
		return err
	}
	return s.reload()
}

// Add adds records of one type; each has its id.
func (w *Writer) Add(typ string, records []Record) error {
	t := w.s.Schema().Type(typ)
	if t == nil || t.Added || t.History {
		return fmt.Errorf("records of %q cannot be added", typ)
	}
	rows := make([]map[string]any, len(records))
	for i, r := range records {
		row, err := w.s.row(t, r)
		if err != nil {
			return fmt.Errorf("%s %s: %w", t.One, r["id"], err)
		}
		for k := range t.Fields {
			if f := &t.Fields[k]; f.Worked == nil && !f.Added {
				if _, ok := row[f.Key]; !ok {
					row[f.Key] = nil
				}
			}
		}
		if t.Field("created") != nil && row["created"] == nil {
			row["created"] = w.At
		}
		rows[i] = row
	}
	return w.tx.Table(t.Key).CreateInBatches(rows, 500).Error
}

// Change sets fields of a record and keeps what each was, who changed it and when, in the same transaction.
func (w *Writer) Change(typ string, id int64, to Record) error {
	t := w.s.Schema().Type(typ)
	if t == nil || t.Added || t.History {
		return fmt.Errorf("records of %q cannot be changed", typ)
	}
	set, err := w.s.row(t, to)
	if err != nil {
		return err
	}
	was := map[string]any{}
	if err := w.tx.Table(t.Key).Where("id = ?", id).Take(&was).Error; err != nil {
		if errors.Is(err, gorm.ErrRecordNotFound) {
			return fmt.Errorf("%s %d: %w", t.One, id, ErrNotFound)
		}
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
	if err := w.tx.Table(t.Key).Where("id = ?", id).Updates(set).Error; err != nil {
		return err
	}
	return w.tx.Table("changes").Create(changes).Error
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
func (s *Store) text(f *schema.Field, v any) string {
	switch v := v.(type) {
	case string:
		return v
	case int64:
		if f.Kind == schema.Link || f.Kind == schema.ID {
			return strconv.FormatInt(v, 10)
		}
		return column.Format(f.Kind, v, s.Snapshot().Cal)
	}
	return ""
}
