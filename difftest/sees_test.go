package difftest

import (
	"encoding/json"
	"maps"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/column"
	"uzzel/core/engine"
	"uzzel/core/schema"
)

// What a reader may not see does as if it were not there: every answer is that over records without it.
func TestHiddenRecordsAreAsIfNotThere(t *testing.T) {
	s, err := schema.New(settings)
	require.NoError(t, err)
	w := newWorld(t, 21)
	defer func() { _ = w.db.Close() }()
	snap := column.NewSnapshot(s, w)
	sees := map[string]engine.Sees{"deals": engine.SeesOwn, "activities": engine.SeesTeam}
	without := map[string]*column.Snapshot{}
	hidden := 0
	for _, me := range w.ids["people"] {
		left := &world{ids: maps.Clone(w.ids), vals: w.vals}
		left.ids["deals"], left.ids["activities"] = nil, nil
		mine := w.vals["people"][me]["team"]
		for _, id := range w.ids["deals"] {
			if w.vals["deals"][id]["owner"] == me {
				left.ids["deals"] = append(left.ids["deals"], id)
			}
		}
		for _, id := range w.ids["activities"] {
			owner := w.vals["activities"][id]["owner"]
			if owner != "" && (owner == me || (mine != "" && w.vals["people"][owner]["team"] == mine)) {
				left.ids["activities"] = append(left.ids["activities"], id)
			}
		}
		hidden += len(w.ids["deals"]) - len(left.ids["deals"])
		without[me] = column.NewSnapshot(s, left)
	}
	require.NotZero(t, hidden)
	for i := range 1200 {
		m := &maker{r: rand.New(rand.NewPCG(12, uint64(i))), w: w, seen: map[string]int{}}
		b, view := m.brief()
		data, err := json.Marshal(b)
		require.NoError(t, err)
		me := pick(m, w.ids["people"])
		want, err := answerSeeing(without[me], data, view, me, m.seen, nil)
		require.NoError(t, err, "%s", data)
		got, err := answerSeeing(snap, data, view, me, m.seen, sees)
		require.NoError(t, err, "%s", data)
		require.Equal(t, want, got, "brief %d, reader %s, %s\n%s", i, me, view, data)
	}
}
