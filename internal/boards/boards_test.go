package boards_test

import (
	"context"
	"sync"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/board"
	"uzzel/core/brief"
	"uzzel/internal/app"
	"uzzel/internal/boards"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/fault"
	"uzzel/internal/library"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

var (
	admin  = people.Person{ID: 2, Role: people.Administrator}
	reader = people.Person{ID: 3, TeamID: 2, Role: people.Reader}
)

// company opens the demo company with two folders, one open to all and one to its administrator, and a report in each.
func company(t *testing.T) (a *app.App, f, r [2]int64) {
	t.Helper()
	a, _ = demotest.App(t)
	ctx, v := context.Background(), a.View(admin)
	b, err := brief.Decode([]byte(`{"version":1,"start":"deals","groups":[{"field":"stage"}],"summaries":[{"key":"n","fn":"count"}]}`))
	require.NoError(t, err)
	for i, access := range []store.Access{{Kind: store.ForEveryone}, {Kind: store.ForPerson, Subject: admin.ID}} {
		folder, err := a.Library.KeepFolder(ctx, v, store.Folder{Name: []string{"Open", "Closed"}[i], Access: []store.Access{access}}, 0)
		require.NoError(t, err)
		report, err := a.Library.KeepNew(ctx, v, library.Keep{Title: "Stages", Folder: folder.ID, Brief: b})
		require.NoError(t, err)
		f[i], r[i] = folder.ID, report.ID
	}
	return a, f, r
}

// Panels are placed where there is room, and none outside the dashboard.
func TestPlaced(t *testing.T) {
	a, f, r := company(t)
	ctx, v := context.Background(), a.View(admin)
	b, err := a.Boards.PlaceOn(ctx, v, r[0], " Monday ")
	require.NoError(t, err)
	require.Equal(t, "Monday", b.Title)
	require.Equal(t, f[0], b.Folder)
	b, err = a.Boards.PlaceOn(ctx, v, r[0], "monday")
	require.NoError(t, err)
	require.Len(t, b.Panels, 2)
	require.Equal(t, []int{6, 0}, []int{b.Panels[1].X, b.Panels[1].Y}, "beside the first")
	for _, p := range []store.Panel{{Report: r[0], X: 7, W: 6, H: 1}, {Report: r[0], X: -1, W: 1, H: 1}, {Report: r[0], Y: 10001, W: 1, H: 1}, {W: 1, H: 1}} {
		wrong := b.Board
		wrong.Panels = []store.Panel{p}
		_, err := a.Boards.Change(ctx, v, wrong)
		require.True(t, fault.Is(err, fault.Invalid), "%+v", p)
	}
	for link, ok := range map[string]bool{"/dashboards/3": true, "https://example.org/a": true, "http://example.org": false, "javascript:alert(1)": false, "//example.org": false, "/api/signout": false} {
		linked := b.Board
		linked.Panels = []store.Panel{{Report: r[0], W: 1, H: 1, Options: `{"link":"` + link + `"}`}}
		next, err := a.Boards.Change(ctx, v, linked)
		require.Equal(t, ok, err == nil, link)
		if ok {
			b = next
		}
	}
	_, err = a.Boards.TakeOff(ctx, v, b.ID, r[0])
	require.NoError(t, err)
	_, err = a.Boards.TakeOff(ctx, v, b.ID, r[0])
	require.True(t, fault.Is(err, fault.NotFound))
}

// One panel that cannot be answered does not keep the others from it, and what is closed is not named.
func TestPanels(t *testing.T) {
	a, _, r := company(t)
	var mu sync.Mutex
	shown, failed := map[int]boards.PanelShown{}, map[int]error{}
	a.Boards.Panels(context.Background(), a.View(reader), board.Filters{}, []boards.PanelAsk{{Report: r[0]}, {Report: r[1]}, {Report: r[0], Type: "customers", ID: "1"}}, func(i int, p boards.PanelShown, err error) {
		mu.Lock()
		defer mu.Unlock()
		if shown[i] = p; err != nil {
			failed[i] = err
		}
	})
	require.Len(t, shown, 3)
	require.Len(t, failed, 2)
	require.NotZero(t, shown[0].Answer.Result.Records)
	require.True(t, fault.Is(failed[1], fault.NotFound))
	require.Empty(t, shown[1].Report.Title)
	require.True(t, fault.Is(failed[2], fault.NotFound), "it stands on no page")
}

// Whoever places a closed report on an open dashboard is told whom it is closed to, and opens it in one step.
func TestClosedReports(t *testing.T) {
	a, f, r := company(t)
	ctx, v := context.Background(), a.View(admin)
	b, err := a.Boards.Add(ctx, v, store.Board{Title: "Both", Folder: f[0], Panels: []store.Panel{{Report: r[0], W: 6, H: 9}, {Report: r[1], X: 6, W: 6, H: 9}}})
	require.NoError(t, err)
	list, err := a.Boards.ClosedReports(ctx, v, b.ID)
	require.NoError(t, err)
	require.Len(t, list, 1)
	require.Equal(t, r[1], list[0].Report)
	require.NotEmpty(t, list[0].To)
	places, err := a.Boards.ClosedAt(ctx, v, r[1])
	require.NoError(t, err)
	require.Len(t, places, 1)
	require.Equal(t, f[0], places[0].Into)

	_, err = a.Library.KeepChanged(ctx, v, r[1], keepAs(t, a, r[1], "Stages, closed"))
	require.NoError(t, err)
	left, err := a.Boards.OpenReports(ctx, v, b.ID)
	require.NoError(t, err)
	require.Empty(t, left)
	_, err = a.Library.Report(ctx, a.View(reader), r[1])
	require.NoError(t, err)
	_, err = a.Boards.ClosedReports(ctx, a.View(reader), b.ID)
	require.True(t, fault.Is(err, fault.Forbidden))
}

func keepAs(t *testing.T, a *app.App, id int64, title string) library.Keep {
	t.Helper()
	r, err := a.Library.Report(context.Background(), a.View(admin), id)
	require.NoError(t, err)
	return library.Keep{Title: title, Folder: r.Folder, Brief: r.Brief.Brief(), Version: r.Version}
}

// A dashboard that is made of several reports is there with all of them, or not at all.
func TestAWholeDashboard(t *testing.T) {
	a, f, _ := company(t)
	ctx, v := context.Background(), a.View(admin)
	b, err := brief.Decode([]byte(`{"version":1,"start":"deals","summaries":[{"key":"n","fn":"count"}]}`))
	require.NoError(t, err)
	w := boards.WholeBoard{Title: "Brought", Panels: []boards.PlacedReport{
		{Panel: store.Panel{W: 6, H: 9}, Title: "Stages", Brief: b},
		{Panel: store.Panel{X: 6, W: 6, H: 9, Options: `{"words":"Said beside"}`}},
	}}
	made, err := a.Boards.AddWhole(ctx, v, w, f[0])
	require.NoError(t, err)
	out, err := a.Boards.Whole(ctx, a.View(reader), made.ID)
	require.NoError(t, err)
	require.Equal(t, "Stages (2)", out.Panels[0].Title, "a report of that title with another brief lies there already")
	require.Equal(t, w.Panels[1], out.Panels[1])

	before, err := a.Library.Reports(ctx, v)
	require.NoError(t, err)
	w.Title, w.Panels[0].Title, w.Panels[1].Panel.X = "Outside", "Never", 7
	_, err = a.Boards.AddWhole(ctx, v, w, f[0])
	require.True(t, fault.Is(err, fault.Invalid))
	after, err := a.Library.Reports(ctx, v)
	require.NoError(t, err)
	require.Len(t, after, len(before))
}

// What is kept is one's own, so that it stands on dashboards that nobody else opens, and alone in its panel.
func TestKeptStandsOnOnesOwnBoards(t *testing.T) {
	a, f, r := company(t)
	ctx, v := context.Background(), demotest.View(t, a, 2)
	folders, err := a.Library.Folders(ctx, v)
	require.NoError(t, err)
	var own int64
	for _, one := range folders {
		if one.Owner != nil && *one.Owner == v.Who.ID {
			own = one.ID
		}
	}
	kept := store.Panel{W: 6, H: 9, Options: `{"kept":1}`}
	_, err = a.Boards.Add(ctx, v, store.Board{Title: "Shared", Folder: f[0], Panels: []store.Panel{kept}})
	require.True(t, fault.Is(err, fault.Invalid))
	b, err := a.Boards.Add(ctx, v, store.Board{Title: "Mine", Folder: own, Panels: []store.Panel{kept}})
	require.NoError(t, err)
	_, err = a.Boards.Move(ctx, v, b.ID, f[0])
	require.True(t, fault.Is(err, fault.Invalid), "nor goes among others’ later")
	both := kept
	both.Report = r[0]
	_, err = a.Boards.Place(ctx, v, b.ID, both)
	require.True(t, fault.Is(err, fault.Invalid))
}
