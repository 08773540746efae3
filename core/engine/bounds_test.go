package engine_test

import (
	"context"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/engine"
	"uzzel/core/period"
)

// many is a harbour of so many deals, one closing each day.
func many(n int) records {
	deals := strings.Builder{}
	deals.WriteString("id,name,customer,owner,stage,value,expected_close")
	for i := range n {
		fmt.Fprintf(&deals, "\n%d,Deal,%d,1,Enquiry,%d,%s", i+1, i%3+1, i%50, period.FormatDay(today-int32(i%1500)))
	}
	out := records{"deals": deals.String()}
	for _, typ := range []string{"teams", "people", "customers"} {
		out[typ] = harbour[typ]
	}
	return out
}

// An own field that reads another twice, and that one another, is worked out once a row: thirty of them would otherwise
// be worked out a thousand million times.
func TestOwnFieldsAreWorkedOutOnce(t *testing.T) {
	own := `{"key":"a0","formula":"value + 1"}`
	for i := range 30 {
		own += fmt.Sprintf(`,{"key":"a%d","formula":"own.a%d / 2 + own.a%d / 2"}`, i+1, i, i)
	}
	began := time.Now()
	r := run(t, snapshot(t, harbour), `{"version":1,"start":"deals","own":[`+own+`],"summaries":[{"key":"s","fn":"sum","of":"own.a30"}]}`)
	require.Equal(t, "344.5", r.Totals().Rows[0][0])
	require.Less(t, time.Since(began), 5*time.Second)
}

// Summaries that square one another are refused when their numbers outgrow all measure, and say which.
func TestNumbersDoNotGrowForEver(t *testing.T) {
	snap := snapshot(t, harbour)
	sums := `{"key":"s0","fn":"sum","of":"value"}`
	for i := range 16 {
		sums += fmt.Sprintf(`,{"key":"s%d","formula":"s%d * s%d / 7 + s%d"}`, i+1, i, i, i)
	}
	_, err := engine.Run(context.Background(), snap, bind(t, snap, `{"version":1,"start":"deals","groups":[{"field":"stage"}],"summaries":[`+sums+`]}`), engine.Options{Today: today})
	require.True(t, engine.IsTooLarge(err), "%v", err)
	require.ErrorContains(t, err, "digits")
	long := strings.TrimSuffix(strings.Repeat("value * ", 240), "* ")
	require.Equal(t, []string{"", "", "", "", ""}, listed(t, "deals", fmt.Sprintf(`"own":[{"key":"x","formula":%q}],`, long), "own.x"), "an own field past what it can hold is empty")
}

// What would list very many groups without records is refused before it is made, and says which group.
func TestEveryIsBounded(t *testing.T) {
	snap := snapshot(t, many(3000))
	began := time.Now()
	_, err := engine.Run(context.Background(), snap, bind(t, snap, `{"version":1,"start":"deals","groups":[{"field":"expected_close","by":"day","every":true},{"field":"created","by":"day","every":true},{"field":"stage","every":true}]}`), engine.Options{Today: today})
	require.NoError(t, err, "no deal has the second day")
	_, err = engine.Run(context.Background(), snap, bind(t, snap, `{"version":1,"start":"deals","own":[{"key":"x","formula":"days(today(), expected_close)"}],"groups":[{"field":"expected_close","by":"day","every":true},{"field":"expected_close","by":"day","every":true}]}`), engine.Options{Today: today})
	var large *engine.TooLargeError
	require.ErrorAs(t, err, &large)
	require.Equal(t, "/groups/1/every", large.Pointer)
	require.Contains(t, large.Message, "longer unit")
	require.Less(t, time.Since(began), 5*time.Second)
}

