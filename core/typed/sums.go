package typed

import (
	"regexp"
	"strconv"
	"strings"

	"uzzel/core/brief"
)

// functions are the ways to say a summary's function, longer ones first. Those with many name the field in the plural.
var functions = []struct {
	words, fn string
	many      bool
}{
	{
		"number of filled",
		"filled",
		false,
	},
	{"how many have an", "filled", false},
	{"how many have a", "filled", false},
	{"how many have", "filled", false},
	{
		"number of different",
		"distinct",
		true,
	},
	{"how many different", "distinct", true},
	{"sum of", "sum", false},
	{"total of", "sum", false},
	{"total", "sum", false},
	{
		"average of",
		"average",
		false,
	},
	{"average", "average", false},
	{"mean", "average", false},
	{"median of", "median", false},
	{"median", "median", false},
	{"least", "min", false},
	{"smallest", "min", false},
	{"earliest", "min", false},
	{"lowest", "min", false},
	{"greatest", "max", false},
	{"largest", "max", false},
	{"latest", "max", false},
	{"highest", "max", false},
}

var shows = []struct{ words, show string }{
	{
		"as a share of the total",
		"percent_of_total",
	},
	{"as a share of the group above", "percent_of_parent"},
	{"as a share of the row", "percent_of_row"},
	{
		"as a share of the column",
		"percent_of_column",
	},
	{"running on", "running_total"},
	{"as the change from the group before", "change"},
}

func (r *reader) summed() bool {
	r.take(";")
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
		if r.part.Key == "" {
			r.part.Summaries = append(r.part.Summaries, s)
		} else {
			r.b.Summaries = append(r.b.Summaries, s)
		}
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
		if r.partSummary(p, &s) {
			p.Summaries = append(p.Summaries, s)
			if p.Key == r.part.Key {
				r.part.Summaries = p.Summaries
			}
			r.last = "summaries"
			return true
		}
	}
	r.at = at
	return false
}

func (r *reader) partSummary(p *brief.Part, s *brief.Summary) bool {
	from, sc := r.at, scope{r.s.Type(p.Start), p}
	if !r.function(sc, s) {
		return false
	}
	if p.Key != "" {
		n := r.ofPart(r.at, p.Key)
		if n == 0 {
			return false
		}
		r.at += n
	}
	base := r.said(from, r.at)
	if w := r.word(r.at); w.quoted {
		s.Label = w.text
		r.at++
	}
	at := r.at
	if r.take("where (", "(") {
		where, ok := r.conds(sc)
		if ok && r.take(")") {
			s.Where = where
		} else if r.at = at; r.is("where") || r.word(at+2).low != ")" {
			return false
		}
	}
	r.after(s)
	if s.Key == "" {
		s.Key = r.freeKey(s)
	}
	r.note(base, s)
	return true
}

func (r *reader) function(sc scope, s *brief.Summary) bool {
	if r.counts(sc, s) {
		return true
	}
	for _, f := range functions {
		at := r.at
		if !r.take(f.words) {
			continue
		}
		r.plural = f.many
		h, ok := r.field(sc, r.at)
		r.plural = false
		if ok && !h.link && !r.isAt(h.next, "first") {
			s.Fn, s.Of, r.at = f.fn, h.path, h.next
			return true
		}
		r.at = at
	}
	return false
}

// counts reads "count", "count of activities", "number of deals", "how many deals".
func (r *reader) counts(sc scope, s *brief.Summary) bool {
	at := r.at
	for _, lead := range []string{"count of", "number of", "how many"} {
		if !r.take(lead) {
			continue
		}
		if h, ok := r.field(sc, r.at); ok && h.link {
			s.Fn, s.Of, r.at = "count", h.path, h.next
			return true
		}
		if n, owns := r.label(sc.t.Label, r.at); n > 0 && !owns {
			s.Fn, r.at = "count", r.at+n
			return true
		}
		r.at = at
	}
	if r.take("count") {
		s.Fn = "count"
		return true
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

// chartKind reads a kind of chart: "a funnel", "bars", "a bar chart".
func (r *reader) chartKind() (kind string, next int) {
	for _, k := range brief.ChartKinds {
		said := brief.ChartWords(k)
		bare := strings.TrimPrefix(said, "a ")
		one := strings.ReplaceAll(k, "_line", " with a line")
		for _, words := range []string{said, bare, "a " + bare, one, "a " + one, "an " + one, k + "s", "a " + k + " chart", k + " chart", "a progress bar"} {
			list := strings.Fields(words)
			if (words != "a progress bar" || k == "progress") && r.is(list...) && r.at+len(list) > next {
				kind, next = k, r.at+len(list)
			}
		}
	}
	return kind, next
}

var keyLike = regexp.MustCompile(`^[a-z][a-z0-9_]*$`)

func (r *reader) freeKey(s *brief.Summary) string {
	base := s.Fn
	if s.Of != "" {
		base += "_" + s.Of
	}
	if s.Label != "" {
		base = fold(s.Label)
	}
	return free(ownKey(strings.ReplaceAll(base, ".", "_")), r.summaryKeys())
}

func (r *reader) summaryKeys() map[string]bool {
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
	return taken
}

func free(base string, taken map[string]bool) string {
	key := base
	for n := 2; taken[key]; n++ {
		key = base + "_" + strconv.Itoa(n)
	}
	return key
}
