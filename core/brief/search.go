package brief

import (
	"strings"

	"uzzel/core/schema"
)

// maxSought is how many words a search has at most; what follows is not looked for.
const maxSought = 8

// Holding is the condition that each of the words of a text is in some text of a record of a type: in one of its own text
// fields, or in the name of a record that it links to. nil where there is nothing to look for.
func Holding(s *schema.Schema, t *schema.Type, text string) *Tree {
	var paths []string
	for i := range t.Fields {
		switch f := &t.Fields[i]; {
		case f.Kind == schema.Text && f.Entered():
			paths = append(paths, f.Key)
		case f.Kind == schema.Link && f.Entered():
			if to := s.Type(f.To); to != nil && to.Name != "" {
				paths = append(paths, f.Key+"."+to.Name)
			}
		}
	}
	words := strings.Fields(text)
	if len(words) == 0 || len(paths) == 0 {
		return nil
	}
	all := Tree{All: []Tree{}}
	for _, word := range words[:min(len(words), maxSought)] {
		any := Tree{Any: []Tree{}}
		for _, path := range paths {
			any.Any = append(any.Any, Tree{Field: path, Is: "contains", Values: []string{word}})
		}
		all.All = append(all.All, any)
	}
	return &all
}
