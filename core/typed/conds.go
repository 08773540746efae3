package typed

import (
	"strconv"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/period"
	"uzzel/core/schema"
)

// operators are the ways to say a condition, longer ones first; those of dates only fit dates.
var operators = []struct {
	words string
	is    string
	dated bool
}{
	{"does not contain", "not_contains", false},
	{"is not empty", "filled", false},
	{"is empty", "empty", false},
	{"is filled", "filled", false},
	{"starts with", "starts_with", false},
	{"is at most", "at_most", false},
	{"is at least", "at_least", false},
	{"is under", "under", false},
	{"is below", "under", false},
	{"is over", "over", false},
	{"is above", "over", false},
	{"is more than", "over", false},
	{"is less than", "under", false},
	{"is before", "under", true},
	{"is up to", "at_most", true},
	{"is after", "over", true},
	{"is from", "between", false},
	{"is not", "none_of", false},
	{"contains", "contains", false},
	{"is", "any_of", false},
	{"at most", "at_most", false},
	{"at least", "at_least", false},
	{"under", "under", false},
	{"below", "under", false},
	{"over", "over", false},
	{"above", "over", false},
	{"more than", "over", false},
	{"less than", "under", false},
}

// cond reads one condition.
func (r *reader) cond(s scope) (*brief.Tree, bool) {
	at := r.at
	r.depth++
	defer func() { r.depth-- }()
	if r.depth > maxBrackets || !r.spend(100) {
		return nil, false
	}
	t, ok := r.bareCond(s)
	if !ok {
		r.at = at
		return nil, false
	}
	for r.is("(", "asked", ")") || r.is("(", "fixed", ")") || r.is("(", "ask", "the", "reader", ")") {
		fixed := r.isAt(r.at+1, "fixed")
		t.Ask, t.Fixed = t.Ask || !fixed, t.Fixed || fixed
		for !r.take(")") {
			r.at++
		}
	}
	return t, true
}

func (r *reader) bareCond(s scope) (*brief.Tree, bool) {
	switch {
	case r.take("not ("):
		t, ok := r.conds(s)
		return &brief.Tree{Not: t}, ok && r.take(")")
	case r.take("("):
		t, joined, ok := r.joined(s)
		if ok && !joined {
			t = &brief.Tree{All: []brief.Tree{*t}}
		}
		return t, ok && r.take(")")
	case r.take("anything"):
		return &brief.Tree{All: []brief.Tree{}}, true
	case r.take("it has", "that have", "having", "has"):
		return r.linked(s)
	case r.is("without"), r.is("with", "no"), r.is("with", "none", "of", "its"):
		return r.without(s)
	case r.take("with"):
		if !r.is("some") && !r.is("at", "least") {
			return nil, false
		}
		return r.linked(s)
	}
	h, ok := r.field(s, r.at)
	if !ok || h.link {
		return nil, false
	}
	r.at = h.next
	return r.compared(s, h)
}

// conds reads conditions joined by "and", or by "or".
func (r *reader) conds(s scope) (*brief.Tree, bool) {
	t, _, ok := r.joined(s)
	return t, ok
}

// joined says besides whether there were several.
func (r *reader) joined(s scope) (t *brief.Tree, several, ok bool) {
	t, ok = r.cond(s)
	if !ok {
		return nil, false, false
	}
	list := []brief.Tree{*t}
	joint := ""
	for {
		at := r.at
		word := "and"
		if r.is("or") {
			word = "or"
		}
		if !r.take(word) || (joint != "" && joint != word) {
			r.at = at
			break
		}
		next, ok := r.cond(s)
		if !ok {
			r.at = at
			break
		}
		joint, list = word, append(list, *next)
	}
	switch joint {
	case "":
		return t, false, true
	case "or":
		return &brief.Tree{Any: list}, true, true
	}
	return &brief.Tree{All: list}, true, true
}

// linked reads "no activities where (...)" after "it has".
func (r *reader) linked(s scope) (*brief.Tree, bool) {
	t := &brief.Tree{Is: "some"}
	switch {
	case r.take("no"):
		t.Is = "none"
	case r.take("at least"):
		n, err := strconv.Atoi(r.word(min(r.at, len(r.w)-1)).low)
		if err != nil {
			return nil, false
		}
		t.AtLeast = &n
		r.at++
	default:
		r.take("some")
	}
	r.take("of its")
	path, to, next := r.linkPath(s.t, r.at, 0)
	if to == nil {
		return nil, false
	}
	r.at, t.Link = next, path
	var ok bool
	if t.Where, ok = r.narrowed(to); !ok {
		return nil, false
	}
	return t, true
}

