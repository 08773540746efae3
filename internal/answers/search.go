package answers

import (
	"context"
	"slices"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/column"
)

// NamedRecord is a record that a search found.
type NamedRecord struct {
	Type, ID, Name string
}

// maxNamed is how many records a search finds at most.
const maxNamed = 20

// FindRecords finds records of a type (of all, where none is named) by name, or by number. The person sees those that
// the person may see.
func (v *View) FindRecords(ctx context.Context, typ, search string) ([]NamedRecord, error) {
	snap := v.Snap
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
		if ctx.Err() != nil {
			return nil, ctx.Err()
		}
		add := func(row int32) {
			if v.Sight.Sees(t.Key, row) {
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

// Named finds records that the person may see by name for typed sentences, and measures.
func (v *View) Named(typ, name string) []string {
	if typ != brief.Targets {
		return slices.DeleteFunc(v.Snap.Named(typ, name), func(id string) bool { return v.name(typ, id) == "" })
	}
	if m := v.Aims.Named(name); m != nil {
		return []string{m.Key}
	}
	return nil
}
