// Package naming holds the rules for names that people give, and the keys that are made of them.
package naming

import (
	"fmt"
	"regexp"
	"strings"
	"unicode/utf8"

	"uzzel/core/column"
	"uzzel/internal/fault"
)

// MaxTitle is the longest name in characters.
const MaxTitle = 200

// Tidy is a name without blanks too many.
func Tidy(s string) string { return strings.Join(strings.Fields(s), " ") }

// Title is a name without blanks too many, or why it is none; pointer names the member that it is of.
func Title(s, pointer string) (string, error) {
	s = Tidy(s)
	switch {
	case s == "":
		return s, fault.New(fault.Invalid, pointer, "Give it a name.")
	case utf8.RuneCountInString(s) > MaxTitle:
		return s, fault.New(fault.Invalid, pointer, "A name has %d characters at most.", MaxTitle)
	}
	return s, nil
}

var notKey = regexp.MustCompile(`[^a-z0-9]+`)

// FreeKey makes a key of a name, which stays when the name changes: another than those that are taken.
func FreeKey(name string, taken func(key string) bool) string {
	base := strings.Trim(notKey.ReplaceAllString(column.Fold(name), "_"), "_")
	if base == "" || base[0] < 'a' {
		base = strings.Trim("m_"+base, "_")
	}
	key := base
	for n := 2; taken(key); n++ {
		key = fmt.Sprintf("%s_%d", base, n)
	}
	return key
}
