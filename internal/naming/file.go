package naming

import "strings"

// File is a title as the name of a file, which every file system takes; "report" where nothing is left of it.
func File(title string) string {
	clean := strings.Map(func(r rune) rune {
		if r < ' ' || strings.ContainsRune(`\/:*?"<>|`, r) {
			return ' '
		}
		return r
	}, title)
	clean = strings.Join(strings.Fields(clean), " ")
	if clean == "" {
		return "report"
	}
	return clean
}
