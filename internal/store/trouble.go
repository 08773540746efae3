package store

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"syscall"
	"time"

	"github.com/gofrs/flock"
	sqlite3 "github.com/mattn/go-sqlite3"
	"gorm.io/gorm"
)

// Troubles of the data file that people are told of in words.
var (
	ErrFull    = errors.New("the disk that the data file lies on is full")
	ErrDamaged = errors.New("the data file is damaged")
	ErrDenied  = errors.New("the data file cannot be read or written")
	ErrServed  = errors.New("another server is using the data file")
)

// Trouble says what is wrong with the data file where an error is about it, nil otherwise.
func Trouble(err error) error {
	for _, known := range []error{ErrFull, ErrDamaged, ErrDenied, ErrLocked} {
		if errors.Is(err, known) {
			return known
		}
	}
	var e sqlite3.Error
	switch {
	case errors.Is(err, syscall.ENOSPC):
		return ErrFull
	case !errors.As(err, &e):
		return nil
	}
	switch e.Code {
	case sqlite3.ErrFull:
		return ErrFull
	case sqlite3.ErrCorrupt, sqlite3.ErrNotADB:
		return ErrDamaged
	case sqlite3.ErrIoErr, sqlite3.ErrReadonly, sqlite3.ErrCantOpen, sqlite3.ErrPerm:
		return ErrDenied
	case sqlite3.ErrBusy, sqlite3.ErrLocked:
		return ErrLocked
	}
	return nil
}

// notice remembers the last trouble of the data file, and forgets it when something is written again.
func (s *Store) notice(db *gorm.DB) error {
	for name, after := range map[string]func(name string, fn func(*gorm.DB)) error{
		"create": db.Callback().Create().After("*").Register, "update": db.Callback().Update().After("*").Register,
		"delete": db.Callback().Delete().After("*").Register, "raw": db.Callback().Raw().After("*").Register,
		"query": db.Callback().Query().After("*").Register, "row": db.Callback().Row().After("*").Register,
	} {
		writes := name == "create" || name == "update" || name == "delete"
		err := after("uzzel:notice", func(tx *gorm.DB) {
			if t := Trouble(tx.Error); t != nil && !errors.Is(t, ErrLocked) {
				s.trouble.Store(&t)
			} else if tx.Error == nil && writes {
				s.trouble.Store(nil)
			}
		})
		if err != nil {
			return err
		}
	}
	return nil
}

// leastRoom is how many bytes a disk should have left for the data file.
const leastRoom = 64 << 20

// Ready says whether the data file can be read and written now, and otherwise what is wrong with it.
func (s *Store) Ready(ctx context.Context) error {
	var n int
	if err := s.reader(ctx).Raw("SELECT count(*) FROM organisation").Scan(&n).Error; err != nil {
		return errors.Join(Trouble(err), err)
	}
	if t := s.trouble.Load(); t != nil {
		return *t
	}
	free, err := s.Free()
	if err == nil && free < leastRoom {
		err = fmt.Errorf("%w: %d MB are left", ErrFull, free>>20)
	}
	return err
}

// Free is how many bytes the disk has left that the data file lies on.
func (s *Store) Free() (int64, error) {
	var st syscall.Statfs_t
	if err := syscall.Statfs(filepath.Dir(s.path), &st); err != nil {
		return 0, err
	}
	return int64(st.Bavail) * st.Bsize, nil
}

// Migration is the name of the last migration that the file has: its version.
func (s *Store) Migration(ctx context.Context) (string, error) {
	var id string
	err := s.reader(ctx).Raw("SELECT max(id) FROM migrations").Scan(&id).Error
	return id, err
}

// Latest is when something was last changed, as far as the file says.
func (s *Store) Latest(ctx context.Context) (time.Time, error) {
	var at int64
	err := s.reader(
		ctx,
	).Raw(
		"SELECT max(ifnull((SELECT max(at) FROM changes), 0), ifnull((SELECT max(changed) FROM reports), 0), ifnull((SELECT max(changed) FROM boards), 0))",
	).Scan(
		&at,
	).Error
	return time.Unix(at, 0), err
}

// Sound says whether the data file is whole: what SQLite finds wrong with it, nothing where it is sound.
func (s *Store) Sound(ctx context.Context) (faults []string, err error) {
	var found []string
	if err := s.reader(ctx).Raw("PRAGMA quick_check(20)").Scan(&found).Error; err != nil {
		return nil, err
	}
	if len(found) == 1 && found[0] == "ok" {
		found = nil
	}
	var broken []struct{ Table string }
	if err := s.reader(ctx).Raw("PRAGMA foreign_key_check").Scan(&broken).Error; err != nil {
		return nil, err
	}
	for _, b := range broken {
		found = append(found, "a row of "+b.Table+" names something that is not there")
		if len(found) > 20 {
			break
		}
	}
	return found, nil
}

// Serve claims a data file for one server: ErrServed says that another has it. Programs that only read and write it for
// a moment need no claim. release lets go of it; a server that is killed lets go of it too.
func Serve(path string) (release func() error, err error) {
	if err := os.MkdirAll(filepath.Dir(path), 0o750); err != nil {
		return nil, err
	}
	lock := flock.New(path + ".lock")
	ok, err := lock.TryLock()
	switch {
	case err != nil:
		return nil, err
	case !ok:
		return nil, fmt.Errorf("%s: %w; stop it first, or serve another file", path, ErrServed)
	}
	return lock.Unlock, nil
}
