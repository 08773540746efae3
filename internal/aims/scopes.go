package aims

import (
	"fmt"
	"strconv"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/engine"
	"uzzel/core/target"
	"uzzel/internal/people"
)

// Tree says who is in which scope: teams in the whole, people in their teams.
func Tree(snap *column.Snapshot) target.Tree {
	within := map[target.Scope][]target.Scope{}
	tree := func(s target.Scope) []target.Scope { return within[s] }
	readers := snap.Schema.Readers()
	persons, err := snap.Table(readers.Key)
	if err != nil {
		return tree
	}
	link, err := snap.Column(readers.Key, readers.Team)
	if err != nil {
		return tree
	}
	teams, err := snap.Table(link.To)
	if err != nil {
		return tree
	}
	all := target.Scope{}
	for row := range int32(teams.N) {
		within[all] = append(within[all], target.Scope{Kind: target.Team, ID: teams.IDs.At(row)})
	}
	for row := range int32(persons.N) {
		in := all // who has no team is beside the teams
		if team := link.At(row); team != column.Null {
			in = target.Scope{Kind: target.Team, ID: teams.IDs.At(int32(team))}
		}
		within[in] = append(within[in], target.Scope{Kind: target.Person, ID: persons.IDs.At(row)})
	}
	return tree
}

// scopes are whose targets a brief is held against: those of its whose, as far as the reader sees their records.
func (s Scene) scopes(typ string, w *brief.Whose) []target.Scope {
	who := s.Who
	me, mine := target.Scope{
		Kind: target.Person,
		ID:   who.Key(),
	}, target.Scope{
		Kind: target.Team,
		ID:   strconv.FormatInt(who.TeamID, 10),
	}
	asked := []target.Scope{{}}
	switch {
	case w == nil || w.Word == "everyone":
	case w.Word == "mine":
		asked = []target.Scope{me}
	case w.Word == "team" && who.TeamID == 0:
		asked = []target.Scope{me}
	case w.Word == "team":
		asked = []target.Scope{mine}
	default:
		asked = nil
		chosen := map[string]bool{}
		for _, id := range w.Teams {
			chosen[id] = true
			asked = append(asked, target.Scope{Kind: target.Team, ID: id})
		}
		for _, id := range w.People {
			if !chosen[s.teamOf(id)] {
				asked = append(asked, target.Scope{Kind: target.Person, ID: id})
			}
		}
	}
	how := s.Sees[typ]
	if how == engine.SeesAll {
		return asked
	}
	var seen []target.Scope
	for _, a := range asked {
		switch {
		case a == me:
			seen = append(seen, me)
		case how == engine.SeesTeam && who.TeamID != 0 && (a.Kind == "" || a == mine):
			seen = append(seen, mine)
		case how == engine.SeesTeam && a.Kind == target.Person && who.TeamID != 0 && s.teamOf(a.ID) == mine.ID:
			seen = append(seen, a)
		case a.Kind == "" || a == mine:
			seen = append(seen, me)
		}
	}
	return seen
}

// teamOf is the id of a person's team, "" for none.
func (s Scene) teamOf(person string) string {
	id, err := strconv.ParseInt(person, 10, 64)
	if team := people.TeamOf(s.Snap, id); err == nil && team != 0 {
		return strconv.FormatInt(team, 10)
	}
	return ""
}

// scopeWords names scopes.
func (s Scene) scopeWords(list []target.Scope) string {
	var names []string
	for _, a := range list {
		names = append(names, ScopeName(s.Snap, a))
	}
	if len(names) == 0 {
		return "nobody"
	}
	return andList(names)
}

// ScopeName names a scope; "" for a team or person that does not exist.
func ScopeName(snap *column.Snapshot, s target.Scope) string {
	readers := snap.Schema.Readers()
	switch s.Kind {
	case target.Team:
		return snap.NameOf(readers.Field(readers.Team).To, s.ID, nil)
	case target.Person:
		return snap.NameOf(readers.Key, s.ID, nil)
	}
	return "everyone"
}

func andList(list []string) string {
	if len(list) < 2 {
		return strings.Join(list, "")
	}
	if len(list) > 4 {
		return fmt.Sprintf("%s, %s and %d more", list[0], list[1], len(list)-2)
	}
	return strings.Join(list[:len(list)-1], ", ") + " and " + list[len(list)-1]
}
