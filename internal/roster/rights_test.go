package roster_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/chart"
	"uzzel/core/schema"
	"uzzel/internal/admin"
	"uzzel/internal/app"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/fault"
	"uzzel/internal/people"
	"uzzel/internal/roster"
	"uzzel/internal/shape"
	"uzzel/internal/store"
)

func grant(t *testing.T, a *app.App, kind string, id int64, rights people.Rights) {
	t.Helper()
	v := a.View(as(t, a, osric))
	_, version, err := a.Roster.Holders(ctx, v)
	require.NoError(t, err)
	require.NoError(t, a.Roster.Grant(store.By(ctx, osric), v, store.Access{Kind: kind, Subject: id}, rights, version))
}

// A reader does what a right lets do that was given to them or to their team, from the next request on, and nothing else;
// taken away, no more.
func TestRightsOneByOne(t *testing.T) {
	a, _ := demotest.App(t)
	team := as(t, a, aldo).TeamID
	does := map[people.Rights]func() error{
		people.Style: func() error {
			v := a.View(as(t, a, aldo))
			return a.Styles.SetHouse(ctx, v.Who, chart.Style{}, v.Looks.HouseVersion())
		},
		people.Shape: func() error {
			_, err := a.Shape.Of(a.View(as(t, a, aldo)), "deals")
			return err
		},
		people.LayOut: func() error {
			return a.Admin.SetWords(ctx, a.View(as(t, a, aldo)), nil, store.Unchecked)
		},
		people.LookAfter: func() error {
			_, err := a.Roster.List(ctx, a.View(as(t, a, aldo)))
			return err
		},
		people.BringIn: func() error {
			_, err := a.BringIn.List(ctx, a.View(as(t, a, aldo)))
			return err
		},
	}
	for right, do := range does {
		for _, e := range people.Each {
			grant(t, a, store.ForPerson, aldo, e.Right)
			require.Equal(t, e.Right != right, fault.Is(do(), fault.Forbidden), "%s with the right to %s", right.Keys(), e.Words)
		}
		grant(t, a, store.ForPerson, aldo, people.None)
		require.True(t, fault.Is(do(), fault.Forbidden), "taken away")
		grant(t, a, store.ForTeam, team, right)
		require.NoError(t, do(), "%s by the team", right.Keys())
		grant(t, a, store.ForTeam, team, people.None)
	}
	// Who leads a team sets where that begins, and where no other does.
	home := func(team int64) error {
		_, version, err := a.Admin.Homes(ctx)
		require.NoError(t, err)
		return a.Admin.SetHome(ctx, a.View(as(t, a, aldo)), team, 0, version)
	}
	require.True(t, fault.Is(home(team), fault.Forbidden))
	grant(t, a, store.ForPerson, aldo, people.Lead)
	require.NoError(t, home(team))
	require.True(t, fault.Is(home(team%4+1), fault.Forbidden))
	require.True(t, fault.Is(home(0), fault.Forbidden))
	grant(t, a, store.ForPerson, aldo, people.None)
	require.False(t, as(t, a, aldo).MayCompose())
	grant(t, a, store.ForPerson, aldo, people.Compose)
	require.True(t, as(t, a, aldo).MayCompose())
	require.Equal(t, schema.Composers, as(t, a, aldo).Rank(), "who composes sees what composers see")

	// Only administrators give rights, and who was asked to take them away again sees a later change.
	v := a.View(as(t, a, aldo))
	require.True(t, fault.Is(a.Roster.Grant(ctx, v, store.Access{Kind: store.ForPerson, Subject: aldo}, people.Aim, 0), fault.Forbidden))
	_, _, err := a.Roster.Holders(ctx, v)
	require.True(t, fault.Is(err, fault.Forbidden))
	osrics := a.View(as(t, a, osric))
	require.True(t, fault.Is(a.Roster.Grant(ctx, osrics, store.Access{Kind: store.ForPerson, Subject: aldo}, people.Aim, 1), fault.Stale))
	require.True(t, fault.Is(a.Roster.Grant(ctx, osrics, store.Access{Kind: store.ForTeam, Subject: 99}, people.Aim, 1), fault.NotFound))
	changes, _, err := a.Admin.Changes(ctx, osrics, "besides their role", 0, 1)
	require.NoError(t, err)
	require.Len(t, changes, 1, "it is among what was changed")
	require.Equal(t, []admin.Point{{What: "Aldo Marlow", After: "make reports and dashboards for all"}}, changes[0].Points)

	// Who leaves takes no right along, should they come back.
	require.NoError(t, a.Roster.Leave(ctx, osrics, aldo, nil))
	_, err = a.Roster.Invite(ctx, a.View(as(t, a, osric)), []roster.Details{{Name: "Aldo Marlow", Email: entry(t, a, "Aldo Marlow").Email, Role: people.Reader}})
	require.NoError(t, err)
	require.Equal(t, people.None, as(t, a, aldo).Rights())
}

