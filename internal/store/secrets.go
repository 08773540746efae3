package store

import (
	"context"

	"gorm.io/gorm"
)

// ReadSecret reads what the application keeps for itself and shows to nobody; "" where there is none of the name.
func (s *Store) ReadSecret(ctx context.Context, name string) (value string, err error) {
	return value, s.reader(ctx).Raw("SELECT value FROM secrets WHERE name = ?", name).Scan(&value).Error
}

// PutSecret keeps a secret; an empty one is taken away.
func (s *Store) PutSecret(ctx context.Context, name string, value string) error {
	return s.tx(ctx, func(tx *gorm.DB) error {
		if value == "" {
			return tx.Exec("DELETE FROM secrets WHERE name = ?", name).Error
		}
		return tx.Exec(
			"INSERT INTO secrets (name, value) VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET value = excluded.value",
			name,
			value,
		).Error
	})
}
