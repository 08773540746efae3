package engine_test

import (
	"context"
	"fmt"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/engine"
	"uzzel/core/period"
	"uzzel/core/result"
	"uzzel/core/schema"
)

// records are CSV-like lines by type: the first names the fields.
type records map[string]string

func (r records) Load(_ context.Context, b *column.Builder) error {
	lines := strings.Split(strings.TrimSpace(r[b.Type.Key]), "\n")
	header := strings.Split(lines[0], ",")
	for _, line := range lines[1:] {
		cells := strings.Split(line, ",")
		b.Row(cells[0])
		for i, c := range cells {
			for f := range b.Type.Fields {
				if b.Type.Fields[f].Key == header[i] {
					if err := b.Set(f, c); err != nil {
						return err
					}
				}
			}
		}
	}
	return nil
}

var today = period.Day(2026, 5, 14)

func snapshot(t require.TestingT, r records) *column.Snapshot {
	s, err := schema.New(schema.Settings{Timezone: "Europe/Lisbon", FiscalMonth: 4, Currency: "EUR",
		Stages: []schema.Stage{{Name: "Enquiry", Status: "open"}, {Name: "Site survey", Status: "open"}, {Name: "Offer sent", Status: "open"}, {Name: "Ordered", Status: "won"}, {Name: "Not taken up", Status: "lost"}}})
	require.NoError(t, err)
	return column.NewSnapshot(s, r)
}

func bind(t require.TestingT, snap *column.Snapshot, text string) *brief.Bound {
	b, err := brief.Decode([]byte(text))
	require.NoError(t, err)
	bound, err := brief.Bind(b, snap.Schema)
	require.NoError(t, err)
	return bound
}

func run(t require.TestingT, snap *column.Snapshot, text string) *result.Result {
	r, err := engine.Run(context.Background(), snap, bind(t, snap, text), engine.Options{Today: today, Reader: "1"})
	require.NoError(t, err)
	return r
}

// texts are all rows of a list.
func texts(t require.TestingT, l *engine.Records) [][]string {
	lines, err := l.Lines(context.Background())
	require.NoError(t, err)
	return lines.Rows
}

var harbour = records{
	"teams":     "id,name\n1,West shore",
	"people":    "id,name,team,active\n1,Maite,1,true\n2,Runa,,true",
	"customers": "id,name,segment,size,owner\n1,Eiderport,Marina,100,1\n2,Kelpwick,Harbour,40,2\n3,Ternbay,,7,1",
	"deals": "id,name,customer,owner,stage,value,expected_close\n1,Gangway,1,1,Enquiry,100.50,2026-05-20\n2,Pontoon,1,2,Offer sent,200,2026-05-14\n" +
		"3,Mooring,2,2,Ordered,50,2026-06-01\n4,Walkway,2,1,Enquiry,,2026-08-01\n5,Quay,3,1,Not taken up,-10,",
	"activities": "id,kind,deal,customer,owner,happens,minutes\n1,Call,1,1,1,2026-05-01T10:00:00Z,10\n2,Call,1,1,1,2026-05-02T10:00:00Z,20\n3,Letter,1,1,2,2026-05-03T10:00:00Z,30\n4,Call,2,1,2,2026-05-13T23:30:00Z,5",
	"changes": "id,record_type,record,deal,field,from,to,at,person\n1,deals,2,2,stage,Enquiry,Site survey,2026-02-01T09:00:00Z,2\n2,deals,2,2,stage,Site survey,Offer sent,2026-03-01T09:00:00Z,2\n" +
		"3,deals,3,3,stage,Enquiry,Site survey,2026-02-01T09:00:00Z,2\n4,deals,3,3,stage,Site survey,Offer sent,2026-02-10T09:00:00Z,2\n5,deals,3,3,stage,Offer sent,Ordered,2026-04-01T09:00:00Z,2\n" +
		"6,deals,5,5,stage,Enquiry,Not taken up,2026-04-01T09:00:00Z,1\n7,deals,1,1,value,90,100.50,2026-04-01T09:00:00Z,1",
}

// A customer's size counts once however many deals it has, in each group and in the total, which says that groups
// overlap.
func TestLinkedRecordsCountOnce(t *testing.T) {
	r := run(t, snapshot(t, harbour), `{"version":1,"start":"deals","groups":[{"field":"stage"}],"summaries":[{"key":"size","fn":"sum","of":"customer.size"},{"key":"n","fn":"count"}]}`)
	require.Equal(t, [][]string{{"Enquiry", "140", "2"}, {"Offer sent", "100", "1"}, {"Ordered", "40", "1"}, {"Not taken up", "7", "1"}}, r.Summary().Rows)
	require.Equal(t, [][]string{{"147", "5"}}, r.Totals().Rows)
	require.Equal(t, []bool{true}, r.Overlap)
	require.False(t, run(t, snapshot(t, harbour), `{"version":1,"start":"deals","groups":[{"field":"stage"}]}`).Overlap[0])
}

