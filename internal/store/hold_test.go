package store_test

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"uzzel/core/schema"
	"uzzel/internal/store"
)

// Changing one field that administrators added leaves the others as they are, and its history has what it was.
func TestAddedFieldsAreChangedSingly(t *testing.T) {
	s, err := store.Open(filepath.Join(t.TempDir(), "added.db"))
	require.NoError(t, err)
	defer func() { require.NoError(t, s.Close()) }()
	ctx := context.Background()
	set := schema.Settings{Timezone: "Europe/Lisbon", Stages: []schema.Stage{{Name: "Enquiry", Status: "open"}},
		Types: map[string]schema.Addition{"deals": {Fields: map[string]schema.AdditionField{"berths": {Kind: schema.Number}, "mood": {Kind: schema.Text}, "due": {Kind: schema.Date}}}}}
	require.NoError(t, s.SetUp(ctx, "Brinehaven Docks", set))
	require.NoError(t, s.Write(ctx, func(w *store.Writer) error {
		return w.Add("deals", []store.Record{{"id": "1", "name": "Gangway", "stage": "Enquiry", "berths": "12", "mood": "good", "due": "2026-06-01"}, {"id": "2", "name": "Quay"}})
	}))
	question := `{"version":1,"start":"deals","columns":[{"field":"berths"},{"field":"mood"},{"field":"due"}],"order":[{"field":"id"}]}`
	for _, step := range []struct {
		id     int64
		change store.Record
		want   [][]string
	}{
		{1, store.Record{"mood": "better"}, [][]string{{"12", "better", "2026-06-01"}, {"", "", ""}}},
		{1, store.Record{"berths": "", "name": "Long gangway"}, [][]string{{"", "better", "2026-06-01"}, {"", "", ""}}},
		{2, store.Record{"berths": "7"}, [][]string{{"", "better", "2026-06-01"}, {"7", "", ""}}},
		{1, store.Record{"due": "2026-07-01"}, [][]string{{"", "better", "2026-07-01"}, {"7", "", ""}}},
	} {
		require.NoError(t, s.Write(ctx, func(w *store.Writer) error { return w.Change("deals", step.id, step.change) }))
		require.Equal(t, step.want, rows(t, s, question))
	}
	again, err := store.Open(s.Path())
	require.NoError(t, err)
	require.Equal(t, [][]string{{"", "better", "2026-07-01"}, {"7", "", ""}}, rows(t, again, question), "and in the file")
	require.NoError(t, again.Close())
	require.Equal(t, [][]string{{"mood", "good", "better"}, {"berths", "12", ""}, {"name", "Gangway", "Long gangway"}, {"berths", "", "7"}, {"due", "2026-06-01", "2026-07-01"}},
		sorted(rows(t, s, `{"version":1,"start":"changes","columns":[{"field":"field"},{"field":"from"},{"field":"to"}],"order":[{"field":"at"},{"field":"id"}]}`)))
}

// sorted puts the two changes of one moment in one order.
func sorted(list [][]string) [][]string {
	if len(list) > 2 && list[1][0] == "name" {
		list[1], list[2] = list[2], list[1]
	}
	return list
}

// What is kept together is kept as a whole, or not at all.
func TestTogether(t *testing.T) {
	s, _ := open(t)
	ctx := context.Background()
	require.NoError(t, s.PutAccount(ctx, store.Account{Person: 1, Role: "composer", Password: "x"}))
	me := store.Viewer{Person: 1}
	folders, err := s.Folders(ctx, me)
	require.NoError(t, err)
	enough := errors.New("enough")
	report := func(ctx context.Context, title string) error {
		return s.AddReport(ctx, &store.Report{Folder: folders[0].ID, Owner: 1, Title: title, Brief: "{}", ChangedBy: 1})
	}
	err = s.Together(ctx, func(ctx context.Context) error {
		require.NoError(t, report(ctx, "One"))
		list, err := s.Reports(ctx, me)
		require.NoError(t, err)
		require.Len(t, list, 1, "within, it is seen")
		require.ErrorIs(t, report(ctx, "one"), store.ErrTaken)
		return enough
	})
	require.ErrorIs(t, err, enough)
	list, err := s.Reports(ctx, me)
	require.NoError(t, err)
	require.Empty(t, list)
	require.NoError(t, s.Together(ctx, func(ctx context.Context) error { return errors.Join(report(ctx, "One"), report(ctx, "Two")) }))
	list, err = s.Reports(ctx, me)
	require.NoError(t, err)
	require.Len(t, list, 2)
	// What is saved into a folder that was taken away meanwhile is told so.
	require.ErrorIs(t, s.AddReport(ctx, &store.Report{Folder: 999, Owner: 1, Title: "Three", Brief: "{}", ChangedBy: 1}), store.ErrGone)
}

