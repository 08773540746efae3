package typed

import (
	"strconv"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/schema"
)

// clause reads the next clause; marks between clauses go with it.
func (r *reader) clause() bool {
	for r.take(",") {
	}
	if r.at >= len(r.w) {
		return true
	}
	at := r.at
	for _, read := range []func() bool{r.further, r.another, r.named, r.whose, r.bring, r.timed, r.filtered, r.taking, r.listing, r.sorted, r.first, r.grouped, r.blank, r.summed, r.compare, r.money, r.moments, r.target, r.totals, r.chart, r.short} {
		r.at = at
		if read() {
			return true
		}
	}
	r.at = at
	return false
}

// further goes on with the clause before: "and ...", ", then ...".
func (r *reader) further() bool {
	switch {
	case r.take("then across"):
		return r.group(true)
	case r.last == "groups" && r.take("then by", "then"):
		return r.group(false)
	}
	if !r.take("and") {
		return false
	}
	switch r.last {
	case "filter":
		r.take("where")
		if t, ok := r.cond(r.here()); ok {
			r.narrow(*t)
			return true
		}
	case "own":
		return r.own()
	case "summaries":
		return r.summary()
	}
	return r.clause()
}

func (r *reader) whose() bool {
	if !r.take("of") {
		return false
	}
	w := &brief.Whose{}
	switch {
	case r.take("everyone"):
		return true
	case r.take("mine", "me"):
		w.Word = "mine"
	case r.take("my team", "our team"):
		w.Word = "team"
	case r.take("nobody"):
		w.People = []string{}
	default:
		people := r.s.Readers()
		for {
			if r.take("team") {
				id, ok := r.record(people.Field(people.Team).To)
				if !ok {
					return false
				}
				w.Teams = append(w.Teams, id)
			} else {
				id, ok := r.record(people.Key)
				if !ok {
					return false
				}
				w.People = append(w.People, id)
			}
			if (!r.is(",") || !r.orAhead(r.at+1)) && !r.is("or") {
				break
			}
			r.at++
		}
	}
	r.part.Whose = w
	return true
}

func (r *reader) bring() bool {
	if !r.take("each with its", "with their", "with its") {
		return false
	}
	t, into := r.start(), &r.part.Bring
	for *into != nil {
		t, into = r.s.Type(t.Back((*into).Link).Type), &(*into).Bring
	}
	for i := range t.Backs {
		b := &t.Backs[i]
		n, owns := r.label(b.Label, r.at)
		if n == 0 || owns {
			continue
		}
		r.at += n
		got := &brief.Bring{Link: b.Key}
		var ok bool
		if got.Where, ok = r.narrowed(r.s.Type(b.Type)); !ok {
			return false
		}
		if r.take(", leaving out those without", "leaving out those without") {
			no := false
			got.KeepEmpty = &no
		}
		*into = got
		return true
	}
	return false
}

func (r *reader) filtered() bool {
	r.take("where", "whose", "that are", "which are")
	t, ok := r.cond(r.here())
	if !ok {
		return false
	}
	r.last = "filter"
	if r.is("or") || r.is(",", "or") {
		list := []brief.Tree{*t}
		for r.take(", or", "or") {
			next, ok := r.cond(r.here())
			if !ok {
				return false
			}
			list = append(list, *next)
		}
		t = &brief.Tree{Any: list}
		if r.part.Filter == nil {
			r.part.Filter = t
			return true
		}
	}
	r.narrow(*t)
	return true
}

func (r *reader) listing() bool {
	if !r.take("listing", "with columns") {
		return false
	}
	for {
		h, ok := r.field(r.here(), r.at)
		if !ok {
			return len(r.b.Columns) > 0
		}
		r.at = h.next
		c := brief.Column{Field: h.path}
		if w := r.word(r.at); w.quoted || r.take("as") {
			if c.Label, ok = r.plain(false); !ok {
				return false
			}
		}
		r.last = "columns"
		r.b.Columns = append(r.b.Columns, c)
		at := r.at
		if !r.take(",", "and") {
			return true
		}
		if _, ok := r.field(r.here(), r.at); !ok || r.clauseWord() {
			r.at = at
			return true
		}
	}
}

// clauseWord says whether the next word begins another clause.
func (r *reader) clauseWord() bool {
	for _, w := range []string{"sorted", "by", "across", "showing", "as", "towards", "totals", "against", "compared", "listing", "taking", "where", "with", "grouped"} {
		if r.is(w) {
			return true
		}
	}
	return false
}

