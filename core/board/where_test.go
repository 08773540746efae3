package board_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/board"
)

func options(t *testing.T, where string) board.Options {
	t.Helper()
	var o board.Options
	require.NoError(t, json.Unmarshal([]byte(`{"where":`+where+`}`), &o))
	return o
}

// A panel has conditions of its own besides its report's; they are of its record type, and a filter alone.
func TestWhere(t *testing.T) {
	open := options(t, `{"version":1,"start":"deals","filter":{"all":[{"field":"status","is":"any_of","values":["open"]}]}}`)
	require.NoError(t, open.Check(company))
	report := decoded(t, `"start":"deals","filter":{"field":"source","is":"any_of","values":["Tender"]},"groups":[{"field":"stage"}]`)
	before := written(t, report)
	got, err := open.Narrow(report)
	require.NoError(t, err)
	require.JSONEq(t, written(t, decoded(t, `"start":"deals","filter":{"all":[{"field":"source","is":"any_of","values":["Tender"]},{"field":"status","is":"any_of","values":["open"]}]},"groups":[{"field":"stage"}]`)), written(t, got))
	require.Equal(t, before, written(t, report), "the report stays as it is")
	same, err := board.Options{}.Narrow(report)
	require.NoError(t, err)
	require.Same(t, report, same)
	_, err = open.Narrow(decoded(t, `"start":"customers"`))
	require.ErrorIs(t, err, board.ErrOther)
	for what, where := range map[string]string{
		"groups":          `{"version":1,"start":"deals","groups":[{"field":"stage"}]}`,
		"whose":           `{"version":1,"start":"deals","whose":"mine"}`,
		"fixed":           `{"version":1,"start":"deals","filter":{"all":[{"field":"status","is":"any_of","values":["open"],"fixed":true}]}}`,
		"asked, deep":     `{"version":1,"start":"deals","filter":{"not":{"any":[{"field":"status","is":"any_of","values":["open"],"ask":true}]}}}`,
		"no such field":   `{"version":1,"start":"deals","filter":{"field":"shoe","is":"filled"}}`,
		"no such records": `{"version":1,"start":"boats"}`,
	} {
		require.Error(t, options(t, where).Check(company), what)
	}
}

// A panel tells what moved since a day that a report can name.
func TestMovedSince(t *testing.T) {
	for _, day := range []string{"", "last_week", "yesterday", "2026-05-08"} {
		require.NoError(t, board.Options{Moved: day}.Check(company), day)
	}
	for _, day := range []string{"next_week", "2026-13-01", "then"} {
		require.ErrorContains(t, board.Options{Moved: day}.Check(company), "since a day", day)
	}
}

// A panel tells how its report stood by a unit, whatever kind of chart its lines are.
func TestStoodBy(t *testing.T) {
	for _, unit := range board.Stands {
		o := board.Options{Stood: unit, Kind: "line"}
		require.NoError(t, o.Check(company), unit)
		b := decoded(t, `"start":"deals","chart":{"kind":"column"},"groups":[{"field":"stage"}]`)
		require.Equal(t, b.Chart, o.Place(b).Chart, "the kind is of how it stood, not of the answer")
	}
	for _, o := range []board.Options{{Stood: "hour"}, {Stood: "week", Moved: "last_week"}} {
		require.ErrorContains(t, o.Check(company), "by day, week or month")
	}
}
