package answers

import (
	"context"
	"encoding/json"
	"maps"
	"slices"

	"uzzel/core/engine"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

// SightSetting is the preference that holds who sees other records than people do in general.
const SightSetting = "sight"

// Exception is a person or team that sees other records of a type than people do in general: Kind is store.ForPerson or
// store.ForTeam.
type Exception struct {
	Type    string      `json:"type"`
	Kind    string      `json:"kind"`
	Subject int64       `json:"subject"`
	How     engine.Sees `json:"how"`
}

// Sees are which records of each type people may see.
type Sees struct {
	All        map[string]engine.Sees // a type that is not in it is seen by everyone
	Exceptions []Exception
	Version    int // of the exceptions
}

// Of is what one person may see, by type: what is said of the person, else of the person's team, else of all.
func (s *Sees) Of(who people.Person) map[string]engine.Sees {
	out := maps.Clone(s.All)
	if out == nil {
		out = map[string]engine.Sees{}
	}
	for _, kind := range []string{store.ForTeam, store.ForPerson} {
		for _, e := range s.Exceptions {
			if e.Kind != kind {
				continue
			}
			if (kind == store.ForTeam && who.TeamID != 0 && e.Subject == who.TeamID) ||
				(kind == store.ForPerson && e.Subject == who.ID) {
				out[e.Type] = e.How
			}
		}
	}
	return out
}

// Limits says whether anyone sees less than all records of a type.
func (s *Sees) Limits(typ string) bool {
	return s.All[typ] != engine.SeesAll ||
		slices.ContainsFunc(s.Exceptions, func(e Exception) bool { return e.Type == typ && e.How != engine.SeesAll })
}

// ReadSees reads which records people may see.
func ReadSees(ctx context.Context, s *store.Store) (*Sees, error) {
	rows, err := s.Sees(ctx)
	if err != nil {
		return nil, err
	}
	sees := Sees{All: map[string]engine.Sees{}}
	for typ, how := range rows {
		sees.All[typ] = engine.Sees(how)
	}
	text, version, err := s.Preference(ctx, SightSetting)
	if err == nil && text != "" {
		err = json.Unmarshal([]byte(text), &sees.Exceptions)
	}
	sees.Version = version
	return &sees, err
}

// EveryonesSight is which records people may see in general, with the exceptions: for those who set it.
func (v *View) EveryonesSight() *Sees { return v.sees }
