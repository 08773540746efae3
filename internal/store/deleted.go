package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"gorm.io/gorm"

	"uzzel/core/column"
	"uzzel/core/schema"
)

// DeletedRecord is a record that was deleted and can be brought back for 30 days.
type DeletedRecord struct {
	RecordType string `gorm:"primaryKey"`
	Record     int64  `gorm:"primaryKey"`
	Name       string
	Row        string
	Deleted    int64
	DeletedBy  *int64
}

// Read reads a record as it is in this transaction, in its CSV form without worked-out fields; ErrNotFound where there is
// none.
func (w *Writer) Read(typ string, id int64) (Record, error) {
	t, row, err := w.row(typ, id)
	if err != nil {
		return nil, err
	}
	return w.s.record(t, row), nil
}

// record is the columns of a record's table in their CSV form, without empty ones.
func (s *Store) record(t *schema.Type, row map[string]any) Record {
	out := Record{}
	for i := range t.Fields {
		f := &t.Fields[i]
		if f.Worked != nil {
			continue
		}
		if text := s.text(f, row[f.Key]); text != "" {
			out[f.Key] = text
		}
	}
	return out
}

// row reads the columns of a record.
func (w *Writer) row(typ string, id int64) (*schema.Type, map[string]any, error) {
	t := w.s.Schema().Type(typ)
	if t == nil || t.History {
		return nil, nil, fmt.Errorf("records of %q: %w", typ, ErrNotFound)
	}
	row := map[string]any{}
	err := w.tx.Table(tableOf(t)).Where("id = ?", id).Take(&row).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		err = fmt.Errorf("%s %d: %w", t.One, id, ErrNotFound)
	}
	return t, row, err
}

// Delete takes a record away and keeps it as it was, to be brought back. What links to it links to nothing meanwhile.
func (w *Writer) Delete(typ string, id int64, name string) error {
	t, row, err := w.row(typ, id)
	if err != nil {
		return err
	}
	text, err := json.Marshal(row)
	if err != nil {
		return err
	}
	gone := DeletedRecord{RecordType: typ, Record: id, Name: name, Row: string(text), Deleted: w.At}
	if w.Person != 0 {
		gone.DeletedBy = &w.Person
	}
	if err := w.tx.Create(&gone).Error; err != nil {
		return err
	}
	w.note(column.Edit{Type: typ, ID: strconv.FormatInt(id, 10), Gone: true})
	if err := w.tx.Exec(`DELETE FROM "`+tableOf(t)+`" WHERE id = ?`, id).Error; err != nil {
		return err
	}
	return w.addChanges(t, []map[string]any{w.deletion(t, id, "", "true")})
}

// deletion is the change of the history that says that a record was deleted, or brought back (docs/brief.md, "Over
// time").
func (w *Writer) deletion(t *schema.Type, id int64, from, to string) map[string]any {
	return map[string]any{
		"record_type": t.Key, "record": id, "field": column.HistoryDeleted, "from": null(from), "to": null(to),
		"at": w.At, "person": nullID(w.Person),
	}
}

// BringBack puts a deleted record back as it was.
func (w *Writer) BringBack(typ string, id int64) error {
	t := w.s.Schema().Type(typ)
	if t == nil || t.History {
		return ErrNotFound
	}
	var gone DeletedRecord
	if err := w.tx.First(&gone, "record_type = ? AND record = ?", typ, id).Error; err != nil {
		return mapped(err)
	}
	row := map[string]json.RawMessage{}
	if err := json.Unmarshal([]byte(gone.Row), &row); err != nil {
		return fmt.Errorf("deleted %s %d: %w", t.One, id, err)
	}
	set := map[string]any{}
	for key, raw := range row {
		if t.Field(key) == nil {
			continue // a field that was taken away since
		}
		var n int64
		var text *string
		switch {
		case json.Unmarshal(raw, &n) == nil && string(raw) != "null":
			set[key] = n
		case json.Unmarshal(raw, &text) == nil:
			set[key] = nil
			if text != nil {
				set[key] = *text
			}
		default:
			return fmt.Errorf("deleted %s %d: %s cannot be read", t.One, id, key)
		}
	}
	if err := w.tx.Table(tableOf(t)).Create(set).Error; err != nil {
		return mapped(err)
	}
	if err := w.tx.Delete(&gone).Error; err != nil {
		return err
	}
	values, err := w.Read(typ, id)
	if err != nil {
		return err
	}
	w.note(column.Edit{Type: typ, ID: strconv.FormatInt(id, 10), Back: true, Values: values})
	return w.addChanges(t, []map[string]any{w.deletion(t, id, "true", "")})
}

