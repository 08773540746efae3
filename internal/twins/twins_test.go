package twins_test

import (
	"context"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/engine"
	"uzzel/internal/demo"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/fault"
	"uzzel/internal/people"
	"uzzel/internal/twins"
)

// All of the forty pairs that were entered twice are found, and at most four others.
func TestFound(t *testing.T) {
	a, _ := demotest.App(t)
	ctx, v := context.Background(), demotest.View(t, a, 2)
	planted, others := 0, []twins.Pair{}
	for _, typ := range []string{"customers", "contacts"} {
		want := map[[2]int64]bool{}
		for _, p := range demo.Twice(typ) {
			want[p] = true
		}
		planted += len(want)
		list, err := a.Twins.Find(ctx, v, typ)
		require.NoError(t, err)
		for _, p := range list {
			require.NotEmpty(t, p.Why)
			if !want[[2]int64{p.A, p.B}] {
				others = append(others, p)
			}
			delete(want, [2]int64{p.A, p.B})
		}
		require.Empty(t, want, typ)
	}
	require.Equal(t, 40, planted)
	require.LessOrEqual(t, len(others), 4, "%v", others)
}

// Two that are said to be two are told no more, until that is taken back; what one may not see is told of to nobody.
func TestApart(t *testing.T) {
	a, _ := demotest.App(t)
	ctx, v := context.Background(), demotest.View(t, a, 2)
	all, err := a.Twins.Find(ctx, v, "customers")
	require.NoError(t, err)
	first := all[0]
	require.NoError(t, a.Twins.Apart(ctx, v, "customers", first.B, first.A, true))
	fewer, err := a.Twins.Find(ctx, v, "customers")
	require.NoError(t, err)
	require.Len(t, fewer, len(all)-1)
	require.NotContains(t, fewer, first)
	require.NoError(t, a.Twins.Apart(ctx, v, "customers", first.A, first.B, false))
	again, err := a.Twins.Find(ctx, v, "customers")
	require.NoError(t, err)
	require.Equal(t, all, again)
	require.True(t, fault.Is(a.Twins.Apart(ctx, v, "customers", 1, 1, true), fault.Invalid))
	require.True(t, fault.Is(a.Twins.Apart(ctx, v, "customers", 1, 999_999, true), fault.NotFound))
	_, err = a.Twins.Find(ctx, v, "people")
	require.True(t, fault.Is(err, fault.Invalid))

	require.NoError(t, a.Admin.SetSees(ctx, v, "customers", engine.SeesOwn, 0))
	none, err := a.Twins.Find(ctx, a.View(people.Person{ID: 999}), "customers")
	require.NoError(t, err)
	require.Empty(t, none)
	require.True(t, fault.Is(a.Twins.Apart(ctx, a.View(people.Person{ID: 999}), "customers", first.A, first.B, true), fault.NotFound))
}

func ExampleTwins_Find() {
	t := &testing.T{}
	a, _ := demotest.App(t)
	list, err := a.Twins.Find(context.Background(), demotest.View(t, a, 2), "contacts")
	fmt.Println(len(list) >= len(demo.Twice("contacts")), err)
	// Output: true <nil>
}
