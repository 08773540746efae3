package store

import (
	"context"
	"fmt"
	"slices"

	"gorm.io/gorm"

	"uzzel/core/schema"
)

// Merge is records that became one. Done is what was changed by it, as JSON.
type Merge struct {
	ID         int64
	Person     int64
	RecordType string
	Record     int64
	At         int64
	Done       string
	Undone     *int64
}

// AddMerge keeps a merge.
func (s *Store) AddMerge(ctx context.Context, m *Merge) error {
	return s.tx(ctx, func(tx *gorm.DB) error { return tx.Create(m).Error })
}

// Merge reads a merge.
func (s *Store) Merge(ctx context.Context, id int64) (Merge, error) {
	var m Merge
	return m, mapped(s.reader(ctx).First(&m, "id = ?", id).Error)
}

// MergeUndone says that a merge was undone; ErrStale that it was already.
func (s *Store) MergeUndone(ctx context.Context, id, at int64) error {
	return s.undone(ctx, &Merge{}, id, at)
}

// Linking lists the records of a type whose link leads to a record.
func (w *Writer) Linking(typ, field string, to int64) (ids []int64, err error) {
	t := w.s.Schema().Type(typ)
	f := t.Field(field)
	if f == nil || f.Kind != schema.Link || f.Worked != nil || t.History {
		return nil, fmt.Errorf("%s have no link %q", t.Label, field)
	}
	return ids, w.tx.Raw(`SELECT id FROM "`+tableOf(t)+`" WHERE "`+f.Key+`" = ? ORDER BY id`, to).Scan(&ids).Error
}

// MoveHistory has the history of a record be that of another of its type, and gives the changes that moved. Named, only
// those move.
func (w *Writer) MoveHistory(typ string, from, to int64, only []int64) (moved []int64, err error) {
	w.many = true
	if only == nil {
		err = w.tx.Raw(`SELECT id FROM changes WHERE record_type = ? AND record = ?`, typ, from).Scan(&only).Error
		if err != nil {
			return nil, err
		}
	}
	for some := range slices.Chunk(only, readAtOnce) {
		err := w.tx.Exec(
			`UPDATE changes SET record = ? WHERE record_type = ? AND record = ? AND id IN ?`,
			to,
			typ,
			from,
			some,
		).Error
		if err != nil {
			return nil, err
		}
	}
	return only, nil
}