// sorted reads an order of records: "largest value first", "sorted by name, Z to A". Behind columns and a comma, a bare
// "by" is one too.
func (r *reader) sorted() bool {
	bare := r.last == "columns" && r.isAt(r.at-1, ",")
	led := r.take("sorted", "ordered")
	for further := false; ; further = true {
		o, ok := r.oneOrder(led || bare || further)
		if !ok {
			return false
		}
		r.b.Order = append(r.b.Order, o)
		r.last = "order"
		at := r.at
		if !r.take(", then", "then") {
			return true
		}
		if _, ok := r.oneOrder(true); !ok {
			r.at = at
			return true
		}
		r.at = at
		r.take(", then", "then")
	}
}

// oneOrder reads one value that records are sorted by.
func (r *reader) oneOrder(by bool) (brief.Order, bool) {
	for _, first := range []struct {
		word string
		desc bool
	}{{"largest", true}, {"latest", true}, {"smallest", false}, {"earliest", false}} {
		if !r.take(first.word) {
			continue
		}
		h, ok := r.field(r.here(), r.at)
		if !ok || !r.isAt(h.next, "first") {
			return brief.Order{}, false
		}
		r.at = h.next + 1
		return brief.Order{Field: h.path, Desc: first.desc}, true
	}
	if !by {
		return brief.Order{}, false
	}
	r.take("by")
	h, ok := r.field(r.here(), r.at)
	if !ok {
		return brief.Order{}, false
	}
	r.at = h.next
	o := brief.Order{Field: h.path}
	switch {
	case r.take(", Z to A", ", z to a", ", last first", ", yes first", "downwards", "descending", "z to a", "last first"):
		o.Desc = true
	default:
		r.take(", a to z", "a to z", ", no first", "ascending")
	}
	return o, true
}

func (r *reader) first() bool {
	if !r.take("the first", "first") || r.at >= len(r.w) {
		return false
	}
	n, err := strconv.Atoi(strings.ReplaceAll(r.word(r.at).low, ",", ""))
	if err != nil {
		return false
	}
	r.at++
	r.b.Limit = &n
	return true
}

func (r *reader) blank() bool {
	if !r.take("leaving out ( blank )") {
		return false
	}
	no := false
	r.b.Blank = &no
	return true
}

func (r *reader) compare() bool {
	switch {
	case r.take("compared with the period before", "compared with the previous period", "against the period before", "against the previous period"):
		r.b.Compare = "previous_period"
	case r.take("compared with the year before", "compared with last year", "against the year before", "against last year"):
		r.b.Compare = "year_before"
	default:
		return false
	}
	r.dates()
	return true
}

func (r *reader) target() bool {
	if r.take("towards the target for") {
		return r.measure()
	}
	if !r.take("towards a target of", "towards", "with a target of") {
		return false
	}
	v, next, ok := r.amount(r.at)
	if ok {
		r.at, r.b.Target = next, v
	}
	return ok
}

// measure reads the name or the key of a measure that has targets.
func (r *reader) measure() bool {
	if r.at >= len(r.w) {
		return false
	}
	w, from := r.word(r.at), r.at
	name, ok := r.plain(false)
	if !ok {
		return false
	}
	if r.known.IDs != nil {
		if keys := r.known.IDs(brief.Targets, name); len(keys) > 0 {
			r.b.TargetOf = keys[0]
			return true
		}
	}
	if !w.quoted && keyLike.MatchString(w.text) {
		r.at, r.b.TargetOf = from+1, w.text
		return true
	}
	return false
}

func (r *reader) totals() bool {
	if !r.take("totals only") {
		return false
	}
	r.b.TotalsOnly = true
	return true
}

func (r *reader) chart() bool {
	if r.b.Chart != nil && r.take("as shares") {
		r.b.Chart.Measure = "share"
		return true
	}
	if !r.take("as", "drawn as") {
		return false
	}
	kind, next := r.chartKind()
	if kind == "" {
		return false
	}
	r.at = next
	r.take("chart")
	r.b.Chart = &brief.Chart{Kind: kind}
	if r.take("of") {
		from := r.at
		for r.at < len(r.w) && !r.is(",", "as", "shares") && !r.is("as", "shares") {
			r.at++
		}
		r.of = r.said(from, r.at)
	}
	return true
}

// short reads what is typed in short: "over 20k" of the records' amount, "won", "mine".
func (r *reader) short() bool {
	t := r.start()
	for i := range t.Fields {
		f := &t.Fields[i]
		if f.Kind == schema.Money && f.Worked == nil {
			h := hit{path: f.Key, next: r.at}
			h.of(f)
			if c, ok := r.compared(r.here(), h); ok {
				r.narrow(*c)
				return true
			}
			break
		}
	}
	if c := r.adjective(); c != nil {
		r.narrow(*c)
		return true
	}
	return false
}
