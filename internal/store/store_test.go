package store_test

import (
	"context"
	"database/sql"
	"fmt"
	"path/filepath"
	"strconv"
	"testing"
	"time"

	_ "github.com/mattn/go-sqlite3"
	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/engine"
	"uzzel/core/schema"
	"uzzel/internal/store"
)

func open(t *testing.T) (*store.Store, string) {
	t.Helper()
	path := filepath.Join(t.TempDir(), "data.db")
	s, err := store.Open(path)
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	require.NoError(t, s.SetUp(context.Background(), "Brinehaven Docks", schema.Settings{Timezone: "Europe/Lisbon",
		Stages: []schema.Stage{{Name: "Enquiry", Status: "open"}, {Name: "Ordered", Status: "won"}},
		Types:  map[string]schema.Addition{"deals": {Fields: map[string]schema.AdditionField{"hull": {Kind: schema.Number}}}}}))
	require.NoError(t, s.Write(context.Background(), func(w *store.Writer) error {
		if err := w.Add("people", []store.Record{{"id": "1", "name": "Maite Corrie", "active": "true"}, {"id": "2", "name": "Runa Kestle"}}); err != nil {
			return err
		}
		return w.Add("deals", []store.Record{{"id": "1", "name": "Gangway", "owner": "1", "stage": "Enquiry", "value": "1250.50", "expected_close": "2026-05-31", "hull": "12.5"}, {"id": "2", "name": "Pontoon"}})
	}))
	return s, path
}

func rows(t *testing.T, s *store.Store, text string) [][]string {
	t.Helper()
	b, err := brief.Decode([]byte(text))
	require.NoError(t, err)
	bound, err := brief.Bind(b, s.Schema())
	require.NoError(t, err)
	l, err := engine.List(context.Background(), s.Snapshot(), bound, engine.Options{Today: 20587})
	require.NoError(t, err)
	lines, err := l.Lines(context.Background())
	require.NoError(t, err)
	return lines.Rows
}

// Records come back as they were written, added fields included.
func TestRecordsRoundTrip(t *testing.T) {
	s, path := open(t)
	question := `{"version":1,"start":"deals","columns":[{"field":"name"},{"field":"owner.name"},{"field":"value"},{"field":"expected_close"},{"field":"status"},{"field":"hull"}]}`
	want := [][]string{{"Gangway", "Maite Corrie", "1250.50", "2026-05-31", "open", "12.5"}, {"Pontoon", "", "", "", "", ""}}
	require.Equal(t, want, rows(t, s, question))
	require.NoError(t, s.Close())
	again, err := store.Open(path)
	require.NoError(t, err)
	defer func() { require.NoError(t, again.Close()) }()
	require.Equal(t, want, rows(t, again, question))
}

// A large table is read in chunks whose values are adjacent; texts that hold the separator, empties and negative
// amounts come back as they were written, on both sides of a chunk's end.
func TestLoadingInChunks(t *testing.T) {
	s, path := open(t)
	const n = 33_000
	name := func(i int) string {
		switch {
		case i%7 == 0:
			return ""
		case i == 20_000:
			return "Berth\x1f\x1fno. 4"
		}
		return "Berth, \"no.\" " + strconv.Itoa(i) + "\n"
	}
	require.NoError(t, s.Write(context.Background(), func(w *store.Writer) error {
		i := 100
		return w.Bulk("deals", []string{"id", "name", "value", "owner"}, func() []any {
			if i++; i > n {
				return nil
			}
			if i%5 == 0 {
				return []any{2 * i, nil, nil, 1}
			}
			return []any{2 * i, null(name(i)), -int64(i) * 5, nil}
		})
	}))
	require.NoError(t, s.Close())
	again, err := store.Open(path)
	require.NoError(t, err)
	defer func() { require.NoError(t, again.Close()) }()
	list := rows(t, again, `{"version":1,"start":"deals","columns":[{"field":"id"},{"field":"name"},{"field":"value"},{"field":"owner"}]}`)
	require.Len(t, list, n-100+2)
	for k, row := range list[2:] {
		i := k + 101
		want := []string{strconv.Itoa(2 * i), name(i), fmt.Sprintf("-%d.%02d", i*5/100, i*5%100), ""}
		if i%5 == 0 {
			want = []string{strconv.Itoa(2 * i), "", "", "1"}
		}
		require.Equal(t, want, row)
	}
}

