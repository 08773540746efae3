package typed

import (
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"

	"uzzel/core/brief"
	"uzzel/core/column"
)

// word is one word of the sentence, a quoted text, or a mark.
type word struct {
	text     string // as it was typed, without quotes
	low      string // folded, without the sign of belonging
	owns     bool   // it ends in 's or '
	quoted   bool
	mark     bool
	from, to int // bytes
}

func fold(s string) string { return column.Fold(s) }

const marks = "(),;:="

// split cuts a sentence into words. A comma between digits is part of a number, a colon between them of a time.
func split(text string) []word {
	var list []word
	for i := 0; i < len(text); {
		c, size := utf8.DecodeRuneInString(text[i:])
		switch {
		case unicode.IsSpace(c):
			i += size
			continue
		case c == '"' || c == '“' || c == '”':
			said, long := quote(text[i:], c)
			list = append(list, word{text: said, low: fold(said), quoted: true, from: i, to: i + long})
			i += long
			continue
		case strings.ContainsRune(marks, c):
			list = append(list, word{text: string(c), low: string(c), mark: true, from: i, to: i + size})
			i += size
			continue
		}
		from := i
		for i < len(text) {
			c, size := utf8.DecodeRuneInString(text[i:])
			inNumber := strings.ContainsRune(",:", c) && between(text, i)
			if unicode.IsSpace(c) || c == '"' || c == '“' || (strings.ContainsRune(marks, c) && !inNumber) {
				break
			}
			i += size
		}
		w := word{text: text[from:i], from: from, to: i}
		if i == len(text) || strings.TrimSpace(text[i:]) == "" { // the full stop at the end
			if cut := strings.TrimSuffix(w.text, "."); cut != w.text {
				w.text, w.to = cut, w.to-1
			}
		}
		w.low = fold(w.text)
		for _, end := range []string{"’s", "'s", "’", "'"} {
			if cut, ok := strings.CutSuffix(w.low, end); ok && cut != "" {
				w.low, w.owns = cut, true
				break
			}
		}
		if w.text != "" {
			list = append(list, w)
		}
	}
	// Three dots and the like at the very end are no words.
	for n := len(list); n > 0 && list[n-1].text == "."; n-- {
		list = list[:n-1]
	}
	return unseen(list)
}

func between(text string, i int) bool {
	return i > 0 && i+1 < len(text) && text[i-1] >= '0' && text[i-1] <= '9' && text[i+1] >= '0' && text[i+1] <= '9'
}

// quote reads a quoted text, in Go's or in curved quotes, and gives its length.
func quote(text string, open rune) (string, int) {
	if open == '"' {
		if q, err := strconv.QuotedPrefix(text); err == nil {
			said, _ := strconv.Unquote(q)
			return said, len(q)
		}
	}
	_, size := utf8.DecodeRuneInString(text)
	rest := text[size:]
	if end := strings.IndexAny(rest, "\"”"); end >= 0 {
		_, closing := utf8.DecodeRuneInString(rest[end:])
		return rest[:end], size + end + closing
	}
	return rest, len(text)
}

// is says whether words follow.
func (r *reader) is(words ...string) bool { return r.isAt(r.at, words...) }

func (r *reader) isAt(at int, words ...string) bool {
	for i, w := range words {
		if at+i >= len(r.w) || r.word(at+i).quoted || r.word(at+i).low != w {
			return false
		}
	}
	return true
}

// take goes over words where they follow: each argument is a phrase, the first that fits is taken.
func (r *reader) take(phrases ...string) bool {
	for _, p := range phrases {
		words := strings.Fields(p)
		if r.is(words...) {
			r.at += len(words)
			return true
		}
	}
	return false
}

// raw is the text of words as it was typed.
func (r *reader) raw(from, to int) string {
	if from >= to {
		return ""
	}
	return r.text[r.word(from).from:r.word(to-1).to]
}

// label says how many words from a place on are a label's, and whether the last shows that something belongs to it.
func (r *reader) label(label string, at int) (n int, owns bool) {
	if !r.spend(1) {
		return 0, false
	}
	words, known := r.labels[label]
	if !known {
		if r.labels == nil {
			r.labels = map[string][]string{}
		}
		words = strings.Fields(fold(label))
		r.labels[label] = words
	}
	for i, w := range words {
		if at+i >= len(r.w) || r.word(at+i).mark {
			return 0, false
		}
		got := r.word(at + i)
		if got.low != w && fold(got.text) != w && (!r.plural || i < len(words)-1 || got.low != fold(brief.Plural(w))) {
			return 0, false
		}
		if owns = got.owns && fold(got.text) != w; owns && i < len(words)-1 {
			return 0, false
		}
	}
	return len(words), owns
}

// number reads the amount at an index.
func (r *reader) number(at int) (string, bool) {
	if at >= len(r.w) || r.word(at).mark || r.word(at).quoted {
		return "", false
	}
	return Number(r.word(at).text)
}

// amount reads a number that may be said in two words: "12 million", "50 k".
func (r *reader) amount(at int) (v string, next int, ok bool) {
	v, ok = r.number(at)
	if !ok {
		return "", at, false
	}
	for _, word := range []string{"million", "m", "thousand", "k"} {
		if r.isAt(at+1, word) {
			if v, ok := Number(r.word(at).text + word); ok {
				return v, at + 2, true
			}
		}
	}
	return v, at + 1, true
}

// Number reads an amount as people type it, in one word: 40,000, €1.5, 20k, 3m. It gives the plain decimal.
func Number(text string) (string, bool) {
	text = strings.TrimLeft(text, "€£$")
	sign := ""
	for _, minus := range []string{"-", "−"} {
		if cut, ok := strings.CutPrefix(text, minus); ok {
			sign, text = "-", strings.TrimLeft(cut, "€£$")
		}
	}
	text = strings.TrimSuffix(strings.ReplaceAll(text, ",", ""), "%")
	zeros := 0
	for _, unit := range []struct {
		end   string
		zeros int
	}{{"thousand", 3}, {"million", 6}, {"mio", 6}, {"mn", 6}, {"k", 3}, {"m", 6}} {
		if cut, ok := strings.CutSuffix(strings.ToLower(text), unit.end); ok {
			text, zeros = strings.TrimSpace(cut), unit.zeros
			break
		}
	}
	whole, cut, dot := strings.Cut(text, ".")
	if whole == "" || strings.Trim(whole, "0123456789") != "" || strings.Trim(cut, "0123456789") != "" ||
		(dot && cut == "") {
		return "", false
	}
	for ; zeros > 0; zeros-- {
		if cut == "" {
			whole += "0"
			continue
		}
		whole, cut = whole+cut[:1], cut[1:]
	}
	if cut != "" {
		whole += "." + cut
	}
	return sign + whole, true
}

// unseen takes out what a sentence says of records that its reader sees only in part: a report itself does not say it.
func unseen(list []word) []word {
	out := list[:0]
	for i := 0; i < len(list); i++ {
		if i+2 < len(list) && len(out) > 0 && list[i].low == "you" && list[i+1].low == "may" && list[i+2].low == "see" {
			i += 2
			continue
		}
		out = append(out, list[i])
	}
	return out
}
