package engine_test

import (
	"context"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/engine"
	"uzzel/core/result"
)

// What a reader may see of a type: all, the team's or the own; nothing for one who is nobody; all of what has no owner.
// What the eye is told agrees with what reports count.
func TestSight(t *testing.T) {
	crew := records{}
	for typ, lines := range harbour {
		crew[typ] = lines
	}
	crew["people"] = "id,name,team,active\n1,Maite,1,true\n2,Runa,,true\n3,Aldo,1,true"
	crew["deals"] += "\n6,Slip,1,3,Enquiry,5,\n7,Float,1,,Enquiry,7,"
	snap := snapshot(t, crew)
	for _, c := range []struct {
		how    engine.Sees
		reader string
		want   string
	}{
		{engine.SeesAll, "2", "1 2 3 4 5 6 7"},
		{engine.SeesTeam, "1", "1 4 5 6"},
		{engine.SeesTeam, "3", "1 4 5 6"},
		{engine.SeesTeam, "2", "2 3"}, // in no team, the own alone
		{engine.SeesOwn, "1", "1 4 5"},
		{engine.SeesOwn, "9", ""},
		{engine.SeesOwn, "", ""},
	} {
		opts := engine.Options{Today: today, Reader: c.reader, Sees: map[string]engine.Sees{"deals": c.how}}
		sight := engine.NewSight(snap, c.reader, opts.Sees)
		table, err := snap.Table("deals")
		require.NoError(t, err)
		var seen []string
		for row := range int32(table.N) {
			if sight.Sees("deals", row) {
				seen = append(seen, table.IDs.At(row))
			}
		}
		require.Equal(t, c.want, strings.Join(seen, " "), "%v of %s", c.how, c.reader)
		r, err := engine.Run(context.Background(), snap, bind(t, snap, `{"version":1,"start":"deals"}`), opts)
		require.NoError(t, err)
		require.Equal(t, fmt.Sprint(len(seen)), r.Totals().Rows[0][0])
	}
	sight := engine.NewSight(snap, "1", map[string]engine.Sees{"teams": engine.SeesOwn})
	require.True(t, sight.Sees("teams", 0), "a team has no owner")
	require.False(t, sight.Sees("boats", 0), "there is no such type")
}

// Reader 1 sees customers 1 and 3; deals 3 and 4 are of customer 2, which is Runa's.
func asReader(t *testing.T, text string) *result.Result {
	t.Helper()
	snap := snapshot(t, harbour)
	r, err := engine.Run(context.Background(), snap, bind(t, snap, text), engine.Options{Today: today, Reader: "1", Sees: map[string]engine.Sees{"customers": engine.SeesOwn}})
	require.NoError(t, err)
	return r
}

// Hidden is not empty (docs/brief.md, "Rows"): conditions treat it as they treat empties, but it is not empty, and the
// link itself is filled.
func TestHiddenIsNotEmpty(t *testing.T) {
	for filter, want := range map[string]string{
		`{"field":"customer","is":"empty"}`:                                                  "0",
		`{"field":"customer","is":"filled"}`:                                                 "5",
		`{"field":"customer.segment","is":"empty"}`:                                          "1",
		`{"field":"customer.segment","is":"filled"}`:                                         "2",
		`{"field":"customer.segment","is":"none_of","values":["Marina"]}`:                    "3",
		`{"field":"customer","is":"any_of","values":["2"]}`:                                  "0",
		`{"field":"customer.size","is":"under","values":["1000"]}`:                           "3",
		`{"not":{"field":"customer.size","is":"under","values":["1000"]}}`:                   "2",
		`{"link":"customer.deals","is":"some"}`:                                              "3",
		`{"field":"own.big","is":"empty"}`:                                                   "0",
		`{"field":"own.size","is":"empty"}`:                                                  "0",
		`{"field":"customer.owner.name","is":"any_of","values":["Runa"]}`:                    "0",
		`{"field":"customer.owner","other":"owner","is":"none_of"}`:                          "3",
		`{"any":[{"field":"customer.segment","is":"empty"},{"field":"value","is":"empty"}]}`: "2",
	} {
		r := asReader(t, `{"version":1,"start":"deals","own":[{"key":"big","bands":{"of":"customer.size","edges":["50"]}},{"key":"size","formula":"customer.size + 0"}],"filter":`+filter+`}`)
		require.Equal(t, want, r.Totals().Rows[0][0], filter)
	}
	r := asReader(t, `{"version":1,"start":"deals","summaries":[{"key":"held","fn":"filled","of":"customer"},{"key":"known","fn":"distinct","of":"customer"},{"key":"named","fn":"filled","of":"customer.name"},{"key":"size","fn":"sum","of":"customer.size"}]}`)
	require.Equal(t, [][]string{{"5", "2", "2", "107"}}, r.Totals().Rows, "a name counts once for its customer")
	require.EqualValues(t, 2, r.Hidden)
	require.Zero(t, asReader(t, `{"version":1,"start":"deals","groups":[{"field":"stage"}]}`).Hidden, "nothing is read behind the link")
	require.EqualValues(t, 2, asReader(t, `{"version":1,"start":"deals","filter":{"field":"customer.segment","is":"filled"}}`).Hidden, "what a condition cannot see is counted though it is out")
	require.EqualValues(t, 1, asReader(t, `{"version":1,"start":"deals","filter":{"all":[{"field":"customer.segment","is":"filled"},{"field":"stage","is":"any_of","values":["Ordered"]}]}}`).Hidden)
}

