// Package transfer takes an organisation out of a data file whole, as a folder of CSV with its settings (docs/brief.md,
// "Running one without the interface"), and brings one in again.
package transfer

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strconv"

	"uzzel/core/column"
	"uzzel/core/result"
	"uzzel/core/schema"
	"uzzel/internal/exchange"
	"uzzel/internal/store"
)

// Counted is how many records of a type were moved.
type Counted struct {
	Type string
	N    int
}

// settings are those of the folder, with the organisation's name.
type settings struct {
	Name string `json:"name,omitempty"`
	schema.Settings
}

// Out writes all records and settings of a store into a folder, which is made or is empty. Each file is whole: it has its
// name once it is written.
func Out(ctx context.Context, s *store.Store, dir string) ([]Counted, error) {
	if err := os.MkdirAll(dir, 0o750); err != nil {
		return nil, err
	}
	there, err := os.ReadDir(dir)
	if err != nil {
		return nil, err
	}
	if len(there) > 0 {
		return nil, fmt.Errorf("%s is not empty; name a folder that is, or that is not there yet", dir)
	}
	name, err := s.Organisation(ctx)
	if err != nil {
		return nil, err
	}
	snap := s.Snapshot()
	var counts []Counted
	for _, t := range snap.Schema.Types {
		table, n, err := kept(ctx, snap, t)
		if err != nil {
			return counts, err
		}
		if err := write(filepath.Join(dir, t.Key+".csv"), table); err != nil {
			return counts, err
		}
		counts = append(counts, Counted{t.Key, n})
		gone, n, err := deleted(snap, t)
		if err != nil {
			return counts, err
		}
		if n > 0 {
			if err := write(filepath.Join(dir, t.Key+".deleted.csv"), gone); err != nil {
				return counts, err
			}
		}
	}
	text, err := json.MarshalIndent(settings{name, snap.Schema.Settings}, "", "  ")
	if err != nil {
		return counts, err
	}
	return counts, os.WriteFile(filepath.Join(dir, "settings.json"), append(text, '\n'), 0o600)
}

// kept is a type's records as they are kept, without what is worked out.
func kept(ctx context.Context, snap *column.Snapshot, t *schema.Type) (result.Table, int, error) {
	var out result.Table
	table, err := snap.Table(t.Key)
	if err != nil {
		return out, 0, err
	}
	var cols []*column.Column
	for i := range t.Fields {
		f := &t.Fields[i]
		if f.Worked != nil {
			continue
		}
		c, err := snap.Column(t.Key, f.Key)
		if err != nil {
			return out, 0, err
		}
		out.Header, cols = append(out.Header, f.Key), append(cols, c)
	}
	out.Rows = func(yield func(result.Line, error) bool) {
		for row := range int32(table.N) {
			if row%10_000 == 0 && ctx.Err() != nil {
				yield(result.Line{}, ctx.Err())
				return
			}
			cells := make([]string, len(cols))
			for i, c := range cols {
				cells[i] = snap.Text(c, c.At(row), table)
			}
			if !yield(result.Line{Cells: cells}, nil) {
				return
			}
		}
	}
	return out, table.N, nil
}

// deleted is what was deleted of a type and can be brought back, with its last values.
func deleted(snap *column.Snapshot, t *schema.Type) (result.Table, int, error) {
	var out result.Table
	table, err := snap.Deleted(t.Key)
	if err != nil || table == nil {
		return out, 0, err
	}
	var fields []*schema.Field
	for i := range t.Fields {
		if f := &t.Fields[i]; f.Worked == nil {
			out.Header, fields = append(out.Header, f.Key), append(fields, f)
		}
	}
	out.Rows = func(yield func(result.Line, error) bool) {
		for row := range int32(table.N) {
			cells := make([]string, len(fields))
			for i, f := range fields {
				cells[i] = table.Last(snap, f.Key, row)
			}
			if !yield(result.Line{Cells: cells}, nil) {
				return
			}
		}
	}
	return out, table.N, nil
}

// putDeleted keeps what was deleted of a type in a store that has nothing of it, with the moment that the history says.
func putDeleted(w *store.Writer, from *column.Snapshot, t *schema.Type) error {
	table, err := from.Deleted(t.Key)
	if err != nil || table == nil {
		return err
	}
	at := map[string]int64{}
	if err := from.Deletions(t.Key, func(id string, moment int64) { at[id] = max(at[id], moment) }); err != nil {
		return err
	}
	for row := range int32(table.N) {
		id, err := strconv.ParseInt(table.IDs.At(row), 10, 64)
		if err != nil {
			return fmt.Errorf("the id %s is no whole number, which a data file needs", table.IDs.At(row))
		}
		values, name := store.Record{}, ""
		for i := range t.Fields {
			f := &t.Fields[i]
			if f.Worked != nil || f.Kind == schema.ID {
				continue
			}
			if text := table.Last(from, f.Key, row); text != "" {
				values[f.Key] = text
			}
			if f.Key == t.Name {
				name = values[f.Key]
			}
		}
		if at[table.IDs.At(row)] == 0 {
			at[table.IDs.At(row)] = w.At
		}
		if err := w.PutDeleted(t.Key, id, name, values, at[table.IDs.At(row)]); err != nil {
			return err
		}
	}
	return nil
}

