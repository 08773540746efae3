package store

import (
	"testing"

	"github.com/go-gormigrate/gormigrate/v2"
	"github.com/stretchr/testify/require"

	"uzzel/core/column"
)

// Exec has the connection that writes do something, for tests of what can go wrong there.
func (s *Store) Exec(sql string) error { return s.write.Exec(sql).Error }

// Spoil has a write say something that the columns cannot follow.
func (w *Writer) Spoil() {
	w.note(column.Edit{Type: "deals", ID: "77777", Values: map[string]string{"name": "x"}})
}

// FallBehind has the columns be older than the file.
func (s *Store) FallBehind() { s.behind.Store(true) }

// WriteOld writes a data file as it was before fields of an organisation's own had columns: its settings, and what some
// statements put into it.
func WriteOld(t *testing.T, path, settings string, statements ...string) {
	t.Helper()
	db, err := connect(path, "", 1)
	require.NoError(t, err)
	list, err := migrations()
	require.NoError(t, err)
	opts := *gormigrate.DefaultOptions
	require.NoError(t, gormigrate.New(db, &opts, list).MigrateTo("0013_imports"))
	require.NoError(t, db.Create(&organisation{1, "Docks", settings}).Error)
	for _, s := range statements {
		require.NoError(t, db.Exec(s).Error)
	}
	pool, err := db.DB()
	require.NoError(t, err)
	require.NoError(t, pool.Close())
}
