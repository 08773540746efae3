package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"time"

	"gorm.io/driver/sqlite"
	"gorm.io/gorm"
	"gorm.io/gorm/logger"
)

// ErrUnsound says that a copy of a data file is not whole.
var ErrUnsound = errors.New("the copy is not sound")

// Backup copies a data file as it is at one moment, also while a server writes to it, and looks the copy over (SQLite,
// VACUUM INTO, PRAGMA integrity_check). The copy has its name once it is whole; one that is there is not overwritten.
func Backup(ctx context.Context, from, to string) (err error) {
	if _, err := os.Stat(from); err != nil {
		return err
	}
	if _, err := os.Stat(to); err == nil {
		return fmt.Errorf("%s is there already; name another", to)
	}
	part := to + ".part"
	if err := os.Remove(part); err != nil && !errors.Is(err, os.ErrNotExist) {
		return err
	}
	defer func() {
		if err != nil {
			err = errors.Join(err, ignoreAbsent(os.Remove(part)))
		}
	}()
	if err := once(ctx, from, "?mode=ro&_busy_timeout=10000", func(db *gorm.DB) error {
		return db.Exec("VACUUM INTO ?", part).Error
	}); err != nil {
		return err
	}
	if err := os.Chmod(part, 0o600); err != nil {
		return err
	}
	if err := once(ctx, part, "?mode=ro", func(db *gorm.DB) error {
		var said string
		if err := db.Raw("PRAGMA integrity_check").Scan(&said).Error; err != nil {
			return err
		}
		if said != "ok" {
			return fmt.Errorf("%w: %s", ErrUnsound, said)
		}
		return nil
	}); err != nil {
		return err
	}
	if err := os.Rename(part, to); err != nil {
		return err
	}
	return noteBackup(from, to)
}

// Copied is when a data file was copied last, and how large the copy was.
type Copied struct {
	At    int64 `json:"at"` // seconds since 1970-01-01
	Bytes int64 `json:"bytes"`
}

// noteBackup keeps beside a data file when it was copied: in the file it would be a change, which a server follows.
func noteBackup(from, to string) error {
	info, err := os.Stat(to)
	if err != nil {
		return err
	}
	text, err := json.Marshal(Copied{time.Now().Unix(), info.Size()})
	if err != nil {
		return err
	}
	return os.WriteFile(from+lastBackup, text, 0o600)
}

// lastBackup is what the note beside a data file is called by.
const lastBackup = ".last-backup"

// LastBackup says when the data file was copied last; ErrNotFound where it never was.
func (s *Store) LastBackup() (c Copied, err error) {
	text, err := os.ReadFile(s.path + lastBackup)
	if errors.Is(err, os.ErrNotExist) {
		return c, ErrNotFound
	}
	if err == nil {
		err = json.Unmarshal(text, &c)
	}
	return c, err
}

func ignoreAbsent(err error) error {
	if errors.Is(err, os.ErrNotExist) {
		return nil
	}
	return err
}

// once opens a file of SQLite for one use.
func once(ctx context.Context, path, how string, do func(db *gorm.DB) error) error {
	db, err := gorm.Open(sqlite.Open("file:"+path+how), &gorm.Config{Logger: logger.Discard})
	if err != nil {
		return err
	}
	pool, err := db.DB()
	if err != nil {
		return err
	}
	return errors.Join(do(db.WithContext(ctx)), pool.Close())
}
