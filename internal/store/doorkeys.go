package store

import (
	"context"

	"gorm.io/gorm"
)

// DoorKey opens the door once, until it expires. Person is whose door it is, nil for the set-up.
type DoorKey struct {
	Hash    []byte `gorm:"primaryKey"` // SHA-256 of the key, which is not kept
	Kind    string
	Person  *int64
	Made    int64 // seconds since 1970-01-01
	Expires int64
}

// PutDoorKey keeps a key in place of those of its kind and person, and takes away those that have expired.
func (s *Store) PutDoorKey(ctx context.Context, k DoorKey) error {
	return s.tx(ctx, func(tx *gorm.DB) error {
		old := tx.Where("expires <= ?", k.Made).Or("kind = ? AND person IS ?", k.Kind, k.Person)
		if err := old.Delete(&DoorKey{}).Error; err != nil {
			return err
		}
		return tx.Create(&k).Error
	})
}

// DoorKey finds a key that has not expired at a time.
func (s *Store) DoorKey(ctx context.Context, hash []byte, now int64) (DoorKey, error) {
	var k DoorKey
	return k, mapped(s.reader(ctx).First(&k, "hash = ? AND expires > ?", hash, now).Error)
}

// UseDoorKey takes a key away; ErrNotFound says that it was used already.
func (s *Store) UseDoorKey(ctx context.Context, hash []byte) error {
	return s.tx(ctx, func(tx *gorm.DB) error {
		done := tx.Delete(&DoorKey{}, "hash = ?", hash)
		if done.Error == nil && done.RowsAffected == 0 {
			return ErrNotFound
		}
		return done.Error
	})
}

// Invited lists the people who have a key of a kind that has not expired.
func (s *Store) Invited(ctx context.Context, kind string, now int64) ([]int64, error) {
	var list []int64
	return list, s.reader(ctx).Model(&DoorKey{}).Where("kind = ? AND expires > ? AND person IS NOT NULL", kind, now).
		Pluck("person", &list).Error
}
