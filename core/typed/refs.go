package typed

import (
	"regexp"
	"strconv"
	"strings"

	"uzzel/core/brief"
)

// Groups, formulas and charts go by summaries, which may be read only after them. What they go by is kept as it was
// said, and settled once all is read.

// pending begins what is not settled yet.
const pending = "?"

// said is a summary as others may refer to it.
type said struct {
	key, label, base string
	narrowed         bool // it has a condition of its own
}

func (r *reader) note(base string, s *brief.Summary) {
	r.sums = append(r.sums, said{s.Key, fold(s.Label), base, s.Where != nil})
}

// said is the text of words as it is compared: folded, with one form of the sign of belonging.
func (r *reader) said(from, to int) string {
	var list []string
	for i := from; i < to; i++ {
		w := r.word(i)
		if text := strings.ReplaceAll(fold(w.text), "’", "'"); w.quoted && to == from+1 {
			return text
		} else if text != "" {
			list = append(list, text)
		}
	}
	return strings.Join(list, " ")
}

// key finds the summary that something goes by: by its label, by its words, by its key; "" where there is none.
func (r *reader) key(name string) string {
	for _, fits := range []func(s said) bool{
		func(s said) bool { return s.label == name },
		func(s said) bool { return s.base == name && s.label == "" && !s.narrowed },
		func(s said) bool { return s.base == name },
		func(s said) bool { return s.key == name },
		func(s said) bool { return strings.HasSuffix(s.base, " "+name) },
	} {
		for _, s := range r.sums {
			if name != "" && fits(s) {
				return s.key
			}
		}
	}
	return ""
}

// refer settles what groups and formulas go by. A summary that only they name is added: "the 5 with the largest value".
func (r *reader) refer() {
	settle := func(by *string) {
		name, ok := strings.CutPrefix(*by, pending)
		if !ok {
			return
		}
		if *by = r.key(name); *by == "" {
			*by = r.added(name)
		}
	}
	for _, list := range [][]brief.Group{r.b.Groups, r.b.Across} {
		for i := range list {
			if list[i].Top != nil {
				settle(&list[i].Top.By)
			}
			if list[i].Order != nil {
				settle(&list[i].Order.By)
			}
		}
	}
	lists := [][]brief.Summary{r.b.Summaries}
	for i := range r.b.Parts {
		lists = append(lists, r.b.Parts[i].Summaries)
	}
	for _, list := range lists {
		for i := range list {
			list[i].Formula = r.formulaKeys(list[i].Formula)
		}
	}
}

// readerOf reads a name by itself, as the part that is being read knows it.
func (r *reader) readerOf(name string) *reader {
	return &reader{
		text:     name,
		w:        split(name),
		s:        r.s,
		known:    r.known,
		b:        r.b,
		part:     r.part,
		foreseen: r.foreseen,
		depth:    r.depth,
	}
}

// added adds a summary that something goes by and nothing shows: a function of a field, or the sum of one.
func (r *reader) added(name string) string {
	if r.part.Key != "" {
		return name
	}
	s := brief.Summary{}
	sub := r.readerOf(name)
	if !sub.function(r.here(), &s) || sub.at < len(sub.w) {
		h, ok := sub.field(r.here(), 0)
		if !ok || h.next < len(sub.w) || !h.kind.Numeric() {
			return name
		}
		s = brief.Summary{Fn: "sum", Of: h.path}
	}
	s.Key = r.freeKey(&s)
	r.part.Summaries = append(r.part.Summaries, s)
	r.note(name, &s)
	return s.Key
}

// placeholder stands for a name in a formula until summaries are settled.
var placeholder = regexp.MustCompile(`\bname_(\d+)_\b`)

// formulaKeys puts keys for the names in a formula over summaries.
func (r *reader) formulaKeys(formula string) string {
	return placeholder.ReplaceAllStringFunc(formula, func(token string) string {
		n, _ := strconv.Atoi(placeholder.FindStringSubmatch(token)[1])
		name := r.names[n]
		if key := r.key(fold(name)); key != "" {
			return key
		}
		if key := r.added(fold(name)); keyLike.MatchString(key) {
			return key
		}
		return ownKey(name)
	})
}

// drawn finds the summaries that the chart draws, by the names they go by.
func (r *reader) drawn() {
	left := r.of
	for left != "" {
		best, long := "", 0
		for _, s := range r.sums {
			for _, name := range []string{s.label, s.base, s.key} {
				if name != "" && len(name) > long &&
					(left == name || strings.HasPrefix(left, name+" and ") || strings.HasPrefix(left, name+", ")) {
					best, long = s.key, len(name)
				}
			}
		}
		if best == "" {
			return
		}
		r.b.Chart.Values = append(r.b.Chart.Values, best)
		left = strings.TrimPrefix(strings.TrimPrefix(left[long:], " and "), ", ")
	}
}
