package lists_test

import (
	"context"
	"encoding/json"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/fault"
	"uzzel/internal/library"
	"uzzel/internal/lists"
)

func private(t *testing.T, folders []library.Folder) int64 {
	t.Helper()
	for _, f := range folders {
		if f.Owner != nil && f.MayChange {
			return f.ID
		}
	}
	t.Fatal("no private folder")
	return 0
}

// A list is a kept report that stands over its records for those who may open it; another's is not one's to make one.
func TestLists(t *testing.T) {
	a, _ := demotest.App(t)
	ctx, maite, ilva := context.Background(), demotest.View(t, a, 1), demotest.View(t, a, 2)
	folders, err := a.Library.Folders(ctx, maite)
	require.NoError(t, err)
	b, err := brief.Decode([]byte(`{"version":1,"start":"deals","filter":{"all":[{"field":"status","is":"any_of","values":["open"]}]}}`))
	require.NoError(t, err)
	r, err := a.Library.KeepNew(ctx, maite, library.Keep{Title: "Mine, open", Folder: private(t, folders), Brief: b})
	require.NoError(t, err)
	require.True(t, fault.Is(a.Lists.Set(ctx, ilva, r.ID, true), fault.NotFound))
	require.NoError(t, a.Lists.Set(ctx, maite, r.ID, true))
	require.NoError(t, a.Lists.Set(ctx, maite, r.ID, true), "twice is once")

	of := func(v int64, typ string) []string {
		list, _, err := a.Lists.Of(ctx, demotest.View(t, a, v), typ)
		require.NoError(t, err)
		names := []string{}
		for _, r := range list {
			names = append(names, r.Title)
		}
		return names
	}
	require.Equal(t, []string{"Mine, open"}, of(1, "deals"))
	require.Empty(t, of(1, "customers"))
	require.Empty(t, of(2, "deals"), "a private one")
	require.NoError(t, a.Lists.Set(ctx, maite, r.ID, false))
	require.Empty(t, of(1, "deals"))
	require.NoError(t, a.Lists.Set(ctx, maite, r.ID, true))
	require.NoError(t, a.Library.DeleteReport(ctx, maite, r.ID))
	require.Empty(t, of(1, "deals"), "deleted")
}

// How one has lists before one is one's own, and a chart that cannot be drawn is refused.
func TestChoice(t *testing.T) {
	a, _ := demotest.App(t)
	ctx, maite := context.Background(), demotest.View(t, a, 1)
	var c lists.Choice
	require.NoError(t, json.Unmarshal([]byte(`{"first":7,"place":"above","chart":{"summary":{"key":"v","fn":"sum","of":"value"},"group":{"field":"stage"},"kind":"bar"}}`), &c))
	require.NoError(t, a.Lists.Choose(ctx, maite, "deals", c))
	_, got, err := a.Lists.Of(ctx, maite, "deals")
	require.NoError(t, err)
	require.Equal(t, c, got)
	_, other, err := a.Lists.Of(ctx, demotest.View(t, a, 2), "deals")
	require.NoError(t, err)
	require.Zero(t, other)
	c.Chart.Group.Field = "shoe_size"
	var problems brief.Problems
	require.ErrorAs(t, a.Lists.Choose(ctx, maite, "deals", c), &problems)
	require.True(t, fault.Is(a.Lists.Choose(ctx, maite, "ships", lists.Choice{}), fault.NotFound))
}

// The lists of a record type and how a person has them before them.
func ExampleLists_Of() {
	a, _ := demotest.App(&testing.T{})
	list, choice, err := a.Lists.Of(context.Background(), demotest.View(&testing.T{}, a, 1), "deals")
	fmt.Println(len(list), choice.Place == "", err)
	// Output: 0 true <nil>
}
