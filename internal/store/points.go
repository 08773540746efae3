package store

import (
	"context"
	"strconv"

	"gorm.io/gorm"
)

// StartingPoint is what administrators offer to begin a report from. Brief, Questions and Teams are JSON.
type StartingPoint struct {
	ID          int64
	Name        string
	Description string
	Brief       string
	Questions   string
	Teams       string
	Place       int
}

// StartingPoints lists the starting points in their order.
func (s *Store) StartingPoints(ctx context.Context) ([]StartingPoint, error) {
	var list []StartingPoint
	return list, s.reader(ctx).Order("place, id").Find(&list).Error
}

// KeepStartingPoint makes a starting point (ID 0), or changes one that was read at a version.
func (s *Store) KeepStartingPoint(ctx context.Context, p *StartingPoint, at int) error {
	if p.ID == 0 {
		return s.writer(ctx).Create(p).Error
	}
	return s.tx(ctx, func(tx *gorm.DB) error {
		done := tx.Model(
			&StartingPoint{},
		).Where(
			"id = ?",
			p.ID,
		).Select(
			"name",
			"description",
			"brief",
			"questions",
			"teams",
			"place",
		).Updates(
			p,
		)
		switch {
		case done.Error != nil:
			return done.Error
		case done.RowsAffected == 0:
			return ErrNotFound
		}
		return advance(tx, SettingPoint+strconv.FormatInt(p.ID, 10), at)
	})
}

// DropStartingPoint takes a starting point away.
func (s *Store) DropStartingPoint(ctx context.Context, id int64) error {
	return s.dropSetting(ctx, &StartingPoint{}, "id = ?", id, SettingPoint+strconv.FormatInt(id, 10))
}
