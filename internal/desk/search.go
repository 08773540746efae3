package desk

import (
	"context"
	"strings"

	"uzzel/core/column"
	"uzzel/core/engine"
)

// NamedRecord is a record that a search found.
type NamedRecord struct {
	Type, ID, Name string
}

// sight says of records which a person may see, whatever their type; of none where that cannot be told.
func (d *Desk) sight(ctx context.Context, who Person, snap *column.Snapshot) func(typ string, row int32) bool {
	known := map[string]func(int32) bool{}
	return func(typ string, row int32) bool {
		sees, ok := known[typ]
		if !ok {
			var err error
			if sees, err = engine.Sight(ctx, snap, d.opts(who), typ); err != nil {
				sees = func(int32) bool { return false }
			}
			known[typ] = sees
		}
		return sees(row)
	}
}

// maxNamed is how many records a search finds at most.
const maxNamed = 20

// FindRecords finds records of a type (of all, where none is named) by name, or by number. The person sees those that
// the person may see.
func (d *Desk) FindRecords(ctx context.Context, who Person, typ, search string) ([]NamedRecord, error) {
	snap := d.Snapshot()
	want := column.Fold(strings.TrimSpace(search))
	var list []NamedRecord
	if want == "" {
		return list, nil
	}
	for _, t := range snap.Schema.Types {
		if (typ != "" && t.Key != typ) || (typ == "" && (t.Name == "" || t.History)) {
			continue
		}
		table, err := snap.Table(t.Key)
		if err != nil {
			return nil, err
		}
		sees, err := engine.Sight(ctx, snap, d.opts(who), t.Key)
		if err != nil {
			return nil, err
		}
		add := func(row int32) {
			if sees(row) {
				list = append(list, NamedRecord{t.Key, table.IDs.At(row), snap.Name(t.Key, row)})
			}
		}
		if row := table.IDs.Row(want); row >= 0 {
			add(row)
		}
		if t.Name == "" {
			continue
		}
		names, err := snap.Column(t.Key, t.Name)
		if err != nil {
			return nil, err
		}
		marks := make([]bool, len(names.Dict.Values()))
		names.Dict.Containing(want, 0, len(marks), marks)
		for row := range int32(table.N) {
			if len(list) >= maxNamed {
				return list, nil
			}
			if v := names.At(row); v != column.Null && marks[v] {
				add(row)
			}
		}
	}
	return list, nil
}