// Running totals and changes over many groups are worked out in one go over them.
func TestRunningTotalsOverManyGroups(t *testing.T) {
	r := run(t, snapshot(t, many(40_000)), `{"version":1,"start":"deals","groups":[{"field":"id"}],"summaries":[{"key":"n","fn":"count","show":"running_total"},{"key":"v","fn":"sum","of":"value","show":"change"}]}`)
	began := time.Now()
	lines := r.Summary().Rows
	require.Len(t, lines, 40_000)
	require.Equal(t, "40000", lines[39_999][1])
	require.Less(t, time.Since(began), 5*time.Second, "going over all groups for each would take minutes")
}

// A question may take so many values, rows and bytes; what is too large says so and what to do.
func TestBudgets(t *testing.T) {
	snap := snapshot(t, many(3000))
	for text, c := range map[string]struct {
		budget *engine.Budget
		says   string
	}{
		`{"version":1,"start":"deals","groups":[{"field":"id"}],"summaries":[{"key":"n","fn":"count"},{"key":"v","fn":"sum","of":"value"}]}`: {&engine.Budget{Values: 1000}, "fewer or coarser fields"},
		`{"version":1,"start":"deals","groups":[{"field":"stage"}],"summaries":[{"key":"m","fn":"median","of":"value"}]}`:                    {&engine.Budget{Bytes: 5000}, "needs more than"},
		`{"version":1,"start":"customers","bring":{"link":"deals"}}`:                                                                         {&engine.Budget{Rows: 100}, "narrow the report"},
		`{"version":1,"start":"deals","filter":{"link":"customer.deals","is":"some","where":{"link":"customer.deals","is":"some"}}}`:         {&engine.Budget{Rows: 1_000_000}, "narrow the report"},
	} {
		_, err := engine.Run(context.Background(), snap, bind(t, snap, text), engine.Options{Today: today, Budget: c.budget})
		require.True(t, engine.IsTooLarge(err), "%v of %s", err, text)
		require.ErrorContains(t, err, c.says)
	}
}

// A run that is stopped ends within 50 ms wherever it is: in formulas, going over links again and again, in sorting.
func TestRunsStopWhereverTheyAre(t *testing.T) {
	snap := snapshot(t, many(60_000))
	heavy := strings.TrimSuffix(strings.Repeat("value * 3 - value / 7 + ", 60), "+ ")
	for name, text := range map[string]string{
		"formula": fmt.Sprintf(`{"version":1,"start":"deals","own":[{"key":"x","formula":%q}],"summaries":[{"key":"s","fn":"sum","of":"own.x"}]}`, heavy),
		"links":   `{"version":1,"start":"deals","filter":{"link":"customer.deals","is":"some","where":{"link":"customer.deals","is":"some","where":{"field":"value","is":"over","values":["10"]}}}}`,
		"groups":  `{"version":1,"start":"deals","groups":[{"field":"id"},{"field":"name"}],"across":[{"field":"stage"}],"summaries":[{"key":"a","fn":"median","of":"value"},{"key":"b","fn":"distinct","of":"value"}]}`,
	} {
		b := bind(t, snap, text)
		// The shortest of a few: a machine that does something else for a while is not the run's.
		shortest := time.Hour
		for range 5 {
			ctx, cancel := context.WithCancel(context.Background())
			var stopped time.Time
			time.AfterFunc(30*time.Millisecond, func() { stopped = time.Now(); cancel() })
			_, err := engine.Run(ctx, snap, b, engine.Options{Today: today, Budget: &engine.Budget{Rows: 1 << 60}})
			if err == nil {
				cancel()
				shortest = 0
				break // done before it was stopped
			}
			require.ErrorIs(t, err, context.Canceled, name)
			shortest = min(shortest, time.Since(stopped))
		}
		require.Less(t, shortest, slowness*250*time.Millisecond, "%s: 50 ms on a machine that does nothing else", name)
	}
}

