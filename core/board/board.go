// Package board says how a report is read where it is placed: under the filters of a dashboard, and as a panel's
// options would have it. It works on briefs alone; nothing is asked.
package board

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/schema"
)

// FieldFilter narrows every panel whose records have a field, or are linked to the record that has it.
type FieldFilter struct {
	Type   string   `json:"type"`
	Field  string   `json:"field"`
	Values []string `json:"values"`
}

// Filters narrow the panels of a dashboard. Period and Whose are as a brief has them.
type Filters struct {
	Period json.RawMessage `json:"period,omitempty"`
	Whose  json.RawMessage `json:"whose,omitempty"`
	Fields []FieldFilter   `json:"fields,omitempty"`
	// AsOf has all of it read by the records as they were on a day, in the forms of a brief.
	AsOf json.RawMessage `json:"asOf,omitempty"`
}

// Said is what filters say of period, whose and day as a brief has it; nil where they say nothing.
type Said struct {
	Within *brief.Period
	Whose  *brief.Whose
	AsOf   *brief.Moment
}

// Read checks filters against a schema.
func (f Filters) Read(s *schema.Schema) (Said, error) {
	for i, x := range f.Fields {
		t := s.Type(x.Type)
		if t == nil || t.Field(x.Field) == nil || len(x.Values) == 0 {
			return Said{}, brief.Problems{
				{Pointer: fmt.Sprintf("/filters/fields/%d", i), Message: "a filter names a record type, a field of it and values"},
			}
		}
	}
	probe := `{"version":1,"start":"x"`
	if len(f.Period) > 0 {
		probe += `,"period":{"field":"x","within":` + string(f.Period) + `}`
	}
	if len(f.Whose) > 0 {
		probe += `,"whose":` + string(f.Whose)
	}
	b, err := brief.Decode([]byte(probe + "}"))
	if err == nil && b.Period != nil {
		err = b.Period.Within.Check()
	}
	if err != nil {
		return Said{}, brief.Problems{{Pointer: "/filters", Message: err.Error()}}
	}
	said := Said{Whose: b.Whose}
	if b.Period != nil {
		said.Within = &b.Period.Within
	}
	if len(f.AsOf) > 0 {
		b, err := brief.Decode([]byte(`{"version":1,"start":"x","asOf":` + string(f.AsOf) + `}`))
		if err != nil {
			return Said{}, brief.Problems{{Pointer: "/filters/asOf", Message: err.Error()}}
		}
		said.AsOf = b.AsOf
	}
	return said, nil
}

// Under is a report's brief under a dashboard's filters, and in words which of them it follows and which it cannot.
type Under struct {
	Brief   *brief.Brief
	Obeys   []string
	Ignores []string
}

// Apply puts a brief under filters. A period takes the place of the brief's own, on its own date field; a brief without
// one stays as it is, and so does a panel with a period of its own (own). whose takes the place of the brief's; fields
// are reached over the nearest link.
func (f Filters) Apply(s *schema.Schema, b *brief.Brief, own *brief.Period) (Under, error) {
	said, err := f.Read(s)
	if err != nil {
		return Under{}, err
	}
	out := *b
	u := Under{Brief: &out}
	obeys := func(what string) {
		if !slices.Contains(u.Obeys, what) {
			u.Obeys = append(u.Obeys, what)
		}
	}
	ignores := func(what string) {
		if !slices.Contains(u.Ignores, what) {
			u.Ignores = append(u.Ignores, what)
		}
	}
	narrow := func(p *brief.Part) {
		if own != nil && p.Period != nil {
			p.Period = &brief.MainPeriod{Field: p.Period.Field, Within: *own}
		}
		switch {
		case said.Within == nil:
		case p.Period == nil:
			ignores("the period, having none of its own")
		case own != nil:
			ignores("the period, having one of its own")
		default:
			obeys("the period by " + fieldWords(s, p.Start, p.Period.Field))
			p.Period = &brief.MainPeriod{Field: p.Period.Field, Within: *said.Within}
		}
		t := s.Type(p.Start)
		switch {
		case said.Whose == nil || said.Whose.Word == "everyone":
		case t == nil || t.Owner == "":
			ignores("whose, its records having no owner")
		default:
			obeys("whose")
			p.Whose = said.Whose
		}
		for _, x := range f.Fields {
			path, label := PathTo(s, p.Start, x.Type, x.Field), brief.Small(s.Type(x.Type).Field(x.Field).Label)
			if path == "" {
				ignores(label + ", not being linked to it")
				continue
			}
			obeys(label)
			p.Filter = p.Filter.And(brief.Tree{Field: path, Is: "any_of", Values: x.Values})
		}
	}
	switch {
	case said.AsOf == nil:
	case b.AsOf != nil:
		ignores("as of which day, having one of its own")
	default:
		obeys("as of which day")
		out.AsOf = said.AsOf
	}
	if len(b.Parts) > 0 {
		out.Parts = slices.Clone(b.Parts)
		for i := range out.Parts {
			narrow(&out.Parts[i])
		}
	} else {
		narrow(&out.Part)
	}
	return u, nil
}

// fieldWords names the field that a path ends at.
func fieldWords(s *schema.Schema, start, path string) string {
	t, steps := s.Type(start), strings.Split(path, ".")
	for i, step := range steps {
		if t == nil || t.Field(step) == nil {
			break
		}
		f := t.Field(step)
		if i == len(steps)-1 {
			return brief.Small(f.Label)
		}
		t = s.Type(f.To)
	}
	return path
}

// doors are the links to one of a record type that a person would follow.
func doors(t *schema.Type) []*schema.Field {
	var list []*schema.Field
	for i := range t.Fields {
		if f := &t.Fields[i]; f.Kind == schema.Link && f.Worked == nil && !strings.HasSuffix(f.Key, "_by") {
			list = append(list, f)
		}
	}
	return list
}

// PathTo is the path from a record type to a field of another: its own, or over the nearest link; "" where none leads
// there within two links.
func PathTo(s *schema.Schema, start, typ, field string) string {
	if start == typ {
		return field
	}
	from := s.Type(start)
	if from == nil {
		return ""
	}
	near := doors(from)
	for _, f := range near {
		if f.To == typ {
			return f.Key + "." + field
		}
	}
	for _, f := range near {
		if to := s.Type(f.To); to != nil {
			for _, g := range doors(to) {
				if g.To == typ {
					return f.Key + "." + g.Key + "." + field
				}
			}
		}
	}
	return ""
}

// EndOf is the field of the record type that a path over links to one ends at; nil for a path that leads nowhere.
func EndOf(s *schema.Schema, start, path string) (*schema.Type, *schema.Field) {
	t, steps := s.Type(start), strings.Split(path, ".")
	for i, step := range steps {
		if t == nil {
			return nil, nil
		}
		f := t.Field(step)
		if f == nil || i == len(steps)-1 {
			return t, f
		}
		t = s.Type(f.To)
	}
	return nil, nil
}

// Narrows is the field by which marks of a brief can narrow other panels: that of its first group, where it is no date
// and no field of the brief's own; nil for none.
func Narrows(s *schema.Schema, b *brief.Brief) *FieldFilter {
	if len(b.Groups) == 0 || len(b.Parts) > 0 {
		return nil
	}
	g := b.Groups[0]
	if g.Field == "" || g.By != "" || strings.HasPrefix(g.Field, "own.") {
		return nil
	}
	t, f := EndOf(s, b.Start, g.Field)
	if f == nil {
		return nil
	}
	return &FieldFilter{Type: t.Key, Field: f.Key}
}
