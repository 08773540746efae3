package typed

import (
	"strconv"
	"strings"

	"uzzel/core/schema"
)

// values reads "Marina, Harbour or Sailing club".
func (r *reader) values(s scope, h hit) []string {
	var list []string
	for {
		at := r.at
		if len(list) > 0 {
			switch {
			case r.is(",", "or"):
				return list
			case r.is(",") && r.orAhead(r.at+1):
				r.at++
			case r.is("or"):
				r.at++
				if c := r.at; h.kind == schema.Text || h.kind == schema.Time {
					was := r.peeking
					r.peeking = true
					_, ok := r.cond(s)
					r.peeking = was
					if r.at = c; ok { // another condition begins here
						r.at = at
						return list
					}
				}
			default:
				return list
			}
		}
		v, ok := r.value(h, false)
		if !ok {
			r.at = at
			return list
		}
		if list = append(list, v); r.peeking {
			return list // that a condition begins is all that is asked
		}
	}
}

// orAhead says whether an "or" comes before what would end a list of values.
func (r *reader) orAhead(at int) bool {
	for ; at < len(r.w); at++ {
		switch w := r.word(at); {
		case w.quoted:
		case w.low == "or":
			return true
		case w.low == "and", w.low == "where", w.low == "for", w.low == "(", w.low == ")", w.low == ";":
			return false
		}
	}
	return false
}

// choice reads one of some choices, the longest.
func (r *reader) choice(choices []string, at int) (value string, next int) {
	for _, c := range choices {
		if at < len(r.w) && r.word(at).quoted && r.word(at).low == fold(c) {
			return c, at + 1
		}
		if n, owns := r.label(c, at); n > 0 && !owns && at+n > next {
			value, next = c, at+n
		}
	}
	return value, next
}

// value reads one value of a field as the brief writes it. to says that a "to" ends it.
func (r *reader) value(h hit, to bool) (string, bool) {
	if r.at >= len(r.w) {
		return "", false
	}
	if _, next := r.choice(h.choices, r.at); next > 0 {
		v := r.raw(r.at, next)
		if r.word(r.at).quoted {
			v = r.word(r.at).text
		}
		r.at = next
		return v, true
	}
	switch {
	case h.kind.Numeric():
		v, next, ok := r.amount(r.at)
		if ok {
			r.at = next
			r.take("%")
		}
		return v, ok
	case h.kind == schema.Date:
		return r.day()
	case h.kind == schema.YesNo:
		if h.flag != nil {
			yes, no := h.flag.Word(true), h.flag.Word(false)
			if word, next := r.choice([]string{yes, no}, r.at); next > 0 {
				r.at = next
				return strconv.FormatBool(word == yes), true
			}
		}
		for word, v := range map[string]string{"yes": "true", "true": "true", "no": "false", "false": "false"} {
			if r.take(word) {
				return v, true
			}
		}
		return "", false
	case h.kind == schema.Link || h.kind == schema.ID:
		return r.record(h.to)
	}
	return r.plain(to)
}

// plain reads a text: quoted, or as far as it can go.
func (r *reader) plain(to bool) (string, bool) {
	from := r.at
	if r.word(from).quoted {
		r.at++
		return r.word(from).text, true
	}
	for r.at < len(r.w) {
		w := r.word(r.at)
		if w.mark || w.quoted || (r.at > from && (w.low == "or" || w.low == "and" || (to && w.low == "to") || r.begins())) {
			break
		}
		r.at++
	}
	return r.raw(from, r.at), r.at > from
}

// begins says whether a clause that needs no comma before it begins here: "by stage".
func (r *reader) begins() bool {
	for _, lead := range []string{"by", "across"} {
		if r.is(lead) && r.part != nil {
			_, ok := r.field(r.here(), r.at+1)
			return ok
		}
	}
	return false
}

// record reads the name of a record, or its number: "Aldo Marlow", "number 17", "Aldo Marlow (number 3)".
func (r *reader) record(typ string) (string, bool) {
	if r.is("number") && r.at+1 < len(r.w) {
		r.at += 2
		return r.word(r.at - 1).text, true
	}
	if r.known.IDs == nil {
		return "", false
	}
	end := r.at
	for end < len(r.w) && end < r.at+9 && (r.word(end).quoted || !r.word(end).mark || r.word(end).low == ",") {
		end++
	}
	for ; end > r.at; end-- {
		name := r.raw(r.at, end)
		if r.word(r.at).quoted {
			name, end = r.word(r.at).text, r.at+1
		}
		ids := r.known.IDs(typ, strings.TrimSuffix(name, "."))
		if len(ids) == 0 {
			continue
		}
		r.at = end
		if r.is("(", "number") && r.at+3 < len(r.w) && r.word(r.at+3).low == ")" {
			id := r.word(r.at + 2).text
			r.at += 4
			return id, true
		}
		return ids[0], true
	}
	return "", false
}
