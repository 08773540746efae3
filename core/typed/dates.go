package typed

import (
	"slices"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/schema"
)

// timed reads the main period: "with expected close this quarter", "closing this quarter", "this quarter".
func (r *reader) timed() bool {
	if f, next := r.phrased(); f != nil {
		at := r.at
		r.at = next
		if p, ok := r.period(); ok {
			r.part.Period = &brief.MainPeriod{Field: f.Key, Within: p}
			return true
		}
		r.at = at
	}
	led := r.take("with")
	if h, ok := r.field(r.here(), r.at); ok && h.kind.Dated() {
		at := r.at
		r.at = h.next
		if p, ok := r.period(); ok {
			r.part.Period = &brief.MainPeriod{Field: h.path, Within: p}
			return true
		}
		r.at = at
	}
	if led {
		return false
	}
	f := r.impliedDate()
	if stem := r.dateByVerb(r.at); stem != nil {
		f = stem
		r.at++
	}
	p, ok := r.period()
	if !ok || f == nil {
		return false
	}
	r.part.Period = &brief.MainPeriod{Field: f.Key, Within: p}
	return true
}

// phrased finds the date field whose phrase is next: "expected to close".
func (r *reader) phrased() (best *schema.Field, next int) {
	t := r.start()
	for i := range t.Fields {
		f := &t.Fields[i]
		if n, owns := r.label(f.Phrase, r.at); n > 0 && !owns && r.at+n > next {
			best, next = f, r.at+n
		}
	}
	return best, next
}

// mainDate is the date that a record type's periods are mostly about: its first of its own, before those that every
// record has.
func mainDate(t *schema.Type) *schema.Field {
	var late *schema.Field
	for i := range t.Fields {
		f := &t.Fields[i]
		if !f.Kind.Dated() || f.Worked != nil {
			continue
		}
		if !strings.HasPrefix(f.Key, "created") && !strings.HasPrefix(f.Key, "changed") {
			return f
		}
		if late == nil {
			late = f
		}
	}
	return late
}

// impliedDate is the date that a period alone is about: of records that are done with, the day that they were.
func (r *reader) impliedDate() *schema.Field {
	t := r.start()
	if r.part.Filter != nil {
		for _, c := range r.part.Filter.All {
			f := t.Field(c.Field)
			if f == nil || !staged(f) || len(c.Values) == 0 || slices.Contains(c.Values, "open") {
				continue
			}
			for i := range t.Fields {
				if g := &t.Fields[i]; g.Kind == schema.Date && strings.HasSuffix(fold(g.Label), "ed") {
					return g
				}
			}
		}
	}
	return mainDate(t)
}

// staged says whether a field is the stage, or comes from it.
func staged(f *schema.Field) bool {
	return f.Stages || (f.Worked != nil && strings.HasPrefix(f.Worked.As, "stage_"))
}

// dateByVerb finds the date that a verb is about: closing is the expected close, closed the day that it was.
func (r *reader) dateByVerb(at int) *schema.Field {
	if at >= len(r.w) {
		return nil
	}
	verb := r.word(at).low
	stem := strings.TrimSuffix(strings.TrimSuffix(strings.TrimSuffix(verb, "ing"), "ed"), "s")
	if len(stem) < 3 || stem == verb {
		return nil
	}
	t := r.start()
	var found *schema.Field
	for i := range t.Fields {
		f := &t.Fields[i]
		if !f.Kind.Dated() {
			continue
		}
		for _, w := range strings.Fields(fold(f.Label)) {
			if w == verb {
				return f
			}
			if strings.HasPrefix(w, stem) && found == nil {
				found = f
			}
		}
	}
	return found
}
