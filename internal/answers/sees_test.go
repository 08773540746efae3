package answers_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/engine"
	"uzzel/internal/answers"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/fault"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

// What is said of a person goes before what is said of the person's team, and that before what is said of all; it holds
// in answers, for one as for the other.
func TestExceptions(t *testing.T) {
	a, _ := demotest.App(t)
	ctx := context.Background()
	admin := a.View(people.Person{ID: 2, Role: people.Administrator})
	require.NoError(t, a.Admin.SetSees(ctx, admin, "deals", engine.SeesOwn, 0))
	b, err := brief.Decode([]byte(`{"version":1,"start":"deals"}`))
	require.NoError(t, err)
	count := func(id int64) int64 {
		who, err := a.People.Who(ctx, id)
		require.NoError(t, err)
		answer, err := a.View(who).Ask(ctx, b)
		require.NoError(t, err)
		return answer.Result.Records
	}
	three, err := a.People.Who(ctx, 3)
	require.NoError(t, err)
	own, others := count(3), count(4)
	require.Less(t, own, int64(2600))
	exceptions := []answers.Exception{
		{Type: "deals", Kind: store.ForTeam, Subject: three.TeamID, How: engine.SeesTeam},
		{Type: "deals", Kind: store.ForPerson, Subject: 4, How: engine.SeesAll},
	}
	require.NoError(t, a.Admin.SetExceptions(ctx, admin, exceptions, 0))
	require.Greater(t, count(3), own, "the team's")
	require.EqualValues(t, 2600, count(4))
	require.Greater(t, int64(2600), others)
	exceptions[1] = answers.Exception{Type: "deals", Kind: store.ForPerson, Subject: 3, How: engine.SeesOwn}
	require.NoError(t, a.Admin.SetExceptions(ctx, admin, exceptions, 1))
	require.Equal(t, own, count(3), "the person before the team")
	require.Greater(t, count(4), others, "as the team, of which both are")

	require.True(t, fault.Is(a.Admin.SetExceptions(ctx, admin, exceptions, 1), fault.Stale))
	require.True(t, fault.Is(a.Admin.SetExceptions(ctx, a.View(three), exceptions, 2), fault.Forbidden))
	for _, bad := range []answers.Exception{
		{Type: "lines", Kind: store.ForTeam, Subject: 1}, {Type: "deals", Kind: "everyone"},
		{Type: "deals", Kind: store.ForPerson, Subject: 999}, {Type: "deals", Kind: store.ForTeam, Subject: 1, How: "half"},
	} {
		require.True(t, fault.Is(a.Admin.SetExceptions(ctx, admin, []answers.Exception{bad}, 2), fault.Invalid), bad)
	}
	require.True(t, fault.Is(a.Admin.SetExceptions(ctx, admin, append(exceptions, exceptions...), 2), fault.Invalid))
}
