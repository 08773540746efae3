package store

import (
	"context"

	"gorm.io/gorm"
)

// Import is something that was brought in from a file. Done is what it did, as JSON.
type Import struct {
	ID         int64
	Person     int64
	RecordType string
	File       string
	At         int64
	Made       int
	Changed    int
	Refused    int
	Done       string
	Undone     *int64
	Header     string // the names of its columns, as JSON
	Plan       string // how it was brought in, as JSON
}

// AddImport keeps an import.
func (s *Store) AddImport(ctx context.Context, i *Import) error {
	return s.tx(ctx, func(tx *gorm.DB) error { return tx.Create(i).Error })
}

// Imports lists the latest imports, without what they did.
func (s *Store) Imports(ctx context.Context, most int) ([]Import, error) {
	var list []Import
	return list, s.reader(ctx).Omit("done", "header", "plan").Order("id DESC").Limit(most).Find(&list).Error
}

// LastPlan is how the latest file with some columns was brought in, of a type where one is named; ErrNotFound where none
// was, and by whom.
func (s *Store) LastPlan(ctx context.Context, header, typ string) (plan string, person int64, err error) {
	var i Import
	db := s.reader(ctx).Select("plan", "person").Where("header = ? AND undone IS NULL", header)
	if typ != "" {
		db = db.Where("record_type = ?", typ)
	}
	err = mapped(db.Order("id DESC").First(&i).Error)
	return i.Plan, i.Person, err
}

// Import reads an import.
func (s *Store) Import(ctx context.Context, id int64) (Import, error) {
	var i Import
	return i, mapped(s.reader(ctx).First(&i, "id = ?", id).Error)
}

// Undone says that an import was undone; ErrStale that it was already.
func (s *Store) Undone(ctx context.Context, id, at int64) error {
	return s.undone(ctx, &Import{}, id, at)
}

// undone says of the row of a model that it was undone.
func (s *Store) undone(ctx context.Context, model any, id, at int64) error {
	return s.tx(ctx, func(tx *gorm.DB) error {
		done := tx.Model(model).Where("id = ? AND undone IS NULL", id).Update("undone", at)
		if done.Error == nil && done.RowsAffected == 0 {
			return ErrStale
		}
		return done.Error
	})
}
