package store

import (
	"context"
	"errors"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Lists are the reports that are worked in as lists of records.
func (s *Store) Lists(ctx context.Context) ([]int64, error) {
	var list []int64
	return list, s.reader(ctx).Table("lists").Order("report").Pluck("report", &list).Error
}

// SetList has a report be a list of records, or no longer.
func (s *Store) SetList(ctx context.Context, report int64, on bool) error {
	db := s.writer(ctx).Table("lists")
	if !on {
		return db.Where("report = ?", report).Delete(nil).Error
	}
	return db.Clauses(clause.OnConflict{DoNothing: true}).Create(map[string]any{"report": report}).Error
}

// ListChoice is how a person has the lists of a record type before them: JSON, empty where nothing was chosen.
func (s *Store) ListChoice(ctx context.Context, person int64, typ string) (string, error) {
	var c struct{ Choice string }
	err := s.reader(ctx).Table("list_choices").Where("person = ? AND record_type = ?", person, typ).Take(&c).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return "", nil
	}
	return c.Choice, err
}

// SetListChoice keeps how a person has the lists of a record type before them.
func (s *Store) SetListChoice(ctx context.Context, person int64, typ, choice string) error {
	return s.writer(ctx).Exec(
		"INSERT INTO list_choices (person, record_type, choice) VALUES (?, ?, ?) ON CONFLICT (person, record_type) DO UPDATE SET choice = excluded.choice",
		person,
		typ,
		choice,
	).Error
}
