package store

import (
	"context"
	"errors"

	"gorm.io/gorm"
)

// Account is who may sign in. Role is administrator, composer or reader; Password is empty until one is chosen.
type Account struct {
	Person   int64 `gorm:"primaryKey"`
	Role     string
	Password string
}

// ErrTaken says that a title or name is taken in its folder.
var ErrTaken = errors.New("taken")

// ErrGone says that what something is to be kept in, or hangs on, was taken away meanwhile.
var ErrGone = errors.New("gone meanwhile")

// ErrStale says that what is being changed was changed by someone else since it was read.
var ErrStale = errors.New("changed meanwhile")

func mapped(err error) error {
	switch {
	case errors.Is(err, gorm.ErrRecordNotFound):
		return ErrNotFound
	case errors.Is(err, gorm.ErrDuplicatedKey):
		return ErrTaken
	case errors.Is(err, gorm.ErrForeignKeyViolated):
		return ErrGone
	}
	return err
}

// Account finds the account of a person.
func (s *Store) Account(ctx context.Context, person int64) (Account, error) {
	var a Account
	return a, mapped(s.reader(ctx).First(&a, "person = ?", person).Error)
}

// Accounts lists all accounts.
func (s *Store) Accounts(ctx context.Context) ([]Account, error) {
	var list []Account
	return list, s.reader(ctx).Order("person").Find(&list).Error
}

// DropAccount takes an account away with its keys: its person can no longer sign in. What they made stays.
func (s *Store) DropAccount(ctx context.Context, person int64) error {
	return s.tx(ctx, func(tx *gorm.DB) error {
		if err := tx.Delete(&DoorKey{}, "person = ?", person).Error; err != nil {
			return err
		}
		return tx.Delete(&Account{}, "person = ?", person).Error
	})
}

// PutAccount makes or changes an account, and the private folder that goes with it.
func (s *Store) PutAccount(ctx context.Context, a Account) error {
	return s.tx(ctx, func(tx *gorm.DB) error {
		if err := tx.Save(&a).Error; err != nil {
			return err
		}
		var n int64
		if err := tx.Model(&Folder{}).Where("owner = ?", a.Person).Count(&n).Error; err != nil || n > 0 {
			return err
		}
		return tx.Create(&Folder{Name: "Private", Owner: &a.Person}).Error
	})
}
