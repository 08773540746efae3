package brief

import (
	"slices"
	"sort"
	"strconv"
	"strings"
)

// Near lists the known names closest to a wrong one, three at most, the closest first.
func Near(wrong string, known []string) []string {
	type guess struct {
		name string
		far  int
	}
	var guesses []guess
	for _, k := range known {
		far := distance(strings.ToLower(wrong), strings.ToLower(k))
		if far <= 1+len(wrong)/3 || (len(wrong) > 2 && strings.Contains(k, wrong)) {
			guesses = append(guesses, guess{k, far})
		}
	}
	sort.Slice(guesses, func(i, j int) bool {
		if guesses[i].far != guesses[j].far {
			return guesses[i].far < guesses[j].far
		}
		return guesses[i].name < guesses[j].name
	})
	names := []string{}
	for _, g := range guesses {
		if len(names) < 3 && !slices.Contains(names, g.name) {
			names = append(names, g.name)
		}
	}
	return names
}

// near suggests them in words: `; did you mean "stage"?`, or nothing.
func near(wrong string, known []string) string {
	names := Near(wrong, known)
	if len(names) == 0 {
		return ""
	}
	for i, n := range names {
		names[i] = strconv.Quote(n)
	}
	return "; did you mean " + strings.Join(names, " or ") + "?"
}

// distance is the Levenshtein distance of two short names.
func distance(a, b string) int {
	if len(a) > 60 || len(b) > 60 {
		return 60
	}
	row := make([]int, len(b)+1)
	for j := range row {
		row[j] = j
	}
	for i := 1; i <= len(a); i++ {
		diag := row[0]
		row[0] = i
		for j := 1; j <= len(b); j++ {
			cost := diag
			if a[i-1] != b[j-1] {
				cost++
			}
			diag = row[j]
			row[j] = min(cost, row[j]+1, row[j-1]+1)
		}
	}
	return row[len(b)]
}
