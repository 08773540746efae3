package schema

import (
	"fmt"
	"maps"
	"slices"
	"strings"
)

// Rank is how much of the fields a person may see and change: each rank has what those before it have.
type Rank int

// The ranks, as settings name them.
const (
	Readers        Rank = iota // everyone
	Composers                  // who compose reports for others, and administrators
	Administrators             // administrators alone
)

var ranks = []string{"", "composers", "administrators"}

// Limit says who sees a field and who changes it: "" for everyone, "composers" (and administrators) or "administrators".
type Limit struct {
	See    string `json:"see,omitempty"`
	Change string `json:"change,omitempty"`
}

func (l Limit) see() Rank { return Rank(slices.Index(ranks, l.See)) }

func (l Limit) change() Rank { return max(l.see(), Rank(slices.Index(ranks, l.Change))) }

// Limited is who sees and who changes a field.
func (s *Schema) Limited(typ, field string) Limit { return s.Settings.Limits[typ+"."+field] }

// Hides says whether the schema is without fields that there are: whoever it is for may not see them.
func (s *Schema) Hides(typ, field string) bool { return s.hidden[typ+"."+field] }

// HidesAny says whether there are fields that the schema is without.
func (s *Schema) HidesAny() bool { return len(s.hidden) > 0 }

// For is the schema as a rank sees it: without the fields that are not for it, those that are worked out from them by the
// program, and the links back over them; what it may not change is Locked. Formulas are worked out for whoever may see
// their outcome.
func (s *Schema) For(r Rank) *Schema {
	if r < 0 || int(r) >= len(s.seen) || s.seen[r] == nil {
		return s
	}
	return s.seen[r]
}

// Whole is the schema with all fields.
func (s *Schema) Whole() *Schema {
	if s.whole != nil {
		return s.whole
	}
	return s
}

// limit checks the limits of fields, and makes the schema of each rank.
func (s *Schema) limit() error {
	for _, at := range slices.Sorted(maps.Keys(s.Settings.Limits)) {
		l := s.Settings.Limits[at]
		typ, key, _ := strings.Cut(at, ".")
		t := s.Type(typ)
		var f *Field
		if t != nil {
			f = t.Field(key)
		}
		switch {
		case f == nil:
			return fmt.Errorf("settings: limits: there is no field %s", at)
		case !slices.Contains(ranks, l.See) || !slices.Contains(ranks, l.Change):
			return fmt.Errorf("settings: limits: %s is for composers, administrators or, left out, everyone", at)
		case l.see() > Readers && s.Needed(t, f):
			return fmt.Errorf("settings: limits: %s is seen by everyone who sees %s", at, strings.ToLower(t.Label))
		}
	}
	if len(s.Settings.Limits) == 0 {
		return nil
	}
	for r := Readers; r < Administrators; r++ {
		s.seen[r] = s.cut(r)
	}
	return nil
}

// Needed says whether everyone who sees a record sees a field of it: what names it, whose it is, where it stands, what it
// belongs to, what people did, and what the program keeps itself.
func (s *Schema) Needed(t *Type, f *Field) bool {
	if t.History || t.Readers || f.Kind == ID || f.Audited() || f.Stages {
		return true
	}
	if t.Diary != nil {
		d := t.Diary
		if slices.Contains([]string{d.Kind, d.When, d.Done, d.With, d.About, d.Outcome, d.Minutes, d.Notes}, f.Key) {
			return true
		}
	}
	if f.Worked != nil && (f.Worked.As == "stage_pipeline" || f.Worked.As == "stage_status") {
		return true
	}
	return slices.Contains([]string{t.Name, t.Owner, t.Team, t.Listed}, f.Key) || slices.Contains(s.Belongs(t), f.Key)
}

// cut is the schema as a rank below administrators sees it.
func (s *Schema) cut(r Rank) *Schema {
	out := &Schema{
		Settings: s.Settings,
		Zone:     s.Zone,
		Rail:     s.Rail,
		types:    map[string]*Type{},
		hidden:   map[string]bool{},
		whole:    s,
	}
	for at, l := range s.Settings.Limits {
		if l.see() > r {
			out.hidden[at] = true
		}
	}
	for more := true; more; { // what is worked out from what is not seen is not seen either
		more = false
		for _, t := range s.Types {
			for i := range t.Fields {
				f := &t.Fields[i]
				if f.Worked == nil || out.hidden[t.Key+"."+f.Key] {
					continue
				}
				if slices.ContainsFunc(f.Worked.Of, func(of string) bool { return out.hidden[t.Key+"."+of] }) {
					out.hidden[t.Key+"."+f.Key], more = true, true
				}
			}
		}
	}
	for _, t := range s.Types {
		seen := *t
		seen.Fields, seen.Backs = nil, nil
		for _, f := range t.Fields {
			if !out.hidden[t.Key+"."+f.Key] {
				f.Locked = s.Limited(t.Key, f.Key).change() > r
				seen.Fields = append(seen.Fields, f)
			}
		}
		for _, b := range t.Backs {
			if !out.hidden[b.Type+"."+b.Via] {
				seen.Backs = append(seen.Backs, b)
			}
		}
		seen.index()
		out.Types, out.types[t.Key] = append(out.Types, &seen), &seen
	}
	return out
}
