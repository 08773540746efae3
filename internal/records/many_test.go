package records_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/fault"
	"uzzel/internal/records"
)

// Many records get the same: dry says what would be, those that cannot are left and said, and it is taken back but for
// what others changed since.
func TestManyAtOnce(t *testing.T) {
	a, _ := demotest.App(t)
	ctx := context.Background()
	stage := func(id int64) records.Values {
		r, err := a.Records.Read(ctx, demotest.View(t, a, 2), "deals", id)
		require.NoError(t, err)
		return r.Values
	}
	was := map[int64]records.Values{1: stage(1), 2: stage(2), 3: stage(3)}
	to := records.Values{"stage": "Contract review"}
	dry, err := a.Records.ChangeMany(ctx, demotest.View(t, a, 2), "deals", []int64{1, 2, 3}, to, true)
	require.NoError(t, err)
	require.Empty(t, dry.Left)
	require.Equal(t, was[1], stage(1), "dry")

	done, err := a.Records.ChangeMany(ctx, demotest.View(t, a, 2), "deals", []int64{1, 2, 3}, to, false)
	require.NoError(t, err)
	require.Equal(t, dry.Done, done.Done)
	for id := range was {
		require.Equal(t, "Contract review", stage(id)["stage"])
		require.Empty(t, stage(id)["closed"], "an open stage")
	}
	same, err := a.Records.ChangeMany(ctx, demotest.View(t, a, 2), "deals", []int64{1, 2, 3}, to, false)
	require.NoError(t, err)
	require.Equal(t, 3, same.Same)
	require.Empty(t, same.Done.Changed)

	_, err = a.Records.Change(ctx, demotest.View(t, a, 1), "deals", []records.Edit{{ID: 2, Values: records.Values{"stage": "Design"}}})
	require.NoError(t, err)
	left, err := a.Records.TakeBack(ctx, demotest.View(t, a, 2), "deals", done.Done.Changed)
	require.NoError(t, err)
	require.Equal(t, 1, left)
	require.Equal(t, was[1]["stage"], stage(1)["stage"])
	require.Equal(t, was[1]["closed"], stage(1)["closed"])
	require.Equal(t, "Design", stage(2)["stage"], "changed since")
}

// What is refused for some leaves those; what nobody may write is refused for all.
func TestManyRefused(t *testing.T) {
	a, _ := demotest.App(t)
	ctx, v := context.Background(), demotest.View(t, a, 2)
	// A customer is not above itself.
	done, err := a.Records.ChangeMany(ctx, v, "customers", []int64{5, 6}, records.Values{"parent": "5"}, false)
	require.NoError(t, err)
	require.Len(t, done.Left, 1)
	require.Equal(t, int64(5), done.Left[0].ID)
	require.Contains(t, done.Left[0].Why, "above itself")
	for name, values := range map[string]records.Values{
		"kept by the program": {"changed": "2026-01-01T00:00:00"},
		"no stage":            {"stage": "Somewhere"},
		"no field":            {"shoe_size": "44"},
	} {
		_, err := a.Records.ChangeMany(ctx, v, "deals", []int64{1}, values, true)
		require.ErrorAs(t, err, new(records.Refusals), name)
	}
	_, err = a.Records.ChangeMany(ctx, v, "deals", []int64{999_999}, records.Values{"source": ""}, true)
	require.True(t, fault.Is(err, fault.NotFound))
	_, err = a.Records.ChangeMany(ctx, v, "deals", make([]int64, records.MostMany+1), records.Values{"source": ""}, true)
	require.True(t, fault.Is(err, fault.Invalid))
	_, err = a.Records.TakeBack(ctx, v, "deals", []records.ChangedField{{ID: 1, Field: "changed", From: "", To: ""}})
	require.ErrorAs(t, err, new(records.Refusals), "nothing else is written by taking back")
	_, err = a.Records.TakeBack(ctx, v, "deals", []records.ChangedField{{ID: 1, Field: "value", From: "much", To: ""}})
	require.ErrorAs(t, err, new(records.Refusals), "nor what no change can have been from")
	kept, err := a.Records.Read(ctx, v, "deals", 1)
	require.NoError(t, err)
	left, err := a.Records.TakeBack(ctx, v, "deals", []records.ChangedField{{ID: 1, Field: "value", From: "7.5", To: kept.Values["value"]}})
	require.NoError(t, err)
	require.Zero(t, left)
	now, err := a.Records.Read(ctx, v, "deals", 1)
	require.NoError(t, err)
	require.Equal(t, "7.50", now.Values["value"], "in the form that amounts are kept in")
}

// The words of a search are in the texts of a record, or in the names of what it links to, in any order and case.
func TestHolding(t *testing.T) {
	a, _ := demotest.App(t)
	ctx, v := context.Background(), demotest.View(t, a, 1)
	s := v.Snap.Schema
	require.Nil(t, brief.Holding(s, s.Type("deals"), "  "))
	count := func(text string) int {
		list, err := v.List(ctx, &brief.Brief{Version: 1, Part: brief.Part{Start: "deals", Filter: brief.Holding(s, s.Type("deals"), text)}})
		require.NoError(t, err)
		return list.Len()
	}
	name := v.Snap.Name("deals", 0)
	require.Positive(t, count(name))
	require.Equal(t, count("maite fuel"), count("FUEL  Maite"))
	require.Positive(t, count("maite fuel"), "an owner's name and a deal's")
	require.Less(t, count("maite fuel"), count("fuel"))
	require.Zero(t, count("nothing-has-this"))
}
