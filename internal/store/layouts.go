package store

import (
	"context"
	"encoding/json"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Layout is what is on a board: its panels, and what they are narrowed to.
type Layout struct {
	Filters string  `json:"filters"`
	Panels  []Panel `json:"panels"`
}

// BoardVersion is what a board was at a version.
type BoardVersion struct {
	ID      int64
	Board   int64
	Version int
	Title   string
	Layout  Layout `gorm:"serializer:json"`
	At      int64
	Person  int64
}

// BoardDraft is how a person has arranged a board without saving it yet.
type BoardDraft struct {
	Person   int64 `gorm:"primaryKey;autoIncrement:false"`
	Board    int64 `gorm:"primaryKey;autoIncrement:false"`
	Version  int
	Layout   Layout `gorm:"serializer:json"`
	Revision int
	Changed  int64
}

// MaxVersions is how many versions of a board are kept: the newest.
const MaxVersions = 200

// addBoardVersion notes what a board is now.
func addBoardVersion(tx *gorm.DB, b *Board) error {
	by := b.ChangedBy
	if by == 0 {
		by = b.Owner
	}
	v := BoardVersion{
		Board:   b.ID,
		Version: b.Version,
		Title:   b.Title,
		Layout:  Layout{b.Filters, b.Panels},
		At:      b.Changed,
		Person:  by,
	}
	if err := tx.Create(&v).Error; err != nil {
		return err
	}
	return tx.Delete(&BoardVersion{}, "board = ? AND version <= ?", b.ID, b.Version-MaxVersions).Error
}

// BoardVersions lists what a board was, the newest first.
func (s *Store) BoardVersions(ctx context.Context, board int64) ([]BoardVersion, error) {
	var list []BoardVersion
	return list, s.reader(ctx).Where("board = ?", board).Order("version DESC").Find(&list).Error
}

// KnownReports says which of some reports there still are, deleted ones that can be brought back among them.
func (s *Store) KnownReports(ctx context.Context, ids []int64) (map[int64]bool, error) {
	var list []int64
	err := s.reader(ctx).Model(&Report{}).Where("id IN ?", ids).Pluck("id", &list).Error
	known := map[int64]bool{}
	for _, id := range list {
		known[id] = true
	}
	return known, err
}

// BoardDraft finds a person's draft of a board.
func (s *Store) BoardDraft(ctx context.Context, person, board int64) (BoardDraft, error) {
	var d BoardDraft
	return d, mapped(s.reader(ctx).First(&d, "person = ? AND board = ?", person, board).Error)
}

// PutBoardDraft keeps a draft of a board. d.Revision is the one it was read at, 0 for a new one; ErrStale says that
// another window changed it since.
func (s *Store) PutBoardDraft(ctx context.Context, d *BoardDraft) error {
	layout, err := json.Marshal(d.Layout)
	if err != nil {
		return err
	}
	return s.putLayoutDraft(ctx, d, &d.Revision, &d.Changed, d.Version, string(layout))
}

// putLayoutDraft keeps a draft of a layout: its row, which is new where revision is 0, else is changed where it is still
// at that revision. ErrStale says that another window changed it since.
func (s *Store) putLayoutDraft(
	ctx context.Context, row any, revision *int, changed *int64, version int, layout string,
) error {
	at := *revision
	*revision, *changed = at+1, s.Now().Unix()
	if at == 0 {
		done := s.writer(ctx).Clauses(clause.OnConflict{DoNothing: true}).Create(row)
		if done.Error == nil && done.RowsAffected == 0 {
			return ErrStale // there is one already
		}
		return done.Error
	}
	done := s.writer(ctx).Model(row).Where("revision = ?", at).
		Updates(map[string]any{"version": version, "layout": layout, "revision": *revision, "changed": *changed})
	if done.Error == nil && done.RowsAffected == 0 {
		return ErrStale
	}
	return done.Error
}

// DropBoardDraft throws a person's draft of a board away.
func (s *Store) DropBoardDraft(ctx context.Context, person, board int64) error {
	return s.writer(ctx).Delete(&BoardDraft{}, "person = ? AND board = ?", person, board).Error
}

// BoardOrder is the place of each board that a person has put in order.
func (s *Store) BoardOrder(ctx context.Context, person int64) (map[int64]int, error) {
	var rows []struct {
		Board int64
		Place int
	}
	err := s.reader(ctx).Table("board_order").Where("person = ?", person).Find(&rows).Error
	places := map[int64]int{}
	for _, r := range rows {
		places[r.Board] = r.Place
	}
	return places, err
}

// SetBoardOrder keeps the order in which a person sees boards.
func (s *Store) SetBoardOrder(ctx context.Context, person int64, boards []int64) error {
	return s.tx(ctx, func(tx *gorm.DB) error {
		if err := tx.Exec("DELETE FROM board_order WHERE person = ?", person).Error; err != nil {
			return err
		}
		for i, b := range boards {
			if err := tx.Exec(
				"INSERT INTO board_order (person, board, place) VALUES (?, ?, ?)",
				person,
				b,
				i,
			).Error; err != nil {
				return err
			}
		}
		return nil
	})
}