// Rates from stage to stage come from the history: of the deals that ever reached a stage, how many reached the next;
// not from how many are in each today.
func TestRatesFromHistory(t *testing.T) {
	reached := func(stage string) string {
		return fmt.Sprintf(`"fn":"distinct","of":"deal","where":{"any":[{"field":"to","is":"any_of","values":[%q]},{"field":"from","is":"any_of","values":[%q]}]}`, stage, stage)
	}
	r := run(t, snapshot(t, harbour), `{"version":1,"start":"changes","filter":{"field":"field","is":"any_of","values":["stage"]},"summaries":[{"key":"survey",`+reached("Site survey")+`},{"key":"offer",`+reached("Offer sent")+`},
	 {"key":"won",`+reached("Ordered")+`},{"key":"to_offer","formula":"offer / survey"},{"key":"to_won","formula":"won / offer"}]}`)
	require.Equal(t, [][]string{{"2", "2", "1", "1", "0.5"}}, r.Totals().Rows)
	now := run(t, snapshot(t, harbour), `{"version":1,"start":"deals","groups":[{"field":"stage"}]}`)
	require.Equal(t, [][]string{{"Enquiry", "2"}, {"Offer sent", "1"}, {"Ordered", "1"}, {"Not taken up", "1"}}, now.Summary().Rows, "none stands in Site survey today")
}

// How many stood in a stage and went on is what the same question says with conditions on the changes.
func TestSteps(t *testing.T) {
	snap := snapshot(t, harbour)
	stages := snap.Schema.Settings.Stages
	for _, filter := range []string{``, `"filter":{"field":"value","is":"filled"},`} {
		steps, err := engine.OnwardByStage(context.Background(), snap, bind(t, snap, `{"version":1,"start":"deals",`+filter+`"groups":[{"field":"stage"}]}`), engine.Options{Today: today})
		require.NoError(t, err)
		stood := func(stage string) string {
			return fmt.Sprintf(`{"any":[{"field":"stage","is":"any_of","values":[%[1]q]},{"link":"changes","is":"some","where":{"all":[{"field":"field","is":"any_of","values":["stage"]},
				{"any":[{"field":"from","is":"any_of","values":[%[1]q]},{"field":"to","is":"any_of","values":[%[1]q]}]}]}}]}`, stage)
		}
		some := false
		for i, s := range stages {
			var later []string
			for _, next := range stages[i+1:] {
				if next.Pipeline == s.Pipeline && next.Status != "lost" {
					later = append(later, stood(next.Name))
				}
			}
			text := `{"version":1,"start":"deals",` + filter + `"summaries":[{"key":"stood","fn":"count","where":` + stood(s.Name) + `}`
			if len(later) > 0 {
				text += `,{"key":"went","fn":"count","where":{"all":[` + stood(s.Name) + `,{"any":[` + strings.Join(later, ",") + `]}]}}`
			}
			want := run(t, snap, text+`]}`).Totals().Rows[0]
			if len(later) > 0 && s.Status == "open" {
				require.Equal(t, want[1], fmt.Sprint(steps[s.Name].Went), "%s, %s", s.Name, filter)
				require.Equal(t, want[0], fmt.Sprint(steps[s.Name].Stood), "%s, %s", s.Name, filter)
				some = some || want[1] != "0"
			} else {
				require.NotContains(t, steps, s.Name, "nothing comes after it")
			}
		}
		require.True(t, some, "something went on")
	}
	for _, other := range []string{`"groups":[{"field":"owner"}]`, `"groups":[{"field":"stage"}],"bring":{"link":"activities"}`, `"totalsOnly":true`} {
		require.False(t, engine.HasOnward(bind(t, snap, `{"version":1,"start":"deals",`+other+`}`)), other)
	}
	lines := bind(t, snap, `{"version":1,"start":"activities","groups":[{"field":"deal.stage"}]}`)
	steps, err := engine.OnwardByStage(context.Background(), snap, lines, engine.Options{Today: today})
	require.NoError(t, err)
	require.Nil(t, steps, "the stage is another record's")
}

func TestDaysInStage(t *testing.T) {
	l, err := engine.List(context.Background(), snapshot(t, harbour), bind(t, snapshot(t, harbour), `{"version":1,"start":"deals","columns":[{"field":"stage_since"},{"field":"days_in_stage"}],"filter":{"field":"stage_since","is":"filled"}}`), engine.Options{Today: today})
	require.NoError(t, err)
	require.Equal(t, [][]string{{"2026-03-01", "74"}, {"2026-04-01", "43"}, {"2026-04-01", "43"}}, texts(t, l))
}