func null(s string) any {
	if s == "" {
		return nil
	}
	return s
}

// Every change of a field is kept with what it was, and reports see the record as it is now.
func TestChangesAreKept(t *testing.T) {
	s, _ := open(t)
	ctx := context.Background()
	require.NoError(t, s.Write(ctx, func(w *store.Writer) error {
		w.At, w.Person = time.Date(2026, 5, 12, 10, 0, 0, 0, time.UTC).Unix(), 2
		return w.Change("deals", 1, store.Record{"stage": "Ordered", "value": "1250.50", "owner": "2", "expected_close": ""})
	}))
	require.Equal(t, [][]string{{"Ordered", "won", "Runa Kestle", "", "2026-05-12", "2", "Runa Kestle"}},
		rows(t, s, `{"version":1,"start":"deals","filter":{"field":"id","is":"any_of","values":["1"]},"columns":[{"field":"stage"},{"field":"status"},{"field":"owner.name"},{"field":"expected_close"},{"field":"stage_since"},{"field":"days_in_stage"},{"field":"changed_by.name"}]}`))
	require.Equal(t, [][]string{{"1", "expected_close", "2026-05-31", "", "2"}, {"1", "owner", "1", "2", "2"}, {"1", "stage", "Enquiry", "Ordered", "2"}},
		rows(t, s, `{"version":1,"start":"changes","columns":[{"field":"deal"},{"field":"field"},{"field":"from"},{"field":"to"},{"field":"person"}],"order":[{"field":"field"}]}`),
		"a value that stays as it is is no change")
}

// A transaction that fails leaves neither the change nor its history.
func TestFailedWriteLeavesNothing(t *testing.T) {
	s, _ := open(t)
	err := s.Write(context.Background(), func(w *store.Writer) error {
		if err := w.Change("deals", 1, store.Record{"name": "Other"}); err != nil {
			return err
		}
		return w.Change("deals", 99, store.Record{"name": "Nothing"})
	})
	require.ErrorIs(t, err, store.ErrNotFound)
	require.Equal(t, [][]string{{"1", "Gangway"}, {"2", "Pontoon"}}, rows(t, s, `{"version":1,"start":"deals"}`))
	require.Empty(t, rows(t, s, `{"version":1,"start":"changes"}`))
}

