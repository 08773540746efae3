package inbox_test

import (
	"context"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"uzzel/internal/answers"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/diary"
	"uzzel/internal/fault"
	"uzzel/internal/inbox"
	"uzzel/internal/records"
	"uzzel/internal/store"
)

// What others did to what one follows is one line a thing and day, and news until it is read; what is told is counted but
// for what is quiet; an inbox is its person's alone.
func TestInbox(t *testing.T) {
	a, s := demotest.App(t)
	s.Now = func() time.Time { return time.Date(2026, 5, 14, 12, 0, 0, 0, time.UTC) }
	ctx := context.Background()
	me, other := func() *answers.View { return demotest.View(t, a, 2) }, func() *answers.View { return demotest.View(t, a, 1) }
	unread := func() int {
		n, err := a.Inbox.Unread(ctx, me())
		require.NoError(t, err)
		return n
	}
	require.Zero(t, unread())
	require.NoError(t, a.Diary.Follow(ctx, me(), diary.Ref{Type: "deals", ID: 1}, true))
	before := unread()
	for _, value := range []string{"10.00", "20.00"} {
		_, err := a.Records.Change(ctx, other(), "deals", []records.Edit{{ID: 1, Values: records.Values{"value": value}}})
		require.NoError(t, err)
	}
	require.NoError(t, s.Tell(ctx, &store.Told{Person: 2, Kind: "sent", Text: "Pipeline", Key: "1"}))
	require.NoError(t, s.Tell(ctx, &store.Told{Person: 2, Kind: "sent", Text: "Pipeline", Key: "1"}))
	days, _, err := a.Inbox.Read(ctx, me())
	require.NoError(t, err)
	var sent, followed []inbox.Line
	for _, d := range days {
		for _, l := range d.Lines {
			switch {
			case l.Kind == "sent":
				sent = append(sent, l)
			case l.Unread && strings.Contains(l.Text, other().Who.Name):
				followed = append(followed, l)
			}
		}
	}
	require.Len(t, sent, 1, "told once")
	require.Len(t, followed, 1, "one line for both changes")
	require.Contains(t, followed[0].Text, "2 changes by ")
	require.Equal(t, "/records/deals/1", followed[0].Link)
	require.Greater(t, unread(), before)

	require.NoError(t, a.Inbox.SetQuiet(ctx, me(), []string{inbox.Followed}))
	require.Equal(t, 1, unread(), "what is quiet is not counted")
	require.True(t, fault.Is(a.Inbox.SetQuiet(ctx, me(), []string{"rain"}), fault.Invalid))
	require.NoError(t, a.Inbox.SetQuiet(ctx, me(), nil))
	require.NoError(t, a.Inbox.SetRead(ctx, me(), sent[0].ID-1))
	require.Equal(t, 1, unread(), "what came after the page was opened is not read")
	require.NoError(t, a.Inbox.SetRead(ctx, me(), sent[0].ID))
	require.Zero(t, unread())

	seen := me()
	seen.Who.SeenBy = 1
	_, _, err = a.Inbox.Read(ctx, seen)
	require.True(t, fault.Is(err, fault.Forbidden))
	require.True(t, fault.Is(a.Inbox.SetRead(ctx, seen, 99), fault.Forbidden))
}
