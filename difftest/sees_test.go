package difftest

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/engine"
	"uzzel/core/period"
	"uzzel/core/result"
	"uzzel/core/schema"
)

// stub is the number of the one record to which, in a file without hidden records, all links to them lead: one of nobody,
// with nothing in it.
const stub = "99999"

// without is a world without what a reader may not see, worked out by hand: how says by type own or team. Links to what
// is gone lead to a stub, so that they are still seen to be there.
func (w *world) without(me string, how map[string]string) (left *world, gone int) {
	left = &world{
		ids: maps.Clone(w.ids), vals: map[string]map[string]map[string]string{}, foreign: w.foreign, rates: w.rates, rated: w.rated,
	}
	mine := w.vals["people"][me]["team"]
	seen := map[string]map[string]bool{}
	keep := func(typ string, ok func(id string, vals map[string]string) bool) {
		seen[typ], left.ids[typ] = map[string]bool{}, nil
		for _, id := range w.ids[typ] {
			if ok(id, w.vals[typ][id]) {
				seen[typ][id], left.ids[typ] = true, append(left.ids[typ], id)
			} else {
				gone++
			}
		}
	}
	for _, t := range types {
		keep(t.key, func(_ string, vals map[string]string) bool {
			owner := vals["owner"]
			switch how[t.key] {
			case "own":
				return owner == me
			case "team":
				return owner == me || (owner != "" && mine != "" && w.vals["people"][owner]["team"] == mine)
			}
			return true
		})
	}
	if how["deals"] != "" { // a line belongs to its deal, and one of none to nobody
		keep("lines", func(_ string, vals map[string]string) bool { return seen["deals"][vals["deal"]] })
	}
	for _, t := range types {
		left.vals[t.key] = map[string]map[string]string{stub: {"id": stub}}
		for _, id := range left.ids[t.key] {
			vals := maps.Clone(w.vals[t.key][id])
			for _, f := range t.fields {
				if to := vals[f.key]; f.kind == "link" && to != "" && seen[f.to] != nil && !seen[f.to][to] && slices.Contains(w.ids[f.to], to) {
					vals[f.key] = stub
				}
			}
			left.vals[t.key][id] = vals
		}
		if how[t.key] != "" || (t.key == "lines" && how["deals"] != "") {
			left.ids[t.key] = append(slices.Clone(left.ids[t.key]), stub)
		}
	}
	return left, gone
}

var sights = []map[string]string{
	{"deals": "own", "activities": "team"},
	{"customers": "own"},
	{"customers": "team", "deals": "team", "activities": "own"},
}

// What a reader may not see tells the reader nothing: every answer is the same over a file that has none of it but links
// to something hidden.
func TestHiddenRecordsTellNothing(t *testing.T) {
	s, err := schema.New(settings)
	require.NoError(t, err)
	w := newWorld(t, 21)
	defer func() { _ = w.db.Close() }()
	w.rates = newRates(rand.New(rand.NewPCG(21, 3)), true)
	snap := column.NewSnapshot(s, w)
	hidden, cells := 0, 0
	for k, how := range sights {
		sees := map[string]engine.Sees{}
		for typ, h := range how {
			sees[typ] = engine.Sees(h)
		}
		without := map[string]*column.Snapshot{}
		for _, me := range w.ids["people"] {
			left, gone := w.without(me, how)
			hidden += gone
			without[me] = column.NewSnapshot(s, left)
		}
		for i := range 500 {
			m := &maker{r: rand.New(rand.NewPCG(uint64(12+k), uint64(i))), w: w, seen: map[string]int{}}
			b, view := m.brief()
			data, err := json.Marshal(b)
			require.NoError(t, err)
			me := pick(m, w.ids["people"])
			want := everything(t, without[me], data, view, me, sees)
			got := everything(t, snap, data, view, me, sees)
			require.Equal(t, want, got, "sight %d, brief %d, reader %s, %s\n%s", k, i, me, view, data)
			for _, line := range got {
				for _, cell := range line {
					if cell == result.HiddenLabel {
						cells++
					}
				}
			}
		}
	}
	require.NotZero(t, hidden)
	require.NotZero(t, cells, "some answers have something hidden in them")
}

// everything is what all operations say of a brief.
func everything(t *testing.T, snap *column.Snapshot, data []byte, view, reader string, sees map[string]engine.Sees) [][]string {
	t.Helper()
	lines, err := answerSeeing(snap, data, view, reader, map[string]int{}, sees)
	require.NoError(t, err, "%s", data)
	b, err := brief.Decode(data)
	require.NoError(t, err)
	bound, err := brief.Bind(b, snap.Schema)
	require.NoError(t, err)
	day, err := period.ParseDay(today)
	require.NoError(t, err)
	ctx, opts := context.Background(), engine.Options{Today: day, Reader: reader, Sees: sees}
	res, err := engine.Run(ctx, snap, bound, opts)
	require.NoError(t, err)
	say := func(format string, args ...any) { lines = append(lines, []string{fmt.Sprintf(format, args...)}) }
	say("records %d of %d, hidden %d, partly %v, overlap %v, without a rate %d", res.Records, res.Of, res.Hidden, res.Partly, res.Overlap, res.Unrated)
	list := func(what string, l *engine.Records, err error) {
		require.NoError(t, err, "%s of %s", what, data)
		say("%s %d", what, l.Len())
		page, err := l.Read(ctx, nil, 0, 30)
		require.NoError(t, err)
		lines = append(lines, append(append(page.Texts, page.Names...), page.IDs)...)
	}
	for part := range bound.Parts {
		sift, err := engine.Sift(ctx, snap, bound, opts, part)
		require.NoError(t, err)
		say("sift %v", sift)
		if len(sift) > 1 {
			l, err := engine.Dropped(ctx, snap, bound, opts, part, len(sift)-2)
			list("dropped", l, err)
		}
		mark := result.Mark{}
		if n := len(res.Rows); n > 1 {
			mark.Rows = res.Keys(true, n-1)
		}
		l, err := engine.Behind(ctx, snap, bound, opts, part, []result.Mark{mark})
		list("behind", l, err)
		for _, id := range []string{"1", "2", "7"} {
			v, err := engine.Check(ctx, snap, bound, opts, part, id)
			require.NoError(t, err)
			say("why %s %+v", id, *v)
		}
	}
	if len(b.Parts) == 0 {
		_, under, err := engine.RunGrouped(ctx, snap, bound, opts)
		require.NoError(t, err)
		list("groups and records", under.Records, nil)
	}
	return lines
}