// Columns that follow writes are the same as columns read anew, whatever was loaded before; older snapshots stay as
// they were.
func TestColumnsFollowWrites(t *testing.T) {
	s, path := open(t)
	ctx := context.Background()
	questions := []string{
		`{"version":1,"start":"deals","columns":[{"field":"id"},{"field":"name"},{"field":"owner.name"},{"field":"stage"},{"field":"status"},{"field":"value"},{"field":"weighted"},{"field":"cycle_days"},{"field":"stage_since"},{"field":"created"},{"field":"changed"},{"field":"changed_by.name"},{"field":"customer.name"}]}`,
		`{"version":1,"start":"changes","columns":[{"field":"id"},{"field":"deal.name"},{"field":"field"},{"field":"from"},{"field":"to"},{"field":"at"},{"field":"person.name"}]}`,
		`{"version":1,"start":"people","own":[{"key":"n","linked":{"link":"deals","fn":"count"}},{"key":"v","linked":{"link":"deals","fn":"sum","of":"value"}}],"columns":[{"field":"name"},{"field":"own.n"},{"field":"own.v"}]}`,
		`{"version":1,"start":"customers","own":[{"key":"n","linked":{"link":"deals","fn":"count"}}],"columns":[{"field":"name"},{"field":"top.name"},{"field":"parent.name"},{"field":"own.n"}]}`,
		`{"version":1,"start":"deals","own":[{"key":"n","linked":{"link":"changes","fn":"count"}}],"columns":[{"field":"own.n"}]}`,
	}
	writes := []func(w *store.Writer) error{
		func(w *store.Writer) error {
			return w.Add("customers", []store.Record{{"id": "1", "name": "Eiderport"}, {"id": "2", "name": "Kelpwick", "parent": "1"}})
		},
		func(w *store.Writer) error {
			w.Person = 2
			return w.Change("deals", 1, store.Record{"stage": "Ordered", "likelihood": "40", "closed": "2026-06-01", "customer": "2"})
		},
		func(w *store.Writer) error {
			return w.Add("deals", []store.Record{{"id": "3", "name": "Quay", "owner": "2", "customer": "1", "stage": "Enquiry", "value": "-5"}})
		},
		func(w *store.Writer) error {
			if err := w.Change("deals", 3, store.Record{"owner": "1", "stage": "Ordered"}); err != nil {
				return err
			}
			return w.Change("customers", 1, store.Record{"parent": "2"})
		},
		func(w *store.Writer) error {
			return w.Change("deals", 2, store.Record{"name": "", "value": "123456789.01"})
		},
		func(w *store.Writer) error { // more than fits into one piece of a column, some of it twice
			var list []store.Record
			for i := range 4200 {
				list = append(list, store.Record{"id": strconv.Itoa(10 + i), "name": "Buoy", "owner": "1", "stage": "Enquiry", "value": "7"})
			}
			if err := w.Add("deals", list); err != nil {
				return err
			}
			for i := range 4200 {
				if err := w.Change("deals", int64(10+i), store.Record{"name": "Buoy " + strconv.Itoa(i%7), "owner": strconv.Itoa(1 + i%2),
					"stage": []string{"Ordered", "Enquiry", "Design"}[i%3], "value": strconv.Itoa(i) + ".05", "customer": strconv.Itoa(1 + i%2)}); err != nil {
					return err
				}
			}
			return w.Change("deals", 10, store.Record{"value": "-123456789012.01", "closed": "2026-06-01"})
		},
		func(w *store.Writer) error { // taken away: first, last and between, with what links to them and what they link to
			for _, id := range []int64{1, 12, 13, 900, 4209} {
				if err := w.Delete("deals", id, "Buoy"); err != nil {
					return err
				}
			}
			return w.Delete("customers", 1, "Eiderport")
		},
		func(w *store.Writer) error {
			if err := w.Change("deals", 900+1, store.Record{"stage": "Design", "customer": "2"}); err != nil {
				return err
			}
			return w.Delete("people", 2, "Runa Kestle")
		},
		func(w *store.Writer) error {
			if err := w.BringBack("deals", 900); err != nil {
				return err
			}
			return w.BringBack("deals", 1)
		},
		func(w *store.Writer) error { // together, in another order than theirs; a new one comes after them
			for _, id := range []int64{4209, 12} {
				if err := w.BringBack("deals", id); err != nil {
					return err
				}
			}
			if err := w.BringBack("customers", 1); err != nil {
				return err
			}
			if err := w.BringBack("people", 2); err != nil {
				return err
			}
			return w.Delete("customers", 2, "Kelpwick")
		},
		func(w *store.Writer) error {
			return w.Add("deals", []store.Record{{"id": "5000", "name": "Mole", "customer": "1"}})
		},
		func(w *store.Writer) error { return w.BringBack("customers", 2) },
	}
	failed := false
	s.Failed = func(err error) { failed = failed || err != nil }
	for i, write := range writes {
		if i%2 == 0 { // loaded before some writes, not before others
			for _, q := range questions {
				rows(t, s, q)
			}
		}
		before := s.Snapshot()
		n, err := before.Table("deals")
		require.NoError(t, err)
		held := n.N
		require.NoError(t, s.Write(ctx, write))
		require.Equal(t, held, n.N, "an older snapshot stays as it was")
		fresh, err := store.Open(path)
		require.NoError(t, err)
		for _, q := range questions {
			require.Equal(t, rows(t, fresh, q), rows(t, s, q), "write %d: %s", i, q)
		}
		require.False(t, failed, "columns that are read anew have not followed")
		require.NoError(t, fresh.Close())
	}
}

