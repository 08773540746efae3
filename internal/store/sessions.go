package store

import (
	"context"
	"errors"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// session is a row of the sessions table, found by its hashed token.
type session struct {
	Token  string `gorm:"primaryKey"`
	Data   []byte
	Expiry int64
}

// Sessions keeps sign-in sessions; it is an scs.CtxStore.
type Sessions struct{ s *Store }

// Sessions is where the session manager keeps its sessions.
func (s *Store) Sessions() *Sessions { return &Sessions{s} }

// FindCtx reads a session that has not expired.
func (t *Sessions) FindCtx(ctx context.Context, token string) ([]byte, bool, error) {
	var row session
	err := t.s.reader(ctx).First(&row, "token = ? AND expiry > ?", token, time.Now().Unix()).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return nil, false, nil
	}
	return row.Data, err == nil, err
}

// CommitCtx keeps a session, and forgets those that have expired.
func (t *Sessions) CommitCtx(ctx context.Context, token string, data []byte, expiry time.Time) error {
	return t.s.tx(ctx, func(tx *gorm.DB) error {
		if err := tx.Delete(&session{}, "expiry <= ?", time.Now().Unix()).Error; err != nil {
			return err
		}
		return tx.Clauses(clause.OnConflict{UpdateAll: true}).Create(&session{token, data, expiry.Unix()}).Error
	})
}

// DeleteCtx ends a session.
func (t *Sessions) DeleteCtx(ctx context.Context, token string) error {
	return t.s.writer(ctx).Delete(&session{}, "token = ?", token).Error
}

// Find is FindCtx without a context.
func (t *Sessions) Find(token string) ([]byte, bool, error) {
	return t.FindCtx(context.Background(), token)
}

// Commit is CommitCtx without a context.
func (t *Sessions) Commit(token string, data []byte, expiry time.Time) error {
	return t.CommitCtx(context.Background(), token, data, expiry)
}

// Delete is DeleteCtx without a context.
func (t *Sessions) Delete(token string) error { return t.DeleteCtx(context.Background(), token) }

// AllCtx reads the data of all sessions that have not expired, by token; it makes the store an scs.IterableCtxStore.
func (t *Sessions) AllCtx(ctx context.Context) (map[string][]byte, error) {
	var rows []session
	err := t.s.reader(ctx).Find(&rows, "expiry > ?", time.Now().Unix()).Error
	all := map[string][]byte{}
	for _, r := range rows {
		all[r.Token] = r.Data
	}
	return all, err
}
