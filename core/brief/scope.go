package brief

import (
	"fmt"
	"strings"

	"uzzel/core/column"
	"uzzel/core/schema"
)

// MaxHops is how many links to one a path may follow.
const MaxHops = 4

// scope is what paths can start from: a record with its brought ones and own fields.
type scope struct {
	schema *schema.Schema
	levels []*Level
	own    map[string]*Value
	open   map[string]bool // own fields there are, checked or not yet
	rates  map[string][]string
	deep   int // how many formulas of fields it stands in
	// retired notes the retired fields that are read; nil where nobody asks.
	retired func(f *schema.Field)
}

func (s *scope) start() *schema.Type { return s.levels[0].Type }

// value follows a path to a value.
func (s *scope) value(path string) (*Value, error) {
	if path == "" {
		return nil, fmt.Errorf("a field is named here by its path")
	}
	if key, ok := strings.CutPrefix(path, "own."); ok {
		return s.ownValue(key)
	}
	segments := strings.Split(path, ".")
	level := 0
	for level+1 < len(s.levels) && level < len(segments) && segments[level] == s.levels[level+1].Back.Key {
		level++
	}
	v := &Value{Text: path, Level: level}
	if level == len(segments) {
		v.Brought, v.Type, v.Label = true, s.levels[level].Type, strings.Join(s.labels(level), " › ")
		return v, nil
	}
	return v, s.follow(v, s.levels[level].Type, segments[level:], s.labels(level))
}

func (s *scope) ownValue(key string) (*Value, error) {
	if v := s.own[key]; v != nil {
		return v, nil
	}
	if s.open[key] {
		return nil, fmt.Errorf("own.%s is worked out from itself, or from an own field that has an error", key)
	}
	known := make([]string, 0, len(s.open))
	for k := range s.open {
		known = append(known, "own."+k)
	}
	return nil, fmt.Errorf("there is no own field %q here%s", "own."+key, near("own."+key, known))
}

// labels names the brought links that lead to a level.
func (s *scope) labels(level int) []string {
	labels := []string{}
	for _, l := range s.levels[1 : level+1] {
		labels = append(labels, l.Back.Label)
	}
	return labels
}

// follow goes on from a record of type t; labels name the way to it.
func (s *scope) follow(v *Value, t *schema.Type, segments []string, labels []string) error {
	atStart := len(labels) == 0
	for i, seg := range segments {
		f := t.Field(seg)
		if f == nil {
			return s.noField(t, seg, segments, i, atStart)
		}
		labels = append(labels, f.Label)
		if i == len(segments)-1 {
			v.Type, v.Field, v.Kind, v.To = t, f, f.Kind, f.To
			if f.Kind == schema.ID {
				v.To = t.Key
			}
			if f.Kind.Numeric() {
				v.Scale = column.Scale(f.Kind)
			}
			v.Rated = s.rated(t, f)
			v.Label = strings.Join(labels, " › ")
			if len(v.Hops) > MaxHops {
				return fmt.Errorf("a path follows four links at most")
			}
			if f.Retired && s.retired != nil {
				s.retired(f)
			}
			return s.worked(v)
		}
		if f.Kind != schema.Link {
			return fmt.Errorf(
				"%q is %s, not a link, so nothing can be read behind it",
				strings.Join(segments[:i+1], "."),
				f.Kind.Words(),
			)
		}
		to := s.schema.Type(f.To)
		v.Hops = append(v.Hops, Hop{t, f, to})
		t = to
	}
	return nil
}

func (s *scope) noField(t *schema.Type, seg string, segments []string, i int, atStart bool) error {
	if b := t.Back(seg); b != nil {
		if i == 0 && atStart {
			return fmt.Errorf("%q is a link to many, and the report does not bring it; add \"bring\": {\"link\": %q}", seg, seg)
		}
		return fmt.Errorf(
			"%q is a link to many; it can be brought, counted in a linked own field or asked for in a condition",
			strings.Join(segments[:i+1], "."),
		)
	}
	known := make([]string, 0, len(t.Fields))
	for _, f := range t.Fields {
		known = append(known, f.Key)
	}
	if s.schema.Hides(t.Key, seg) {
		return fmt.Errorf("the field %q of %s is not yours to see", seg, strings.ToLower(t.Label))
	}
	return fmt.Errorf("%s have no field %q%s", strings.ToLower(t.Label), seg, near(seg, known))
}

// many follows a path of links to one that ends in a link to many.
func (s *scope) many(path string) (hops []Hop, from *schema.Type, back *schema.Back, err error) {
	t := s.start()
	segments := strings.Split(path, ".")
	for i, seg := range segments {
		if i == len(segments)-1 {
			if back = t.Back(seg); back == nil {
				known := []string{}
				for _, b := range t.Backs {
					known = append(known, b.Key)
				}
				return nil, nil, nil, fmt.Errorf("%s have no link to many %q%s", strings.ToLower(t.Label), seg, near(seg, known))
			}
			return hops, t, back, nil
		}
		f := t.Field(seg)
		if f == nil || f.Kind != schema.Link {
			return nil, nil, nil, fmt.Errorf("%s have no link to one %q", strings.ToLower(t.Label), seg)
		}
		to := s.schema.Type(f.To)
		hops = append(hops, Hop{t, f, to})
		if len(hops) > MaxHops {
			return nil, nil, nil, fmt.Errorf("a path follows four links at most")
		}
		t = to
	}
	return nil, nil, nil, fmt.Errorf("a link is named here by its path")
}

// inside is the scope of a where, of or by on linked records: paths start at them, own fields are not seen.
func (s *scope) inside(t *schema.Type) *scope {
	return &scope{schema: s.schema, levels: []*Level{{Type: t, Keep: true}}, retired: s.retired, rates: s.rates}
}
