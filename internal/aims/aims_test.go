package aims_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/engine"
	"uzzel/core/target"
	"uzzel/internal/aims"
	"uzzel/internal/answers"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/people"
)

// A report is held against the targets of its whose, in its period, as far as its reader sees those records; what it
// measures otherwise is said.
func TestAims(t *testing.T) {
	a, _ := demotest.App(t)
	maite := people.Person{ID: 1, TeamID: 1, Role: people.Composer}
	of := func(v *answers.View, more string) aims.Aim {
		b, err := brief.Decode([]byte(`{"version":1,"start":"deals","period":{"field":"closed","within":"this_quarter"},"filter":{"all":[{"field":"status","is":"any_of","values":["won"]}]},"summaries":[{"key":"v","fn":"sum","of":"value"}],"targetOf":"won_value"` + more + `}`))
		require.NoError(t, err)
		bound, err := v.Bind(b)
		require.NoError(t, err)
		return v.Scene().Of(bound)
	}
	v := a.View(maite)
	all, team, mine := of(v, ""), of(v, `,"whose":"team"`), of(v, `,"whose":"mine"`)
	require.Contains(t, all.Words, "Won value · everyone · 1 Apr – 30 Jun 2026")
	require.Contains(t, team.Words, v.Snap.NameOf("teams", "1", nil))
	require.Contains(t, mine.Words, "Maite Corrie")
	require.Negative(t, team.Amount.Cmp(*all.Amount))
	require.Nil(t, all.Groups, "without groups there is none to aim at")
	require.NotNil(t, of(v, `,"groups":[{"field":"owner"}]`).Groups)
	require.Nil(t, of(v, `,"groups":[{"field":"stage"}]`).Groups, "no stage has a target")
	require.Contains(t, of(v, `,"across":[]`).Words, "everyone")

	v.Sees = map[string]engine.Sees{"deals": engine.SeesOwn}
	require.Contains(t, of(v, "").Words, "Maite Corrie", "who sees their own is held against their own")
	require.Equal(t, "everyone", aims.ScopeName(v.Snap, target.Scope{}))
	require.Empty(t, aims.ScopeName(v.Snap, target.Scope{Kind: target.Team, ID: "99999"}))
	require.NotEmpty(t, aims.Tree(v.Snap)(target.Scope{}))
	require.Equal(t, "won_value", v.Aims.Named(" won VALUE ").Key)
}
