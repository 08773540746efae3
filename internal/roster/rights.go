package roster

import (
	"context"
	"maps"
	"slices"
	"strconv"

	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

// Holder is a person or a team with the rights that it has besides those of roles.
type Holder struct {
	store.Access
	Name   string
	Rights people.Rights
}

// Holders lists who has rights besides those of their role, and how often that was changed: teams, then people.
func (r *Roster) Holders(ctx context.Context, v *answers.View) ([]Holder, int, error) {
	if !v.Who.Administers() {
		return nil, 0, fault.New(fault.Forbidden, "", "Only administrators see who has which rights.")
	}
	g, err := people.ReadGrants(ctx, r.store)
	if err != nil {
		return nil, 0, err
	}
	list := []Holder{}
	for _, of := range []struct {
		kind string
		by   map[string][]string
	}{{store.ForTeam, g.Teams}, {store.ForPerson, g.People}} {
		for _, key := range slices.Sorted(maps.Keys(of.by)) {
			id, _ := strconv.ParseInt(key, 10, 64)
			a := store.Access{Kind: of.kind, Subject: id}
			list = append(list, Holder{a, people.SubjectName(v.Snap, a), g.Given(a)})
		}
	}
	return list, g.Version, nil
}

// Grant has a person or a team have rights besides those of roles, and no others. Version is the one that was read.
func (r *Roster) Grant(ctx context.Context, v *answers.View, to store.Access, rights people.Rights, version int) error {
	switch {
	case !v.Who.Administers():
		return fault.New(fault.Forbidden, "", "Only administrators give rights.")
	case people.SubjectName(v.Snap, to) == "":
		return fault.New(fault.NotFound, "", "There is no such person or team.")
	}
	if err := r.grant(ctx, to, rights, version); err != nil {
		return fault.FromStore(err, "setting")
	}
	r.settings.Changed(ctx, r.people.Grants())
	r.tell()
	return nil
}

func (r *Roster) grant(ctx context.Context, to store.Access, rights people.Rights, version int) error {
	g, err := people.ReadGrants(ctx, r.store)
	if err != nil {
		return err
	}
	if g.Given(to) == rights {
		return nil
	}
	return g.With(to, rights).Keep(ctx, r.store, version)
}
