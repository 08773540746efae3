package finding_test

import (
	"context"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/internal/demo/demotest"
	"uzzel/internal/fault"
	"uzzel/internal/finding"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

var composer = people.Person{ID: 4, TeamID: 1, Role: people.Composer}

// What the demo company keeps is found by what it is about, by words of the trade that its title does not have, and by
// where it is, each said in words.
func TestFound(t *testing.T) {
	a, _ := demotest.App(t)
	v := a.View(composer)
	for _, c := range []struct {
		find finding.Find
		said string
	}{
		{finding.Find{Kind: store.KindReport, Start: "deals"}, "Reports, about deals."},
		{finding.Find{Kind: store.KindReport, Search: "revenue"}, "Reports, with the words “revenue”."},
		{finding.Find{Kind: store.KindBoard}, "Dashboards."},
		{finding.Find{Kind: store.KindReport, Board: "none"}, "Reports, on no dashboard."},
		{finding.Find{Changed: "this_year", Sort: "title"}, "Reports, dashboards and folders, changed this year."},
	} {
		list, said, err := a.Finder.Find(context.Background(), v, c.find)
		require.NoError(t, err)
		require.Equal(t, c.said, said)
		require.NotEmpty(t, list, said)
		for i, f := range list {
			if c.find.Kind != "" {
				require.Equal(t, c.find.Kind, f.Kind)
			}
			if c.find.Start != "" {
				require.Equal(t, c.find.Start, f.Start)
			}
			if c.find.Board == "none" {
				require.Empty(t, f.Boards)
			}
			if i > 0 && c.find.Sort != "title" {
				require.GreaterOrEqual(t, list[i-1].Changed, f.Changed, "the latest change first")
			}
		}
	}
	_, _, err := a.Finder.Find(context.Background(), v, finding.Find{Changed: "some day"})
	require.True(t, fault.Is(err, fault.Invalid))
}

// What was never deleted cannot be brought back.
func TestNothingToBringBack(t *testing.T) {
	a, _ := demotest.App(t)
	err := a.Finder.BringBack(context.Background(), a.View(composer), store.Item{Kind: store.KindReport, Item: 1})
	require.True(t, fault.Is(err, fault.NotFound))
}

func ExampleFinder() {
	a, _ := demotest.App(&testing.T{})
	list, said, err := a.Finder.Find(context.Background(), a.View(composer), finding.Find{Kind: store.KindReport, Search: "funnel"})
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Println(said, len(list) > 0)
	// Output: Reports, with the words “funnel”. true
}
