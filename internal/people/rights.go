package people

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"slices"

	"uzzel/internal/fault"
	"uzzel/internal/store"
)

// Rights are what someone may do for others, one by one. A role is some of them; a person or a team may have others
// besides. What the whole organisation is set up with, and who has which rights, stays with administrators.
type Rights uint16

// The rights.
const (
	Compose   Rights = 1 << iota // reports, dashboards, folders and styles that all share
	BringIn                      // records in from files
	Shape                        // fields, choices, stages and record types
	LayOut                       // record pages, where people begin, starting points, words of one's own
	Aim                          // measures and targets
	Style                        // the house style
	LookAfter                    // people: inviting, changing, taking off those who have no right that one does not have
	Lead                         // where one's own team begins
	all       = 1<<iota - 1
)

// None is no right at all.
const None Rights = 0

// Right is a right by the name that it is kept under, in words.
type Right struct {
	Key   string
	Right Rights
	Words string
}

// Each lists the rights in the order in which they are shown.
var Each = []Right{
	{"compose", Compose, "make reports and dashboards for all"},
	{"bring_in", BringIn, "bring records in from files"},
	{"shape", Shape, "shape records: fields, choices, record types"},
	{"lay_out", LayOut, "lay out record pages, Home and starting points"},
	{"targets", Aim, "set targets"},
	{"style", Style, "set the house style"},
	{"people", LookAfter, "look after people"},
	{"lead", Lead, "lead their team: set where it begins"},
}

// roleRights are the rights that come with a role.
var roleRights = map[string]Rights{Administrator: all, Composer: Compose | BringIn}

// Has says whether all of some rights are among these.
func (r Rights) Has(some Rights) bool { return r&some == some }

// Keys are the names that rights are kept under.
func (r Rights) Keys() []string {
	list := []string{}
	for _, e := range Each {
		if r.Has(e.Right) {
			list = append(list, e.Key)
		}
	}
	return list
}

// RightsOf reads rights by their names.
func RightsOf(keys []string) (r Rights, err error) {
	for i, key := range keys {
		at := slices.IndexFunc(Each, func(e Right) bool { return e.Key == key })
		if at < 0 {
			return 0, fault.New(fault.Invalid, fmt.Sprintf("/rights/%d", i), "There is no right “%s”.", key)
		}
		r |= Each[at].Right
	}
	return r, nil
}

// Rights are what a person may do: what comes with the role, and what the person or the team has besides.
func (p Person) Rights() Rights { return roleRights[p.Role] | p.Granted }

// May says whether a person has a right.
func (p Person) May(r Rights) bool { return p.Rights().Has(r) }

// RightsSetting is the preference that holds who has which rights besides those of their role.
const RightsSetting = "rights"

// Grants are the rights that people and teams have besides those of roles, by their numbers.
type Grants struct {
	People map[string][]string `json:"people,omitempty"`
	Teams  map[string][]string `json:"teams,omitempty"`
	// Version counts their changes.
	Version int `json:"-"`
}

// ReadGrants reads the rights that are in force.
func ReadGrants(ctx context.Context, s *store.Store) (*Grants, error) {
	g := &Grants{}
	text, version, err := s.Preference(ctx, RightsSetting)
	if err == nil && text != "" {
		err = json.Unmarshal([]byte(text), g)
	}
	g.Version = version
	return g, err
}

// Given are the rights that a person or a team has besides those of roles. A right that there is no more is none.
func (g *Grants) Given(a store.Access) (r Rights) {
	by := g.People
	if a.Kind == store.ForTeam {
		by = g.Teams
	}
	for _, key := range by[keyOf(a)] {
		if more, err := RightsOf([]string{key}); err == nil {
			r |= more
		}
	}
	return r
}

func keyOf(a store.Access) string { return Person{ID: a.Subject}.Key() }

// With are grants in which someone, or a team, has rights and no others.
func (g *Grants) With(a store.Access, r Rights) *Grants {
	next := &Grants{People: maps.Clone(g.People), Teams: maps.Clone(g.Teams)}
	to := &next.People
	if a.Kind == store.ForTeam {
		to = &next.Teams
	}
	if *to == nil {
		*to = map[string][]string{}
	}
	if (*to)[keyOf(a)] = r.Keys(); r == None {
		delete(*to, keyOf(a))
	}
	return next
}

// Keep keeps grants, in the transaction of the context where it has one.
func (g *Grants) Keep(ctx context.Context, s *store.Store, version int) error {
	text, err := json.Marshal(g)
	if err != nil {
		return err
	}
	return s.SetPreference(ctx, RightsSetting, string(text), version)
}

// Granted are the rights that someone in a team has besides those of a role.
func (p *People) Granted(ctx context.Context, person, team int64) (Rights, error) {
	if p.grants.Now() == nil {
		if err := p.grants.Refresh(ctx); err != nil {
			return None, err
		}
	}
	g := p.grants.Now()
	return g.Given(store.Access{Kind: store.ForPerson, Subject: person}) |
		g.Given(store.Access{Kind: store.ForTeam, Subject: team}), nil
}
