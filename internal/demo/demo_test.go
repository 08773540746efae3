package demo_test

import (
	"context"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/engine"
	"uzzel/core/period"
	"uzzel/core/schema"
	"uzzel/internal/demo"
	"uzzel/internal/store"
)

func run(t *testing.T, s *store.Store, text string, today int32) [][]string {
	t.Helper()
	b, err := brief.Decode([]byte(text))
	require.NoError(t, err)
	bound, err := brief.Bind(b, s.Schema())
	require.NoError(t, err)
	r, err := engine.Run(context.Background(), s.Snapshot(), bound, engine.Options{Today: today, Reader: "1"})
	require.NoError(t, err)
	return r.Summary().Rows
}

// The demo tells its stories, and its history leads to where the deals stand.
func TestStories(t *testing.T) {
	s, err := store.Open(filepath.Join(t.TempDir(), "demo.db"))
	require.NoError(t, err)
	defer func() { require.NoError(t, s.Close()) }()
	today := period.Day(2026, 5, 14)
	require.NoError(t, demo.Make(context.Background(), s, today, 1))

	rows := run(t, s, `{"version":1,"start":"deals","groups":[{"field":"stage"}]}`, today)
	require.Len(t, rows, 11, "every stage has deals")

	rows = run(t, s, `{"version":1,"start":"deals","period":{"field":"expected_close","within":"this_quarter"},"filter":{"field":"status","is":"any_of","values":["open"]},"groups":[{"field":"stage"}]}`, today)
	require.GreaterOrEqual(t, len(rows), 5, "this quarter is alive")

	rows = run(t, s, `{"version":1,"start":"changes","filter":{"field":"field","is":"any_of","values":["stage"]},"groups":[{"field":"to"}]}`, today)
	require.GreaterOrEqual(t, len(rows), 9, "changes of stage are kept")

	// A deal's latest change of stage leads to the stage it stands in.
	rows = run(t, s, `{"version":1,"start":"deals","own":[{"key":"latest","linked":{"link":"changes","fn":"newest","of":"to","by":"at","where":{"field":"field","is":"any_of","values":["stage"]}}}],
		"filter":{"all":[{"field":"own.latest","is":"filled"},{"field":"own.latest","is":"none_of","other":"stage"}]}}`, today)
	require.Equal(t, [][]string{{"0"}}, rows)

	rows = run(t, s, `{"version":1,"start":"activities","filter":{"all":[{"field":"happens","is":"within","period":"past"},{"field":"done","is":"any_of","values":["false"]}]}}`, today)
	require.NotEqual(t, "0", rows[0][0], "some work was never marked done")
}

// A seeded company has the sizes that were asked for, links that lead somewhere, and dates around its day.
func TestSeed(t *testing.T) {
	s, err := store.Open(filepath.Join(t.TempDir(), "seed.db"))
	require.NoError(t, err)
	defer func() { require.NoError(t, s.Close()) }()
	today := period.Day(2026, 5, 14)
	var said []string
	require.NoError(t, demo.Seed(context.Background(), s, 300, today, func(text string) { said = append(said, text) }))
	require.Equal(t, []string{"60 people", "30 customers", "300 deals", "900 activities"}, said)

	count := func(start, more string) string {
		rows := run(t, s, `{"version":1,"start":"`+start+`"`+more+`,"own":[{"key":"all","formula":"1"}],"groups":[{"field":"own.all"}]}`, today)
		if len(rows) == 0 {
			return "0"
		}
		return rows[0][len(rows[0])-1]
	}
	require.Equal(t, "300", count("deals", ""))
	require.Equal(t, "900", count("activities", ""))
	for _, none := range []string{
		`{"field":"customer.name","is":"empty"}`, `{"field":"owner.name","is":"empty"}`, `{"field":"stage","is":"empty"}`,
		`{"all":[{"field":"status","is":"any_of","values":["won","lost"]},{"field":"closed","is":"empty"}]}`,
		`{"all":[{"field":"status","is":"any_of","values":["open"]},{"field":"closed","is":"filled"}]}`,
		`{"field":"created","is":"within","period":"future"}`,
	} {
		require.Equal(t, "0", count("deals", `,"filter":`+none), none)
	}
	for _, some := range []string{`{"field":"status","is":"any_of","values":["open"]}`, `{"field":"value","is":"over","values":["20000"]}`, `{"field":"expected_close","is":"within","period":"this_year"}`, `{"link":"activities","is":"none"}`} {
		require.NotEqual(t, "0", count("deals", `,"filter":`+some), some)
	}
	require.Error(t, demo.Seed(context.Background(), s, 10, today, func(string) {}), "only an empty file is filled")
}

// A demo that was killed while it was made is made anew; one that is whole, and a company of another name, is left alone.
func TestEnsure(t *testing.T) {
	ctx, today := context.Background(), period.Day(2026, 5, 14)
	path := filepath.Join(t.TempDir(), "demo.db")
	began, stop := context.WithCancel(ctx)
	stop()
	_, err := demo.Ensure(began, path, today, 1)
	require.Error(t, err, "stopped in the middle")
	require.NoFileExists(t, path, "what is not whole has not the name of what is")

	half, err := store.Open(path) // as older programs left it: a company without people who can sign in
	require.NoError(t, err)
	require.NoError(t, half.SetUp(ctx, demo.Name, schema.Settings{Currency: "EUR", Timezone: "Europe/Lisbon"}))
	require.NoError(t, half.Close())
	made, err := demo.Ensure(ctx, path, today, 1)
	require.NoError(t, err)
	require.True(t, made)
	made, err = demo.Ensure(ctx, path, today, 1)
	require.NoError(t, err)
	require.False(t, made)

	other := filepath.Join(t.TempDir(), "other.db")
	s, err := store.Open(other)
	require.NoError(t, err)
	require.NoError(t, s.SetUp(ctx, "Another Company", schema.Settings{Currency: "EUR", Timezone: "Europe/Lisbon"}))
	require.NoError(t, s.Close())
	made, err = demo.Ensure(ctx, other, today, 1)
	require.NoError(t, err)
	require.False(t, made)
}
