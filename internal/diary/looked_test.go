package diary_test

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"uzzel/internal/demo/demotest"
	"uzzel/internal/diary"
	"uzzel/internal/fault"
	"uzzel/internal/records"
)

// What others did about a record since one last looked at it is told, in the visit in which one comes back; a second look
// within that visit tells the same.
func TestSinceOneLooked(t *testing.T) {
	a, s := demotest.App(t)
	ctx := context.Background()
	deal := diary.Ref{Type: "deals", ID: 40}
	now := s.Now()
	at := func(d time.Duration) { s.Now = func() time.Time { return now.Add(d) } }
	look := func(person int64) diary.Since {
		since, err := a.Diary.Look(ctx, demotest.View(t, a, person), deal)
		require.NoError(t, err)
		return since
	}
	require.Zero(t, look(1).At, "for the first time")
	change := func(person int64, value string) {
		_, err := a.Records.Change(ctx, demotest.View(t, a, person), "deals", []records.Edit{{ID: 40, Values: records.Values{"value": value}}})
		require.NoError(t, err)
	}
	at(time.Hour)
	change(1, "41000.00")
	change(2, "42000.00")
	_, err := a.Diary.Log(ctx, demotest.View(t, a, 2), []diary.Ref{deal}, "call 20 min reached about the piles")
	require.NoError(t, err)
	at(2 * time.Hour)
	since := look(1)
	require.Equal(t, now.Unix(), since.At)
	require.Len(t, since.News, 2, "not what one did oneself")
	var what []string
	for _, e := range since.News {
		what = append(what, e.What+" "+e.Label+e.Kind+" "+e.Person)
	}
	require.ElementsMatch(t, []string{"changed Value Osric Jarrow", "did Call Osric Jarrow"}, what)
	at(2*time.Hour + 10*time.Minute)
	require.Len(t, look(1).News, 2, "in the same visit it is the same")
	at(5 * time.Hour)
	require.Empty(t, look(1).News)
	require.NoError(t, s.Purge(ctx))
	require.NotZero(t, look(1).At)

	// Who sees as another leaves no trace, and who may not see a record learns nothing.
	v := demotest.View(t, a, 3)
	v.Who.SeenBy = 2
	_, err = a.Diary.Look(ctx, v, deal)
	require.NoError(t, err)
	require.Zero(t, look(3).At)
	_, err = a.Diary.Look(ctx, demotest.View(t, a, 1), diary.Ref{Type: "deals", ID: 999_999})
	require.True(t, fault.Is(err, fault.NotFound))
}
