package answers

import (
	"context"
	"encoding/json"
	"slices"

	"uzzel/core/brief"
	"uzzel/core/typed"
	"uzzel/internal/store"
)

// WordsSetting is the preference that holds an organisation's own words.
const WordsSetting = "words"

// Word is a word of an organisation's own for some of its records, as it is kept: those of a brief.
type Word struct {
	Name  string       `json:"name"`
	Brief *brief.Brief `json:"brief"`
}

// Words are an organisation's own words, which typed sentences may use.
type Words struct {
	List []Word
	// Version counts their changes.
	Version int
}

// ReadWords reads the words that are in force.
func ReadWords(ctx context.Context, s *store.Store) (*Words, error) {
	w := Words{List: []Word{}}
	text, version, err := s.Preference(ctx, WordsSetting)
	if err == nil && text != "" {
		err = json.Unmarshal([]byte(text), &w.List)
	}
	w.Version = version
	return &w, err
}

// Known is what typed sentences may name besides the schema: records that the person may see, and the words.
func (v *View) Known() typed.Known {
	known := typed.Known{IDs: v.Named, Form: v.Figures.Form}
	for _, w := range v.Words.List {
		known.Words = append(known.Words, typed.Word{Name: w.Name, Start: w.Brief.Start, Filter: w.Brief.Filter})
	}
	return known
}

// Named finds records that the person may see by name for typed sentences, and measures.
func (v *View) Named(typ, name string) []string {
	if typ != brief.Targets {
		return slices.DeleteFunc(v.Snap.Named(typ, name), func(id string) bool { return v.name(typ, id) == "" })
	}
	if m := v.Aims.Named(name); m != nil {
		return []string{m.Key}
	}
	return nil
}
