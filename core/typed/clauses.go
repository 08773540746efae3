package typed

import (
	"strconv"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/schema"
)

// records reads what the report is about, and what stands before it: "my open deals", "won: Deals".
func (r *reader) records() bool {
	for r.at < len(r.w) {
		key := ""
		if r.isAt(r.at+1, ":") {
			key = r.word(r.at).text
			r.at += 2
		}
		for at := r.at; at < len(r.w) && at < r.at+8; at++ {
			t, next := r.recordType(at)
			if t == nil || (at > r.at && (r.isAt(at-1, "my", "team") || r.isAt(at-1, "our", "team"))) {
				continue
			}
			r.open(key, t)
			r.before(at)
			r.at = next
			return true
		}
		return false
	}
	return false
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
		if t := r.adjective(); t == nil || r.at > end {
			r.unread(from, from+1)
			r.at = from + 1
		} else {
			r.narrow(*t)
		}
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

// clause reads the clause that stands next; marks between clauses go with it.
func (r *reader) clause() bool {
	for r.take(",") {
	}
	if r.at >= len(r.w) {
		return true
	}
	at := r.at
	for _, read := range []func() bool{r.further, r.beside, r.whose, r.bring, r.timed, r.filtered, r.taking, r.listing, r.sorted, r.first, r.grouped, r.blank, r.summed, r.compare, r.target, r.totals, r.chart, r.short} {
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
	case r.take("then by", "then") && r.last == "groups":
		return r.group(false)
	}
	if !r.take("and") {
		return false
	}
	switch r.last {
	case "filter":
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

func (r *reader) beside() bool {
	if !r.take("; beside them", "beside them", ";") {
		return false
	}
	return r.records()
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
		if r.take("where") {
			where, ok := r.conds(scope{t: r.s.Type(b.Type)})
			if !ok {
				return false
			}
			got.Where = where
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
	if r.is("or") {
		list := []brief.Tree{*t}
		for r.take("or") {
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
		if r.take("as") {
			if c.Label, ok = r.plain(false); !ok {
				return false
			}
		}
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

// clauseWord says whether a word stands next that begins another clause.
func (r *reader) clauseWord() bool {
	for _, w := range []string{"sorted", "by", "across", "showing", "as", "towards", "totals", "against", "listing", "taking", "where"} {
		if r.is(w) {
			return true
		}
	}
	return false
}

func (r *reader) sorted() bool {
	if !r.take("sorted by", "ordered by") {
		return false
	}
	for {
		h, ok := r.field(r.here(), r.at)
		if !ok {
			return len(r.b.Order) > 0
		}
		r.at = h.next
		r.b.Order = append(r.b.Order, brief.Order{Field: h.path, Desc: r.take("downwards", "descending")})
		at := r.at
		if !r.take(", then", "then") {
			return true
		}
		if _, ok := r.field(r.here(), r.at); !ok {
			r.at = at
			return true
		}
	}
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
	case r.take("against the period before", "against the previous period"):
		r.b.Compare = "previous_period"
	case r.take("against the year before", "against last year"):
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
	v, ok := r.number(r.at)
	if ok {
		r.at++
		r.b.Target = v
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
		for r.at < len(r.w) && !r.is(",", "as", "shares") {
			r.at++
		}
		r.of = r.raw(from, r.at)
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
