package starters_test

import (
	"context"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/engine"
	"uzzel/core/period"
	"uzzel/internal/demo"
	"uzzel/internal/starters"
	"uzzel/internal/store"
)

// Every starter shows something on the demo company's records, to a manager and to a seller who sees the team's
// contacts only: three groups that are not empty, or ten records.
func TestEachShowsSomething(t *testing.T) {
	s, err := store.Open(filepath.Join(t.TempDir(), "demo.db"))
	require.NoError(t, err)
	defer func() { require.NoError(t, s.Close()) }()
	today := period.Day(2026, 5, 14)
	ctx := context.Background()
	require.NoError(t, demo.Make(ctx, s, today, 1))
	kept, err := s.Sees(ctx)
	require.NoError(t, err)
	sees := map[string]engine.Sees{}
	for typ, how := range kept {
		sees[typ] = engine.Sees(how)
	}
	require.Empty(t, sees, "the demo limits nothing at first")
	keys := map[string]bool{}
	require.GreaterOrEqual(t, len(starters.All()), 30)
	for _, st := range starters.All() {
		require.False(t, keys[st.Key], "two starters are called %s", st.Key)
		keys[st.Key] = true
		require.NotEmpty(t, st.Title)
		require.NotEmpty(t, st.About)
		bound, err := brief.Bind(st.Brief, s.Schema())
		if !assert.NoError(t, err, st.Key) {
			continue
		}
		for who, id := range map[string]string{"manager": "1", "seller": "8"} {
			opts := engine.Options{Today: today, Reader: id, Sees: sees}
			r, err := engine.Run(ctx, s.Snapshot(), bound, opts)
			require.NoError(t, err, st.Key)
			filled := 0
			for _, n := range r.Rows[0].Children {
				if r.Has(n, 0) {
					filled++
				}
			}
			if filled >= 3 {
				continue
			}
			require.Empty(t, bound.Groups, "%s has %d groups only for the %s", st.Key, filled, who)
			l, err := engine.List(ctx, s.Snapshot(), bound, opts)
			require.NoError(t, err, st.Key)
			assert.GreaterOrEqual(t, l.Len(), 10, "%s for the %s", st.Key, who)
		}
	}
}

// The sets place starters without one lying on another.
func TestSets(t *testing.T) {
	require.Len(t, starters.Sets(), 4)
	for _, set := range starters.Sets() {
		for i, p := range set.Panels {
			require.LessOrEqual(t, p.X+p.W, 12, set.Key)
			for _, q := range set.Panels[:i] {
				require.False(t, p.X < q.X+q.W && q.X < p.X+p.W && p.Y < q.Y+q.H && q.Y < p.Y+p.H, "%s: %s lies on %s", set.Key, p.Starter.Key, q.Starter.Key)
			}
		}
	}
}
