package store

import (
	"context"

	"gorm.io/gorm"
)

// SettingChange is one change of a setting: its name is the kind of setting and its key (SettingPreference, SettingSees,
// SettingShape). Person is 0 for the program itself.
type SettingChange struct {
	ID     int64
	At     int64
	Person int64
	Name   string
	Before string
	After  string
}

type byKey struct{}

// By is a context in which what is changed is changed by a person.
func By(ctx context.Context, person int64) context.Context {
	return context.WithValue(ctx, byKey{}, person)
}

// noted keeps a change of a setting, in its transaction.
func (s *Store) noted(ctx context.Context, tx *gorm.DB, name, before, after string) error {
	person, _ := ctx.Value(byKey{}).(int64)
	if before == after || person == 0 {
		return nil // what the program does by itself is no change of anybody's
	}
	return tx.Create(&SettingChange{At: s.Now().Unix(), Person: person, Name: name, Before: before, After: after}).Error
}

// SettingChanges lists the latest changes of settings, those before one where before is not 0.
func (s *Store) SettingChanges(ctx context.Context, before int64, most int) ([]SettingChange, error) {
	var list []SettingChange
	db := s.reader(ctx).Order("id DESC").Limit(most)
	if before > 0 {
		db = db.Where("id < ?", before)
	}
	return list, db.Find(&list).Error
}

// SettingChange reads one change.
func (s *Store) SettingChange(ctx context.Context, id int64) (SettingChange, error) {
	var c SettingChange
	return c, mapped(s.reader(ctx).First(&c, "id = ?", id).Error)
}

// Change is one change of a field of a record. Person is 0 for nobody known.
type Change struct {
	ID     int64
	Field  string
	From   string
	To     string
	At     int64
	Person int64
}

// ChangesOf lists the changes of a record, the latest first.
func (s *Store) ChangesOf(ctx context.Context, typ string, id int64, most int) ([]Change, error) {
	var list []Change
	return list, s.reader(ctx).Table("changes").
		Select(`id, field, coalesce("from", '') AS "from", coalesce("to", '') AS "to", at, coalesce(person, 0) AS person`).
		Where("record_type = ? AND record = ?", typ, id).
		Order("at DESC, id DESC").Limit(most).Find(&list).Error
}
