package typed

import (
	"strconv"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/schema"
)

// records reads what the report is about, and what is before it: "my open deals", "won: Deals".
func (r *reader) records() bool {
	if r.countOf(); r.best() {
		return true
	}
	for r.at < len(r.w) {
		key := ""
		if r.isAt(r.at+1, ":") {
			key = r.word(r.at).text
			r.at += 2
		}
		for at := r.at; at < len(r.w) && at < r.at+8; at++ {
			t, only, next := r.recordsOf(at)
			if t == nil || (at > r.at && (r.isAt(at-1, "my", "team") || r.isAt(at-1, "our", "team"))) {
				continue
			}
			r.open(key, t)
			r.before(at)
			r.only(only)
			r.at = next
			return true
		}
		return false
	}
	return false
}

// countOf goes over "number of" and "how many" before what is counted.
func (r *reader) countOf() {
	at := r.at
	if r.take("number of", "how many", "count of") {
		if t, _, _ := r.recordsOf(r.at); t == nil {
			r.at = at
		}
	}
}

// best reads "top 5 customers by value": the largest by a field of their own, or by the sum of one of the records that
// belong to them.
func (r *reader) best() bool {
	at := r.at
	defer func() {
		if r.part == nil {
			r.at = at
		}
	}()
	if !r.take("top", "the top", "largest", "the largest") {
		return false
	}
	n, err := strconv.Atoi(r.word(r.at).low)
	if err != nil || n < 1 {
		return false
	}
	r.at++
	t, only, next := r.recordsOf(r.at)
	if t == nil || !r.isAt(next, "by") {
		return false
	}
	next++
	for i := range t.Fields {
		f := &t.Fields[i]
		if k, owns := r.label(f.Label, next); k > 0 && !owns && f.Kind.Numeric() {
			r.open("", t)
			r.only(only)
			r.b.Order, r.b.Limit = []brief.Order{{Field: f.Key, Desc: true}}, &n
			r.at = next + k
			return true
		}
	}
	for i := range t.Backs {
		b := &t.Backs[i]
		if only != nil {
			break // what holds for these records is no condition on those that belong to them
		}
		for k := range r.s.Type(b.Type).Fields {
			f := &r.s.Type(b.Type).Fields[k]
			if words, owns := r.label(f.Label, next); words > 0 && !owns && f.Kind.Numeric() {
				r.open("", r.s.Type(b.Type))
				s := brief.Summary{Fn: "sum", Of: f.Key}
				s.Key = r.freeKey(&s)
				r.part.Summaries = []brief.Summary{s}
				r.note("sum of "+fold(f.Label), &s)
				r.b.Groups = []brief.Group{{Field: b.Via, Top: &brief.Top{N: n, By: s.Key}}}
				r.at = next + words
				return true
			}
		}
	}
	return false
}

// recordsOf reads what records are meant: a record type, or a word of the organisation's own, with what narrows it.
func (r *reader) recordsOf(at int) (t *schema.Type, only *brief.Tree, next int) {
	t, next = r.recordType(at)
	for _, w := range r.known.Words {
		for _, name := range []string{w.Name, strings.TrimSuffix(w.Name, "s")} {
			if n, owns := r.label(name, at); n > 0 && !owns && at+n > next && r.s.Type(w.Start) != nil {
				t, only, next = r.s.Type(w.Start), w.Filter, at+n
			}
		}
	}
	return t, only, next
}

// only narrows the records that were opened by what their word says.
func (r *reader) only(t *brief.Tree) {
	switch {
	case t == nil:
	case t.All != nil:
		for _, k := range t.All {
			r.narrow(k)
		}
	default:
		r.narrow(*t)
	}
}

func (r *reader) recordType(at int) (best *schema.Type, next int) {
	for _, t := range r.s.Types {
		for _, name := range []string{t.Label, t.One, t.Key} {
			if n, owns := r.label(name, at); n > 0 && !owns && at+n > next {
				best, next = t, at+n
			}
		}
	}
	return best, next
}

// open begins the report, or one more of its parts.
func (r *reader) open(key string, t *schema.Type) {
	r.closePart()
	r.part = &brief.Part{Key: key, Start: t.Key}
	r.last = ""
	if key == "" && (len(r.b.Parts) > 0 || r.beside()) {
		r.part.Key = r.partName(t)
	}
}

