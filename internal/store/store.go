// Package store keeps everything in one SQLite file through GORM: records with the history of their changes, and what
// people make of them (folders, reports, boards). It hands the records to core as snapshots of typed columns.
package store

import (
	"context"
	"embed"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"github.com/go-gormigrate/gormigrate/v2"
	"gorm.io/driver/sqlite"
	"gorm.io/gorm"
	"gorm.io/gorm/logger"

	"uzzel/core/column"
	"uzzel/core/schema"
)

// Store is an open data file.
type Store struct {
	write *gorm.DB // one connection
	read  *gorm.DB
	path  string
	// Now is the clock that changes are stamped by.
	Now func() time.Time
	// Failed is told of what goes wrong where nobody waits for it: the columns could not follow a write, which is tried
	// again. It may be nil.
	Failed func(error)

	writing  sync.Mutex   // held from a write of records until the snapshot has followed
	loading  sync.RWMutex // held by loads for reading, by writes of records for writing
	schema   *schema.Schema
	snapshot atomic.Pointer[column.Snapshot]
	trouble  atomic.Pointer[error] // the last one of the data file, nil where it was written since
	behind   atomic.Bool           // a write is in the file that the columns do not have
}

//go:embed migrations/*.sql
var migrationFiles embed.FS

// Errors of opening a data file.
var (
	ErrLocked = errors.New("another program has locked the data file")
	ErrNewer  = errors.New("the data file was written by a newer version of this program")
)

func migrations() ([]*gormigrate.Migration, error) {
	names, err := migrationFiles.ReadDir("migrations")
	if err != nil {
		return nil, err
	}
	var list []*gormigrate.Migration
	for _, n := range names {
		text, err := migrationFiles.ReadFile("migrations/" + n.Name())
		if err != nil {
			return nil, err
		}
		list = append(list, &gormigrate.Migration{ID: strings.TrimSuffix(n.Name(), ".sql"),
			Migrate: func(tx *gorm.DB) error { return tx.Exec(string(text)).Error }})
	}
	list = append(list,
		&gormigrate.Migration{ID: columnsID, Migrate: addedIntoColumns},
		&gormigrate.Migration{ID: "0030_currencies", Migrate: currencies})
	slices.SortFunc(list, func(a, b *gormigrate.Migration) int { return strings.Compare(a.ID, b.ID) })
	return list, nil
}

// columnsID is the migration that is no SQL, as it goes by the settings.
const columnsID = "0014_columns"

const pragmas = "_journal_mode=WAL&_foreign_keys=on&_busy_timeout=2000&_synchronous=FULL&_cache_size=-128000"

// Open opens a data file, makes it where there is none, and brings its tables up to date. ErrLocked and ErrNewer say
// why it cannot.
func Open(path string) (*Store, error) {
	if err := os.MkdirAll(filepath.Dir(path), 0o750); err != nil {
		return nil, err
	}
	s := &Store{Now: time.Now, path: path}
	var err error
	if s.write, err = connect(path, "&_txlock=immediate", 1); err != nil {
		return nil, explain(path, err)
	}
	if err := s.migrate(); err != nil {
		_ = s.Close()
		return nil, explain(path, err)
	}
	if s.read, err = connect(path, "&mode=ro", 4); err != nil {
		_ = s.Close()
		return nil, explain(path, err)
	}
	if err := errors.Join(s.notice(s.write), s.notice(s.read)); err != nil {
		_ = s.Close()
		return nil, err
	}
	if err := s.reload(); err != nil {
		_ = s.Close()
		return nil, explain(path, err)
	}
	return s, nil
}

func connect(path, more string, connections int) (*gorm.DB, error) {
	db, err := gorm.Open(sqlite.Open("file:"+path+"?"+pragmas+more), &gorm.Config{
		Logger: logger.Discard, TranslateError: true, SkipDefaultTransaction: true})
	if err != nil {
		return nil, err
	}
	pool, err := db.DB()
	if err != nil {
		return nil, err
	}
	pool.SetMaxOpenConns(connections)
	return db, nil
}