func TestTitlesAndVersions(t *testing.T) {
	s, _ := open(t)
	ctx := context.Background()
	require.NoError(t, s.PutAccount(ctx, store.Account{Person: 1, Role: "composer", Password: "x"}))
	require.NoError(t, s.PutAccount(ctx, store.Account{Person: 2, Role: "composer", Password: "x"}))
	open := []store.Access{{Kind: store.ForEveryone, MayChange: true}}
	shared := store.Folder{Name: "Company", Access: open}
	err := s.AddFolder(ctx, &shared)
	require.NoError(t, err)
	err = s.AddFolder(ctx, &store.Folder{Name: "COMPANY", Access: open})
	require.ErrorIs(t, err, store.ErrTaken)
	mine, err := s.Folders(ctx, store.Viewer{Person: 1})
	require.NoError(t, err)
	require.Len(t, mine, 2)

	r := store.Report{Folder: shared.ID, Owner: 1, Title: "Straße  open", Brief: "{}", ChangedBy: 1}
	require.NoError(t, s.AddReport(ctx, &r))
	require.ErrorIs(t, s.AddReport(ctx, &store.Report{Folder: shared.ID, Owner: 2, Title: "STRASSE open", Brief: "{}", ChangedBy: 2}), store.ErrTaken)
	private := store.Report{Folder: mine[0].ID, Owner: 1, Title: "Straße open", Brief: "{}", ChangedBy: 1}
	require.NoError(t, s.AddReport(ctx, &private))
	_, err = s.Report(ctx, store.Viewer{Person: 2}, private.ID)
	require.ErrorIs(t, err, store.ErrNotFound, "private is one's own")

	late := r
	r.Description = "first"
	require.NoError(t, s.ChangeReport(ctx, &r))
	require.Equal(t, 2, r.Version)
	require.ErrorIs(t, s.ChangeReport(ctx, &late), store.ErrStale)

	b := store.Board{Folder: shared.ID, Owner: 1, Title: "Monday", Panels: []store.Panel{{Report: r.ID, W: 6, H: 9}}}
	require.NoError(t, s.AddBoard(ctx, &b))
	b.Panels = []store.Panel{{Report: r.ID, X: 6, W: 6, H: 9}, {Report: r.ID, W: 6, H: 9}}
	require.NoError(t, s.ChangeBoard(ctx, &b))
	got, err := s.Board(ctx, store.Viewer{Person: 2}, b.ID)
	require.NoError(t, err)
	require.Len(t, got.Panels, 2)
	require.Equal(t, 0, got.Panels[0].X, "panels come in reading order")
}

func TestOpenExplains(t *testing.T) {
	s, path := open(t)
	require.NoError(t, s.Close())
	db, err := sql.Open("sqlite3", path)
	require.NoError(t, err)
	defer func() { require.NoError(t, db.Close()) }()
	_, err = db.Exec("INSERT INTO migrations (id) VALUES ('9999_later')")
	require.NoError(t, err)
	_, err = store.Open(path)
	require.ErrorIs(t, err, store.ErrNewer)
	_, err = db.Exec("DELETE FROM migrations WHERE id = '9999_later'")
	require.NoError(t, err)
	_, err = db.Exec("PRAGMA locking_mode = EXCLUSIVE")
	require.NoError(t, err)
	_, err = db.Exec("BEGIN EXCLUSIVE")
	require.NoError(t, err)
	_, err = store.Open(path)
	require.ErrorIs(t, err, store.ErrLocked)
}

// What another program writes to the file is seen without a restart.
func TestFollowsOtherPrograms(t *testing.T) {
	s, path := open(t)
	question := `{"version":1,"start":"deals","columns":[{"field":"name"}],"limit":1}`
	require.Equal(t, [][]string{{"Gangway"}}, rows(t, s, question))
	ctx, stop := context.WithCancel(context.Background())
	defer stop()
	go s.Follow(ctx, 10*time.Millisecond, nil, func(err error) { t.Error(err) })
	time.Sleep(50 * time.Millisecond)
	other, err := sql.Open("sqlite3", path)
	require.NoError(t, err)
	defer func() { _ = other.Close() }()
	_, err = other.Exec("UPDATE deals SET name = 'Walkway' WHERE id = 1")
	require.NoError(t, err)
	require.Eventually(t, func() bool { return rows(t, s, question)[0][0] == "Walkway" }, 5*time.Second, 20*time.Millisecond)
}
