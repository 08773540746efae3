package boards_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/internal/boards"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/fault"
	"uzzel/internal/library"
)

// Who follows a report is told what others changed in it, not what they changed themselves, as long as they may open it.
func TestFollowedReports(t *testing.T) {
	a, s := demotest.App(t)
	ctx := context.Background()
	reader, owner := demotest.View(t, a, 3), demotest.View(t, a, 1)
	require.NoError(t, a.Boards.Follow(ctx, reader, boards.FollowedReport, 1, true))
	require.NoError(t, a.Boards.Follow(ctx, reader, boards.FollowedBoard, 1, true))
	require.NoError(t, a.Boards.Follow(ctx, owner, boards.FollowedReport, 1, true))
	r, err := a.Library.Report(ctx, owner, 1)
	require.NoError(t, err)
	_, err = a.Library.KeepChanged(ctx, owner, r.ID, library.Keep{Title: "Renamed", Description: r.Description, Folder: r.Folder, Brief: r.Brief.Brief(), Version: r.Version})
	require.NoError(t, err)
	told := func(person int64) map[string]int {
		list, err := a.Boards.KeptNews(ctx, demotest.View(t, a, person))
		require.NoError(t, err)
		out := map[string]int{}
		for _, n := range list {
			out[n.Kind+" "+n.Title] = len(n.Changes)
		}
		return out
	}
	mine, others := told(1), told(3)
	require.Greater(t, others["/reports Renamed"], mine["/reports Renamed"])
	require.Contains(t, others, "/dashboards Company, Monday")
	news, err := a.Diary.News(ctx, reader)
	require.NoError(t, err)
	require.Empty(t, news, "they are no records")

	require.NoError(t, s.DeleteReport(ctx, 1, 1))
	require.NotContains(t, told(3), "/reports Renamed", "what is deleted is told of no more")
	require.NoError(t, a.Boards.Follow(ctx, reader, boards.FollowedReport, 1, false), "and can be let go")
	require.True(t, fault.Is(a.Boards.Follow(ctx, reader, boards.FollowedReport, 999, true), fault.NotFound))
	require.True(t, fault.Is(a.Boards.Follow(ctx, reader, "/pages", 1, true), fault.NotFound))
}