// closePart puts the part that was read where it belongs.
func (r *reader) closePart() {
	if r.part == nil {
		return
	}
	if r.part.Key == "" {
		r.b.Part = *r.part
		r.part = &r.b.Part
		return
	}
	for i := range r.b.Parts {
		if r.b.Parts[i].Key == r.part.Key {
			r.b.Parts[i] = *r.part
			return
		}
	}
	r.b.Parts = append(r.b.Parts, *r.part)
}

// before reads the words before a record type: whose, and choices that its records have.
func (r *reader) before(end int) {
	for r.at < end {
		from := r.at
		switch {
		case r.take("all", "the", "show", "list", ","):
			continue
		case r.take("my team", "our team", "our"):
			r.part.Whose = &brief.Whose{Word: "team"}
			continue
		case r.take("my"):
			r.part.Whose = &brief.Whose{Word: "mine"}
			continue
		}
		t := r.adjective()
		if t == nil || r.at > end {
			r.unread(from, from+1)
			r.at = from + 1
			continue
		}
		for at := r.at; r.take("or") && r.at < end; at = r.at { // "open or won deals"
			more := r.adjective()
			if more == nil || more.Field != t.Field || r.at > end {
				r.at = at
				break
			}
			t.Values = append(t.Values, more.Values...)
		}
		r.narrow(*t)
	}
}

// adjective reads a choice of the records: "open", "harbour" of their customers.
func (r *reader) adjective() *brief.Tree {
	t := r.start()
	try := func(path string, f *schema.Field) *brief.Tree {
		v, next := r.choice(f.Choices, r.at)
		if next == 0 {
			return nil
		}
		r.at = next
		return &brief.Tree{Field: path, Is: "any_of", Values: []string{v}}
	}
	for i := range t.Fields {
		if got := try(t.Fields[i].Key, &t.Fields[i]); got != nil {
			return got
		}
	}
	for i := range t.Fields {
		f := &t.Fields[i]
		if f.Kind != schema.Link || f.Worked != nil {
			continue
		}
		to := r.s.Type(f.To)
		for k := range to.Fields {
			if got := try(f.Key+"."+to.Fields[k].Key, &to.Fields[k]); got != nil {
				return got
			}
		}
	}
	return nil
}

func (r *reader) narrow(t brief.Tree) {
	if r.part.Filter == nil {
		r.part.Filter = &brief.Tree{All: []brief.Tree{}}
	}
	if r.part.Filter.All == nil {
		r.part.Filter = &brief.Tree{All: []brief.Tree{*r.part.Filter}}
	}
	r.part.Filter.All = append(r.part.Filter.All, t)
}

// another goes on to the next part: "beside activities ...".
func (r *reader) another() bool {
	return r.take("; beside them", "beside them", "beside") && r.records()
}

// beside says whether another part comes further on.
func (r *reader) beside() bool {
	for at := r.at; at < len(r.w); at++ {
		if r.isAt(at, "beside") && (r.isAt(at-1, ",") || r.isAt(at-1, ";")) {
			return true
		}
	}
	return false
}

// partName is the key of a part that was opened: of the name in brackets behind it, else of what it is about.
func (r *reader) partName(t *schema.Type) string {
	name := t.Key
	for at := r.at; at < len(r.w) && (at == r.at || !r.isAt(at, "beside") || !r.isAt(at-1, ",")); at++ {
		if end := r.bracketed(
			at,
		); end > 0 &&
			(end == len(r.w) || r.isAt(end, ",", "beside") || r.isAt(end, ";") || r.isAt(end, ",", "by") || r.isAt(end, ",", "across") || r.isAt(end, ",", "leaving", "out", "(")) {
			name = r.raw(at+1, end-1)
			break
		}
	}
	taken := map[string]bool{}
	for i := range r.b.Parts {
		taken[r.b.Parts[i].Key] = true
	}
	return free(ownKey(name), taken)
}

// bracketed says where plain words in brackets end, 0 where there are none.
func (r *reader) bracketed(at int) int {
	if !r.isAt(at, "(") {
		return 0
	}
	for end := at + 1; end < len(r.w) && end < at+8; end++ {
		if r.isAt(end, ")") {
			return end + 1
		}
		if r.word(end).mark {
			return 0
		}
	}
	return 0
}

// named goes over the name of a part, in brackets behind it.
func (r *reader) named() bool {
	end := r.bracketed(r.at)
	if end == 0 || r.part.Key == "" ||
		ownKey(r.raw(r.at+1, end-1)) != strings.TrimRight(r.part.Key, "_0123456789") &&
			ownKey(r.raw(r.at+1, end-1)) != r.part.Key {
		return false
	}
	r.at = end
	return true
}