// narrowed reads conditions on linked records, behind them: "(kind is Call)", "where kind is Call"; nil where there are
// none. Brackets that hold something else are left.
func (r *reader) narrowed(to *schema.Type) (*brief.Tree, bool) {
	at := r.at
	if r.take("where (", "(") {
		if t, ok := r.conds(scope{t: to}); ok && r.take(")") {
			return t, true
		}
		bracket := r.isAt(at, "(")
		r.at = at
		return nil, bracket
	}
	if r.take("where") {
		t, ok := r.conds(scope{t: to})
		return t, ok
	}
	return nil, true
}

// others are the ways to compare a field with another.
var others = []struct {
	words, is string
	dated     bool
}{
	{"is the same as", "any_of", false},
	{"is not the same as", "none_of", false},
	{"not on the same day as", "none_of", true},
	{"on the same day as", "any_of", true},
	{
		"no later than",
		"at_most",
		true,
	},
	{"no earlier than", "at_least", true},
	{"earlier than", "under", true},
	{"later than", "over", true},
}

// otherField reads a comparison with another field: "closed later than expected close".
func (r *reader) otherField(s scope, dated bool, t *brief.Tree) bool {
	at := r.at
	for _, o := range others {
		if dated && o.dated {
			r.take("is")
		}
		if (!o.dated || dated) && r.take(o.words) {
			if h, ok := r.field(s, r.at); ok {
				r.at, t.Is, t.Other = h.next, o.is, h.path
				return true
			}
		}
		r.at = at
	}
	return false
}

// without reads "without activities in the last 21 days", "with no call for 3 weeks".
func (r *reader) without(s scope) (*brief.Tree, bool) {
	r.take("without", "with no", "with none of its")
	r.take("a", "an", "any")
	t := &brief.Tree{Is: "none"}
	var list []brief.Tree
	path, to, next := r.linkPath(s.t, r.at, 0)
	if to == nil {
		// A choice that linked records have: a call is an activity.
		for i := range s.t.Backs {
			b := &s.t.Backs[i]
			for k := range r.s.Type(b.Type).Fields {
				f := &r.s.Type(b.Type).Fields[k]
				if v, end := r.choice(f.Choices, r.at); end > next {
					path, to, next = b.Key, r.s.Type(b.Type), end
					list = []brief.Tree{{Field: f.Key, Is: "any_of", Values: []string{v}}}
				}
			}
		}
	}
	if to == nil {
		if t := r.withoutLinked(s); t != nil {
			return t, true
		}
		h, ok := r.field(s, r.at)
		if !ok || h.link {
			return nil, false
		}
		r.at = h.next
		return &brief.Tree{Field: h.path, Is: "empty"}, true
	}
	r.at, t.Link = next, path
	if len(list) == 0 {
		where, ok := r.narrowed(to)
		if !ok {
			return nil, false
		}
		if where != nil {
			t.Where = where
			return t, true
		}
	}
	if f := mainDate(to); f != nil {
		at := r.at
		if r.take("for", "since") && r.at < len(r.w) {
			if p, ok := r.rolling(true); ok {
				list = append(list, brief.Tree{Field: f.Key, Is: "within", Period: &brief.Period{Period: p}})
			} else {
				r.at = at
			}
		} else if p, ok := r.period(); ok {
			list = append(list, brief.Tree{Field: f.Key, Is: "within", Period: &p})
		}
	}
	if len(list) > 0 {
		t.Where = &brief.Tree{All: list}
	}
	return t, true
}

// withoutLinked reads a field that the record lacks and records linked to it have: a customer's email is its contacts'.
func (r *reader) withoutLinked(s scope) *brief.Tree {
	if _, ok := r.direct(s.t, r.at, 0); ok {
		return nil
	}
	for i := range s.t.Backs {
		to := r.s.Type(s.t.Backs[i].Type)
		for k := range to.Fields {
			if n, owns := r.label(to.Fields[k].Label, r.at); n > 0 && !owns {
				r.at += n
				return &brief.Tree{
					Link:  s.t.Backs[i].Key,
					Is:    "none",
					Where: &brief.Tree{All: []brief.Tree{{Field: to.Fields[k].Key, Is: "filled"}}},
				}
			}
		}
	}
	return nil
}

