package admin_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/engine"
	"uzzel/internal/admin"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/fault"
	"uzzel/internal/people"
	"uzzel/internal/shape"
	"uzzel/internal/store"
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
	require.Equal(t, "Records were changed with it. Change it back under Fields.", all[1].Why)
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
