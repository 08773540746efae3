package store

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strconv"

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

// Moved gives the changes that merges had be told of the record that was kept, with the one that they were of; source is
// a column.Mover.
func (l source) Moved(ctx context.Context, each func(change, record string)) error {
	var list []Merge
	if err := l.s.reader(ctx).Where("undone IS NULL").Order("id").Find(&list).Error; err != nil {
		return err
	}
	told := map[int64]bool{}
	for _, m := range list {
		var did struct{ History map[int64][]int64 }
		if err := json.Unmarshal([]byte(m.Done), &did); err != nil {
			return fmt.Errorf("merge %d: %w", m.ID, err)
		}
		for from, changes := range did.History {
			for _, c := range changes {
				if !told[c] { // merged again, it is of whom it was first
					told[c] = true
					each(strconv.FormatInt(c, 10), strconv.FormatInt(from, 10))
				}
			}
		}
	}
	return nil
}
