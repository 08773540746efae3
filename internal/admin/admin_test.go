package admin_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/engine"
	"uzzel/internal/admin"
	"uzzel/internal/answers"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/fault"
	"uzzel/internal/feed"
	"uzzel/internal/people"
)

// What is set up is the administrators' to change, each setting on the version that was read, and holds for whoever
// asks from then on, not within a request that began before.
func TestSettings(t *testing.T) {
	a, _ := demotest.App(t)
	ctx := context.Background()
	v, c := a.View(people.Person{ID: 2, Role: people.Administrator}), a.View(people.Person{ID: 1, TeamID: 1, Role: people.Composer})
	b, err := brief.Decode([]byte(`{"version":1,"start":"deals","filter":{"field":"status","is":"any_of","values":["open"]}}`))
	require.NoError(t, err)
	point := admin.StartingPoint{Name: "Deals", Brief: b}
	events, leave := a.Feed.Listen()
	defer leave()
	for name, set := range map[string]func(v *answers.View, version int) error{
		"sees":    func(v *answers.View, n int) error { return a.Admin.SetSees(ctx, v, "deals", engine.SeesTeam, n) },
		"policy":  func(v *answers.View, n int) error { return a.Admin.SetPolicy(ctx, v, people.Policy{}, n) },
		"figures": func(v *answers.View, n int) error { return a.Admin.SetFigures(ctx, v, "de", "dots", n) },
		"home":    func(v *answers.View, n int) error { return a.Admin.SetHome(ctx, v, 1, 1, n+1) }, // the demo has one for everyone
	} {
		require.True(t, fault.Is(set(c, 0), fault.Forbidden), name)
		require.NoError(t, set(v, 0), name)
		if name != "home" { // nothing that is open depends on it
			require.Equal(t, feed.Settings, (<-events).Kind, name)
		}
		require.True(t, fault.Is(set(v, 0), fault.Stale), name)
	}
	require.True(t, fault.Is(a.Admin.KeepStartingPoint(ctx, c, point), fault.Forbidden))
	require.NoError(t, a.Admin.KeepStartingPoint(ctx, v, point))

	require.Equal(t, engine.SeesAll, c.Sees["deals"], "a view stays what it was")
	now := c.Now()
	require.Equal(t, engine.SeesTeam, now.Sees["deals"])
	require.Equal(t, "1.234,5", now.Figures.Form.Number("1234.5"))
	require.Equal(t, "14.05.2026", now.Figures.Form.Day(demotest.Day))
	reader := a.View(people.Person{ID: 8, Role: people.Reader})
	require.False(t, reader.MayKeep())
	board, err := a.Admin.Home(ctx, now)
	require.NoError(t, err)
	require.EqualValues(t, 1, board)

	require.True(t, fault.Is(a.Admin.SetSees(ctx, v, "lines", engine.SeesOwn, 0), fault.Invalid), "lines have no owner")
	require.True(t, fault.Is(a.Admin.SetFigures(ctx, v, "elvish", "", 1), fault.Invalid))
	require.True(t, fault.Is(a.Admin.SetFigures(ctx, v, "de", "moons", 1), fault.Invalid))
}