func TestSift(t *testing.T) {
	snap := snapshot(t, harbour)
	b := bind(t, snap, `{"version":1,"start":"deals","whose":"mine","period":{"field":"expected_close","within":"this_quarter"},"filter":{"all":[{"field":"value","is":"filled"},{"link":"activities","is":"some","at_least":2}]}}`)
	got, err := engine.Sift(context.Background(), snap, b, engine.Options{Today: today, Reader: "1"}, 0)
	require.NoError(t, err)
	require.Equal(t, []engine.Sifted{{What: "all", Left: 5}, {What: "whose", At: "/whose", Left: 3, Out: 2}, {What: "period", At: "/period", Left: 1, Out: 2},
		{What: "filter", At: "/filter/all/0", Left: 1}, {What: "filter", At: "/filter/all/1", Left: 1}}, got)
}

// A record is in the result, in its groups, or every condition that it does not meet is named with what it has.
func TestCheck(t *testing.T) {
	snap := snapshot(t, harbour)
	b := bind(t, snap, `{"version":1,"start":"deals","whose":"mine","period":{"field":"expected_close","within":"this_quarter"},"filter":{"all":[{"field":"value","is":"over","values":["50"]},{"link":"activities","is":"some","where":{"field":"kind","is":"any_of","values":["Call"]}}]},"groups":[{"field":"customer"}]}`)
	check := func(id string) *engine.Verdict {
		v, err := engine.Check(context.Background(), snap, b, engine.Options{Today: today, Reader: "1"}, 0, id)
		require.NoError(t, err)
		return v
	}
	require.Equal(t, &engine.Verdict{Known: true, In: true, Groups: [][]string{{"Eiderport"}}}, check("1"))
	require.Equal(t, &engine.Verdict{Known: true, Out: []engine.Failing{
		{What: "period", At: "/period", Values: []engine.Own{{Path: "expected_close", Text: "2026-08-01", Kind: schema.Date}}},
		{What: "filter", At: "/filter/all/0", Values: []engine.Own{{Path: "value", Kind: schema.Money}}},
		{What: "filter", At: "/filter/all/1", Values: []engine.Own{{Path: "activities", Text: "0", Kind: schema.Number}}}}}, check("4"))
	require.Equal(t, []engine.Failing{{What: "whose", At: "/whose", Values: []engine.Own{{Path: "owner", Text: "Runa", Kind: schema.Link}}}}, check("2").Out)
	require.False(t, check("99").Known)

	dropped := bind(t, snap, `{"version":1,"start":"deals","groups":[{"field":"customer.segment","top":{"n":1,"by":"count","rest":"drop"}}]}`)
	v, err := engine.Check(context.Background(), snap, dropped, engine.Options{Today: today}, 0, "1")
	require.NoError(t, err)
	require.Equal(t, []engine.Failing{{What: "top", At: "/groups/0/top"}}, v.Out)
}

// The rows behind any cell, subtotal, total, Other and (blank) are just those that its number counts.
func TestBehindAgrees(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		deals := "id,name,customer,owner,stage,value,source"
		for i := range rapid.IntRange(0, 30).Draw(t, "deals") {
			deals += fmt.Sprintf("\n%d,Deal,%s,%s,%s,%s,%s", i+1, rapid.SampledFrom([]string{"1", "2", "3", ""}).Draw(t, "customer"), rapid.SampledFrom([]string{"1", "2", ""}).Draw(t, "owner"),
				rapid.SampledFrom([]string{"Enquiry", "Ordered", ""}).Draw(t, "stage"), rapid.SampledFrom([]string{"10", "-5.50", ""}).Draw(t, "value"), rapid.SampledFrom([]string{"a", "b", "c", "d", ""}).Draw(t, "source"))
		}
		data := records{}
		for k, v := range harbour {
			data[k] = v
		}
		data["deals"] = deals
		snap := snapshot(t, data)
		top := rapid.SampledFrom([]string{"", `,"top":{"n":2,"by":"n"}`, `,"top":{"n":1,"by":"n","rest":"drop"}`}).Draw(t, "top")
		blank := rapid.SampledFrom([]string{"true", "false"}).Draw(t, "blank")
		b := bind(t, snap, `{"version":1,"start":"deals","groups":[{"field":"source"`+top+`},{"field":"customer"}],"across":[{"field":"stage"}],"blank":`+blank+`,"summaries":[{"key":"n","fn":"count"},{"key":"v","fn":"sum","of":"value"}],"columns":[{"field":"value"}]}`)
		opts := engine.Options{Today: today}
		r, err := engine.Run(context.Background(), snap, b, opts)
		require.NoError(t, err)
		for row := range r.Rows {
			for col := range r.Cols {
				m := result.Mark{Rows: r.Keys(true, row), Across: r.Keys(false, col)}
				l, err := engine.Behind(context.Background(), snap, b, opts, 0, []result.Mark{m})
				require.NoError(t, err)
				c := r.Cell(row, col)
				require.Equal(t, c.Plain[0].Num.String(), strconv.Itoa(l.Len()), "%+v", m)
				sum := 0.0
				for _, line := range texts(t, l) {
					f, _ := strconv.ParseFloat(line[0], 64)
					sum += f
				}
				require.InDelta(t, sum, c.Plain[1].Num.Float(), 1e-9)
			}
		}
	})
}

