package targets_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/target"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/fault"
	"uzzel/internal/people"
	"uzzel/internal/targets"
)

var (
	admin  = people.Person{ID: 2, Role: people.Administrator}
	reader = people.Person{ID: 3, TeamID: 1, Role: people.Reader}
)

// An amount is cut into its months without losing a cent, what was there is given back to undo with, and whoever read
// an older grid is told.
func TestSet(t *testing.T) {
	a, _ := demotest.App(t)
	ctx := context.Background()
	version := a.View(admin).Aims.Measure("won_value").Version
	set := targets.Setting{Scope: target.Scope{Kind: target.Team, ID: "1"}, Year: 2031, Months: 3, Amount: "€ 100,000.01", Version: version}
	before, _, now, err := a.Targets.Set(ctx, a.View(admin), "won_value", set)
	require.NoError(t, err)
	require.Equal(t, []string{"", "", ""}, before)
	require.Equal(t, version+1, now)
	grid, err := a.Targets.Grid(a.View(admin), "won_value", 2031)
	require.NoError(t, err)
	var row targets.GridRow
	for _, r := range grid.Rows {
		if r.Scope == set.Scope {
			row = r
		}
	}
	require.Equal(t, "€100,000.01", row.Year)
	require.Equal(t, row.Year, row.Quarters[0])

	_, _, _, err = a.Targets.Set(ctx, a.View(admin), "won_value", set)
	require.True(t, fault.Is(err, fault.Stale))
	for pointer, wrong := range map[string]targets.Setting{
		"/amount": {Year: 2031, Months: 1, Amount: "much"},
		"/from":   {Year: 2031, From: 11, Months: 3, Amount: "1"},
		"/cut":    {Year: 2031, Months: 3, Amount: "1", Cut: "by weather"},
		"":        {Scope: target.Scope{Kind: target.Team, ID: "999999"}, Year: 2031, Months: 1, Amount: "1"},
	} {
		_, _, _, err := a.Targets.Set(ctx, a.View(admin), "won_value", wrong)
		var told *fault.Error
		require.ErrorAs(t, err, &told, "%+v", wrong)
		require.Equal(t, pointer, told.Pointer)
	}
	_, _, _, err = a.Targets.Set(ctx, a.View(reader), "won_value", set)
	require.True(t, fault.Is(err, fault.Forbidden))
}

// What is measured keeps only what says so: records, conditions, the date that it goes by, its first summary.
func TestKeepMeasure(t *testing.T) {
	a, _ := demotest.App(t)
	ctx := context.Background()
	decode := func(text string) *brief.Brief {
		b, err := brief.Decode([]byte(text))
		require.NoError(t, err)
		return b
	}
	m := a.View(admin).Aims.Measures[0]
	m.Key, m.Name, m.Version = "", "Lost value", 0
	m.Brief = decode(`{"version":1,"start":"deals","whose":"mine","period":{"field":"closed","within":"last_week"},"filter":{"field":"status","is":"any_of","values":["lost"]},"groups":[{"field":"stage"}],"summaries":[{"key":"v","fn":"sum","of":"value","show":"running_total"},{"key":"n","fn":"count"}]}`)
	key, err := a.Targets.KeepMeasure(ctx, a.View(admin), m)
	require.NoError(t, err)
	kept := a.View(admin).Aims.Measure(key)
	require.Equal(t, "Deals, where status is lost, showing sum of value, amounts in EUR at the rate of closed, else expected close, else today, by closed.", kept.Words(a.View(admin).Scene()))
	require.Empty(t, kept.Brief.Groups)
	require.Nil(t, kept.Brief.Whose)
	_, err = a.Targets.KeepMeasure(ctx, a.View(admin), m)
	require.True(t, fault.Is(err, fault.Taken))
	for what, text := range map[string]string{
		"no date":     `{"version":1,"start":"deals"}`,
		"no owner":    `{"version":1,"start":"products","period":{"field":"created","within":"this_year"}}`,
		"no number":   `{"version":1,"start":"deals","period":{"field":"closed","within":"this_year"},"summaries":[{"key":"d","fn":"max","of":"closed"}]}`,
		"two of them": `{"version":1,"parts":[{"key":"a","start":"deals"},{"key":"b","start":"activities"}]}`,
	} {
		m.Name, m.Brief = what, decode(text)
		_, err := a.Targets.KeepMeasure(ctx, a.View(admin), m)
		require.Error(t, err, what)
	}
	require.NoError(t, a.Targets.DropMeasure(ctx, a.View(admin), key))
	require.Nil(t, a.View(admin).Aims.Measure(key))
	require.True(t, fault.Is(a.Targets.DropMeasure(ctx, a.View(admin), key), fault.NotFound))
}
