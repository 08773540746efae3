package typed

import (
	"errors"
	"regexp"
	"strconv"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/schema"
)

// functions are the ways to say a summary's function, longer ones first.
var functions = []struct{ words, fn string }{
	{"number of filled", "filled"}, {"number of different", "distinct"}, {"sum of", "sum"}, {"total", "sum"}, {"average", "average"}, {"mean", "average"},
	{"median", "median"}, {"least", "min"}, {"smallest", "min"}, {"greatest", "max"}, {"largest", "max"},
}

var shows = []struct{ words, show string }{
	{"as a share of the total", "percent_of_total"}, {"as a share of the group above", "percent_of_parent"}, {"as a share of the row", "percent_of_row"},
	{"as a share of the column", "percent_of_column"}, {"running on", "running_total"}, {"as the change from the group before", "change"},
}

func (r *reader) summed() bool {
	shown := r.take("showing")
	if !r.summary() {
		return false
	}
	for shown {
		at := r.at
		if !r.take(",") || !r.summary() {
			r.at = at
			break
		}
	}
	return true
}

// summary reads one summary and puts it where it belongs.
func (r *reader) summary() bool {
	at := r.at
	s := brief.Summary{}
	if r.formulaSummary(&s) {
		r.after(&s)
		r.b.Summaries = appendSummary(r, s)
		r.last = "summaries"
		return true
	}
	r.at = at
	// With parts, the fields may be any part's, and the part is named after them.
	r.closePart()
	parts := []*brief.Part{r.part}
	if r.part.Key != "" {
		parts = nil
		for i := range r.b.Parts {
			parts = append(parts, &r.b.Parts[i])
		}
	}
	for _, p := range parts {
		r.at = at
		s = brief.Summary{}
		if !r.function(scope{r.s.Type(p.Start), p}, &s) {
			continue
		}
		if p.Key != "" {
			if !r.is("in") || r.at+1 >= len(r.w) || r.word(r.at+1).text != p.Key {
				continue
			}
			r.at += 2
		}
		if r.take("where (") {
			var ok bool
			if s.Where, ok = r.conds(scope{r.s.Type(p.Start), p}); !ok || !r.take(")") {
				continue
			}
		}
		r.after(&s)
		if s.Key == "" {
			s.Key = r.freeKey(s.Fn, s.Of)
		}
		p.Summaries = append(p.Summaries, s)
		if p.Key == r.part.Key {
			r.part.Summaries = p.Summaries
		}
		r.last = "summaries"
		return true
	}
	r.at = at
	return false
}

// appendSummary puts a formula among the summaries: of the one record type, or over the parts.
func appendSummary(r *reader, s brief.Summary) []brief.Summary {
	if r.part.Key == "" {
		r.part.Summaries = append(r.part.Summaries, s)
		return r.part.Summaries
	}
	return append(r.b.Summaries, s)
}

func (r *reader) function(sc scope, s *brief.Summary) bool {
	if r.take("count") {
		s.Fn = "count"
		if r.take("of") {
			h, ok := r.field(sc, r.at)
			if !ok || !h.link {
				return false
			}
			s.Of, r.at = h.path, h.next
		}
		return true
	}
	for _, f := range functions {
		at := r.at
		if !r.take(f.words) {
			continue
		}
		if h, ok := r.field(sc, r.at); ok && !h.link {
			s.Fn, s.Of, r.at = f.fn, h.path, h.next
			return true
		}
		r.at = at
	}
	return false
}

// after reads what follows a summary: how it is shown, its key, its label.
func (r *reader) after(s *brief.Summary) {
	for _, w := range shows {
		if r.take(w.words) {
			s.Show = w.show
			break
		}
	}
	if r.is("(") && r.at+2 < len(r.w) && r.word(r.at+2).low == ")" && keyLike.MatchString(r.word(r.at+1).text) {
		s.Key = r.word(r.at + 1).text
		r.at += 3
	}
	at := r.at
	if r.take("as") {
		if kind, next := r.chartKind(); kind != "" && (next == len(r.w) || r.word(next).mark || r.isAt(next, "of")) {
			r.at = at
			return
		}
		label, ok := r.plain(false)
		if !ok {
			r.at = at
			return
		}
		s.Label = label
	}
}

// chartKind reads a kind of chart: "a funnel", "bars".
func (r *reader) chartKind() (kind string, next int) {
	for _, k := range brief.ChartKinds {
		_, bare, _ := strings.Cut(brief.ChartWords(k), " ")
		for _, words := range []string{brief.ChartWords(k), bare, k + "s"} {
			list := strings.Fields(words)
			if r.is(list...) && r.at+len(list) > next {
				kind, next = k, r.at+len(list)
			}
		}
	}
	return kind, next
}

var keyLike = regexp.MustCompile(`^[a-z][a-z0-9_]*$`)

func (r *reader) formulaSummary(s *brief.Summary) bool {
	if r.at+2 >= len(r.w) || r.word(r.at+1).low != "=" || !keyLike.MatchString(r.word(r.at).text) {
		return false
	}
	key := r.word(r.at).text
	r.at += 2
	formula, ok := r.formula(func(string) (brief.Sort, error) { return brief.NumberSort, nil })
	s.Key, s.Formula = key, formula
	return ok
}

