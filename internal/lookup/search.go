package lookup

import (
	"cmp"
	"context"
	"slices"
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

// Sought is what records are searched for. Those of no type named are of all.
type Sought struct {
	Types []string
	Words string // of their names, or a number
	Most  int    // records; 20 where it is 0
}

// mostFound is how many records a search finds where nothing is said.
const mostFound = 20

// hit is a record that fits, before anything is said of it.
type hit struct {
	t   *schema.Type
	row int32
	fit column.Fit
}

// Find finds records by name, or by number: first that of the number, then those whose whole name it is, those whose name
// begins so, and the rest. Several types have equal parts of what is found at most, so that none pushes out the others.
// The person sees those that the person may see.
func Find(ctx context.Context, v *answers.View, of Sought) ([]NamedRecord, error) {
	want := column.Fold(strings.TrimSpace(of.Words))
	if want == "" {
		return nil, nil
	}
	types := searched(v.Snap.Schema, of.Types)
	if len(types) == 0 {
		return nil, nil
	}
	most := of.Most
	if most == 0 {
		most = mostFound
	}
	var hits []hit
	for _, t := range types {
		if ctx.Err() != nil {
			return nil, ctx.Err()
		}
		found, err := hitsOf(v, t, want, (most+len(types)-1)/len(types))
		if err != nil {
			return nil, err
		}
		hits = append(hits, found...)
	}
	slices.SortStableFunc(hits, func(a, b hit) int { return cmp.Compare(b.fit, a.fit) })
	var list []NamedRecord
	notes := map[*schema.Type]func(row int32) string{}
	for _, h := range hits[:min(len(hits), most)] {
		table, err := v.Snap.Table(h.t.Key)
		if err != nil {
			return nil, err
		}
		if notes[h.t] == nil {
			notes[h.t] = noter(v, h.t, table)
		}
		list = append(list, NamedRecord{h.t.Key, table.IDs.At(h.row), v.Snap.Name(h.t.Key, h.row), notes[h.t](h.row)})
	}
	return list, nil
}

// searched are the types that are searched: those named, or all whose records have names.
func searched(s *schema.Schema, named []string) []*schema.Type {
	var types []*schema.Type
	for _, t := range s.Types {
		if slices.Contains(named, t.Key) || (len(named) == 0 && t.Name != "" && !t.History) {
			types = append(types, t)
		}
	}
	return types
}

// hitsOf are the records of a type that fit best, at most so many, the best first.
func hitsOf(v *answers.View, t *schema.Type, want string, most int) ([]hit, error) {
	table, err := v.Snap.Table(t.Key)
	if err != nil {
		return nil, err
	}
	var numbered []hit
	if row := table.IDs.Row(want); row >= 0 && v.Sight.Sees(t.Key, row) {
		numbered = append(numbered, hit{t, row, column.Is + 1})
	}
	if t.Name == "" {
		return numbered, nil
	}
	names, err := v.Snap.Column(t.Key, t.Name)
	if err != nil {
		return nil, err
	}
	fits, many := names.Dict.Fits(want, len(names.Dict.Values()))
	var by [column.Is + 1][]hit
	// Whether there are as many as are looked for, and none that fits better can come.
	enough := func() bool {
		for fit := column.Is; fit > column.Unfit; fit-- {
			if len(by[fit]) >= most || many[fit] > 0 {
				return len(by[fit]) >= most
			}
		}
		return true
	}
	for row := int32(0); row < int32(table.N) && !enough(); row++ {
		code := names.At(row)
		if code == column.Null || fits[code] == column.Unfit {
			continue
		}
		fit := fits[code]
		if len(by[fit]) < most && v.Sight.Sees(t.Key, row) && (len(numbered) == 0 || numbered[0].row != row) {
			by[fit] = append(by[fit], hit{t, row, fit})
		}
	}
	list := slices.Concat(numbered, by[column.Is], by[column.Begins], by[column.Contains])
	return list[:min(len(list), most)], nil
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