// Several marks together are their rows, each once.
func TestBehindSeveralMarks(t *testing.T) {
	snap := snapshot(t, harbour)
	b := bind(t, snap, `{"version":1,"start":"deals","groups":[{"field":"stage"}]}`)
	l, err := engine.Behind(context.Background(), snap, b, engine.Options{Today: today}, 0, []result.Mark{{Rows: []string{"=Enquiry"}}, {Rows: []string{"=Ordered"}}, {Rows: []string{"=Enquiry"}}})
	require.NoError(t, err)
	page, err := l.Read(context.Background(), nil, 0, 10)
	require.NoError(t, err)
	require.Equal(t, []string{"1", "3", "4"}, page.IDs)
	_, err = engine.Behind(context.Background(), snap, b, engine.Options{Today: today}, 0, []result.Mark{{Rows: []string{"a", "b"}}})
	require.Error(t, err)
}

// The two sides of a comparison are the two runs by themselves.
func TestCompareIsTwoRuns(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		deals := "id,name,expected_close,value"
		for i := range rapid.IntRange(0, 25).Draw(t, "deals") {
			deals += fmt.Sprintf("\n%d,Deal,%s,%d", i+1, period.FormatDay(today-int32(rapid.IntRange(-60, 120).Draw(t, "day"))), rapid.IntRange(-5, 50).Draw(t, "value"))
		}
		snap := snapshot(t, records{"deals": deals})
		both := run(t, snap, `{"version":1,"start":"deals","period":{"field":"expected_close","within":"this_month"},"compare":"previous_period","summaries":[{"key":"v","fn":"sum","of":"value"}]}`).Totals().Rows[0]
		now := run(t, snap, `{"version":1,"start":"deals","period":{"field":"expected_close","within":"this_month"},"summaries":[{"key":"v","fn":"sum","of":"value"}]}`).Totals().Rows[0]
		before := run(t, snap, `{"version":1,"start":"deals","period":{"field":"expected_close","within":"last_month"},"summaries":[{"key":"v","fn":"sum","of":"value"}]}`).Totals().Rows[0]
		require.Equal(t, []string{now[0], before[0]}, both[:2])
	})
}

func TestTargetAndDetails(t *testing.T) {
	snap := snapshot(t, harbour)
	b := bind(t, snap, `{"version":1,"start":"deals","groups":[{"field":"customer"}],"summaries":[{"key":"v","fn":"sum","of":"value"}],"target":"1000","columns":[{"field":"name"}],"order":[{"field":"value","desc":true}]}`)
	r, d, err := engine.RunGrouped(context.Background(), snap, b, engine.Options{Today: today})
	require.NoError(t, err)
	require.Equal(t, "0.3405", r.Progress.Share.Num.String())
	require.Equal(t, "659.5", r.Progress.Missing.Num.String())
	first := r.Rows[0].Children[0]
	require.Equal(t, "Eiderport", r.Rows[first].Label)
	require.Equal(t, engine.GroupRun{Node: first, First: 0, Count: 2}, d.Runs[0])
	require.Equal(t, []string{"Pontoon"}, texts(t, d.Records)[0], "in the order of the brief within its group")
	at := 0
	for _, run := range d.Runs {
		require.Equal(t, at, run.First, "one group after the other")
		at += run.Count
	}
	require.Equal(t, d.Len(), at)
}

func TestRunsStop(t *testing.T) {
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	snap := snapshot(t, harbour)
	_, err := engine.Run(ctx, snap, bind(t, snap, `{"version":1,"start":"deals"}`), engine.Options{Today: today})
	require.ErrorIs(t, err, context.Canceled)
	_, err = engine.Run(context.Background(), snap, bind(t, snap, `{"version":1,"start":"deals","bring":{"link":"activities"}}`), engine.Options{Today: today, Budget: &engine.Budget{Rows: 2}})
	require.ErrorContains(t, err, "narrow the report")
	_, err = engine.Run(context.Background(), snap, bind(t, snap, `{"version":1,"start":"deals","whose":"mine"}`), engine.Options{Today: today, Reader: "9"})
	require.ErrorIs(t, err, engine.ErrReader)
}
