// Package demotest gives tests the demo company: made once, as a file that each test has a copy of.
package demotest

import (
	"context"
	"os"
	"path/filepath"
	"sync"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/period"
	"uzzel/internal/answers"
	"uzzel/internal/app"
	"uzzel/internal/demo"
	"uzzel/internal/store"
)

// Day is the day that the demo company is on.
var Day = period.Day(2026, 5, 14)

var made = sync.OnceValues(func() ([]byte, error) {
	dir, err := os.MkdirTemp("", "uzzel")
	if err != nil {
		return nil, err
	}
	defer func() { _ = os.RemoveAll(dir) }()
	path := filepath.Join(dir, "demo.db")
	if _, err := demo.Ensure(context.Background(), path, Day, 1); err != nil {
		return nil, err
	}
	return os.ReadFile(path)
})

// Open opens a fresh demo company. Who opens it closes it.
func Open(t testing.TB) *store.Store {
	t.Helper()
	data, err := made()
	require.NoError(t, err)
	path := filepath.Join(t.TempDir(), "demo.db")
	require.NoError(t, os.WriteFile(path, data, 0o600))
	s, err := store.Open(path)
	require.NoError(t, err)
	return s
}

// App is the application over a fresh demo company on its day, which is closed when the test ends.
func App(t testing.TB) (*app.App, *store.Store) {
	t.Helper()
	s := Open(t)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	a, err := app.New(s, func() int32 { return Day }, nil)
	require.NoError(t, err)
	return a, s
}

// View is what someone of the demo company sees now.
func View(t testing.TB, a *app.App, person int64) *answers.View {
	t.Helper()
	who, err := a.People.Who(context.Background(), person)
	require.NoError(t, err)
	return a.View(who)
}
