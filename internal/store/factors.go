package store

import (
	"context"

	"gorm.io/gorm"
)

// Factor is the second thing that a person signs in with. Step is the last stretch of 30 seconds whose code was taken;
// Recovery the hashes of the codes that are left, as JSON.
type Factor struct {
	Person    int64 `gorm:"primaryKey"`
	Secret    string
	Confirmed bool
	Step      int64
	Recovery  string
}

// Factor finds the second factor of a person.
func (s *Store) Factor(ctx context.Context, person int64) (Factor, error) {
	var f Factor
	return f, mapped(s.reader(ctx).First(&f, "person = ?", person).Error)
}

// PutFactor keeps the second factor of a person.
func (s *Store) PutFactor(ctx context.Context, f Factor) error {
	return s.tx(ctx, func(tx *gorm.DB) error { return tx.Save(&f).Error })
}

// UseFactor keeps what is left of a second factor once one of its codes was taken; ErrStale where another request took one
// meanwhile.
func (s *Store) UseFactor(ctx context.Context, was, now Factor) error {
	return s.tx(ctx, func(tx *gorm.DB) error {
		done := tx.Model(&Factor{}).Where("person = ? AND step = ? AND recovery = ?", was.Person, was.Step, was.Recovery).
			Updates(map[string]any{"step": now.Step, "recovery": now.Recovery})
		if done.Error == nil && done.RowsAffected == 0 {
			return ErrStale
		}
		return done.Error
	})
}

// DropFactor takes the second factor of a person away.
func (s *Store) DropFactor(ctx context.Context, person int64) error {
	return s.tx(ctx, func(tx *gorm.DB) error { return tx.Delete(&Factor{}, "person = ?", person).Error })
}
