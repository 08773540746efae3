package store

import (
	"context"

	"gorm.io/gorm"
)

// KeptResult is a result that a person kept as it was.
type KeptResult struct {
	ID     int64
	Owner  int64
	Report int64 // the report that it is of, 0 for none
	Name   string
	Day    string // the organisation's day on which it was kept
	At     int64  // seconds since 1970
	Brief  string // as its owner has it
	Fixed  bool   // whether the report's owner had fixed conditions besides
	Copy   []byte // the answer
}

// KeptResults lists what a person kept, without the answers: the newest first; of one report where it is not 0.
func (s *Store) KeptResults(ctx context.Context, owner, report int64) ([]KeptResult, error) {
	var list []KeptResult
	db := s.reader(ctx).Omit("copy").Where("owner = ?", owner)
	if report != 0 {
		db = db.Where("report = ?", report)
	}
	return list, db.Order("at DESC, id DESC").Find(&list).Error
}

// KeptResult finds one that a person kept. ErrNotFound where there is none of theirs.
func (s *Store) KeptResult(ctx context.Context, owner, id int64) (KeptResult, error) {
	var k KeptResult
	return k, mapped(s.reader(ctx).Where("owner = ?", owner).First(&k, "id = ?", id).Error)
}

// AddKeptResult keeps a result; most is how many a person keeps at most. It says whether there was room.
func (s *Store) AddKeptResult(ctx context.Context, k *KeptResult, most int) (bool, error) {
	k.At = s.Now().Unix()
	room := true
	err := s.Together(ctx, func(ctx context.Context) error {
		var n int64
		if err := s.writer(ctx).Model(&KeptResult{}).Where("owner = ?", k.Owner).Count(&n).Error; err != nil {
			return err
		}
		if room = n < int64(most); !room {
			return nil
		}
		return s.writer(ctx).Create(k).Error
	})
	return room, err
}

// NameKeptResult calls one that a person kept something else.
func (s *Store) NameKeptResult(ctx context.Context, owner, id int64, name string) error {
	return touched(s.writer(ctx).Model(&KeptResult{}).Where("owner = ? AND id = ?", owner, id).Update("name", name))
}

// DeleteKeptResult deletes one that a person kept, for good.
func (s *Store) DeleteKeptResult(ctx context.Context, owner, id int64) error {
	return touched(s.writer(ctx).Where("owner = ? AND id = ?", owner, id).Delete(&KeptResult{}))
}

// touched is ErrNotFound where a write touched nothing.
func touched(done *gorm.DB) error {
	if done.Error == nil && done.RowsAffected == 0 {
		return ErrNotFound
	}
	return done.Error
}
