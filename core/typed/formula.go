package typed

import (
	"errors"
	"fmt"
	"regexp"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/schema"
)

// formulaSummary reads "rate = Won / (Won + Lost)".
func (r *reader) formulaSummary(s *brief.Summary) bool {
	w := r.word(r.at)
	if r.at+2 >= len(r.w) || r.word(r.at+1).low != "=" || w.mark || r.word(r.at+2).low == "=" {
		return false
	}
	r.at += 2
	formula, ok := r.formula(func(name string) (string, bool) {
		r.names = append(r.names, name)
		return fmt.Sprintf("name_%d_", len(r.names)-1), true
	}, func(string) (brief.Sort, error) { return brief.NumberSort, nil })
	if !ok {
		return false
	}
	s.Key, s.Formula = w.text, formula
	if !keyLike.MatchString(w.text) {
		s.Label = w.text
		s.Key = free(ownKey(w.text), r.summaryKeys())
	}
	r.note(fold(w.text), s)
	return true
}

// formula reads as far as a formula can go, where a clause or a list goes on after it. name gives what stands for a
// name in a brief, sort what it comes to.
func (r *reader) formula(name func(string) (string, bool), sort func(string) (brief.Sort, error)) (string, bool) {
	far := len(r.text) // no formula that begins here goes further
	for end := r.formulaEnd(); end > r.at; end-- {
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
		said := len(r.names)
		formula, places, unknown := translate(text, name)
		if unknown >= 0 {
			far = r.word(r.at).from + unknown
		} else {
			_, err := brief.ParseFormula(formula, sort)
			if err == nil {
				r.at = end
				return formula, true
			}
			if wrong := (*brief.UngrammaticalError)(nil); errors.As(err, &wrong) {
				far = r.word(r.at).from + places(wrong.Offset)
			}
		}
		r.names = r.names[:said]
	}
	return "", false
}

// formulaEnd is the first word behind the next that no formula has: it begins another clause.
func (r *reader) formulaEnd() int {
	for end := r.at; end < len(r.w); end++ {
		for _, word := range []string{"showing", "beside", "listing", "taking", "by", "across", "sorted", "grouped", "compared", "towards"} {
			if r.isAt(end, word) {
				return end
			}
		}
	}
	return len(r.w)
}

var formulaWord = regexp.MustCompile(`“[^”]*”|"[^"]*"|[\p{L}_][\p{L}\p{N}_]*(\.[\p{L}_][\p{L}\p{N}_]*)*`)

// translate puts what a brief has for the names in a formula. places finds where in the text an offset of the outcome
// comes from. unknown is the offset of a name that is none, -1 where there is none.
func translate(text string, name func(string) (string, bool)) (formula string, places func(int) int, unknown int) {
	var out strings.Builder
	type pair struct{ out, in int }
	pairs := []pair{{0, 0}}
	last := 0
	for _, at := range formulaWord.FindAllStringIndex(text, -1) {
		word := text[at[0]:at[1]]
		out.WriteString(text[last:at[0]])
		pairs = append(pairs, pair{out.Len(), at[0]})
		last = at[1]
		switch {
		case strings.HasPrefix(word, `"`), brief.Reserved(word):
			out.WriteString(word)
		default:
			key, ok := name(strings.Trim(word, "“”"))
			if !ok {
				return "", nil, at[0]
			}
			out.WriteString(key)
		}
		pairs = append(pairs, pair{out.Len(), at[1]})
	}
	out.WriteString(text[last:])
	return out.String(), func(offset int) int {
		found := pairs[0]
		for _, p := range pairs {
			if p.out <= offset {
				found = p
			}
		}
		return found.in + offset - found.out
	}, -1
}

// pathOf finds the field that a formula names: by an own field's name, by a label, by a path.
func (r *reader) pathOf(name string) (string, bool) {
	own := r.ownFields(r.part)
	for _, exact := range []bool{true, false} {
		for i := range own {
			if n := own[i].Name(); n == name || (!exact && strings.EqualFold(n, name)) {
				return "own." + own[i].Key, true
			}
		}
		if !exact {
			continue
		}
		sub := r.readerOf(name)
		if h, ok := sub.field(r.here(), 0); ok && h.next == len(sub.w) {
			return h.path, true
		}
	}
	if f := r.start().Field(name); f != nil || strings.Contains(name, ".") {
		return name, true
	}
	// An own field that is said further on is known the second time.
	return "own." + ownKey(name), r.foreseen == nil
}

// sortOf is the kind of value that a path has in a formula.
func (r *reader) sortOf(name string) (brief.Sort, error) {
	kind := schema.Number
	if key, own := strings.CutPrefix(name, "own."); own {
		list := r.ownFields(r.part)
		for i := range list {
			if list[i].Key == key {
				kind = r.ownKind(r.part, &list[i])
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
