package store_test

import (
	"context"
	"database/sql"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"uzzel/internal/store"
)

// What was deleted can be brought back for a while, then is gone for good, with the panels that showed it.
func TestDeletedLately(t *testing.T) {
	s, _ := open(t)
	ctx := context.Background()
	require.NoError(t, s.PutAccount(ctx, store.Account{Person: 1, Role: "composer", Password: "x"}))
	now := time.Date(2026, 5, 14, 9, 0, 0, 0, time.UTC)
	s.Now = func() time.Time { return now }
	me := store.Viewer{Person: 1}
	folder := store.Folder{Name: "Company", Access: []store.Access{{Kind: store.ForEveryone, MayChange: true}}}
	require.NoError(t, s.AddFolder(ctx, &folder))
	report := func(title string) store.Report {
		r := store.Report{Folder: folder.ID, Owner: 1, Title: title, Brief: "{}", ChangedBy: 1}
		require.NoError(t, s.AddReport(ctx, &r))
		return r
	}
	kept, gone := report("Kept"), report("Gone")
	board := store.Board{Folder: folder.ID, Owner: 1, Title: "Monday", Panels: []store.Panel{{Report: kept.ID, W: 6, H: 9}, {Report: gone.ID, Y: 9, W: 6, H: 9}}}
	require.NoError(t, s.AddBoard(ctx, &board))
	require.NoError(t, s.AddPagePanel(ctx, &store.PagePanel{RecordType: "deals", Report: gone.ID}))

	require.NoError(t, s.DeleteReport(ctx, gone.ID, 1))
	_, err := s.Report(ctx, me, gone.ID)
	require.ErrorIs(t, err, store.ErrNotFound)
	deleted, err := s.DeletedReports(ctx, me)
	require.NoError(t, err)
	require.Len(t, deleted, 1)
	b, err := s.Board(ctx, me, board.ID)
	require.NoError(t, err)
	require.Len(t, b.Panels, 2, "its panel stays, as something that is missing")

	// Its title is free meanwhile; whoever took it keeps it.
	other := report("Gone")
	require.ErrorIs(t, s.BringReportBack(ctx, gone.ID), store.ErrTaken)
	other.Title = "Another"
	require.NoError(t, s.ChangeReport(ctx, &other))
	require.NoError(t, s.BringReportBack(ctx, gone.ID))
	_, err = s.Report(ctx, me, gone.ID)
	require.NoError(t, err)

	require.NoError(t, s.DeleteBoard(ctx, board.ID, 1))
	boards, err := s.DeletedBoards(ctx, me)
	require.NoError(t, err)
	require.Len(t, boards, 1)
	require.NoError(t, s.BringBoardBack(ctx, board.ID))
	_, err = s.Board(ctx, me, board.ID)
	require.NoError(t, err)

	require.NoError(t, s.DeleteReport(ctx, gone.ID, 1))
	now = now.Add(store.KeepDeleted - time.Hour)
	require.NoError(t, s.Purge(ctx))
	deleted, err = s.DeletedReports(ctx, me)
	require.NoError(t, err)
	require.Len(t, deleted, 1, "an hour is left")
	now = now.Add(2 * time.Hour)
	require.NoError(t, s.Purge(ctx))
	deleted, err = s.DeletedReports(ctx, me)
	require.NoError(t, err)
	require.Empty(t, deleted)
	b, err = s.Board(ctx, me, board.ID)
	require.NoError(t, err)
	require.Len(t, b.Panels, 1, "its panel goes with it")
	on, err := s.PagePanels(ctx, me, "deals")
	require.NoError(t, err)
	require.Empty(t, on)
}

// A session lasts until it expires or is ended, and outlives the program.
func TestSessions(t *testing.T) {
	s, path := open(t)
	sessions := s.Sessions()
	require.NoError(t, sessions.Commit("day", []byte("one"), time.Now().Add(time.Hour)))
	require.NoError(t, sessions.Commit("old", []byte("two"), time.Now().Add(-time.Minute)))
	_, found, err := sessions.Find("old")
	require.NoError(t, err)
	require.False(t, found, "expired")
	require.NoError(t, sessions.Commit("day", []byte("three"), time.Now().Add(time.Hour)))
	require.NoError(t, s.Close())

	again, err := store.Open(path)
	require.NoError(t, err)
	defer func() { require.NoError(t, again.Close()) }()
	data, found, err := again.Sessions().Find("day")
	require.NoError(t, err)
	require.True(t, found)
	require.Equal(t, "three", string(data))
	require.NoError(t, again.Sessions().Delete("day"))
	_, found, err = again.Sessions().Find("day")
	require.NoError(t, err)
	require.False(t, found)
}

// A store that is warm has read everything that a question could ask for.
func TestWarm(t *testing.T) {
	s, _ := open(t)
	ctx, stop := context.WithCancel(context.Background())
	stop()
	require.ErrorIs(t, s.Warm(ctx), context.Canceled)
	require.NoError(t, s.Warm(context.Background()))
	require.Equal(t, 4, s.Snapshot().Rows())
}

// A data file with something in it that no value can be says what and where, and is not read as nothing.
func TestUnreadableRecords(t *testing.T) {
	for says, change := range map[string]string{
		"Deals: value is kept as something that is no whole number": `UPDATE deals SET value = 'plenty' WHERE id = 1`,
		"Deals: owner": `UPDATE deals SET owner = 'Maite' WHERE id = 1`,
	} {
		s, path := open(t)
		require.NoError(t, s.Close())
		db, err := sql.Open("sqlite3", path)
		require.NoError(t, err)
		_, err = db.Exec(`PRAGMA ignore_check_constraints = ON; PRAGMA foreign_keys = OFF; ` + change)
		require.NoError(t, err)
		require.NoError(t, db.Close())
		s, err = store.Open(path)
		require.NoError(t, err)
		require.ErrorContains(t, s.Warm(context.Background()), says)
		require.NoError(t, s.Close())
	}
}
