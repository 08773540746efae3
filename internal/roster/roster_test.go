package roster_test

import (
	"context"
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"uzzel/internal/app"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/fault"
	"uzzel/internal/people"
	"uzzel/internal/roster"
	"uzzel/internal/store"
)

var ctx = context.Background()

const (
	aldo, runa, osric = 3, 4, 2
	secret            = "gravel lantern otter"
)

func as(t testing.TB, a *app.App, id int64) people.Person {
	t.Helper()
	who, err := a.People.Who(ctx, id)
	require.NoError(t, err)
	return who
}

func entry(t *testing.T, a *app.App, name string) roster.Entry {
	t.Helper()
	list, err := a.Roster.List(ctx, a.View(as(t, a, osric)))
	require.NoError(t, err)
	for _, e := range list {
		if e.Name == name {
			return e
		}
	}
	t.Fatalf("%s is not on the list", name)
	return roster.Entry{}
}

// Who is invited signs in with a password of their own, once; the key is then used up.
func TestInvite(t *testing.T) {
	a, _ := demotest.App(t)
	admin := a.View(as(t, a, osric))
	wila := roster.Details{Name: " Wila  Ness ", Email: "wila@brinehaven.example", Team: "Delta works", Role: people.Composer}
	made, err := a.Roster.Invite(ctx, admin, []roster.Details{wila})
	require.NoError(t, err)
	e := entry(t, a, "Wila Ness")
	require.Equal(t, []string{roster.Invited, people.Composer, "Delta works"}, []string{e.State, e.Role, e.Team})
	_, err = a.People.SignIn(ctx, wila.Email, "", "")
	require.True(t, fault.Is(err, fault.SignedOut), "there is no password yet")

	key := made[0].Key
	look, err := a.People.Look(ctx, key)
	require.NoError(t, err)
	require.Equal(t, people.Opened{Kind: people.InviteKey, Name: "Wila Ness", Email: wila.Email}, look)
	_, err = a.People.Take(ctx, key, "short")
	require.True(t, fault.Is(err, fault.Invalid))
	who, err := a.People.Take(ctx, key, secret)
	require.NoError(t, err, "a refused password does not use the key up")
	require.Equal(t, e.ID, who.ID)
	_, err = a.People.Take(ctx, key, secret)
	require.True(t, fault.Is(err, fault.NotFound))
	who, err = a.People.SignIn(ctx, "WILA@brinehaven.example", secret, "")
	require.NoError(t, err)
	require.Equal(t, "Delta works", who.Team)

	_, err = a.Roster.Invite(ctx, a.View(as(t, a, osric)), []roster.Details{{Name: "New", Email: "new@brinehaven.example", Role: people.Reader}, wila})
	require.True(t, fault.Is(err, fault.Taken))
	list, err := a.Roster.List(ctx, a.View(as(t, a, osric)))
	require.NoError(t, err)
	require.Len(t, list, 14+1, "all of them or none")
}

func TestKeysGrowOld(t *testing.T) {
	a, s := demotest.App(t)
	made, err := a.Roster.Invite(ctx, a.View(as(t, a, osric)), []roster.Details{{Name: "Wila", Email: "w@brinehaven.example", Role: people.Reader}})
	require.NoError(t, err)
	again, err := a.Roster.Again(ctx, a.View(as(t, a, osric)), made[0].ID)
	require.NoError(t, err)
	_, err = a.People.Look(ctx, made[0].Key)
	require.True(t, fault.Is(err, fault.NotFound), "another key takes the place of the first")
	now := s.Now()
	s.Now = func() time.Time { return now.Add(15 * 24 * time.Hour) }
	_, err = a.People.Take(ctx, again.Key, secret)
	require.True(t, fault.Is(err, fault.NotFound))
}

