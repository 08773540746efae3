package store

import "context"

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
	return list, s.read.WithContext(ctx).Order("place, id").Find(&list).Error
}

// KeepStartingPoint makes a starting point (ID 0), or changes one.
func (s *Store) KeepStartingPoint(ctx context.Context, p *StartingPoint) error {
	db := s.write.WithContext(ctx)
	if p.ID == 0 {
		return db.Create(p).Error
	}
	done := db.Model(&StartingPoint{}).Where("id = ?", p.ID).Select("name", "description", "brief", "questions", "teams", "place").Updates(p)
	if done.Error == nil && done.RowsAffected == 0 {
		return ErrNotFound
	}
	return done.Error
}

// DropStartingPoint takes a starting point away.
func (s *Store) DropStartingPoint(ctx context.Context, id int64) error {
	done := s.write.WithContext(ctx).Delete(&StartingPoint{}, "id = ?", id)
	if done.Error == nil && done.RowsAffected == 0 {
		return ErrNotFound
	}
	return done.Error
}