func (s *Store) migrate() error {
	list, err := migrations()
	if err != nil {
		return err
	}
	opts := *gormigrate.DefaultOptions
	opts.UseTransaction, opts.ValidateUnknownMigrations = true, true
	return gormigrate.New(s.write, &opts, list).Migrate()
}

func explain(path string, err error) error {
	switch {
	case errors.Is(err, gormigrate.ErrUnknownPastMigration):
		return fmt.Errorf("%s: %w", path, ErrNewer)
	case strings.Contains(err.Error(), "database is locked"):
		return fmt.Errorf("%s: %w", path, ErrLocked)
	}
	if t := Trouble(err); t != nil {
		return fmt.Errorf("%s: %w (%w)", path, t, err)
	}
	return fmt.Errorf("%s: %w", path, err)
}

// Path is where the data file is.
func (s *Store) Path() string { return s.path }

// Close finishes writes and closes the file.
func (s *Store) Close() error {
	var errs []error
	for _, db := range []*gorm.DB{s.read, s.write} {
		if db == nil {
			continue
		}
		pool, err := db.DB()
		if err == nil {
			err = pool.Close()
		}
		errs = append(errs, err)
	}
	return errors.Join(errs...)
}

type organisation struct {
	ID       int64
	Name     string
	Settings string
}

func (organisation) TableName() string { return "organisation" }

// SetUp names the organisation and gives it its settings.
func (s *Store) SetUp(ctx context.Context, name string, set schema.Settings) error {
	sch, err := schema.New(set)
	if err != nil {
		return err
	}
	text, err := json.Marshal(set)
	if err != nil {
		return err
	}
	err = s.tx(ctx, func(tx *gorm.DB) error {
		if err := tx.Save(&organisation{1, name, string(text)}).Error; err != nil {
			return err
		}
		return errors.Join((&Writer{s: s, tx: tx}).shed(s.Schema(), sch), fit(tx, sch))
	})
	if err != nil {
		return err
	}
	s.writing.Lock()
	defer s.writing.Unlock()
	return s.reload()
}

// Organisation is its name, empty before it is set up.
func (s *Store) Organisation(ctx context.Context) (string, error) {
	var o organisation
	err := s.reader(ctx).Limit(1).Find(&o).Error
	return o.Name, err
}

// reload reads the settings and starts a new snapshot.
func (s *Store) reload() error {
	set, err := settingsOf(s.write)
	if err != nil {
		return err
	}
	sch, err := schema.New(set)
	if err != nil {
		return err
	}
	s.schema = sch
	s.snapshot.Store(column.NewSnapshot(sch, source{s}))
	return nil
}

// Schema is the organisation's record types.
func (s *Store) Schema() *schema.Schema { return s.Snapshot().Schema }

// Snapshot is the records as they are now.
func (s *Store) Snapshot() *column.Snapshot { return s.snapshot.Load() }

type txKey struct{}

// Together runs do in one write transaction: all that it keeps through the store with the context it is given is kept,
// or none of it. Records are not written so, but through Write.
func (s *Store) Together(ctx context.Context, do func(ctx context.Context) error) error {
	return s.tx(ctx, func(tx *gorm.DB) error { return do(context.WithValue(ctx, txKey{}, tx)) })
}

// reader and writer are what a context reads and writes through: its transaction, where it is in one.
func (s *Store) reader(ctx context.Context) *gorm.DB { return within(ctx, s.read) }
func (s *Store) writer(ctx context.Context) *gorm.DB { return within(ctx, s.write) }

func within(ctx context.Context, db *gorm.DB) *gorm.DB {
	if tx, ok := ctx.Value(txKey{}).(*gorm.DB); ok {
		db = tx
	}
	return db.WithContext(ctx)
}

// tx runs do in one write transaction.
func (s *Store) tx(ctx context.Context, do func(tx *gorm.DB) error) error {
	if tx, ok := ctx.Value(txKey{}).(*gorm.DB); ok {
		return do(tx.WithContext(ctx))
	}
	return s.write.WithContext(ctx).Transaction(do)
}

func (s *Store) failed(err error) {
	if s.Failed != nil && err != nil {
		s.Failed(err)
	}
}
