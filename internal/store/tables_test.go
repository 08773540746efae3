package store_test

import (
	"context"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/schema"
	"uzzel/internal/store"
)

// A file whose fields of the organisation's own were kept as JSON has them in columns once it is opened: in records, and
// in those that were deleted and are brought back.
func TestJSONIntoColumns(t *testing.T) {
	path := filepath.Join(t.TempDir(), "old.db")
	set := `{"types":{"deals":{"fields":{"length":{"label":"Length","kind":"number"},"hull":{"label":"Hull","kind":"choice"}}}}}`
	store.WriteOld(t, path, set,
		`INSERT INTO deals (id, name, value, added) VALUES (1, 'Quay', 10050, '{"length":"12.5","hull":"Steel"}'), (2, 'Jetty', NULL, NULL)`,
		`INSERT INTO deleted_records (record_type, record, name, row, deleted) VALUES ('deals', 3, 'Pier', '{"id":3,"name":"Pier","added":"{\"length\":\"7\",\"gone\":\"x\"}"}', 1)`,
	)
	s, err := store.Open(path)
	require.NoError(t, err)
	defer func() { require.NoError(t, s.Close()) }()
	require.NoError(t, s.Write(context.Background(), func(w *store.Writer) error { return w.BringBack("deals", 3) }))
	got, err := s.ReadRecords(context.Background(), "deals", []int64{1, 2, 3})
	require.NoError(t, err)
	require.Equal(t, store.Record{"id": "1", "name": "Quay", "value": "100.50", "length": "12.5", "hull": "Steel"}, got[1])
	require.Equal(t, store.Record{"id": "2", "name": "Jetty"}, got[2])
	require.Equal(t, store.Record{"id": "3", "name": "Pier", "length": "7"}, got[3])
	c, err := s.Snapshot().Column("deals", "length")
	require.NoError(t, err)
	table, err := s.Snapshot().Table("deals")
	require.NoError(t, err)
	require.Equal(t, "7", s.Snapshot().Text(c, c.At(table.IDs.Row("3")), table))
}

// A record type of the organisation's own has a table of its own, whatever it is called; what is taken out of the settings
// goes with all that it held, and what comes back later begins empty.
func TestOwnTables(t *testing.T) {
	ctx := context.Background()
	s, err := store.Open(filepath.Join(t.TempDir(), "own.db"))
	require.NoError(t, err)
	defer func() { require.NoError(t, s.Close()) }()
	with := schema.Settings{Types: map[string]schema.Addition{"reports": {Label: "Reports", One: "report", Fields: map[string]schema.AdditionField{
		"name": {Kind: schema.Text}, "customer": {Kind: schema.Link, To: "customers"}, "depth": {Kind: schema.Number, Unique: true}}}}}
	require.NoError(t, s.SetUp(ctx, "Docks", with))
	require.NoError(t, s.Write(ctx, func(w *store.Writer) error {
		if err := w.Add("customers", []store.Record{{"id": "1", "name": "Tern"}}); err != nil {
			return err
		}
		return w.Add("reports", []store.Record{{"id": "1", "name": "B1", "customer": "1", "depth": "4.5"}, {"id": "2", "name": "B2"}})
	}))
	require.NoError(t, s.Write(ctx, func(w *store.Writer) error {
		holder, err := w.Holder("reports", "depth", "4.5", 2)
		require.NoError(t, err)
		require.EqualValues(t, 1, holder)
		holder, err = w.Holder("reports", "depth", "4.5", 1)
		require.NoError(t, err)
		require.Zero(t, holder)
		require.NoError(t, w.Change("reports", 2, store.Record{"depth": "3"}))
		return w.Delete("reports", 1, "B1")
	}))
	table, err := s.Snapshot().Table("reports")
	require.NoError(t, err)
	require.Equal(t, 1, table.N)
	kept, err := s.Reports(ctx, store.Viewer{})
	require.NoError(t, err, "reports that people keep are no records")
	require.Empty(t, kept)

	without := schema.Settings{Types: map[string]schema.Addition{"reports": {Label: "Reports", One: "report", Fields: map[string]schema.AdditionField{
		"name": {Kind: schema.Text}, "depth": {Kind: schema.Text}}}}}
	require.NoError(t, s.SetUp(ctx, "Docks", without))
	got, err := s.ReadRecord(ctx, "reports", 2)
	require.NoError(t, err)
	require.Equal(t, store.Record{"id": "2", "name": "B2"}, store.Record{"id": got["id"], "name": got["name"]})
	require.Empty(t, got["depth"], "as another kind it begins empty")
	require.NoError(t, s.SetUp(ctx, "Docks", schema.Settings{}))
	require.NoError(t, s.SetUp(ctx, "Docks", with))
	table, err = s.Snapshot().Table("reports")
	require.NoError(t, err)
	require.Zero(t, table.N)
	list, err := s.DeletedRecords(ctx, "reports", 10)
	require.NoError(t, err)
	require.Empty(t, list)
}