// Who looks after people gives nobody, and gets from nobody, a right that they do not have themselves.
func TestNobodyGivesWhatTheyHaveNot(t *testing.T) {
	a, _ := demotest.App(t)
	grant(t, a, store.ForPerson, aldo, people.LookAfter)
	forbidden := func(err error) { t.Helper(); require.True(t, fault.Is(err, fault.Forbidden), err) }
	mine := func() roster.Details {
		e := entry(t, a, "Runa Kestle")
		return roster.Details{Name: e.Name, Email: e.Email, Team: e.Team, Role: e.Role}
	}
	change := func(id int64, d roster.Details) error {
		return a.Roster.Change(ctx, a.View(as(t, a, aldo)), id, d)
	}
	invite := func(d roster.Details) error {
		_, err := a.Roster.Invite(ctx, a.View(as(t, a, aldo)), []roster.Details{d})
		return err
	}
	require.NoError(t, change(runa, mine()))
	for _, role := range []string{people.Composer, people.Administrator} {
		d := mine()
		d.Role = role
		forbidden(change(runa, d))
		forbidden(invite(roster.Details{Name: "Wila Ness", Email: "wila@brinehaven.example", Role: role}))
	}
	require.NoError(t, invite(roster.Details{Name: "Wila Ness", Email: "wila@brinehaven.example", Role: people.Reader}))

	// Neither a key to an administrator's account, nor taking one off, nor a team that has rights, nor oneself.
	_, err := a.Roster.Again(ctx, a.View(as(t, a, aldo)), osric)
	forbidden(err)
	forbidden(a.Roster.Leave(ctx, a.View(as(t, a, aldo)), osric, nil))
	forbidden(change(aldo, roster.Details{Name: "Aldo Marlow", Email: "aldo@brinehaven.example", Role: people.Reader}))
	other := entry(t, a, "Osric Jarrow")
	grant(t, a, store.ForTeam, other.TeamID, people.Aim)
	d := mine()
	d.Team = other.Team
	forbidden(change(runa, d))
	forbidden(invite(roster.Details{Name: "Tam Ness", Email: "tam@brinehaven.example", Team: other.Team, Role: people.Reader}))
	grant(t, a, store.ForPerson, runa, people.Style)
	_, err = a.Roster.Again(ctx, a.View(as(t, a, aldo)), runa)
	forbidden(err)
}

// Who shapes records does not where there are fields that they do not see, nor says who sees which.
func TestShapingIsOfAllFields(t *testing.T) {
	a, _ := demotest.App(t)
	grant(t, a, store.ForPerson, aldo, people.Shape)
	version := func() int {
		n, err := a.Shape.Version(ctx)
		require.NoError(t, err)
		return n
	}
	key, err := a.Shape.AddField(ctx, a.View(as(t, a, aldo)), "deals", shape.FieldEdit{Label: "Margin", Kind: schema.Money}, version())
	require.NoError(t, err)
	limit := schema.Limit{See: "administrators"}
	require.True(t, fault.Is(a.Shape.SetLimit(ctx, a.View(as(t, a, aldo)), "deals", key, limit, version()), fault.Forbidden))
	require.NoError(t, a.Shape.SetLimit(ctx, a.View(as(t, a, osric)), "deals", key, limit, version()))
	_, err = a.Shape.AddField(ctx, a.View(as(t, a, aldo)), "deals", shape.FieldEdit{Label: "Margin", Kind: schema.Money}, version())
	require.True(t, fault.Is(err, fault.Forbidden), "another of the name would say that there is one")
}
