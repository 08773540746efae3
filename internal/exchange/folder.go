// Package exchange reads and writes records and results in open formats: folders of CSV files, CSV, JSON.
package exchange

import (
	"bufio"
	"context"
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"unicode/utf8"

	"uzzel/core/column"
	"uzzel/core/schema"
)

// Folder is the records of an organisation as CSV files, one a type, with settings.json (docs/brief.md, "Running one
// without the interface"). It is a column.Source.
type Folder struct{ Dir string }

// Settings reads settings.json; a folder without one has the defaults.
func (f Folder) Settings() (schema.Settings, error) {
	var set schema.Settings
	info, err := os.Stat(f.Dir)
	if err != nil || !info.IsDir() {
		return set, fmt.Errorf("%s is not a folder that can be read", f.Dir)
	}
	path := filepath.Join(f.Dir, "settings.json")
	data, err := os.ReadFile(path)
	if errors.Is(err, os.ErrNotExist) {
		return set, nil
	}
	if err != nil {
		return set, err
	}
	if err := json.Unmarshal(data, &set); err != nil {
		return set, fmt.Errorf("%s: %w", path, err)
	}
	return set, nil
}

// Load reads the file of a type. A line that cannot be read is refused with file, line, column and reason.
func (f Folder) Load(ctx context.Context, b *column.Builder) error {
	return f.load(ctx, b, b.Type.Key+".csv")
}

// LoadDeleted reads the file of what was deleted of a type, with its last values; it is a column.Bin.
func (f Folder) LoadDeleted(ctx context.Context, b *column.Builder) error {
	return f.load(ctx, b, b.Type.Key+".deleted.csv")
}

func (f Folder) load(ctx context.Context, b *column.Builder, name string) error {
	file, err := os.Open(filepath.Join(f.Dir, name))
	if errors.Is(err, os.ErrNotExist) {
		return nil
	}
	if err != nil {
		return err
	}
	defer file.Close()
	if err := readCSV(ctx, bufio.NewReaderSize(file, 1<<20), b); err != nil {
		return fmt.Errorf("%s%w", name, err)
	}
	return nil
}

func readCSV(ctx context.Context, in *bufio.Reader, b *column.Builder) error {
	if mark, err := in.Peek(3); err == nil && string(mark) == "\xef\xbb\xbf" {
		_, _ = in.Discard(3)
	}
	r := csv.NewReader(in)
	r.ReuseRecord = true
	header, err := r.Read()
	if errors.Is(err, io.EOF) {
		return nil
	}
	if err != nil {
		return csvError(err)
	}
	fields, id, err := columnsOf(header, b.Type)
	if err != nil {
		return err
	}
	ids := map[string]int{}
	for n := 0; ; n++ {
		if n%10_000 == 0 && ctx.Err() != nil {
			return ctx.Err()
		}
		rec, err := r.Read()
		if errors.Is(err, io.EOF) {
			return nil
		}
		if err != nil {
			return csvError(err)
		}
		at := func(i int, format string, args ...any) error {
			line, col := r.FieldPos(i)
			return fmt.Errorf(":%d:%d: %s", line, col, fmt.Sprintf(format, args...))
		}
		line, _ := r.FieldPos(0)
		if rec[id] == "" {
			return at(id, "the record has no id")
		}
		if was, ok := ids[rec[id]]; ok {
			return at(id, "the id %s stands already on line %d", rec[id], was)
		}
		ids[rec[id]] = line
		b.Row(rec[id])
		for i, s := range rec {
			if !utf8.ValidString(s) {
				return at(i, "%s is not in UTF-8", b.Type.Fields[fields[i]].Key)
			}
			if err := b.Set(fields[i], s); err != nil {
				return at(i, "%s: %s", b.Type.Fields[fields[i]].Key, err)
			}
		}
	}
}

// columnsOf finds the field of each column, and which column is the id.
func columnsOf(header []string, t *schema.Type) (fields []int, id int, err error) {
	id = -1
	seen := map[string]bool{}
	for i, key := range header {
		at := -1
		for k := range t.Fields {
			if t.Fields[k].Key == key {
				at = k
			}
		}
		switch {
		case at < 0:
			return nil, 0, fmt.Errorf(":1:%d: %s have no field %q", i+1, t.Label, key)
		case seen[key]:
			return nil, 0, fmt.Errorf(":1:%d: the column %q stands twice", i+1, key)
		}
		seen[key] = true
		if t.Fields[at].Kind == schema.ID {
			id = i
		}
		fields = append(fields, at)
	}
	if id < 0 {
		return nil, 0, fmt.Errorf(":1:1: there is no id column")
	}
	return append([]int{}, fields...), id, nil
}

func csvError(err error) error {
	var p *csv.ParseError
	if errors.As(err, &p) {
		return fmt.Errorf(":%d:%d: %w", p.Line, p.Column, p.Err)
	}
	return fmt.Errorf(": %w", err)
}
