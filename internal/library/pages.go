package library

import (
	"context"
	"strings"

	"uzzel/core/brief"
	"uzzel/internal/answers"
)

// Way is how a report's records belong to a record of a type: a path of links, and what that is in words.
type Way struct {
	Path  string `json:"path"`
	Words string `json:"words"`
}

// WaysTo are the ways in which a report's records belong to a record of a type, the nearest first: over one link, or over
// two.
func WaysTo(v *answers.View, b *brief.Brief, typ string) []Way {
	s := v.Snap.Schema
	t, to := s.Type(b.Start), s.Type(typ)
	if t == nil || to == nil {
		return nil
	}
	var list []Way
	many := strings.ToLower(t.Label)
	links := t.Links()
	for _, f := range links {
		if f.To == typ {
			list = append(list, Way{f.Key, many + " of this " + to.One})
		}
	}
	if len(list) > 1 { // which of them it is
		n := 0
		for _, f := range links {
			if f.To == typ {
				list[n].Words = many + " whose " + strings.ToLower(f.Label) + " this " + to.One + " is"
				n++
			}
		}
	}
	for _, f := range links {
		over := s.Type(f.To)
		if f.To == typ || f.To == t.Key || over == nil || over.Readers {
			continue
		}
		for _, g := range over.Links() {
			if g.To == typ {
				list = append(list, Way{f.Key + "." + g.Key, many + " of " + strings.ToLower(over.Label) + " of this " + to.One})
			}
		}
	}
	return list
}

// PagesOf lists the record types on whose pages a report could be, and whether it does.
func (lib *Library) PagesOf(ctx context.Context, v *answers.View, r Report) (map[string]bool, error) {
	on := map[string]bool{}
	for _, t := range v.Snap.Schema.Types {
		if len(WaysTo(v, r.Brief.Brief(), t.Key)) == 0 {
			continue
		}
		panels, err := lib.store.PagePanels(ctx, v.Who.Viewer(), t.Key)
		if err != nil {
			return nil, err
		}
		on[t.Key] = false
		for _, p := range panels {
			on[t.Key] = on[t.Key] || p.Report == r.ID
		}
	}
	return on, nil
}
