package styles_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/chart"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/fault"
	"uzzel/internal/people"
)

// A style is its owner's and the administrators' to change, keeps its key when it is renamed, and what is wrong with it
// is said; the house style is the administrators'.
func TestStyles(t *testing.T) {
	a, _ := demotest.App(t)
	ctx := context.Background()
	admin, owner, other, reader := people.Person{ID: 2, Role: people.Administrator}, people.Person{ID: 1, Role: people.Composer}, people.Person{ID: 7, Role: people.Composer}, people.Person{ID: 8, Role: people.Reader}

	k, err := a.Styles.Keep(ctx, owner, "", " Mine  alone ", chart.Style{Guides: "none"}, 0)
	require.NoError(t, err)
	require.Equal(t, "mine_alone", k.Key)
	require.Equal(t, chart.Style{Guides: "none"}, a.View(reader).Looks.ByKey["mine_alone"])
	k, err = a.Styles.Keep(ctx, admin, k.Key, "Renamed", chart.Style{Guides: "both"}, 0)
	require.NoError(t, err)
	require.Equal(t, []any{"mine_alone", owner.ID, 1}, []any{k.Key, k.Owner, k.Version})

	for reason, do := range map[fault.Reason]func() error{
		fault.Forbidden: func() error { return a.Styles.Drop(ctx, other, k.Key) },
		fault.Stale: func() error {
			_, err := a.Styles.Keep(ctx, owner, k.Key, "Late", chart.Style{}, 0)
			return err
		},
		fault.Taken: func() error {
			_, err := a.Styles.Keep(ctx, other, "", "renamed", chart.Style{}, 0)
			return err
		},
		fault.Invalid: func() error {
			_, err := a.Styles.Keep(ctx, owner, "", "Odd", chart.Style{Palette: []string{"red"}}, 0)
			return err
		},
		fault.NotFound: func() error { return a.Styles.Drop(ctx, admin, "none") },
	} {
		require.True(t, fault.Is(do(), reason), "%v", reason)
	}
	require.True(t, fault.Is(a.Styles.SetHouse(ctx, owner, chart.Style{}, 0), fault.Forbidden))
	require.NoError(t, a.Styles.SetHouse(ctx, admin, chart.Style{Legend: "right"}, a.View(admin).Looks.HouseVersion()))
	require.Equal(t, "right", a.View(reader).Looks.House.Legend)
	require.NoError(t, a.Styles.Drop(ctx, owner, k.Key))
	require.NotContains(t, a.View(reader).Looks.ByKey, "mine_alone")
}
