package transfer_test

import (
	"archive/zip"
	"context"
	"fmt"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/internal/demo/demotest"
	"uzzel/internal/store"
	"uzzel/internal/transfer"
)

var ctx = context.Background()

func empty(t testing.TB) *store.Store {
	t.Helper()
	s, err := store.Open(filepath.Join(t.TempDir(), "new.db"))
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	return s
}

func files(t *testing.T, dir string) map[string]string {
	t.Helper()
	list, err := os.ReadDir(dir)
	require.NoError(t, err)
	out := map[string]string{}
	for _, f := range list {
		data, err := os.ReadFile(filepath.Join(dir, f.Name()))
		require.NoError(t, err)
		out[f.Name()] = string(data)
	}
	return out
}

// The whole demo out, in and out again is equal, to the last letter: records, history and settings.
func TestThereAndBack(t *testing.T) {
	_, s := demotest.App(t)
	first, second := filepath.Join(t.TempDir(), "a"), filepath.Join(t.TempDir(), "b")
	counts, err := transfer.Out(ctx, s, first)
	require.NoError(t, err)
	require.Contains(t, counts, transfer.Counted{Type: "deals", N: 2600})
	to := empty(t)
	in, err := transfer.In(ctx, to, first)
	require.NoError(t, err)
	require.Equal(t, counts, in)
	name, err := to.Organisation(ctx)
	require.NoError(t, err)
	require.Equal(t, "Brinehaven Docks", name)
	_, err = transfer.Out(ctx, to, second)
	require.NoError(t, err)
	was, is := files(t, first), files(t, second)
	require.Len(t, is, len(was))
	for file := range was {
		require.True(t, was[file] == is[file], "%s is another", file)
	}
	require.NotContains(t, was["deals.csv"], "weighted", "what is worked out is not taken along")
}

func TestRefused(t *testing.T) {
	_, s := demotest.App(t)
	dir := t.TempDir()
	_, err := transfer.In(ctx, s, dir)
	require.ErrorIs(t, err, transfer.ErrInUse)
	require.NoError(t, os.WriteFile(filepath.Join(dir, "deals.csv"), []byte("id,value\n1,1.50\n2,much\n"), 0o600))
	_, err = transfer.Out(ctx, s, dir)
	require.ErrorContains(t, err, "not empty", "nothing is overwritten")
	to := empty(t)
	_, err = transfer.In(ctx, to, dir)
	require.ErrorContains(t, err, "deals.csv:3:3")
	table, err := to.Snapshot().Table("deals")
	require.NoError(t, err)
	require.Zero(t, table.N, "nothing half-imported is seen")
	require.NoError(t, os.WriteFile(filepath.Join(dir, "deals.csv"), []byte("id,value\nA1,1.50\n"), 0o600))
	_, err = transfer.In(ctx, to, dir)
	require.ErrorContains(t, err, "no whole number")
	_, err = transfer.In(ctx, to, filepath.Join(dir, "nowhere"))
	require.ErrorContains(t, err, "not a folder")
}

// Takes the demo company out, and asks the same of both.
func ExampleOut() {
	t := &testing.T{}
	_, s := demotest.App(t)
	dir, err := os.MkdirTemp("", "out")
	if err != nil {
		fmt.Println(err)
		return
	}
	defer func() { _ = os.RemoveAll(dir) }()
	counts, err := transfer.Out(ctx, s, filepath.Join(dir, "brinehaven"))
	fmt.Println(counts[1], counts[2], err)
	// Output: {teams 4} {customers 420} <nil>
}

// One zip says what a folder says; one that holds something else, or leads elsewhere, is refused.
func TestZip(t *testing.T) {
	_, s := demotest.App(t)
	path := filepath.Join(t.TempDir(), "all.zip")
	out, err := transfer.OutZip(ctx, s, path)
	require.NoError(t, err)
	_, err = transfer.OutZip(ctx, s, path)
	require.ErrorContains(t, err, "there already")
	to := empty(t)
	in, err := transfer.InZip(ctx, to, path)
	require.NoError(t, err)
	require.Equal(t, out, in)
	left, err := os.ReadDir(filepath.Dir(path))
	require.NoError(t, err)
	require.Len(t, left, 1, "nothing half is left")

	for _, name := range []string{"../deals.csv", "run.sh", "a/deals.csv"} {
		bad := filepath.Join(t.TempDir(), "bad.zip")
		f, err := os.Create(bad)
		require.NoError(t, err)
		w := zip.NewWriter(f)
		_, err = w.Create(name)
		require.NoError(t, err)
		require.NoError(t, w.Close())
		require.NoError(t, f.Close())
		_, err = transfer.InZip(ctx, empty(t), bad)
		require.Error(t, err, name)
	}
}