// PutDeleted keeps a record that was deleted elsewhere, as it was, to be brought back. Its history comes with the changes.
func (w *Writer) PutDeleted(typ string, id int64, name string, values Record, at int64) error {
	t := w.s.Schema().Type(typ)
	row, err := w.s.row(t, values)
	if err != nil {
		return err
	}
	row["id"] = id
	text, err := json.Marshal(row)
	if err != nil {
		return err
	}
	return w.tx.Create(&DeletedRecord{RecordType: typ, Record: id, Name: name, Row: string(text), Deleted: at}).Error
}

// LoadDeleted reads what was deleted of a type and can be brought back; source is a column.Bin.
func (l source) LoadDeleted(ctx context.Context, b *column.Builder) error {
	var list []DeletedRecord
	err := l.s.reader(ctx).Where("record_type = ?", b.Type.Key).Order("record").Find(&list).Error
	if err != nil {
		return err
	}
	for i := range list {
		d := &list[i]
		row := map[string]any{}
		in := json.NewDecoder(strings.NewReader(d.Row))
		in.UseNumber()
		if err := in.Decode(&row); err != nil {
			return fmt.Errorf("deleted %s %d: %w", b.Type.One, d.Record, err)
		}
		for key, v := range row {
			if n, ok := v.(json.Number); ok {
				whole, err := n.Int64()
				if err != nil {
					return fmt.Errorf("deleted %s %d: %s: %w", b.Type.One, d.Record, key, err)
				}
				row[key] = whole
			}
		}
		b.RowNumber(d.Record)
		for f := range b.Type.Fields {
			if b.Type.Fields[f].Worked != nil || b.Type.Fields[f].Kind == schema.ID {
				continue
			}
			text := csvOf(&b.Type.Fields[f], row[b.Type.Fields[f].Key], b.Cal)
			if err := b.Set(f, text); err != nil {
				return fmt.Errorf("deleted %s %d: %s: %w", b.Type.One, d.Record, b.Type.Fields[f].Key, err)
			}
		}
	}
	return nil
}

// DeletedRecords lists what was deleted of a type, the latest first.
func (s *Store) DeletedRecords(ctx context.Context, typ string, most int) ([]DeletedRecord, error) {
	var list []DeletedRecord
	return list, s.reader(ctx).Where("record_type = ?", typ).Order("deleted DESC, record").Limit(most).Find(&list).Error
}

// DeletedAmong lists those records of a type that were deleted.
func (s *Store) DeletedAmong(ctx context.Context, typ string, ids []int64) (list []DeletedRecord, err error) {
	for some := range slices.Chunk(ids, 500) {
		var part []DeletedRecord
		if err := s.reader(ctx).Where("record_type = ? AND record IN ?", typ, some).Find(&part).Error; err != nil {
			return nil, err
		}
		list = append(list, part...)
	}
	return list, nil
}

// Owner is whom a deleted record belongs to by a field of its type; "" for nobody.
func (d *DeletedRecord) Owner(field string) string {
	var row map[string]any
	if json.Unmarshal([]byte(d.Row), &row) != nil {
		return ""
	}
	if n, ok := row[field].(float64); ok {
		return strconv.FormatInt(int64(n), 10)
	}
	return ""
}

// There says whether there is a record of a number.
func (w *Writer) There(typ, id string) (bool, error) {
	t := w.s.Schema().Type(typ)
	if t == nil {
		return false, nil
	}
	var n int64
	err := w.tx.Table(tableOf(t)).Where("id = ?", id).Count(&n).Error
	return n > 0, err
}

// ReadRecord reads a record as it is kept now, as Writer.Read does.
func (s *Store) ReadRecord(ctx context.Context, typ string, id int64) (Record, error) {
	w := &Writer{s: s, tx: s.reader(ctx)}
	return w.Read(typ, id)
}

// readAtOnce is how many records one statement reads.
const readAtOnce = 500

// ReadRecords reads records as they are kept now, by number; those that are not there are left out.
func (s *Store) ReadRecords(ctx context.Context, typ string, ids []int64) (map[int64]Record, error) {
	w := &Writer{s: s, tx: s.reader(ctx)}
	return w.ReadMany(typ, ids)
}

// ReadMany reads records as they are in this transaction, as Read does; those that are not there are left out.
func (w *Writer) ReadMany(typ string, ids []int64) (map[int64]Record, error) {
	t := w.s.Schema().Type(typ)
	if t == nil || t.History {
		return nil, fmt.Errorf("records of %q: %w", typ, ErrNotFound)
	}
	out := map[int64]Record{}
	for some := range slices.Chunk(ids, readAtOnce) {
		var rows []map[string]any
		if err := w.tx.Table(tableOf(t)).Where("id IN ?", some).Find(&rows).Error; err != nil {
			return nil, err
		}
		for _, row := range rows {
			if id, ok := row["id"].(int64); ok {
				out[id] = w.s.record(t, row)
			}
		}
	}
	return out, nil
}