// formula reads as far as a formula can go, where a clause or a list goes on after it.
func (r *reader) formula(find func(string) (brief.Sort, error)) (string, bool) {
	far := len(r.text) // no formula that begins here goes further
	for end := len(r.w); end > r.at; end-- {
		if r.word(end-1).to > far {
			continue
		}
		if end < len(r.w) {
			if w := r.word(end).low; w != "," && w != "and" && w != "as" && w != "(" && w != "running" && w != ";" {
				continue
			}
		}
		text := r.raw(r.at, end)
		if len(text) > brief.MaxFormula {
			continue
		}
		if !r.spend(len(text) * 500) {
			break
		}
		_, err := brief.ParseFormula(text, find)
		if err == nil {
			r.at = end
			return text, true
		}
		if wrong := (*brief.UngrammaticalError)(nil); errors.As(err, &wrong) {
			far = r.word(r.at).from + wrong.Offset
		}
	}
	return "", false
}

func (r *reader) freeKey(fn, of string) string {
	base := fn
	if of != "" {
		base += "_" + of
	}
	base = strings.Trim(regexp.MustCompile(`[^a-z0-9_]+`).ReplaceAllString(base, "_"), "_")
	taken := map[string]bool{}
	note := func(list []brief.Summary) {
		for _, s := range list {
			taken[s.Key] = true
		}
	}
	note(r.b.Summaries)
	note(r.part.Summaries)
	for _, p := range r.b.Parts {
		note(p.Summaries)
	}
	return free(base, taken)
}

func free(base string, taken map[string]bool) string {
	key := base
	for n := 2; taken[key]; n++ {
		key = base + "_" + strconv.Itoa(n)
	}
	return key
}

// taking reads a field worked out for the report.
func (r *reader) taking() bool { return r.take("taking") && r.own() }

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
	if !r.take("as") || !r.ownBody(&o) {
		r.at = at
		return false
	}
	r.part.Own = append(r.part.Own, o)
	r.last = "own"
	return true
}

func ownKey(name string) string {
	key := strings.Trim(regexp.MustCompile(`[^a-z0-9_]+`).ReplaceAllString(fold(name), "_"), "_0123456789")
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
	text, ok := r.formula(r.sortOf)
	o.Formula = text
	return ok
}

// sortOf is what a path comes to in a formula.
func (r *reader) sortOf(name string) (brief.Sort, error) {
	kind := schema.Number
	if key, own := strings.CutPrefix(name, "own."); own {
		for i := range r.part.Own {
			if r.part.Own[i].Key == key {
				kind = r.ownKind(r.part, &r.part.Own[i])
			}
		}
	} else {
		t := r.start()
		for b := r.part.Bring; b != nil; b = b.Bring {
			rest, ok := strings.CutPrefix(name, b.Link+".")
			if !ok {
				break
			}
			name, t = rest, r.s.Type(t.Back(b.Link).Type)
		}
		if f := r.follow(t, name); f != nil {
			kind = f.Kind
		}
	}
	switch {
	case kind.Numeric():
		return brief.NumberSort, nil
	case kind.Dated():
		return brief.DaySort, nil
	case kind == schema.YesNo:
		return brief.TruthSort, nil
	}
	return brief.TextSort, nil
}

// linkedOwn reads "the sum of amount of lines where (...)", "the outcome of the newest of activities by happens".
func (r *reader) linkedOwn(o *brief.Own) bool {
	if !r.take("the") {
		return false
	}
	l := &brief.Linked{}
	// The link stands after the field, so that it is looked for first.
	from := r.at
	for at := from; at < len(r.w); at++ {
		if !r.isAt(at, "of") {
			continue
		}
		path, to, next := r.linkPath(r.start(), at+1, 0)
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
		if l.Where, ok = r.whereOn(to); !ok {
			continue
		}
		o.Linked = l
		return true
	}
	return false
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
			if h, ok := r.field(s, r.at); ok && h.next == end {
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

// bands reads "value in bands from 10000 and 60000".
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
		if _, ok := r.number(r.at); !ok {
			break
		}
		b.Edges = append(b.Edges, r.word(r.at).text)
		r.at++
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

// merge reads "country merged to Nordic for NO or SE, Elsewhere for the rest".
func (r *reader) merge(o *brief.Own) bool {
	h, ok := r.field(r.here(), r.at)
	if !ok {
		return false
	}
	r.at = h.next
	if !r.take("merged to") {
		return false
	}
	m := &brief.Merge{Of: h.path}
	for {
		label, ok := r.upTo("for")
		if !ok {
			return len(m.Sets) > 0
		}
		if r.take("the rest") {
			m.Rest = label
			break
		}
		set := brief.MergeSet{Label: label}
		set.Values = r.values(r.here(), hit{kind: schema.Choice})
		if len(set.Values) == 0 {
			return false
		}
		m.Sets = append(m.Sets, set)
		at := r.at
		if !r.take(",") {
			break
		}
		c := r.at
		if _, ok := r.upTo("for"); !ok {
			r.at = at
			break
		}
		r.at = c
	}
	o.Merge = m
	return true
}

// upTo reads a text that a word ends, and goes over the word.
func (r *reader) upTo(end string) (string, bool) {
	from := r.at
	if from < len(r.w) && r.word(from).quoted && r.isAt(from+1, end) {
		r.at += 2
		return r.word(from).text, true
	}
	for at := from; at < len(r.w) && !r.word(at).mark; at++ {
		if r.isAt(at, end) && at > from {
			r.at = at + 1
			return r.raw(from, at), true
		}
	}
	return "", false
}
