package store

import (
	"context"
	"time"

	"gorm.io/gorm"
)

// visit is how long after a look another one belongs to the same visit.
const visit = 30 * time.Minute

// keepLooks is how long it is known when somebody looked at a record.
const keepLooks = 400 * 24 * time.Hour

// Look notes that a person looks at a record, and says when they did in the visit before this one, 0 for never.
func (s *Store) Look(ctx context.Context, person int64, typ string, record int64) (earlier int64, err error) {
	now := s.Now().Unix()
	err = s.tx(ctx, func(tx *gorm.DB) error {
		err := tx.Exec(`INSERT INTO looks (person, record_type, record, at) VALUES (?, ?, ?, ?)
			ON CONFLICT DO UPDATE SET earlier = CASE WHEN excluded.at - at > ? THEN at ELSE earlier END, at = excluded.at`,
			person, typ, record, now, int64(visit.Seconds())).Error
		if err != nil {
			return err
		}
		return tx.Raw("SELECT earlier FROM looks WHERE person = ? AND record_type = ? AND record = ?",
			person, typ, record).Scan(&earlier).Error
	})
	return earlier, err
}
