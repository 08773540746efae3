package answers_test

import (
	"context"
	"slices"
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/period"
	"uzzel/internal/answers"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/fault"
)

// What was expected of last quarter's deals is what lists of that day say, and what became of them what lists of its end
// say, deal by deal.
func TestHeld(t *testing.T) {
	ctx := context.Background()
	a, _ := demotest.App(t)
	v := demotest.View(t, a, 2)
	// The report asks for won deals that close this year: neither is asked of what was expected.
	const mine = `{"version":1,"start":"deals","period":{"field":"closed","within":"this_year"},"filter":{"all":[{"field":"status","is":"any_of","values":["won"]},{"field":"kind","is":"any_of","values":["New build","Refit","Extension"]}]}}`
	h, err := v.Held(ctx, parsed(t, mine), period.Period{Word: "last_quarter"})
	require.NoError(t, err)
	require.Equal(t, []string{"31 Dec 2025", "1 Jan – 31 Mar 2026"}, []string{h.On, h.Dates})

	const kinds = `{"field":"kind","is":"any_of","values":["New build","Refit","Extension"]}`
	columns := `,"columns":[{"field":"id"},{"field":"likelihood"},{"field":"value"},{"field":"expected_close"},{"field":"status"},{"field":"closed"}]}`
	then := lines(t, v, `{"version":1,"start":"deals","asOf":"2025-12-31","filter":{"all":[`+kinds+`,{"field":"status","is":"any_of","values":["open"]},{"field":"expected_close","is":"within","period":{"from":"2026-01-01","to":"2026-03-31"}}]}`+columns)
	now := map[string][]string{}
	won := 0
	for _, d := range lines(t, v, `{"version":1,"start":"deals","asOf":"2026-03-31","filter":{"all":[`+kinds+`]}`+columns) {
		now[d[0]] = d
		if d[4] == "won" && d[5] >= "2026-01-01" && d[5] <= "2026-03-31" {
			won++
		}
	}
	records, values := map[string]int64{}, map[string]float64{}
	var late []int
	bands := map[string][2]int64{}
	for _, d := range then {
		is := now[d[0]]
		key := "gone"
		switch {
		case is == nil:
		case is[4] != "open":
			key = is[4]
			off, err := strconv.Atoi(days(t, d[3], is[5]))
			require.NoError(t, err)
			late = append(late, off)
		case is[3] < "2026-01-01" || is[3] > "2026-03-31":
			key = "moved to another date"
		default:
			key = "still open"
		}
		for _, k := range []string{"expected", key} {
			records[k]++
			value, _ := strconv.ParseFloat(d[2], 64)
			values[k] += value
		}
		band := bands[d[1]+" %"]
		band[0]++
		if key == "won" {
			band[1]++
		}
		bands[d[1]+" %"] = band
	}
	require.Greater(t, len(then), 20)
	got := map[string]int64{}
	share := 0.0
	for i, o := range h.Outcomes {
		got[o.Words] = o.Records
		require.Equal(t, v.PlainWriter().Inner("money", strconv.FormatFloat(values[o.Words], 'f', 2, 64), nil), o.Value, o.Words)
		if i > 0 {
			share += o.Share
		}
	}
	require.Equal(t, records, got)
	require.InDelta(t, 1, share, 1e-9, "the shares are all of it")
	require.Contains(t, h.Won, strconv.Itoa(won)+" deals for €")
	require.EqualValues(t, len(late), h.Decided)
	slices.Sort(late)
	middle := float64(late[(len(late)-1)/2]+late[len(late)/2]) / 2
	require.Negative(t, middle)
	require.Equal(t, strconv.FormatFloat(-middle, 'f', -1, 64)+" days before", h.Median)
	likely := map[string][2]int64{}
	before := -1.0
	for _, b := range h.Likely {
		likely[b.Stated] = [2]int64{b.Records, b.Won}
		require.Greater(t, b.Said, before, "from the least likely on")
		before = b.Said
	}
	require.Equal(t, bands, likely)

	for says, of := range map[string]struct {
		brief  string
		within period.Period
	}{
		"that have begun":  {mine, period.Period{Word: "next_quarter"}},
		"an expected date": {`{"version":1,"start":"customers"}`, period.Period{Word: "last_quarter"}},
	} {
		_, err = v.Held(ctx, parsed(t, of.brief), of.within)
		require.True(t, fault.Is(err, fault.Invalid))
		require.ErrorContains(t, err, says)
	}
	// A period that has begun is told up to today, and one in which nothing was expected as such.
	so, err := v.Held(ctx, parsed(t, mine), period.Period{Word: "this_quarter"})
	require.NoError(t, err)
	require.Equal(t, "1 Apr – 14 May 2026", so.Dates)
	none, err := v.Held(ctx, parsed(t, `{"version":1,"start":"deals","filter":{"field":"name","is":"any_of","values":["nothing"]}}`), period.Period{Word: "last_quarter"})
	require.NoError(t, err)
	require.Contains(t, none.Text, "0 deals were expected to close")
	require.Contains(t, none.Text, "none was won")
	require.Equal(t, []answers.HeldOutcome{{Words: "expected", Value: none.Outcomes[0].Value}}, none.Outcomes)
}

func days(t *testing.T, from, to string) string {
	t.Helper()
	a, err := period.ParseDay(from)
	require.NoError(t, err)
	b, err := period.ParseDay(to)
	require.NoError(t, err)
	return strconv.Itoa(int(b - a))
}
