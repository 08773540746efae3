package lookup

import (
	"context"
	"strings"

	"uzzel/core/column"
	"uzzel/internal/answers"
)

// NamedRecord is a record that a search found.
type NamedRecord struct {
	Type, ID, Name string
}

// maxNamed is how many records a search finds at most.
const maxNamed = 20

// Find finds records of a type (of all, where none is named) by name, or by number. The person sees those that
// the person may see.
func Find(ctx context.Context, v *answers.View, typ, search string) ([]NamedRecord, error) {
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