// What is hidden is a group of its own after (blank), which neither blank nor top takes out.
func TestHiddenGroups(t *testing.T) {
	for more, want := range map[string]string{
		`"groups":[{"field":"customer.segment"}]`:                                                        "Marina 2, (blank) 1, (hidden) 2",
		`"groups":[{"field":"customer"}]`:                                                                "Eiderport 2, Ternbay 1, (hidden) 2",
		`"blank":false,"groups":[{"field":"customer.segment"}]`:                                          "Marina 2, (hidden) 2",
		`"groups":[{"field":"customer","top":{"n":1,"by":"n","rest":"drop"}}]`:                           "Eiderport 2, (hidden) 2",
		`"groups":[{"field":"customer","top":{"n":1,"by":"n"}}]`:                                         "Eiderport 2, Other 1, (hidden) 2",
		`"groups":[{"field":"customer.segment","order":{"by":"label","desc":true}}]`:                     "Marina 2, (blank) 1, (hidden) 2",
		`"own":[{"key":"b","bands":{"of":"customer.size","edges":["50"]}}],"groups":[{"field":"own.b"}]`: "under 50 1, 50 and over 2, (hidden) 2",
		`"groups":[{"field":"customer.created","by":"month"}]`:                                           "(blank) 3, (hidden) 2",
		`"groups":[{"field":"customer.top"}]`:                                                            "Eiderport 2, Ternbay 1, (hidden) 2",
	} {
		r := asReader(t, `{"version":1,"start":"deals",`+more+`,"summaries":[{"key":"n","fn":"count"}]}`)
		var got []string
		for _, line := range r.Summary().Rows {
			got = append(got, strings.Join(line, " "))
		}
		require.Equal(t, want, strings.Join(got, ", "), more)
	}
	r := asReader(t, `{"version":1,"start":"deals","groups":[{"field":"customer"}]}`)
	last := len(r.Rows[0].Children) - 1
	require.Equal(t, result.HiddenKey, r.KeyOf(true, r.Rows[0].Children[last]))
}

// Lists say that it is not theirs to see; behind (hidden) are its records.
func TestHiddenInLists(t *testing.T) {
	snap := snapshot(t, harbour)
	opts := engine.Options{Today: today, Reader: "1", Sees: map[string]engine.Sees{"customers": engine.SeesOwn}}
	b := bind(t, snap, `{"version":1,"start":"deals","groups":[{"field":"customer.segment"}],"columns":[{"field":"name"},{"field":"customer"},{"field":"customer.size"}]}`)
	l, err := engine.Behind(context.Background(), snap, b, opts, 0, []result.Mark{{Rows: []string{result.HiddenKey}}})
	require.NoError(t, err)
	require.Equal(t, [][]string{{"Mooring", "(hidden)", "(hidden)"}, {"Walkway", "(hidden)", "(hidden)"}}, texts(t, l))
	page, err := l.Read(context.Background(), nil, 0, 9)
	require.NoError(t, err)
	require.Equal(t, []string{"(hidden)", "(hidden)"}, page.Names[1])
	v, err := engine.Check(context.Background(), snap, bind(t, snap, `{"version":1,"start":"deals","filter":{"field":"customer.segment","is":"any_of","values":["Harbour"]}}`), opts, 0, "3")
	require.NoError(t, err)
	require.Equal(t, "(hidden)", v.Out[0].Values[0].Text)
}

// A record without an owner is seen where what it belongs to is: a change where the record is that was changed.
func TestBelonging(t *testing.T) {
	crew := records{"lines": "id,deal,amount\n1,1,10\n2,2,20\n3,3,30\n4,,40"}
	for typ, lines := range harbour {
		crew[typ] = lines
	}
	crew["changes"] += "\n8,customers,2,,name,Old,Kelpwick,2026-04-01T09:00:00Z,1\n9,boats,1,,name,Old,New,2026-04-01T09:00:00Z,1\n10,deals,77,,name,Old,New,2026-04-01T09:00:00Z,1"
	snap := snapshot(t, crew)
	for _, c := range []struct{ typ, limited, reader, want string }{
		{"lines", "deals", "1", "1"}, {"lines", "deals", "2", "2 3"}, {"lines", "customers", "1", "1 2 3 4"},
		{"changes", "deals", "1", "6 7 8"}, {"changes", "deals", "2", "1 2 3 4 5 8"}, {"changes", "customers", "1", "1 2 3 4 5 6 7"},
	} {
		opts := engine.Options{Today: today, Reader: c.reader, Sees: map[string]engine.Sees{c.limited: engine.SeesOwn}}
		l, err := engine.List(context.Background(), snap, bind(t, snap, `{"version":1,"start":"`+c.typ+`","columns":[{"field":"id"}]}`), opts)
		require.NoError(t, err)
		var ids []string
		for _, line := range texts(t, l) {
			ids = append(ids, line[0])
		}
		require.Equal(t, c.want, strings.Join(ids, " "), "%v", c)
		require.Equal(t, c.typ == "changes" || c.limited == "deals", engine.NewSight(snap, c.reader, opts.Sees).Limited(c.typ))
	}
}
