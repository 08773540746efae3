package records_test

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/internal/answers"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/records"
)

// The state of yesterday stays what it was whatever is written today: changed, made, deleted, brought back, merged; also
// where it was asked for before the write and is kept.
func TestYesterdayStaysAsItWas(t *testing.T) {
	a, s := demotest.App(t)
	ctx := context.Background()
	require.NoError(t, s.Warm(ctx))
	admin := func() *answers.View { return demotest.View(t, a, 2) }
	b, err := brief.Decode([]byte(`{"version":1,"start":"deals","groups":[{"field":"stage"},{"field":"customer"}],"summaries":[{"key":"n","fn":"count"},{"key":"t","fn":"sum","of":"value"}],"asOf":"yesterday"}`))
	require.NoError(t, err)
	asked := func() [][]string {
		answer, err := admin().Ask(ctx, b)
		require.NoError(t, err)
		return answer.Result.Summary().Rows
	}
	was := asked()
	require.Greater(t, len(was), 100)
	_, err = a.Records.Change(ctx, admin(), "deals", []records.Edit{{ID: 1, Values: records.Values{"value": "1.00", "stage": "Enquiry", "customer": "5"}}})
	require.NoError(t, err)
	require.Equal(t, was, asked(), "changed")
	ids, err := a.Records.Create(ctx, admin(), "deals", []records.Values{{"name": "New", "value": "77.00"}})
	require.NoError(t, err)
	require.Equal(t, was, asked(), "made")
	require.NoError(t, a.Records.Delete(ctx, admin(), "deals", []int64{2, 3, ids[0]}))
	require.Equal(t, was, asked(), "deleted")
	require.NoError(t, a.Records.BringBack(ctx, admin(), "deals", 2))
	require.Equal(t, was, asked(), "brought back")
	require.NoError(t, a.Records.Delete(ctx, admin(), "customers", []int64{5, 6}))
	require.Equal(t, was, asked(), "what it links to deleted")
	_, err = a.Records.Change(ctx, admin(), "deals", []records.Edit{{ID: 9, Values: records.Values{"value": "3.00", "stage": "Design"}}})
	require.NoError(t, err)
	_, err = a.Records.Merge(ctx, admin(), "deals", 8, []int64{9, 10}, records.Values{"value": "2.00"})
	require.NoError(t, err)
	merged, err := a.Records.Merge(ctx, admin(), "deals", 7, []int64{8}, nil)
	require.NoError(t, err)
	require.Equal(t, was, asked(), "merged, and merged again")
	require.NoError(t, a.Records.Unmerge(ctx, admin(), merged))
	require.Equal(t, was, asked(), "taken apart")
}

// What was deleted for good is missing from earlier days, which is said.
func TestWhatIsGoneForGoodIsSaid(t *testing.T) {
	a, s := demotest.App(t)
	ctx := context.Background()
	admin := func() *answers.View { return demotest.View(t, a, 2) }
	b, err := brief.Decode([]byte(`{"version":1,"start":"deals","asOf":"last_month"}`))
	require.NoError(t, err)
	said := func() []string {
		e, err := admin().Explain(ctx, b)
		require.NoError(t, err)
		var list []string
		for _, w := range e.Warnings {
			if w.Code == "gone" {
				list = append(list, w.Text)
			}
		}
		return list
	}
	require.NoError(t, a.Records.Delete(ctx, admin(), "deals", []int64{2, 3}))
	require.Empty(t, said(), "they can be brought back, and are counted then")
	now := s.Now
	s.Now = func() time.Time { return now().Add(31 * 24 * time.Hour) }
	require.NoError(t, s.Purge(ctx))
	_, err = a.Records.Change(ctx, admin(), "deals", []records.Edit{{ID: 1, Values: records.Values{"value": "1.00"}}})
	require.NoError(t, err)
	require.NoError(t, a.Records.Delete(ctx, admin(), "deals", []int64{4})) // what is deleted is read anew
	require.Equal(t, []string{"2 deals of then were deleted since, for good. What was counted then lacks them."}, said())
}