func TestRefused(t *testing.T) {
	a, _ := demotest.App(t)
	admin := a.View(as(t, a, osric))
	for member, d := range map[string]roster.Details{
		"/people/0/name":  {Email: "a@brinehaven.example", Role: people.Reader},
		"/people/0/email": {Name: "A", Email: "A <a@brinehaven.example>", Role: people.Reader},
		"/people/0/role":  {Name: "A", Email: "a@brinehaven.example", Role: "owner"},
	} {
		_, err := a.Roster.Invite(ctx, admin, []roster.Details{d})
		var f *fault.Error
		require.ErrorAs(t, err, &f)
		require.Equal(t, member, f.Pointer)
	}
	ok := roster.Details{Name: "A", Email: "a@brinehaven.example", Role: people.Reader}
	_, err := a.Roster.Invite(ctx, a.View(as(t, a, 1)), []roster.Details{ok})
	require.True(t, fault.Is(err, fault.Forbidden), "a composer")
	require.ErrorContains(t, a.Roster.Leave(ctx, admin, osric, nil), "yourself")
	require.ErrorContains(t, a.Roster.Leave(ctx, admin, aldo, map[string]int64{"deals": aldo}), "take over")
	err = a.Roster.Change(ctx, admin, osric, roster.Details{Name: "Osric", Email: "o@brinehaven.example", Role: people.Reader})
	require.ErrorContains(t, err, "only administrator")
	err = a.Roster.Change(ctx, admin, aldo, roster.Details{Name: "Aldo", Email: "p4@brinehaven.example", Role: people.Reader})
	require.True(t, fault.Is(err, fault.Taken), "another's address")
}

// Who leaves signs in no more, and what they have is handed over by kind; what they did stays theirs.
func TestLeave(t *testing.T) {
	a, s := demotest.App(t)
	who := as(t, a, aldo)
	folder, err := s.PrivateFolder(ctx, aldo)
	require.NoError(t, err)
	r := store.Report{Folder: folder, Owner: aldo, ChangedBy: aldo, Title: "My deals", Brief: `{"version":1,"start":"deals"}`}
	require.NoError(t, s.AddReport(ctx, &r))

	admin := a.View(as(t, a, osric))
	holds, err := a.Roster.Holds(ctx, admin, aldo)
	require.NoError(t, err)
	count := map[string]int64{}
	for _, h := range holds {
		count[h.Kind] = h.Count
	}
	require.Positive(t, count["deals"])
	require.Positive(t, count["customers"])
	require.Positive(t, count["activities"])
	require.Equal(t, int64(1), count[roster.Reports])
	before, err := a.Roster.Holds(ctx, admin, runa)
	require.NoError(t, err)

	require.NoError(t, a.Roster.Leave(ctx, admin, aldo, map[string]int64{"deals": runa, "activities": runa, roster.Reports: runa}))
	_, err = a.People.Who(ctx, aldo)
	require.True(t, fault.Is(err, fault.SignedOut))
	require.Equal(t, roster.Left, entry(t, a, who.Name).State)
	admin = a.View(as(t, a, osric))
	after, err := a.Roster.Holds(ctx, admin, runa)
	require.NoError(t, err)
	more := map[string]int64{}
	for _, h := range after {
		more[h.Kind] += h.Count
	}
	for _, h := range before {
		more[h.Kind] -= h.Count
	}
	require.Equal(t, count["deals"], more["deals"])
	require.Equal(t, count["activities"], more["activities"])
	require.Zero(t, more["customers"], "nobody was named for them")
	left, err := a.Roster.Holds(ctx, admin, aldo)
	require.NoError(t, err)
	require.Equal(t, []string{"customers", "contacts"}, []string{left[0].Kind, left[1].Kind}, "%v", left)
	got, err := s.Report(ctx, as(t, a, runa).Viewer(), r.ID)
	require.NoError(t, err, "what was private is the new owner's")
	require.Equal(t, int64(runa), got.Owner)
}

// Invites someone, who then signs in.
func ExampleRoster_Invite() {
	t := &testing.T{}
	a, _ := demotest.App(t)
	made, err := a.Roster.Invite(ctx, a.View(as(t, a, osric)), []roster.Details{
		{Name: "Wila Ness", Email: "wila@brinehaven.example", Team: "Inland", Role: people.Reader},
	})
	if err != nil {
		fmt.Println(err)
		return
	}
	who, err := a.People.Take(ctx, made[0].Key, secret)
	fmt.Println(who.Name, who.Team, who.Role, err)
	// Output: Wila Ness Inland reader <nil>
}
