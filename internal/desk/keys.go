package desk

import (
	"fmt"
	"regexp"
	"strings"

	"uzzel/core/column"
)

var notKey = regexp.MustCompile(`[^a-z0-9]+`)

// freeKey makes a key of a name, which stays when the name changes: another than those that are taken.
func freeKey(name string, taken func(key string) bool) string {
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
