package lookup

import (
	"context"
	"strings"

	"uzzel/core/column"
	"uzzel/core/schema"
	"uzzel/internal/answers"
)

// NamedRecord is a record that a search found. Note is what tells it from others of its name: up to three of what a list
// of its type shows of it, links that the person may not see left out.
type NamedRecord struct {
	Type, ID, Name, Note string
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
		note := noter(v, t, table)
		add := func(row int32) {
			if v.Sight.Sees(t.Key, row) {
				list = append(list, NamedRecord{t.Key, table.IDs.At(row), snap.Name(t.Key, row), note(row)})
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

// maxNoted is how many values are said of a record that a search found.
const maxNoted = 3

// noter says what tells a record of a type from others of its name.
func noter(v *answers.View, t *schema.Type, table *column.Table) func(row int32) string {
	w := v.PlainWriter()
	type noted struct {
		field *schema.Field
		c     *column.Column
	}
	var fields []noted
	for _, d := range answers.DefaultColumns(t) {
		f := t.Field(d.Field)
		if f.Key == t.Name || (f.Kind != schema.Link && f.Kind != schema.Choice && !f.Kind.Dated()) ||
			column.TodayDependent(f) {
			continue
		}
		if c, err := v.Snap.Column(t.Key, f.Key); err == nil {
			fields = append(fields, noted{f, c})
		}
	}
	return func(row int32) string {
		var said []string
		for _, n := range fields {
			value := n.c.At(row)
			if value == column.Null || len(said) == maxNoted {
				continue
			}
			text := ""
			if n.field.Kind != schema.Link {
				text = w.Field(n.field.Kind, n.field, v.Snap.Text(n.c, value, table), nil)
			} else if v.Sight.Sees(n.field.To, int32(value)) {
				text = v.Snap.Name(n.field.To, int32(value))
			}
			if text != "" {
				said = append(said, text)
			}
		}
		return strings.Join(said, " · ")
	}
}
