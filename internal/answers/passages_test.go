package answers_test

import (
	"context"
	"fmt"
	"slices"
	"sort"
	"strconv"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"uzzel/core/period"
	"uzzel/internal/answers"
	"uzzel/internal/demo/demotest"
)

// lines reads a list as texts.
func lines(t *testing.T, v *answers.View, text string) [][]string {
	t.Helper()
	l, err := v.List(context.Background(), parsed(t, text))
	require.NoError(t, err)
	page, err := l.Page(context.Background(), 0, l.Len())
	require.NoError(t, err)
	return page.Texts
}

// How deals went on is what their history says, deal by deal: each is counted once, as it first came into a stage within
// the days; all owners together are all.
func TestPassages(t *testing.T) {
	ctx := context.Background()
	a, _ := demotest.App(t)
	v := demotest.View(t, a, 2)
	const open = `{"version":1,"start":"deals","filter":{"all":[{"field":"kind","is":"any_of","values":["New build","Refit"]}]}`
	within := period.Period{Word: "last_year"}
	p, err := v.Passages(ctx, parsed(t, open+`,"groups":[{"field":"owner"}]}`), within)
	require.NoError(t, err)

	// The same, worked out plainly.
	type coming struct {
		at    time.Time
		id    int
		stage string
	}
	ways, made, now := map[string][]coming{}, map[string]time.Time{}, map[string]string{}
	for _, d := range lines(t, v, open+`,"columns":[{"field":"id"},{"field":"created"},{"field":"stage"}]}`) {
		made[d[0]], err = time.Parse(time.RFC3339, d[1])
		require.NoError(t, err)
		now[d[0]] = d[2]
	}
	first := map[string]coming{}
	for _, c := range lines(t, v, `{"version":1,"start":"changes","filter":{"all":[{"field":"record_type","is":"any_of","values":["deals"]},{"field":"field","is":"any_of","values":["stage"]}]},"columns":[{"field":"id"},{"field":"record"},{"field":"from"},{"field":"to"},{"field":"at"}]}`) {
		if _, there := now[c[1]]; !there {
			continue
		}
		at, err := time.Parse(time.RFC3339, c[4])
		require.NoError(t, err)
		id, err := strconv.Atoi(c[0])
		require.NoError(t, err)
		ways[c[1]] = append(ways[c[1]], coming{at, id, c[3]})
		if f, there := first[c[1]]; !there || at.Before(f.at) || (at.Equal(f.at) && id < f.id) {
			first[c[1]] = coming{at, id, c[2]}
		}
	}
	order := []string{"Enquiry", "Site survey", "Design", "Offer sent", "Contract review", "Ordered"}
	zone := v.Snap.Cal.Zone
	day := func(t time.Time) int { return int(period.Day(t.In(zone).Date())) }
	type count struct {
		entered, onward, still int
		days                   []int
		to                     map[string]int
	}
	want := map[string]*count{}
	for id, stage := range now {
		begin := coming{made[id], 0, stage}
		if f, there := first[id]; there {
			begin.stage = f.stage
		}
		way := ways[id]
		sort.Slice(way, func(i, j int) bool {
			if !way[i].at.Equal(way[j].at) {
				return way[i].at.Before(way[j].at)
			}
			return way[i].id < way[j].id
		})
		way = append([]coming{begin}, way...)
		seen := map[string]bool{}
		for i, c := range way {
			if y := c.at.In(zone).Year(); y != 2025 || seen[c.stage] {
				continue
			}
			seen[c.stage] = true
			if want[c.stage] == nil {
				want[c.stage] = &count{to: map[string]int{}}
			}
			n := want[c.stage]
			n.entered++
			if i+1 == len(way) {
				n.still++
				continue
			}
			next := way[i+1]
			n.to[next.stage]++
			n.days = append(n.days, day(next.at)-day(c.at))
			if slices.Index(order, next.stage) > slices.Index(order, c.stage) {
				n.onward++
			}
		}
	}
	require.NotEmpty(t, p.Groups[0].Stages)
	for _, got := range p.Groups[0].Stages {
		w := want[got.Stage]
		require.NotNil(t, w, got.Stage)
		require.Equal(t, w.entered, int(got.Entered), got.Stage)
		require.Equal(t, w.onward, int(got.Onward), got.Stage)
		require.Equal(t, w.still, int(got.Still), got.Stage)
		for _, to := range got.To {
			require.Equal(t, w.to[to.Stage], int(to.Count), "%s to %s", got.Stage, to.Stage)
		}
		require.Len(t, got.To, len(w.to))
		slices.Sort(w.days)
		n := len(w.days)
		require.Positive(t, n)
		median := float64(w.days[(n-1)/2]+w.days[n/2]) / 2
		require.Equal(t, strconv.FormatFloat(median, 'f', -1, 64), got.Median, got.Stage)
		require.Equal(t, fmt.Sprintf("%.1f %%", 100*float64(w.onward)/float64(w.entered)), got.Rate)
		together := 0
		for _, g := range p.Groups[1:] {
			for _, s := range g.Stages {
				if s.Stage == got.Stage {
					together += int(s.Entered)
				}
			}
		}
		require.Equal(t, w.entered, together, "all owners together")
	}
	require.Equal(t, "funnel", p.Drawing.Kind)
	require.Contains(t, p.Drawing.Categories[0].Step, " went on")

	_, err = v.Passages(ctx, parsed(t, `{"version":1,"start":"customers"}`), within)
	require.ErrorContains(t, err, "has stages")
	empty, err := v.Passages(ctx, parsed(t, open+`}`), period.Period{From: "1990-01-01", To: "1990-12-31"})
	require.NoError(t, err)
	require.Empty(t, empty.Groups[0].Stages)
}