// What works on a question is asked often whether others may go first, and can end it.
func TestRunsYield(t *testing.T) {
	snap := snapshot(t, many(60_000))
	asked := 0
	_, err := engine.Run(context.Background(), snap, bind(t, snap, `{"version":1,"start":"deals"}`), engine.Options{Today: today, Gentle: true, Budget: &engine.Budget{Yield: func() error { asked++; return nil }}})
	require.NoError(t, err)
	require.Greater(t, asked, 20)
	enough := fmt.Errorf("enough")
	_, err = engine.Run(context.Background(), snap, bind(t, snap, `{"version":1,"start":"deals"}`), engine.Options{Today: today, Budget: &engine.Budget{Yield: func() error { return enough }}})
	require.ErrorIs(t, err, enough)
}

// Groups and records go together with what top and (blank) leave out, and a page past the end is empty.
func TestDetailsOfWhatIsLeft(t *testing.T) {
	snap := snapshot(t, harbour)
	for _, more := range []string{`"groups":[{"field":"customer","top":{"n":1,"by":"v","rest":"drop"}}]`, `"blank":false,"groups":[{"field":"expected_close","by":"month"}]`,
		`"groups":[{"field":"customer.segment","top":{"n":1,"by":"v","rest":"drop"}},{"field":"owner","top":{"n":1,"by":"v","rest":"other"}}]`} {
		b := bind(t, snap, `{"version":1,"start":"deals",`+more+`,"summaries":[{"key":"v","fn":"sum","of":"value"},{"key":"n","fn":"count"}],"columns":[{"field":"name"}]}`)
		r, d, err := engine.RunGrouped(context.Background(), snap, b, engine.Options{Today: today})
		require.NoError(t, err)
		shown := 0
		for _, run := range d.Runs {
			count, _ := r.Cell(run.Node, 0).Plain[1].Num.Scaled(1)
			require.Equal(t, int(count), run.Count, "%s: group %s", more, r.Rows[run.Node].Label)
			shown += run.Count
		}
		require.Less(t, shown, 5, "something was left out")
		require.Positive(t, shown)
		page, err := d.Read(context.Background(), nil, 100, 200)
		require.NoError(t, err)
		require.Empty(t, page.Texts)
		require.Empty(t, page.IDs)
	}
}

// A result that is kept lets go of what it was worked out from.
func TestResultsAreSmall(t *testing.T) {
	r := run(t, snapshot(t, many(20_000)), `{"version":1,"start":"deals","groups":[{"field":"stage"}],"summaries":[{"key":"m","fn":"median","of":"value"}]}`)
	require.Less(t, r.Bytes(), int64(20_000))
	require.Equal(t, "24.5", r.Totals().Rows[0][0][:4])
}

// Where much is asked for, the report is refused before it is worked out.
func TestReportsHaveLimits(t *testing.T) {
	snap := snapshot(t, harbour)
	sums, own, deep := make([]string, 61), make([]string, 61), `{"field":"kind","is":"filled"}`
	for i := range sums {
		sums[i] = fmt.Sprintf(`{"key":"s%d","fn":"count"}`, i)
		own[i] = fmt.Sprintf(`{"key":"o%d","formula":"value"}`, i)
	}
	for range brief.MaxLinkDepth - 2 {
		deep = `{"link":"customer.activities","is":"some","where":` + deep + `}`
	}
	for text, says := range map[string]string{
		`"summaries":[` + strings.Join(sums, ",") + `]`: "60 summaries",
		`"own":[` + strings.Join(own, ",") + `]`:        "60 own fields",
		`"filter":{"link":"activities","is":"some","where":{"link":"customer.deals","is":"some","where":{"link":"activities","is":"some","where":` + deep + `}}}`: "12 deep",
		`"filter":{"all":[` + strings.TrimSuffix(strings.Repeat(`{"field":"name","is":"filled"},`, 501), ",") + `]}`:                                              "500 conditions",
	} {
		b, err := brief.Decode([]byte(`{"version":1,"start":"deals",` + text + `}`))
		require.NoError(t, err)
		_, err = brief.Bind(b, snap.Schema)
		require.ErrorContains(t, err, says)
	}
}
