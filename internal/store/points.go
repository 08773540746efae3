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
	return s.tx(ctx, func(tx *gorm.DB) error {
		was, err := "", error(nil)
		if p.ID != 0 {
			if was, err = pointText(tx, p.ID); err == nil && was == "" {
				err = ErrNotFound
			}
		}
		if err != nil {
			return err
		}
		if err := tx.Save(p).Error; err != nil {
			return err
		}
		if was != "" {
			if err := advance(tx, SettingPoint+number(p.ID), at); err != nil {
				return err
			}
		}
		is, err := pointText(tx, p.ID)
		if err != nil {
			return err
		}
		return s.noted(ctx, tx, SettingPoint+number(p.ID), was, is)
	})
}

// DropStartingPoint takes a starting point away.
func (s *Store) DropStartingPoint(ctx context.Context, id int64) error {
	return s.tx(ctx, func(tx *gorm.DB) error {
		was, err := pointText(tx, id)
		if err != nil {
			return err
		}
		if err := dropSetting(tx, &StartingPoint{}, "id = ?", id, SettingPoint+number(id)); err != nil {
			return err
		}
		return s.noted(ctx, tx, SettingPoint+number(id), was, "")
	})
}

func number(id int64) string { return strconv.FormatInt(id, 10) }
