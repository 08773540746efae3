// Package alike says how much two names are alike, as people write the same name twice: with a letter wrong, words in
// another order, an initial, what a firm is in law left out.
package alike

import (
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"github.com/agnivade/levenshtein"

	"uzzel/core/column"
)

// forms are words that say what a firm is in law, or that an entry is another one, and nothing of who it is.
var forms = map[string]bool{"ltd": true, "limited": true, "gmbh": true, "ag": true, "as": true, "ab": true, "bv": true,
	"sa": true, "sas": true, "srl": true, "inc": true, "co": true, "llc": true, "oy": true, "aps": true, "plc": true,
	"new": true, "old": true, "the": true, "and": true}

// Words are the words of a name that say who it is, folded; all of them where none does.
func Words(name string) []string {
	all := strings.FieldsFunc(column.Fold(name), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) })
	says := slices.DeleteFunc(slices.Clone(all), func(w string) bool { return forms[w] })
	if len(says) == 0 {
		return all
	}
	return says
}

// Key is the same for names of the same words in any order.
func Key(words []string) string {
	sorted := slices.Clone(words)
	slices.Sort(sorted)
	return strings.Join(sorted, " ")
}

// Names says how much two names of words are alike, from 0 to 1. Words are compared with those that they are most like.
func Names(a, b []string) float64 {
	if len(a) == 0 || len(b) == 0 {
		return 0
	}
	if len(a) > len(b) {
		a, b = b, a
	}
	whole, like := 0, 0.0
	left := slices.Clone(b)
	for _, w := range a {
		best, at := -1.0, 0
		for i, x := range left {
			if l := word(w, x); l > best {
				best, at = l, i
			}
		}
		n := max(utf8.RuneCountInString(w), utf8.RuneCountInString(left[at]))
		whole, like = whole+n, like+best*float64(n)
		left = slices.Delete(left, at, at+1)
	}
	for _, x := range left {
		whole += utf8.RuneCountInString(x)
	}
	return like / float64(whole)
}

// initial is how much an initial is like a word that begins with it.
const initial = 0.9

func word(a, b string) float64 {
	if a == b {
		return 1
	}
	la, lb := utf8.RuneCountInString(a), utf8.RuneCountInString(b)
	if (la == 1 || lb == 1) && (strings.HasPrefix(a, b) || strings.HasPrefix(b, a)) {
		return initial
	}
	return 1 - float64(levenshtein.ComputeDistance(a, b))/float64(max(la, lb))
}
