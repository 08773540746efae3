package typed

import (
	"regexp"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/schema"
)

// taking reads a field worked out for the report: "with Size as value in bands from 10,000".
func (r *reader) taking() bool { return r.take("taking", "with") && r.own() }

func (r *reader) own() bool {
	at := r.at
	name, ok := r.ownName()
	if !ok {
		r.at = at
		return false
	}
	o := brief.Own{Label: name}
	switch {
	case r.is("(") && r.at+2 < len(r.w) && r.word(r.at+2).low == ")":
		o.Key = r.word(r.at + 1).text
		r.at += 3
	case keyLike.MatchString(name):
		o.Key, o.Label = name, ""
	default:
		o.Key = ownKey(name)
	}
	taken := map[string]bool{}
	for i := range r.part.Own {
		taken[r.part.Own[i].Key] = true
	}
	o.Key = free(o.Key, taken)
	if !r.take("as") || !r.ownBody(&o) {
		r.at = at
		return false
	}
	r.part.Own = append(r.part.Own, o)
	r.last = "own"
	return true
}

var notKey = regexp.MustCompile(`[^a-z0-9_]+`)

func ownKey(name string) string {
	key := strings.TrimLeft(strings.Trim(notKey.ReplaceAllString(fold(name), "_"), "_"), "_0123456789")
	if key == "" || key == "label" {
		return "own"
	}
	return key
}

// ownName reads what a worked-out field is called, up to its key or "as".
func (r *reader) ownName() (string, bool) {
	from := r.at
	if from < len(r.w) && r.word(from).quoted {
		r.at++
		return r.word(from).text, true
	}
	for r.at < len(r.w) && !r.word(r.at).mark && !r.is("as") {
		r.at++
	}
	return r.raw(from, r.at), r.at > from
}

func (r *reader) ownBody(o *brief.Own) bool {
	at := r.at
	for _, read := range []func(*brief.Own) bool{r.linkedOwn, r.bands, r.merge} {
		r.at = at
		if read(o) {
			return true
		}
	}
	r.at = at
	text, ok := r.formula(r.pathOf, r.sortOf)
	o.Formula = text
	return ok
}

// linkedOwn reads "the sum of amount of its lines (...)", "the outcome of the newest of its activities by date".
func (r *reader) linkedOwn(o *brief.Own) bool {
	if r.take("how many of its") {
		return r.linkedFilled(o)
	}
	if !r.take("the") {
		return false
	}
	l := &brief.Linked{}
	// The link is after the field, so that it is looked for first.
	from := r.at
	for at := from; at < len(r.w); at++ {
		if !r.isAt(at, "of") {
			continue
		}
		link := at + 1
		if r.isAt(link, "its") {
			link++
		}
		path, to, next := r.linkPath(r.start(), link, 0)
		if to == nil {
			continue
		}
		r.at = from
		l.Link = path
		if !r.linkedFn(l, scope{t: to}, at) {
			continue
		}
		r.at = next
		if l.By != "" {
			if !r.take("by") {
				continue
			}
			h, ok := r.field(scope{t: to}, r.at)
			if !ok {
				continue
			}
			l.By, r.at = h.path, h.next
		}
		var ok bool
		if l.Where, ok = r.narrowed(to); !ok {
			continue
		}
		o.Linked = l
		return true
	}
	return false
}

// linkedFilled reads "activities have an outcome (...)", behind "how many of its".
func (r *reader) linkedFilled(o *brief.Own) bool {
	path, to, next := r.linkPath(r.start(), r.at, 0)
	if to == nil {
		return false
	}
	r.at = next
	if !r.take("have an", "have a", "have") {
		return false
	}
	h, ok := r.field(scope{t: to}, r.at)
	if !ok {
		return false
	}
	r.at = h.next
	where, ok := r.narrowed(to)
	o.Linked = &brief.Linked{Link: path, Fn: "filled", Of: h.path, Where: where}
	return ok
}

