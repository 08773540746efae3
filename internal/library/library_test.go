package library_test

import (
	"context"
	"errors"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/internal/app"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/fault"
	"uzzel/internal/finding"
	"uzzel/internal/library"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

var (
	admin    = people.Person{ID: 2, Role: people.Administrator}
	composer = people.Person{ID: 4, TeamID: 1, Role: people.Composer}
	reader   = people.Person{ID: 3, TeamID: 2, Role: people.Reader}
)

func read(t *testing.T, text string) *brief.Brief {
	t.Helper()
	b, err := brief.Decode([]byte(text))
	require.NoError(t, err)
	return b
}

// folder makes a shared folder that some may open.
func folder(t *testing.T, a *app.App, name string, access ...store.Access) int64 {
	t.Helper()
	f, err := a.Library.KeepFolder(context.Background(), a.View(admin), store.Folder{Name: name, Access: access}, 0)
	require.NoError(t, err)
	return f.ID
}

const deals = `{"version":1,"start":"deals","groups":[{"field":"stage"}],"summaries":[{"key":"n","fn":"count"}]}`

// What is closed to a person is as if it were not there, until it is shared; what an owner fixed holds and is not
// copied.
func TestWhoOpensAReport(t *testing.T) {
	a, _ := demotest.App(t)
	ctx := context.Background()
	closed := folder(t, a, "Board papers", store.Access{Kind: store.ForPerson, Subject: admin.ID, MayChange: true})
	fixed := read(t, `{"version":1,"start":"deals","filter":{"field":"status","is":"any_of","values":["won"],"fixed":true},"summaries":[{"key":"n","fn":"count"}]}`)
	r, err := a.Library.KeepNew(ctx, a.View(admin), library.Keep{Title: "Won", Folder: closed, Brief: fixed})
	require.NoError(t, err)

	_, err = a.Library.Report(ctx, a.View(reader), r.ID)
	require.True(t, fault.Is(err, fault.NotFound))
	found, _, err := a.Finder.Find(ctx, a.View(reader), finding.Find{Search: "won", Kind: store.KindReport, Folder: closed})
	require.NoError(t, err)
	require.Empty(t, found)

	item := store.Item{Kind: store.KindReport, Item: r.ID}
	require.True(t, fault.Is(a.Library.Share(ctx, a.View(composer), item, nil, 0), fault.NotFound))
	require.NoError(t, a.Library.Share(ctx, a.View(admin), item, []store.Access{{Kind: store.ForPerson, Subject: reader.ID}}, 0))
	seen, err := a.Library.Report(ctx, a.View(reader), r.ID)
	require.NoError(t, err)
	require.False(t, seen.MayChange)
	require.True(t, seen.Fixed)
	require.Nil(t, seen.Brief.Brief().Filter, "the reader is not told what is fixed")

	all := read(t, `{"version":1,"start":"deals","summaries":[{"key":"n","fn":"count"}]}`)
	held, err := a.Library.Reading(ctx, a.View(reader), r.ID, all)
	require.NoError(t, err)
	whole, err := a.View(reader).Ask(ctx, all)
	require.NoError(t, err)
	part, err := a.View(reader).Ask(ctx, held)
	require.NoError(t, err)
	require.Less(t, part.Result.Records, whole.Result.Records)
	_, err = a.Library.KeepNew(ctx, a.View(composer), library.Keep{Title: "Mine", Folder: closed, Brief: all, From: r.ID})
	require.Error(t, err)
}

// The second of two who change a report is told; what it was can be brought back; what is deleted is found and brought
// back by those who might delete it.
func TestAReportIsChanged(t *testing.T) {
	a, _ := demotest.App(t)
	ctx := context.Background()
	shared := folder(t, a, "For all", store.Access{Kind: store.ForEveryone, MayChange: true})
	r, err := a.Library.KeepNew(ctx, a.View(admin), library.Keep{Title: "Stages", Folder: shared, Brief: read(t, deals)})
	require.NoError(t, err)
	k := library.Keep{Title: "Stages now", Folder: shared, Brief: read(t, `{"version":1,"start":"deals","summaries":[{"key":"n","fn":"count"}]}`), Version: r.Version}
	_, err = a.Library.KeepChanged(ctx, a.View(composer), r.ID, k)
	require.NoError(t, err)
	_, err = a.Library.KeepChanged(ctx, a.View(admin), r.ID, k)
	require.True(t, fault.Is(err, fault.Stale))
	_, err = a.Library.KeepChanged(ctx, a.View(reader), r.ID, k)
	require.True(t, fault.Is(err, fault.Forbidden))

	list, err := a.Library.Versions(ctx, a.View(reader), r.ID)
	require.NoError(t, err)
	require.Len(t, list, 2)
	require.Contains(t, list[0].Change, "named “Stages now”, was “Stages”")
	require.Equal(t, []string{"first kept"}, list[1].Change)
	back, err := a.Library.BringVersionBack(ctx, a.View(composer), r.ID, list[1].Version.Version)
	require.NoError(t, err)
	require.Equal(t, "Stages", back.Title)

	require.NoError(t, a.Library.DeleteReport(ctx, a.View(composer), r.ID))
	_, err = a.Library.Report(ctx, a.View(admin), r.ID)
	require.True(t, fault.Is(err, fault.NotFound))
	gone, _, err := a.Finder.Find(ctx, a.View(composer), finding.Find{Deleted: true})
	require.NoError(t, err)
	require.Len(t, gone, 1)
	require.True(t, fault.Is(a.Finder.BringBack(ctx, a.View(reader), gone[0].Item), fault.Forbidden))
	require.NoError(t, a.Finder.BringBack(ctx, a.View(composer), gone[0].Item))
	_, err = a.Library.Report(ctx, a.View(reader), r.ID)
	require.NoError(t, err)
}

// Nothing of what is kept together stays where one of it fails, and nobody is told of it.
func TestTogetherOrNotAtAll(t *testing.T) {
	a, _ := demotest.App(t)
	ctx := context.Background()
	shared := folder(t, a, "For all", store.Access{Kind: store.ForEveryone, MayChange: true})
	events, leave := a.Feed.Listen()
	defer leave()
	stop := errors.New("stop")
	err := a.Library.Together(ctx, func(ctx context.Context) error {
		_, err := a.Library.KeepNew(ctx, a.View(admin), library.Keep{Title: "Half", Folder: shared, Brief: read(t, deals)})
		require.NoError(t, err)
		return stop
	})
	require.ErrorIs(t, err, stop)
	select {
	case e := <-events:
		require.Fail(t, "told", "%+v", e)
	default:
	}
	found, _, err := a.Finder.Find(ctx, a.View(admin), finding.Find{Folder: shared})
	require.NoError(t, err)
	require.Empty(t, found)
	_, err = a.Library.KeepNew(ctx, a.View(admin), library.Keep{Title: "Whole", Folder: shared, Brief: read(t, deals)})
	require.NoError(t, err)
	require.Equal(t, store.KindReport, (<-events).Kind)
}
