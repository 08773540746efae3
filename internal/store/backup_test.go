package store_test

import (
	"context"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/internal/demo/demotest"
	"uzzel/internal/store"
)

// A copy is whole though the file is open and written to; it is never written over another, and nothing half is left.
func TestBackup(t *testing.T) {
	ctx := context.Background()
	_, s := demotest.App(t)
	dir := t.TempDir()
	to := filepath.Join(dir, "copy.db")
	written := make(chan error, 1)
	go func() {
		written <- s.Write(ctx, func(w *store.Writer) error { return w.Change("deals", 7, store.Record{"value": "1.00"}) })
	}()
	require.NoError(t, store.Backup(ctx, s.Path(), to))
	require.NoError(t, <-written)
	copied, err := store.Open(to)
	require.NoError(t, err)
	table, err := copied.Snapshot().Table("deals")
	require.NoError(t, err)
	require.Equal(t, 2600, table.N)
	accounts, err := copied.Accounts(ctx)
	require.NoError(t, err)
	require.Len(t, accounts, 14)
	require.NoError(t, copied.Close())

	last, err := s.LastBackup()
	require.NoError(t, err)
	info, err := os.Stat(to)
	require.NoError(t, err)
	require.Equal(t, info.Size(), last.Bytes)
	require.NotZero(t, last.At)
	require.ErrorContains(t, store.Backup(ctx, s.Path(), to), "there already")
	require.Error(t, store.Backup(ctx, filepath.Join(dir, "nothing.db"), filepath.Join(dir, "b.db")))
	require.NoError(t, os.WriteFile(filepath.Join(dir, "text.db"), []byte("no database at all, but some text"), 0o600))
	require.Error(t, store.Backup(ctx, filepath.Join(dir, "text.db"), filepath.Join(dir, "c.db")))
	left, err := os.ReadDir(dir)
	require.NoError(t, err)
	for _, f := range left {
		require.NotContains(t, f.Name(), ".part")
	}
}