// linkedFn reads the function up to the "of" before the link.
func (r *reader) linkedFn(l *brief.Linked, s scope, end int) bool {
	if r.is("count") && r.at+1 == end {
		l.Fn = "count"
		return true
	}
	for _, f := range functions {
		at := r.at
		if r.take(f.words) {
			r.plural = f.many
			h, ok := r.field(s, r.at)
			r.plural = false
			if ok && h.next == end {
				l.Fn, l.Of = f.fn, h.path
				return true
			}
		}
		r.at = at
	}
	h, ok := r.field(s, r.at)
	if !ok {
		return false
	}
	r.at = h.next
	for _, fn := range []string{"newest", "oldest"} {
		if r.take("of the " + fn) {
			l.Fn, l.Of, l.By = fn, h.path, "?"
			return r.at == end
		}
	}
	return false
}

// bands reads "value in bands from €10,000 and €60,000".
func (r *reader) bands(o *brief.Own) bool {
	h, ok := r.field(r.here(), r.at)
	if !ok {
		return false
	}
	r.at = h.next
	if !r.take("in bands from") {
		return false
	}
	b := &brief.Bands{Of: h.path}
	for {
		edge, next, ok := r.amount(r.at)
		if !ok {
			break
		}
		b.Edges = append(b.Edges, edge)
		r.at = next
		r.take("%")
		at := r.at
		if r.take(",", "and") {
			if _, ok := r.number(r.at); ok {
				continue
			}
		}
		r.at = at
		break
	}
	o.Bands = b
	return len(b.Edges) > 0
}

// merge reads "country merged: Nordic (NO, SE), Elsewhere (all others)", and as it was said before, "country merged to
// Nordic for NO or SE, Elsewhere for the rest".
func (r *reader) merge(o *brief.Own) bool {
	h, ok := r.field(r.here(), r.at)
	if !ok {
		return false
	}
	r.at = h.next
	m := &brief.Merge{Of: h.path}
	switch {
	case r.take("merged :"):
		ok = r.mergeSets(m)
	case r.take("merged to"):
		ok = r.mergeFor(m)
	default:
		return false
	}
	o.Merge = m
	return ok && len(m.Sets) > 0
}

func (r *reader) mergeSets(m *brief.Merge) bool {
	for {
		at := r.at
		label, ok := r.upTo("(")
		if !ok {
			r.at = at
			return false
		}
		if r.take("all others )") {
			m.Rest = label
			return true
		}
		set := brief.MergeSet{Label: label}
		for !r.take(")") {
			v, ok := r.plain(false)
			if !ok {
				r.at = at
				return false
			}
			set.Values = append(set.Values, v)
			r.take(",")
		}
		m.Sets = append(m.Sets, set)
		at = r.at
		if !r.take(",") {
			return true
		}
		c := r.at
		if _, ok := r.upTo("("); !ok || r.is("every") {
			r.at = at
			return true
		}
		r.at = c
		for _, w := range []string{"listing", "by", "across", "showing", "with", "as", "sorted", "grouped", "totals", "compared", "towards", "the"} {
			if r.is(w) {
				r.at = at
				return true
			}
		}
	}
}

func (r *reader) mergeFor(m *brief.Merge) bool {
	for {
		label, ok := r.upTo("for")
		if !ok {
			return true
		}
		if r.take("the rest") {
			m.Rest = label
			return true
		}
		set := brief.MergeSet{Label: label, Values: r.values(r.here(), hit{kind: schema.Choice})}
		if len(set.Values) == 0 {
			return false
		}
		m.Sets = append(m.Sets, set)
		at := r.at
		if !r.take(",") {
			return true
		}
		c := r.at
		if _, ok := r.upTo("for"); !ok {
			r.at = at
			return true
		}
		r.at = c
	}
}

// upTo reads a text that a word ends, and goes over the word.
func (r *reader) upTo(end string) (string, bool) {
	from := r.at
	if from < len(r.w) && r.word(from).quoted && r.isAt(from+1, end) {
		r.at += 2
		return r.word(from).text, true
	}
	for at := from; at < len(r.w); at++ {
		if r.isAt(at, end) && at > from {
			r.at = at + 1
			return r.raw(from, at), true
		}
		if r.word(at).mark {
			break
		}
	}
	return "", false
}
