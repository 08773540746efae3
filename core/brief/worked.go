package brief

import (
	"fmt"
	"slices"

	"uzzel/core/schema"
)

// maxDeep is how many formulas of fields may read one another, one inside the other.
const maxDeep = 8

// worked binds the formula of a field that is worked out by one. It reads all fields, whoever asks: who sees its outcome
// is said of the field itself.
func (s *scope) worked(v *Value) error {
	text := v.Field.Formula()
	if text == "" {
		return nil
	}
	if s.deep >= maxDeep {
		return fmt.Errorf(
			"%q is worked out from itself, or by more than %d formulas inside one another",
			v.Field.Key,
			maxDeep,
		)
	}
	whole := s.schema.Whole()
	inner := &scope{
		schema: whole,
		levels: []*Level{{Type: whole.Type(v.Type.Key), Keep: true}},
		deep:   s.deep + 1,
		rates:  s.rates,
	}
	f, refs, err := inner.formula(text)
	if err != nil {
		return fmt.Errorf("the formula of %s: %w", v.Field.Label, err)
	}
	for _, ref := range refs {
		ref.behind(v.Level, v.Hops)
	}
	v.Worked = &BoundOwn{Formula: f, Refs: refs}
	return nil
}

// behind has a value read behind links to one of a record of a row.
func (v *Value) behind(level int, hops []Hop) {
	v.Level, v.Hops = level, append(slices.Clone(hops), v.Hops...)
	if v.Worked != nil {
		for _, ref := range v.Worked.Refs {
			ref.behind(level, hops)
		}
	}
}

// formula parses a formula and binds what it reads.
func (s *scope) formula(text string) (*Formula, []*Value, error) {
	refs := []*Value{}
	f, err := ParseFormula(text, func(name string) (Sort, error) {
		ref, err := s.value(name)
		if err != nil {
			return 0, err
		}
		if ref.Brought {
			return 0, fmt.Errorf("%q is a brought link, not a field", name)
		}
		refs = append(refs, ref)
		return sortOf(ref.Kind)
	})
	return f, refs, err
}

// CheckFormula says what is wrong with the formula of a field of a record type; nil where it can be worked out.
func CheckFormula(s *schema.Schema, typ, text string) error {
	t := s.Type(typ)
	if t == nil {
		return fmt.Errorf("there is no record type %q", typ)
	}
	_, _, err := (&scope{schema: s.Whole(), levels: []*Level{{Type: t, Keep: true}}}).formula(text)
	return err
}
