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

// The demo tells its stories, and its history leads to where the deals are.
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

	// A deal's latest change of stage leads to the stage it is in.
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

// A demo that was killed while it was made is made anew; one that is whole, and a company of another name, is left
// alone.
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

// The world holds together: over the whole demo nothing happens before it can, what a deal is worth is what its lines
// come to, contacts are that customer's, and work goes on in the order in which people work.
func TestWorldHoldsTogether(t *testing.T) {
	s, err := store.Open(filepath.Join(t.TempDir(), "demo.db"))
	require.NoError(t, err)
	defer func() { require.NoError(t, s.Close()) }()
	today := period.Day(2026, 5, 14)
	require.NoError(t, demo.Make(context.Background(), s, today, 1))
	count := func(start, more string) string {
		rows := run(t, s, `{"version":1,"start":"`+start+`"`+more+`}`, today)
		if len(rows) == 0 {
			return "0"
		}
		return rows[0][len(rows[0])-1]
	}
	for name, none := range map[string][2]string{
		"work before its deal":                {"activities", `{"field":"happens","is":"under","other":"deal.created"}`},
		"work noted before its deal":          {"activities", `{"field":"created","is":"under","other":"deal.created"}`},
		"work noted after it took place":      {"activities", `{"field":"created","is":"over","other":"happens"}`},
		"work of another customer":            {"activities", `{"all":[{"field":"deal","is":"filled"},{"field":"customer","is":"none_of","other":"deal.customer"}]}`},
		"a deal before its customer":          {"deals", `{"field":"created","is":"under","other":"customer.created"}`},
		"a deal closed before it began":       {"deals", `{"field":"closed","is":"under","other":"created"}`},
		"a contact of another customer":       {"deals", `{"all":[{"field":"contact","is":"filled"},{"field":"contact.customer","is":"none_of","other":"customer"}]}`},
		"a contact before its customer":       {"contacts", `{"field":"created","is":"under","other":"customer.created"}`},
		"work planned for what is decided":    {"activities", `{"all":[{"field":"deal.status","is":"any_of","values":["won","lost"]},{"field":"happens","is":"within","period":{"from":"2026-05-22"}}]}`},
		"work done that is still to come":     {"activities", `{"all":[{"field":"done","is":"any_of","values":["true"]},{"field":"happens","is":"within","period":"future"}]}`},
		"a site visit as the first of a deal": {"deals", `{"all":[{"link":"activities","is":"some"},{"link":"activities","is":"none","where":{"field":"kind","is":"none_of","values":["Site visit","Video meeting"]}}]}`},
	} {
		require.Equal(t, "0", count(none[0], `,"filter":`+none[1]), name)
	}
	const lines = `,"own":[{"key":"sum","linked":{"link":"lines","fn":"sum","of":"amount"}},{"key":"most","linked":{"link":"lines","fn":"max","of":"amount"}},{"key":"least","linked":{"link":"lines","fn":"min","of":"amount"}},{"key":"n","linked":{"link":"lines","fn":"count"}},{"key":"off","formula":"abs(own.sum - value)"}]`
	// Each amount is converted by itself and rounded to the cent, so that lines in another currency may be cents off.
	require.Equal(t, "0", count("deals", lines+`,"filter":{"any":[{"field":"own.off","is":"over","values":["0.02"]},{"all":[{"field":"currency","is":"any_of","values":["EUR"]},{"field":"own.off","is":"over","values":["0"]}]}]}`), "lines add up to the deal")
	require.Equal(t, "4", count("deals", `,"own":[{"key":"euros","formula":"if(currency == \"EUR\", 1, 0)"}],"summaries":[{"key":"n","fn":"distinct","of":"currency","where":{"field":"own.euros","is":"any_of","values":["0"]}}]`), "a quarter of the deals is in four other currencies")
	require.NotEqual(t, "0", count("deals", lines+`,"filter":{"all":[{"field":"own.n","is":"over","values":["1"]},{"field":"own.most","is":"over","other":"own.least"}]}`), "lines are of different amounts")
	// Stages follow one another: a deal that was in review has been offered before.
	require.Equal(t, "0", count("deals", `,"filter":{"all":[{"link":"changes","is":"some","where":{"all":[{"field":"field","is":"any_of","values":["stage"]},{"field":"to","is":"any_of","values":["Contract review"]}]}},{"link":"changes","is":"none","where":{"all":[{"field":"field","is":"any_of","values":["stage"]},{"field":"to","is":"any_of","values":["Offer sent"]}]}}]}`))
	// Numbers follow the day that records were entered; weekends are quiet.
	weekdays := run(t, s, `{"version":1,"start":"activities","groups":[{"field":"happens","by":"weekday"}]}`, today)
	for _, row := range weekdays {
		require.NotContains(t, []string{"Sat", "Sun"}, row[0])
	}
	require.NotEqual(t, "0", count("activities", `,"filter":{"field":"happens","is":"within","period":"future"}`), "some work is planned")
}