// A data file has one server; who only reads or writes it for a moment needs no leave.
func TestOneServerAFile(t *testing.T) {
	path := filepath.Join(t.TempDir(), "one.db")
	release, err := store.Serve(path)
	require.NoError(t, err)
	_, err = store.Serve(path)
	require.ErrorIs(t, err, store.ErrServed)
	require.ErrorContains(t, err, "stop it first")
	s, err := store.Open(path)
	require.NoError(t, err)
	require.NoError(t, s.Close())
	require.NoError(t, release())
	release, err = store.Serve(path)
	require.NoError(t, err)
	require.NoError(t, release())
}

// A full disk, a damaged file and one that may not be read are told apart in words, and a full disk is over when there
// is room again.
func TestTroublesOfTheFile(t *testing.T) {
	s, _ := open(t)
	ctx := context.Background()
	require.NoError(t, s.Ready(ctx))
	require.NoError(t, s.PutAccount(ctx, store.Account{Person: 1, Role: "composer", Password: "x"}))
	require.NoError(t, s.Exec("PRAGMA max_page_count = 1")) // as many as there are
	fill := func() error {
		return s.SetPreference(ctx, "large", strings.Repeat("x", 4<<20), store.Unchecked)
	}
	err := fill()
	require.Error(t, err)
	require.Equal(t, store.ErrFull, store.Trouble(err))
	require.ErrorIs(t, s.Ready(ctx), store.ErrFull)
	err = s.Write(ctx, func(w *store.Writer) error {
		return w.Change("deals", 1, store.Record{"name": strings.Repeat("y", 4<<20)})
	})
	require.Equal(t, store.ErrFull, store.Trouble(err))
	require.Equal(t, [][]string{{"Gangway"}}, rows(t, s, `{"version":1,"start":"deals","columns":[{"field":"name"}],"limit":1}`), "what could not be written is not shown as if it were")
	require.NoError(t, s.Exec("PRAGMA max_page_count = 1000000"))
	require.NoError(t, fill())
	require.NoError(t, s.PutAccount(ctx, store.Account{Person: 2, Role: "reader", Password: "x"}))
	require.NoError(t, s.Ready(ctx))

	path := filepath.Join(t.TempDir(), "damaged.db")
	require.NoError(t, os.WriteFile(path, []byte(strings.Repeat("this is no data file. ", 500)), 0o600))
	_, err = store.Open(path)
	require.ErrorIs(t, err, store.ErrDamaged)
	require.ErrorContains(t, err, "damaged")
	require.Nil(t, store.Trouble(fmt.Errorf("else")))
	require.Nil(t, store.Trouble(nil))
}

// A page of the file that is overwritten is found by the look over it.
func TestSound(t *testing.T) {
	s, path := open(t)
	ctx := context.Background()
	var many []store.Record
	for i := range 3000 {
		many = append(many, store.Record{"id": fmt.Sprint(1000 + i), "name": fmt.Sprintf("Deal %d", i)})
	}
	require.NoError(t, s.Write(ctx, func(w *store.Writer) error { return w.Add("deals", many) }))
	faults, err := s.Sound(ctx)
	require.NoError(t, err)
	require.Empty(t, faults)
	require.NoError(t, s.Close())
	data, err := os.ReadFile(path)
	require.NoError(t, err)
	for at := len(data) / 2 &^ 4095; at < len(data)-4096; at += 8192 {
		copy(data[at:], strings.Repeat("\x00\xff", 2048))
	}
	require.NoError(t, os.WriteFile(path, data, 0o600))
	s, err = store.Open(path)
	if err != nil {
		require.ErrorIs(t, err, store.ErrDamaged)
		return
	}
	faults, err = s.Sound(ctx)
	require.True(t, err != nil || len(faults) > 0)
	require.NoError(t, s.Close())
}

// Where the columns cannot follow a write, the write holds all the same, and the columns are read anew at the next
// look.
func TestColumnsCatchUp(t *testing.T) {
	s, _ := open(t)
	ctx, stop := context.WithCancel(context.Background())
	defer stop()
	require.Equal(t, [][]string{{"Gangway"}}, rows(t, s, `{"version":1,"start":"deals","columns":[{"field":"name"}],"limit":1}`))
	var told error
	s.Failed = func(err error) { told = err }
	require.NoError(t, s.Write(ctx, func(w *store.Writer) error {
		require.NoError(t, w.Change("deals", 1, store.Record{"name": "Walkway"}))
		w.Spoil() // something that the columns have no place for
		return nil
	}))
	require.Error(t, told)
	require.Equal(t, [][]string{{"Walkway"}}, rows(t, s, `{"version":1,"start":"deals","columns":[{"field":"name"}],"limit":1}`))
	changed := make(chan bool, 10)
	go s.Follow(ctx, time.Millisecond, func() { changed <- true }, func(err error) { t.Error(err) })
	s.FallBehind()
	select {
	case <-changed:
	case <-time.After(5 * time.Second):
		t.Fatal("the columns were not read anew")
	}
}
