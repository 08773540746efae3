package admin_test

import (
	"context"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/engine"
	"uzzel/core/target"
	"uzzel/internal/admin"
	"uzzel/internal/answers"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/fault"
	"uzzel/internal/people"
	"uzzel/internal/shape"
	"uzzel/internal/store"
	"uzzel/internal/targets"
)

// Each change of the settings is listed with who made it and what it was; it is taken back as long as it is the last of
// its kind, and as long as no record was changed with it.
func TestSettingChanges(t *testing.T) {
	a, s := demotest.App(t)
	who, err := a.People.Who(context.Background(), 2)
	require.NoError(t, err)
	ctx := store.By(context.Background(), who.ID)
	list := func(search string) []admin.Changed {
		l, more, err := a.Admin.Changes(ctx, a.View(who), search, 0, 50)
		require.NoError(t, err)
		require.False(t, more)
		return l
	}
	require.Empty(t, list(""), "what the program set up itself is nobody's change")
	require.NoError(t, a.Admin.SetSees(ctx, a.View(who), "deals", engine.SeesTeam, store.Unchecked))
	require.NoError(t, a.Admin.SetSees(ctx, a.View(who), "deals", engine.SeesOwn, store.Unchecked))
	require.NoError(t, a.Admin.SetPolicy(ctx, a.View(who), people.Policy{ReadersKeep: false}, store.Unchecked))
	version, err := a.Shape.Version(ctx)
	require.NoError(t, err)
	key, err := a.Shape.AddField(ctx, a.View(who), "deals", shape.FieldEdit{Label: "Hull", Kind: "text"}, version)
	require.NoError(t, err)
	require.NoError(t, a.Shape.SetField(ctx, a.View(who), "deals", key, shape.FieldEdit{Label: "Keel"}, version+1))

	all := list("")
	require.Len(t, all, 5)
	require.Equal(t, who.Name, all[0].By)
	require.Equal(t, []admin.Point{{"types › deals › fields › hull › label", "Hull", "Keel"}}, all[0].Points)
	require.True(t, all[0].Back)
	require.Equal(t, "It was changed again since.", all[1].Why)
	require.Equal(t, "Which deals people may see", all[3].What)
	require.Equal(t, []admin.Point{{"", "their team’s", "their own"}}, all[3].Points)
	require.Equal(t, "It was changed again since.", all[4].Why)
	require.Len(t, list("keel"), 1)
	require.Len(t, list("DEALS see"), 2)

	require.NoError(t, a.Admin.TakeBack(ctx, a.View(who), all[0].ID))
	require.Equal(t, "Hull", s.Schema().Type("deals").Field(key).Label)
	require.NoError(t, a.Admin.TakeBack(ctx, a.View(who), all[2].ID))
	require.True(t, a.View(who).Policy.ReadersKeep)
	require.NoError(t, a.Admin.TakeBack(ctx, a.View(who), all[3].ID))
	sees, err := s.Sees(ctx)
	require.NoError(t, err)
	require.Equal(t, "team", sees["deals"])
	require.Len(t, list(""), 8, "taking back is a change too")
	require.True(t, fault.Is(a.Admin.TakeBack(ctx, a.View(who), all[4].ID), fault.Stale) == false, "what it led to is in force again")
	reader, err := a.People.Who(ctx, 3)
	require.NoError(t, err)
	_, _, err = a.Admin.Changes(ctx, a.View(reader), "", 0, 50)
	require.True(t, fault.Is(err, fault.Forbidden))
	require.True(t, fault.Is(a.Admin.TakeBack(ctx, a.View(reader), all[1].ID), fault.Forbidden))
}

// Targets and starting points are among what was changed, said in words, and are taken back: a measure that was taken away
// comes back with its targets, and what was changed again since stays.
func TestTargetsAndPointsAreTakenBack(t *testing.T) {
	a, s := demotest.App(t)
	who, err := a.People.Who(context.Background(), 2)
	require.NoError(t, err)
	ctx := store.By(context.Background(), who.ID)
	v := func() *answers.View { return a.View(who) }
	last := func() admin.Changed {
		l, _, err := a.Admin.Changes(ctx, v(), "", 0, 1)
		require.NoError(t, err)
		require.Len(t, l, 1)
		return l[0]
	}
	set := func(amount string) {
		_, _, _, err := a.Targets.Set(ctx, v(), "won_value", targets.Setting{Scope: target.Scope{Kind: target.Team, ID: "1"}, Year: 2031, Months: 1, Amount: amount, Version: v().Aims.Measure("won_value").Version})
		require.NoError(t, err)
	}
	amounts := func() map[string]string {
		all, err := s.Targets(ctx)
		require.NoError(t, err)
		by := map[string]string{}
		for _, x := range all {
			by[fmt.Sprint(x.Measure, x.Kind, x.Subject, x.Month)] = x.Amount
		}
		return by
	}
	was := amounts()
	set("100000")
	first := last()
	require.Equal(t, "Targets of Won value", first.What)
	require.Equal(t, []admin.Point{{"North shore, 2031-04", "", "100000.00"}}, first.Points)
	set("120000")
	require.Equal(t, []admin.Point{{"North shore, 2031-04", "100000.00", "120000.00"}}, last().Points)
	require.True(t, fault.Is(a.Admin.TakeBack(ctx, v(), first.ID), fault.Stale))
	require.NoError(t, a.Admin.TakeBack(ctx, v(), last().ID))
	require.NoError(t, a.Admin.TakeBack(ctx, v(), first.ID))
	require.Equal(t, was, amounts())
	require.True(t, last().Back, "taking back is a change that can be taken back")

	require.NoError(t, a.Targets.DropMeasure(ctx, v(), "won_value"))
	require.Nil(t, v().Aims.Measure("won_value"))
	dropped := last()
	require.Equal(t, "Targets of Won value", dropped.What)
	require.NoError(t, a.Admin.TakeBack(ctx, v(), dropped.ID))
	require.NotNil(t, v().Aims.Measure("won_value"))
	require.Equal(t, was, amounts())
	require.False(t, func() bool {
		l, _, err := a.Admin.Changes(ctx, v(), "", 0, 2)
		require.NoError(t, err)
		return l[1].Back
	}(), "it is there again")

	b, err := brief.Decode([]byte(`{"version":1,"start":"deals","filter":{"field":"status","is":"any_of","values":["open"],"fixed":true}}`))
	require.NoError(t, err)
	require.NoError(t, a.Admin.KeepStartingPoint(ctx, v(), admin.StartingPoint{Name: "Open work", Brief: b, Teams: []int64{1}}))
	made := last()
	require.Equal(t, "A starting point", made.What)
	require.Contains(t, made.Points, admin.Point{What: "Who sees it", After: "North shore"})
	points := func() (names []string) {
		list, err := a.Admin.StartingPoints(ctx, v())
		require.NoError(t, err)
		for _, p := range list {
			if p.Name == "Open work" {
				require.True(t, brief.HasFixed(p.Brief), "its condition is fixed in what begins from it")
			}
			names = append(names, p.Name)
		}
		return names
	}
	require.Contains(t, points(), "Open work")
	require.NoError(t, a.Admin.TakeBack(ctx, v(), made.ID))
	require.NotContains(t, points(), "Open work")
	require.NoError(t, a.Admin.TakeBack(ctx, v(), last().ID))
	require.Contains(t, points(), "Open work")
}
