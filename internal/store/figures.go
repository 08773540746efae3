package store

import (
	"context"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// PersonFigures is how figures are written for one person, in the words of the setting that holds for everyone.
type PersonFigures struct {
	Person int64 `gorm:"primaryKey"`
	Way    string
}

// TableName is the table.
func (PersonFigures) TableName() string { return "person_figures" }

// AllPersonFigures lists how figures are written for those for whom it is said.
func (s *Store) AllPersonFigures(ctx context.Context) ([]PersonFigures, error) {
	var list []PersonFigures
	return list, s.reader(ctx).Find(&list).Error
}

// SetPersonFigures says how figures are written for a person; "" has them written as for everyone.
func (s *Store) SetPersonFigures(ctx context.Context, p PersonFigures) error {
	return s.tx(ctx, func(tx *gorm.DB) error {
		if p.Way == "" {
			return tx.Delete(&PersonFigures{}, "person = ?", p.Person).Error
		}
		return tx.Clauses(clause.OnConflict{UpdateAll: true}).Create(&p).Error
	})
}
