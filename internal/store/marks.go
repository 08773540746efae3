package store

import (
	"context"

	"gorm.io/gorm/clause"
)

// Kinds of what can be a favourite, opened or found.
const (
	KindReport = "report"
	KindBoard  = "board"
	KindFolder = "folder"
)

// Item names a report, board or folder.
type Item struct {
	Kind string
	Item int64
}

type mark struct {
	Person int64
	Item   `gorm:"embedded"`
	At     int64
}

// Favourites lists what a person marked as a favourite.
func (s *Store) Favourites(ctx context.Context, person int64) (map[Item]bool, error) {
	var list []Item
	err := s.reader(ctx).Table("favourites").Where("person = ?", person).Find(&list).Error
	set := map[Item]bool{}
	for _, i := range list {
		set[i] = true
	}
	return set, err
}

// SetFavourite marks something as a favourite of a person, or no longer.
func (s *Store) SetFavourite(ctx context.Context, person int64, i Item, on bool) error {
	db := s.writer(ctx).Table("favourites")
	if !on {
		return db.Where("person = ? AND kind = ? AND item = ?", person, i.Kind, i.Item).Delete(nil).Error
	}
	return db.Clauses(
		clause.OnConflict{DoNothing: true},
	).Create(
		map[string]any{"person": person, "kind": i.Kind, "item": i.Item},
	).Error
}

// Opened says when a person last opened what.
func (s *Store) Opened(ctx context.Context, person int64) (map[Item]int64, error) {
	var list []mark
	err := s.reader(ctx).Table("opened").Where("person = ?", person).Find(&list).Error
	at := map[Item]int64{}
	for _, m := range list {
		at[m.Item] = m.At
	}
	return at, err
}

// NoteOpened remembers that a person opened something.
func (s *Store) NoteOpened(ctx context.Context, person int64, i Item) error {
	return s.writer(
		ctx,
	).Exec(
		"INSERT INTO opened (person, kind, item, at) VALUES (?, ?, ?, ?) ON CONFLICT (person, kind, item) DO UPDATE SET at = excluded.at",
		person,
		i.Kind,
		i.Item,
		s.Now().Unix(),
	).Error
}