// compared reads what is asked of a field.
func (r *reader) compared(s scope, h hit) (*brief.Tree, bool) {
	t := &brief.Tree{Field: h.path}
	dated := h.kind.Dated()
	if dated && r.openEnded(h.kind) {
		r.at++
		p, ok := r.period()
		t.Is, t.Period = "within", &p
		return t, ok
	}
	if h.kind == schema.Time {
		if p, ok := r.besideDay(); ok {
			t.Is, t.Period = "within", &brief.Period{Period: p}
			return t, true
		}
	}
	if dated {
		at := r.at
		if p, ok := r.period(); ok {
			t.Is, t.Period = "within", &p
			return t, true
		}
		r.at = at
	}
	if r.take("is not filled") {
		return &brief.Tree{Not: &brief.Tree{Field: h.path, Is: "filled"}}, true
	}
	if r.otherField(s, dated, t) {
		return t, true
	}
	for _, o := range operators {
		words := strings.Fields(o.words)
		if !r.is(words...) || (o.dated && !dated) {
			continue
		}
		at := r.at
		r.at += len(words)
		t.Is = o.is
		if dated && o.is == "any_of" {
			if p, ok := r.period(); ok {
				t.Is, t.Period = "within", &p
				return t, true
			}
		}
		if r.take("that of") {
			other, ok := r.field(s, r.at)
			if o.words == "is from" {
				t.Is = "at_least"
			}
			r.at, t.Other = other.next, other.path
			return t, ok
		}
		switch o.is {
		case "empty", "filled":
			return t, true
		case "between":
			if r.between(h, t) {
				return t, true
			}
		default:
			if t.Values = r.values(s, h); len(t.Values) > 0 {
				return t, true
			}
			if h.kind.Numeric() { // no number, so another field
				if other, ok := r.field(s, r.at); ok && other.kind.Numeric() && o.is != "none_of" && o.is != "any_of" {
					r.at, t.Other, t.Values = other.next, other.path, nil
					return t, true
				}
			}
		}
		r.at = at
	}
	return nil, false
}

// between reads "1 to 5"; of a date, the first alone is where it begins.
func (r *reader) between(h hit, t *brief.Tree) bool {
	first, ok := r.value(h, true)
	if !ok {
		return false
	}
	if !r.take("to") {
		t.Is, t.Values = "at_least", []string{first}
		return h.kind.Dated()
	}
	second, ok := r.value(h, false)
	t.Values = []string{first, second}
	return ok
}

// besideDay reads of a time that it is before or after a day: "is after 3 May 2026" is from the next day on. A day that
// is written as the values of times are, 2026-05-03, is not one but its start.
func (r *reader) besideDay() (period.Period, bool) {
	at := r.at
	before := r.take("is before")
	if before || r.take("is after") {
		iso := r.at < len(r.w) && strings.Contains(r.word(r.at).text, "-")
		if text, ok := r.day(); ok && !iso {
			day, err := period.ParseDay(text)
			switch {
			case err != nil:
			case before:
				return period.Period{To: period.FormatDay(day - 1)}, true
			default:
				return period.Period{From: period.FormatDay(day + 1)}, true
			}
		}
	}
	r.at = at
	return period.Period{}, false
}

// openEnded says whether a period is next that reads like a comparison: "is before today", "is from 1 Apr 2026 on",
// and of a time, whose values are written with their hour, "is up to 1 Apr 2026".
func (r *reader) openEnded(k schema.Kind) bool {
	if r.is("is", "before", "today") || r.is("is", "after", "today") {
		return true
	}
	at := r.at
	defer func() { r.at = at }()
	if !r.take("is from", "is up to") {
		return false
	}
	iso := r.at < len(r.w) && strings.Contains(r.word(r.at).text, "-")
	if _, ok := r.day(); !ok {
		return false
	}
	return r.is("on") || (k == schema.Time && !iso)
}