func write(path string, t result.Table) (err error) {
	tmp := path + ".part"
	f, err := os.OpenFile(tmp, os.O_CREATE|os.O_WRONLY|os.O_TRUNC, 0o600)
	if err != nil {
		return err
	}
	_, err = exchange.WriteCSV(f, t, false)
	if err = errors.Join(err, f.Close()); err != nil {
		return errors.Join(err, os.Remove(tmp))
	}
	return os.Rename(tmp, path)
}

// ErrInUse says that a data file has records already.
var ErrInUse = errors.New("the data file holds records already; name one that is new, or empty")

// In brings the records and settings of a folder into a store that has no records, all of them or none. Lines that cannot
// be read are refused with file, line, column and reason.
func In(ctx context.Context, s *store.Store, dir string) ([]Counted, error) {
	snap := s.Snapshot()
	for _, t := range snap.Schema.Types {
		if t.Readers { // people who look after the file may be there
			continue
		}
		table, err := snap.Table(t.Key)
		if err != nil {
			return nil, err
		}
		if table.N > 0 {
			return nil, ErrInUse
		}
	}
	set, err := read(dir)
	if err != nil {
		return nil, err
	}
	sch, err := schema.New(set.Settings)
	if err != nil {
		return nil, err
	}
	// All of it is read, and refused where it must be, before anything is written.
	from := column.NewSnapshot(sch, exchange.Folder{Dir: dir})
	var counts []Counted
	for _, t := range sch.Types {
		table, err := from.Table(t.Key)
		if err != nil {
			return nil, err
		}
		for row := range int32(table.N) {
			if _, err := strconv.ParseInt(table.IDs.At(row), 10, 64); err != nil {
				return nil, fmt.Errorf("%s.csv: the id %s is no whole number, which a data file needs", t.Key, table.IDs.At(row))
			}
		}
		counts = append(counts, Counted{t.Key, table.N})
	}
	was, err := s.Organisation(ctx)
	if err != nil {
		return nil, err
	}
	if set.Name == "" {
		set.Name = was
	}
	if set.Name == "" {
		set.Name = filepath.Base(dir)
	}
	if err := s.SetUp(ctx, set.Name, set.Settings); err != nil {
		return nil, err
	}
	return counts, s.Write(ctx, func(w *store.Writer) error {
		for _, t := range sch.Types {
			if err := bulk(ctx, w, from, t); err != nil {
				return fmt.Errorf("%s.csv: %w", t.Key, err)
			}
			if err := putDeleted(w, from, t); err != nil {
				return fmt.Errorf("%s.deleted.csv: %w", t.Key, err)
			}
		}
		return ctx.Err()
	})
}

// read reads settings.json; a folder without one has the defaults.
func read(dir string) (settings, error) {
	var set settings
	plain, err := exchange.Folder{Dir: dir}.Settings()
	if err != nil {
		return set, err
	}
	set.Settings = plain
	data, err := os.ReadFile(filepath.Join(dir, "settings.json"))
	if errors.Is(err, os.ErrNotExist) {
		return set, nil
	}
	var named struct{ Name string }
	if err == nil {
		err = json.Unmarshal(data, &named)
	}
	set.Name = named.Name
	return set, err
}

// bulk writes the records of a type as their columns have them.
func bulk(ctx context.Context, w *store.Writer, from *column.Snapshot, t *schema.Type) error {
	table, err := from.Table(t.Key)
	if err != nil || table.N == 0 {
		return err
	}
	var names []string
	var values []func(row int32) any
	for i := range t.Fields {
		f := &t.Fields[i]
		if f.Worked != nil || (t.History && f.Kind == schema.Link && f.Key != "person") {
			continue // a change's record says which one it is of
		}
		c, err := from.Column(t.Key, f.Key)
		if err != nil {
			return err
		}
		names = append(names, f.Key)
		values = append(values, func(row int32) any {
			v := c.At(row)
			switch {
			case v == column.Null:
				return nil
			case f.Kind.Coded():
				return from.Text(c, c.At(row), table)
			case f.Kind == schema.ID || f.Kind == schema.Link:
				n, _ := strconv.ParseInt(from.Text(c, c.At(row), table), 10, 64)
				return n
			}
			return v
		})
	}
	row := int32(-1)
	return w.Bulk(t.Key, names, func() []any {
		if row++; row == int32(table.N) || (row%10_000 == 0 && ctx.Err() != nil) {
			return nil
		}
		out := make([]any, len(values))
		for i, of := range values {
			out[i] = of(row)
		}
		return out
	})
}
