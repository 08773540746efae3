package store

import (
	"context"
	"slices"
	"strconv"

	"gorm.io/gorm"
)

// Share lets someone open a single report or board, and where MayChange is set change it, besides those who may open
// the folder that it lies in. Kind is everyone, team or person; Subject the team or person.
type Share struct {
	ItemKind  string `gorm:"primaryKey"`
	Item      int64  `gorm:"primaryKey"`
	Kind      string `gorm:"primaryKey"`
	Subject   int64  `gorm:"primaryKey"`
	MayChange bool
}

// Access is whom a share is for, as folders have it.
func (s Share) Access() Access {
	return Access{Kind: s.Kind, Subject: s.Subject, MayChange: s.MayChange}
}

// SettingShares is the kind of the versions of whom something is shared with.
const SettingShares = "shares:"

func shareVersion(i Item) string { return SettingShares + i.Kind + strconv.FormatInt(i.Item, 10) }

// sharedWith is the query of the things of a kind that are shared with a viewer.
func sharedWith(db *gorm.DB, v Viewer, kind string) *gorm.DB {
	return db.Session(&gorm.Session{NewDB: true}).Model(&Share{}).Select("item").
		Where(
			"item_kind = ? AND (kind = 'everyone' OR (kind = 'team' AND subject = ?) OR (kind = 'person' AND subject = ?))",
			kind,
			v.Team,
			v.Person,
		)
}

// SharedWith says what is shared with a viewer, and whether the viewer may change it.
func (s *Store) SharedWith(ctx context.Context, v Viewer) (map[Item]bool, error) {
	var list []Share
	err := s.reader(
		ctx,
	).Where(
		"kind = 'everyone' OR (kind = 'team' AND subject = ?) OR (kind = 'person' AND subject = ?)",
		v.Team,
		v.Person,
	).Find(
		&list,
	).Error
	by := map[Item]bool{}
	for _, share := range list {
		i := Item{share.ItemKind, share.Item}
		by[i] = by[i] || share.MayChange
	}
	return by, err
}

// Shares lists whom something is shared with, and the version of that.
func (s *Store) Shares(ctx context.Context, i Item) (list []Access, version int, err error) {
	by, err := s.sharesOf(ctx, i.Kind, []int64{i.Item})
	if err != nil {
		return nil, 0, err
	}
	name := shareVersion(i)
	err = s.reader(
		ctx,
	).Raw(
		"SELECT coalesce((SELECT version FROM setting_versions WHERE name = ?), 0)",
		name,
	).Scan(
		&version,
	).Error
	return by[i.Item], version, err
}

// sharesOf gives whom some things of a kind are shared with.
func (s *Store) sharesOf(ctx context.Context, kind string, items []int64) (map[int64][]Access, error) {
	var list []Share
	err := s.reader(ctx).Where("item_kind = ? AND item IN ?", kind, items).Order("kind, subject").Find(&list).Error
	by := map[int64][]Access{}
	for _, share := range list {
		by[share.Item] = append(by[share.Item], share.Access())
	}
	return by, err
}

// SetShares says whom something is shared with; at is the version that it was read at.
func (s *Store) SetShares(ctx context.Context, i Item, list []Access, at int) error {
	return s.tx(ctx, func(tx *gorm.DB) error {
		if err := advance(tx, shareVersion(i), at); err != nil {
			return err
		}
		if err := tx.Delete(&Share{}, "item_kind = ? AND item = ?", i.Kind, i.Item).Error; err != nil {
			return err
		}
		rows := make([]Share, len(list))
		for k, a := range list {
			rows[k] = Share{i.Kind, i.Item, a.Kind, a.Subject, a.MayChange}
		}
		if len(rows) == 0 {
			return nil
		}
		return tx.Create(rows).Error
	})
}

// forgetShares takes away whom things were shared with that are gone for good.
func forgetShares(tx *gorm.DB) error {
	for kind, table := range map[string]string{KindReport: "reports", KindBoard: "boards"} {
		if err := tx.Exec(
			"DELETE FROM shares WHERE item_kind = ? AND item NOT IN (SELECT id FROM "+table+")",
			kind,
		).Error; err != nil {
			return err
		}
	}
	return nil
}

// lets says whether one of some accesses is for a viewer.
func lets(list []Access, v Viewer) bool {
	return slices.ContainsFunc(list, func(a Access) bool { return a.Lets(v) })
}
