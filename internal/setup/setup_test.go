package setup_test

import (
	"context"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/period"
	"uzzel/internal/answers"
	"uzzel/internal/app"
	"uzzel/internal/demo"
	"uzzel/internal/fault"
	"uzzel/internal/setup"
	"uzzel/internal/store"
)

var ctx = context.Background()

const secret = "gravel lantern otter"

func empty(t testing.TB) (*app.App, *store.Store) {
	t.Helper()
	s, err := store.Open(filepath.Join(t.TempDir(), "new.db"))
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	day := period.Day(2026, 5, 14)
	a, err := app.New(s, func() int32 { return day }, nil)
	require.NoError(t, err)
	a.SetUp.Demo = func(ctx context.Context) error { return demo.Fill(ctx, s, day, 1) }
	return a, s
}

var company = setup.Company{Name: "Ketch & Daughters", Timezone: "Europe/Oslo", WeekStart: "sunday", FiscalMonth: 7,
	Currency: "NOK", Figures: "de", Days: "dots"}

func step(t *testing.T, a *app.App) string {
	t.Helper()
	now, err := a.SetUp.Step(ctx)
	require.NoError(t, err)
	return now
}

// administered sets up until there is an administrator, and gives what they see.
func administered(t testing.TB, a *app.App) *answers.View {
	t.Helper()
	key, err := a.SetUp.Key(ctx)
	require.NoError(t, err)
	require.NoError(t, a.SetUp.Organise(ctx, key, company))
	who, err := a.SetUp.Administer(ctx, key, "Idun Ketch", "idun@ketch.example", secret)
	require.NoError(t, err)
	return a.View(who)
}

// From an empty file to the words of the trade, each step once and in its order.
func TestSetUp(t *testing.T) {
	a, s := empty(t)
	require.Equal(t, setup.Organisation, step(t, a))
	key, err := a.SetUp.Key(ctx)
	require.NoError(t, err)
	_, err = a.SetUp.Administer(ctx, key, "Idun Ketch", "idun@ketch.example", secret)
	require.ErrorContains(t, err, "what the organisation is called")
	require.NoError(t, a.SetUp.Organise(ctx, key, company))
	require.Equal(t, setup.Administrator, step(t, a))
	settled, err := a.SetUp.Settled(ctx, key)
	require.NoError(t, err)
	require.Equal(t, company, settled, "a step can be gone back to")
	_, err = a.SetUp.Administer(ctx, key, "Idun Ketch", "idun@ketch.example", "password1234")
	require.True(t, fault.Is(err, fault.Invalid))
	who, err := a.SetUp.Administer(ctx, key, "Idun Ketch", "idun@ketch.example", secret)
	require.NoError(t, err)
	require.True(t, who.Administers())
	require.True(t, fault.Is(a.SetUp.Organise(ctx, key, company), fault.NotFound), "the key opens nothing more")
	again, err := a.SetUp.Key(ctx)
	require.NoError(t, err)
	require.Empty(t, again, "and there is no other")

	require.Equal(t, setup.Begin, step(t, a))
	require.True(t, fault.Is(a.SetUp.Name(ctx, a.View(who), nil), fault.Stale))
	require.NoError(t, a.SetUp.BeginWith(ctx, a.View(who), setup.WithNone))
	require.Equal(t, setup.Words, step(t, a))
	clash := []setup.Word{{Type: "deals", Label: "Orders", One: "order"}, {Type: "products", Label: "orders", One: "thing"}}
	require.ErrorContains(t, a.SetUp.Name(ctx, a.View(who), clash), "two things")
	require.NoError(t, a.SetUp.Name(ctx, a.View(who), []setup.Word{{Type: "deals", Label: "orders", One: "Order"}}))
	require.Equal(t, setup.Done, step(t, a))
	deals := s.Schema().Type("deals")
	require.Equal(t, []string{"Orders", "order"}, []string{deals.Label, deals.One})
	require.Equal(t, "Orders", s.Schema().Type("customers").Back("deals").Label)
	require.Equal(t, "Order", s.Schema().Type("activities").Field("deal").Label)
	_, err = a.People.SignIn(ctx, "idun@ketch.example", secret, "")
	require.NoError(t, err)
}

// The demo company comes into the organisation's own name, zone and currency; its people have no accounts.
func TestDemoToLookAround(t *testing.T) {
	a, s := empty(t)
	v := administered(t, a)
	require.NoError(t, a.SetUp.BeginWith(ctx, v, setup.WithDemo))
	set := s.Schema().Settings
	require.Equal(t, []any{"Europe/Oslo", "NOK", "Enquiry"}, []any{set.Timezone, set.Currency, set.Stages[0].Name})
	v = a.View(v.Who)
	deals, err := v.Snap.Table("deals")
	require.NoError(t, err)
	require.Equal(t, 2600, deals.N)
	reports, err := a.Library.Reports(ctx, v)
	require.NoError(t, err)
	require.NotEmpty(t, reports)
	accounts, err := s.Accounts(ctx)
	require.NoError(t, err)
	require.Len(t, accounts, 1)
	_, err = a.People.SignIn(ctx, "p2@brinehaven.example", demo.Password, "")
	require.True(t, fault.Is(err, fault.SignedOut))
	list, err := a.Roster.List(ctx, v)
	require.NoError(t, err)
	require.Len(t, list, 15)
}

func TestRefusedCompanies(t *testing.T) {
	a, _ := empty(t)
	key, err := a.SetUp.Key(ctx)
	require.NoError(t, err)
	for member, change := range map[string]func(c *setup.Company){
		"/name":        func(c *setup.Company) { c.Name = "  " },
		"/timezone":    func(c *setup.Company) { c.Timezone = "Mars/Olympus" },
		"/weekStart":   func(c *setup.Company) { c.WeekStart = "someday" },
		"/fiscalMonth": func(c *setup.Company) { c.FiscalMonth = 13 },
		"/currency":    func(c *setup.Company) { c.Currency = "euro" },
		"/figures":     func(c *setup.Company) { c.Figures = "xx" },
		"/days":        func(c *setup.Company) { c.Days = "moons" },
	} {
		c := company
		change(&c)
		var f *fault.Error
		require.ErrorAs(t, a.SetUp.Organise(ctx, key, c), &f, member)
		require.Equal(t, member, f.Pointer)
	}
	require.True(t, fault.Is(a.SetUp.Organise(ctx, "WRONG", company), fault.NotFound))
}
