package store

import (
	"context"
	"crypto/rand"
	"errors"

	"gorm.io/gorm"
)

// Account is who may sign in. Role is administrator, composer or reader.
type Account struct {
	Person   int64 `gorm:"primaryKey"`
	Role     string
	Password string
}

// ErrTaken says that a title or name is taken in its folder.
var ErrTaken = errors.New("taken")

// ErrStale says that what is being changed was changed by someone else since it was read.
var ErrStale = errors.New("changed meanwhile")

func mapped(err error) error {
	switch {
	case errors.Is(err, gorm.ErrRecordNotFound):
		return ErrNotFound
	case errors.Is(err, gorm.ErrDuplicatedKey):
		return ErrTaken
	}
	return err
}

// Account finds the account of a person.
func (s *Store) Account(ctx context.Context, person int64) (Account, error) {
	var a Account
	return a, mapped(s.read.WithContext(ctx).First(&a, "person = ?", person).Error)
}

// Accounts lists all accounts.
func (s *Store) Accounts(ctx context.Context) ([]Account, error) {
	var list []Account
	return list, s.read.WithContext(ctx).Order("person").Find(&list).Error
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

// Preference is what the organisation set for everyone under a name, "" for nothing yet.
func (s *Store) Preference(ctx context.Context, name string) (string, error) {
	var list []string
	err := s.read.WithContext(ctx).Raw("SELECT value FROM preferences WHERE name = ?", name).Scan(&list).Error
	if err != nil || len(list) == 0 {
		return "", err
	}
	return list[0], nil
}

// SetPreference sets what holds for everyone.
func (s *Store) SetPreference(ctx context.Context, name, value string) error {
	return s.write.WithContext(ctx).Exec("INSERT INTO preferences (name, value) VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET value = excluded.value", name, value).Error
}

// Secret is a random secret of a name, made when it is first asked for.
func (s *Store) Secret(ctx context.Context, name string) ([]byte, error) {
	fresh := make([]byte, 32)
	if _, err := rand.Read(fresh); err != nil {
		return nil, err
	}
	if err := s.write.WithContext(ctx).Exec("INSERT INTO secrets (name, value) VALUES (?, ?) ON CONFLICT (name) DO NOTHING", name, fresh).Error; err != nil {
		return nil, err
	}
	var value []byte
	return value, s.write.WithContext(ctx).Raw("SELECT value FROM secrets WHERE name = ?", name).Row().Scan(&value)
}
