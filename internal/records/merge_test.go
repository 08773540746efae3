package records_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/engine"
	"uzzel/internal/app"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/fault"
	"uzzel/internal/records"
)

// linked is how many records of a type link to a customer, and how many changes there are of it.
func linked(t *testing.T, a *app.App, customer string) (out [3]int) {
	t.Helper()
	for i, text := range []string{
		`{"version":1,"start":"deals","filter":{"field":"customer","is":"any_of","values":["` + customer + `"]}}`,
		`{"version":1,"start":"contacts","filter":{"field":"customer","is":"any_of","values":["` + customer + `"]}}`,
		`{"version":1,"start":"changes","filter":{"all":[{"field":"record_type","is":"any_of","values":["customers"]},{"field":"record","is":"any_of","values":["` + customer + `"]}]}}`,
	} {
		b, err := brief.Decode([]byte(text))
		require.NoError(t, err)
		answer, err := demotest.View(t, a, osric).Ask(ctx, b)
		require.NoError(t, err)
		out[i] = int(answer.Result.Records)
	}
	return out
}

// Two records become one: all that linked to either links to it, a value that no two may have moves with it, and undoing
// has everything as it was, but for what was changed since.
func TestMerge(t *testing.T) {
	a, _ := demotest.App(t)
	_, err := a.Records.Change(ctx, demotest.View(t, a, osric), "customers", []records.Edit{{ID: 2, Values: records.Values{"city": "Elsewhere"}}})
	require.NoError(t, err)
	first, second := linked(t, a, "1"), linked(t, a, "2")
	require.NotZero(t, second[0]*second[1]*second[2], "there is something to follow")
	was, err := a.Records.Read(ctx, demotest.View(t, a, osric), "customers", 1)
	require.NoError(t, err)
	id, err := a.Records.Merge(ctx, demotest.View(t, a, osric), "customers", 1, []int64{2}, records.Values{"city": "Elsewhere", "name": "Both"})
	require.NoError(t, err)
	both := linked(t, a, "1")
	require.Equal(t, first[0]+second[0], both[0])
	require.Equal(t, first[1]+second[1], both[1])
	require.Equal(t, first[2]+second[2]+2, both[2], "and the two fields that were changed by it")
	_, err = a.Records.Read(ctx, demotest.View(t, a, osric), "customers", 2)
	require.True(t, fault.Is(err, fault.NotFound))

	_, err = a.Records.Change(ctx, demotest.View(t, a, osric), "customers", []records.Edit{{ID: 1, Values: records.Values{"name": "Since"}}})
	require.NoError(t, err)
	require.True(t, fault.Is(a.Records.Unmerge(ctx, demotest.View(t, a, aldo), id), fault.NotFound), "another's merge")
	require.NoError(t, a.Records.Unmerge(ctx, demotest.View(t, a, osric), id))
	require.Equal(t, second[0:2], slice(linked(t, a, "2")))
	require.Equal(t, first[0:2], slice(linked(t, a, "1")))
	now, err := a.Records.Read(ctx, demotest.View(t, a, osric), "customers", 1)
	require.NoError(t, err)
	require.Equal(t, []string{was.Values["city"], "Since"}, []string{now.Values["city"], now.Values["name"]})
	require.True(t, fault.Is(a.Records.Unmerge(ctx, demotest.View(t, a, osric), id), fault.Stale))
}

func slice(a [3]int) []int { return a[0:2] }

// What a person may not see is no more merged than changed.
func TestMergeRefused(t *testing.T) {
	a, _ := demotest.App(t)
	_, err := a.Records.Merge(ctx, demotest.View(t, a, osric), "customers", 1, []int64{1}, nil)
	require.True(t, fault.Is(err, fault.Invalid))
	_, err = a.Records.Merge(ctx, demotest.View(t, a, osric), "customers", 1, []int64{99999}, nil)
	require.True(t, fault.Is(err, fault.NotFound))
	_, err = a.Records.Merge(ctx, demotest.View(t, a, osric), "customers", 1, []int64{2}, records.Values{"name": ""})
	require.ErrorContains(t, err, "cannot be empty")
	require.NoError(t, a.Admin.SetSees(ctx, demotest.View(t, a, osric), "customers", engine.SeesOwn, 0))
	_, err = a.Records.Merge(ctx, demotest.View(t, a, aldo), "customers", 1, []int64{2}, nil)
	require.True(t, fault.Is(err, fault.NotFound))
}
