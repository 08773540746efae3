package answers_test

import (
	"context"
	"fmt"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/chart"
	"uzzel/core/engine"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/fault"
)

func parsed(t *testing.T, text string) *brief.Brief {
	t.Helper()
	b, err := brief.Decode([]byte(text))
	require.NoError(t, err)
	return b
}

const pipeline = `{"version":1,"start":"deals","whose":"team","period":{"field":"expected_close","within":"this_quarter"},
 "filter":{"all":[{"field":"status","is":"any_of","values":["open"]},{"field":"value","is":"over","values":["5000"]}]},
 "summaries":[{"key":"a","fn":"average","of":"value"},{"key":"n","fn":"count"},{"key":"t","fn":"sum","of":"value"}]`

// What moved is told in the words of the trade, by what adds up, from where the first bar ends to where the last does;
// what the first and last steps say is what the report answers as of those days.
func TestMovesForPeople(t *testing.T) {
	ctx := context.Background()
	a, _ := demotest.App(t)
	v := demotest.View(t, a, 1)
	m, err := v.Moves(ctx, parsed(t, pipeline+`,"since":"last_month"}`))
	require.NoError(t, err)
	require.Equal(t, []string{"Deals", "Sum of value"}, m.Summaries, "an average does not add up")
	require.Equal(t, "30 Apr 2026", m.Since)
	require.Contains(t, m.Text, "than on 30 Apr 2026: ")
	first, last := m.Steps[0], m.Steps[len(m.Steps)-1]
	require.Equal(t, "now", last.Words)
	at := first.To
	for _, s := range m.Steps[1 : len(m.Steps)-1] {
		require.InDelta(t, at, s.From, 1e-5, s.Words)
		require.NotContains(t, s.Words, ":", "in words")
		at = s.To
	}
	require.InDelta(t, at, last.To, 1e-5)
	for _, day := range []struct {
		asOf string
		step int
	}{{`"last_month"`, 0}, {`"2026-05-14"`, len(m.Steps) - 1}} {
		answer, err := v.Ask(ctx, parsed(t, pipeline+`,"asOf":`+day.asOf+`}`))
		require.NoError(t, err)
		require.Equal(t, answer.Result.Totals().Rows[0][1], strings.ReplaceAll(m.Steps[day.step].Values[0], ",", ""))
	}
	week, err := v.Moves(ctx, parsed(t, pipeline+`}`))
	require.NoError(t, err)
	require.Equal(t, "10 May 2026", week.Since, "without a day it is the end of last week")

	_, err = v.Moves(ctx, parsed(t, pipeline+`,"since":"2027-01-01"}`))
	require.ErrorContains(t, err, "after today")
	_, err = v.Moves(ctx, parsed(t, `{"version":1,"start":"deals","bring":{"link":"lines"},"since":"last_week"}`))
	require.ErrorContains(t, err, "brings others")
	_, err = v.Moved(ctx, parsed(t, pipeline+`}`), "no such", "", 0, 10)
	require.True(t, fault.Is(err, fault.NotFound))
}

// The records of each step are as many as it says, and each has what put it there, then and now.
func TestMovedRecords(t *testing.T) {
	ctx := context.Background()
	a, _ := demotest.App(t)
	v := demotest.View(t, a, 2)
	b := parsed(t, strings.Replace(pipeline, `"whose":"team",`, "", 1)+`,"since":{"ago":2,"unit":"month"}}`)
	m, err := v.Moves(ctx, b)
	require.NoError(t, err)
	seen := map[string]bool{}
	for _, s := range m.Steps[1 : len(m.Steps)-1] {
		page, err := v.Moved(ctx, b, s.Step, "", 0, 200)
		require.NoError(t, err)
		require.EqualValues(t, s.Records, page.Count, s.Step)
		for _, r := range page.Records {
			require.False(t, seen[r.ID], "%s is in one step", r.Name)
			seen[r.ID] = true
			switch s.Step {
			case engine.MoveWent + "period", engine.MoveCame + "period":
				require.Equal(t, "expected close", page.Field)
				require.NotEqual(t, r.Was, r.Is)
			case engine.MoveWon:
				require.NotEqual(t, r.Was, r.Is)
				require.Contains(t, []string{"Ordered", "Renewed"}, r.Is)
				require.Empty(t, r.Now, "it is counted no more")
			}
		}
	}
	require.NotEmpty(t, seen)
}

// Who sees the records of a team sees of earlier days, and of what moved, those records and no others.
func TestMovesOfWhatOneSees(t *testing.T) {
	ctx := context.Background()
	a, _ := demotest.App(t)
	admin := demotest.View(t, a, 2) // as everyone sees all
	require.NoError(t, a.Admin.SetSees(ctx, admin, "deals", engine.SeesTeam, 0))
	v := demotest.View(t, a, 3)
	b := parsed(t, `{"version":1,"start":"deals","filter":{"all":[{"field":"status","is":"any_of","values":["open"]}]},"since":{"ago":4,"unit":"month"}}`)
	all, err := admin.Moves(ctx, b)
	require.NoError(t, err)
	m, err := v.Moves(ctx, b)
	require.NoError(t, err)
	require.Less(t, m.Steps[0].Records, all.Steps[0].Records)
	for _, s := range m.Steps {
		page, err := v.Moved(ctx, b, s.Step, "", 0, 200)
		require.NoError(t, err)
		for _, r := range page.Records {
			if r.There {
				table, err := v.Snap.Table("deals")
				require.NoError(t, err)
				require.True(t, v.Sight.Sees("deals", table.IDs.Row(r.ID)), r.Name)
			}
		}
	}
	// What was deleted of another team is not theirs to see either.
	hidden := ""
	table, err := admin.Snap.Table("deals")
	require.NoError(t, err)
	for row := range int32(table.N) {
		if !v.Sight.Sees("deals", row) {
			hidden = table.IDs.At(row)
			break
		}
	}
	before := m.Steps[0].Records
	require.NoError(t, a.Records.Delete(ctx, admin, "deals", []int64{number(t, hidden)}))
	m, err = demotest.View(t, a, 3).Moves(ctx, b)
	require.NoError(t, err)
	require.Equal(t, before, m.Steps[0].Records)
}

func number(t *testing.T, id string) int64 {
	t.Helper()
	n, err := strconv.ParseInt(id, 10, 64)
	require.NoError(t, err)
	return n
}

// How a report stood is what it answers as of each of the days, the last of them now.
func TestStood(t *testing.T) {
	ctx := context.Background()
	a, _ := demotest.App(t)
	v := demotest.View(t, a, 2)
	b := parsed(t, `{"version":1,"start":"deals","filter":{"all":[{"field":"status","is":"any_of","values":["open"]}]},"groups":[{"field":"stage"}],"summaries":[{"key":"t","fn":"sum","of":"value"},{"key":"n","fn":"count"}]}`)
	s, err := v.Stood(ctx, b, "week", 6, false)
	require.NoError(t, err)
	require.Len(t, s.Points, 7)
	require.Equal(t, "2026-05-10", s.Points[5].Date)
	require.Equal(t, "2026-04-05", s.Points[0].Date)
	require.Equal(t, "now", s.Points[6].Day)
	widest := 0.0
	for _, p := range s.Points {
		alone := *b
		if p.Date != "" {
			alone.AsOf = &brief.Moment{Date: p.Date}
		}
		answer, err := v.Ask(ctx, &alone)
		require.NoError(t, err)
		require.Equal(t, answer.Result.Totals().Rows[0][1], strings.ReplaceAll(p.Values[1], ",", ""))
		widest = max(widest, p.To)
	}
	require.InDelta(t, 1, widest, 1e-6)
	// The areas of the stages lie on one another, and come to what the totals are.
	d := s.Drawing
	require.Equal(t, []any{"area", true, "Sum of value", 7, 7}, []any{d.Kind, d.Stacked, d.Title, len(d.Series), len(d.Categories)})
	for i, c := range d.Categories {
		sum := 0.0
		for _, line := range d.Series {
			sum += *line.Points[i].Value
		}
		require.Equal(t, s.Points[i].Values[0], c.Total)
		require.Equal(t, c.Total, v.PlainWriter().Inner("money", strconv.FormatFloat(sum, 'f', 2, 64), nil))
		require.GreaterOrEqual(t, d.Ticks[len(d.Ticks)-1].Value, sum)
	}
	// By a group of many, the rest is one line; an average is told of each day by itself, as a line where each
	// day has one.
	many, err := v.Stood(ctx, parsed(t, `{"version":1,"start":"deals","groups":[{"field":"owner"}]}`), "day", 5, true)
	require.NoError(t, err)
	require.Equal(t, []any{"line", false, 9, "Other"}, []any{many.Drawing.Kind, many.Drawing.Stacked, len(many.Drawing.Series), many.Drawing.Series[8].Name})
	mean, err := v.Stood(ctx, parsed(t, `{"version":1,"start":"deals","summaries":[{"key":"a","fn":"average","of":"value"}]}`), "week", 2, false)
	require.NoError(t, err)
	require.Equal(t, []any{"line", 1, ""}, []any{mean.Drawing.Kind, len(mean.Drawing.Series), mean.Target})
	require.Len(t, mean.Points, 3)
	for i, p := range mean.Points {
		require.Equal(t, p.Values[0], mean.Drawing.Categories[i].Total)
	}
	none, err := v.Stood(ctx, parsed(t, `{"version":1,"start":"deals","period":{"field":"closed","within":"this_quarter"},"summaries":[{"key":"a","fn":"average","of":"value"}]}`), "month", 12, false)
	require.NoError(t, err)
	require.Nil(t, none.Drawing, "a year ago nothing was closed in this quarter")
	months, err := v.Stood(ctx, b, "month", 2, false)
	require.NoError(t, err)
	require.Equal(t, []string{"2026-03-31", "2026-04-30", ""}, []string{months.Points[0].Date, months.Points[1].Date, months.Points[2].Date})
	_, err = v.Stood(ctx, b, "week", 93, false)
	require.True(t, fault.Is(err, fault.Invalid))
	_, err = v.Stood(ctx, b, "hour", 1, false)
	require.True(t, fault.Is(err, fault.Invalid))
}

// The target of a report is a line across how it stood, of its first summary alone, in whatever way the days are worked out.
func TestStoodTowardsATarget(t *testing.T) {
	ctx := context.Background()
	a, _ := demotest.App(t)
	v := demotest.View(t, a, 2)
	const won = `{"version":1,"start":"deals","period":{"field":"closed","within":"this_quarter"},"filter":{"all":[{"field":"status","is":"any_of","values":["won"]}%s]},"summaries":[%s],"target":"2850000"}`
	sum, count := `{"key":"t","fn":"sum","of":"value"}`, `{"key":"n","fn":"count"}`
	for _, more := range []string{"", `,{"field":"customer.segment","is":"filled"}`} { // the second reads linked records
		s, err := v.Stood(ctx, parsed(t, fmt.Sprintf(won, more, sum)), "week", 3, false)
		require.NoError(t, err)
		require.Equal(t, "€2,850,000.00", s.Target)
		require.Len(t, s.Drawing.Series, 2)
		aim := s.Drawing.Series[1]
		require.Equal(t, []any{chart.Aim, "the target", 4}, []any{aim.Form, aim.Name, len(aim.Points)})
		for _, p := range aim.Points {
			require.InDelta(t, 2850000, *p.Value, 0)
		}
		require.GreaterOrEqual(t, s.Drawing.Ticks[len(s.Drawing.Ticks)-1].Value, 2850000.0, "the axis has room for it")
	}
	s, err := v.Stood(ctx, parsed(t, fmt.Sprintf(won, "", count+","+sum)), "week", 3, false)
	require.NoError(t, err)
	require.Equal(t, "", s.Target, "what is drawn is the sum, the target is of the count")
}

// What moved is cut up by a group: a record that changed its group leaves one and comes into another, and each number
// opens its records.
func TestMovedByGroup(t *testing.T) {
	ctx := context.Background()
	a, _ := demotest.App(t)
	v := demotest.View(t, a, 2)
	b := parsed(t, strings.Replace(pipeline, `"whose":"team",`, "", 1)+`,"groups":[{"field":"stage"}],"since":"last_month"}`)
	g, err := v.MovedGroups(ctx, b)
	require.NoError(t, err)
	require.Equal(t, "stage", g.Label)
	require.Equal(t, "Sum of value", g.Drawn)
	words, opened := map[string]string{}, 0
	for i, s := range g.Steps {
		words[s.Step] = s.Words
		require.NotContains(t, s.Words, ":", "in words")
		for _, group := range g.Groups {
			cell := group.Cells[i]
			if cell.Records == 0 {
				require.Empty(t, cell.Value)
				continue
			}
			page, err := v.Moved(ctx, b, s.Step, group.Key, 0, 200)
			require.NoError(t, err)
			require.Equal(t, int(cell.Records), page.Count, "%s, %s", group.Label, s.Words)
			opened++
		}
	}
	require.Greater(t, opened, 5)
	require.Equal(t, "from another", words[engine.MoveFrom])
	require.Equal(t, "to another", words[engine.MoveTo])
	stages := []string{}
	for _, group := range g.Groups {
		stages = append(stages, group.Label)
	}
	require.Equal(t, []string{"Enquiry", "Site survey", "Design", "Offer sent", "Contract review", "Due", "Renewal sent"}, stages, "in their own order")
	_, err = v.Moved(ctx, b, "now", "=Nowhere", 0, 10)
	require.True(t, fault.Is(err, fault.NotFound))
	_, err = v.MovedGroups(ctx, parsed(t, pipeline+`}`))
	require.Error(t, err, "by nothing")
}

// A bridge of a report leads by its groups to its total: from nothing, or from what the earlier period came to; a group
// that is not drawn, or records that are in several, are one bar, so that it always arrives.
func TestBridgeArrives(t *testing.T) {
	ctx := context.Background()
	a, _ := demotest.App(t)
	v := demotest.View(t, a, 2)
	for _, group := range []string{`{"field":"kind"}`, `{"field":"owner","top":{"n":3,"by":"t"}}`, `{"field":"owner","top":{"n":3,"by":"t","rest":"drop"}}`, `{"field":"activities.kind"}`, `{"field":"stage","every":true}`} {
		for _, more := range []string{"", `,"compare":"previous_period"`} {
			bring := ""
			if strings.Contains(group, "activities") {
				bring = `"bring":{"link":"activities"},`
			}
			b := parsed(t, `{"version":1,"start":"deals",`+bring+`"period":{"field":"created","within":"last_quarter"}`+more+`,"groups":[`+group+`],
				"summaries":[{"key":"t","fn":"sum","of":"value"}],"chart":{"kind":"bridge"}}`)
			ans, err := v.Ask(ctx, b)
			require.NoError(t, err, group)
			points := ans.Drawing.Series[0].Points
			require.Equal(t, "bridge", ans.Drawing.Kind)
			last := len(points) - 1
			total := ans.Result.Cell(0, 0)
			require.InDelta(t, total.Plain[0].Num.Float(), *points[last].Value, 1e-6)
			require.Zero(t, *points[last].From)
			if more != "" {
				require.InDelta(t, total.Before[0].Num.Float(), *points[0].Value, 1e-6)
				require.True(t, points[0].Closed, "no records of now stand behind what was")
			}
			for i, p := range points[1:last] {
				require.InDelta(t, *points[i].Value, *p.From, 1e-6, "%s: %s", group, p.Say)
			}
			require.InDelta(t, *points[last-1].Value, *points[last].Value, 1e-6, "%s %s: the steps arrive", group, more)
		}
	}
	offers := func(text string) string {
		ans, err := v.Ask(ctx, parsed(t, text))
		require.NoError(t, err)
		for _, o := range chart.Offers(ans.Bound) {
			if o.Kind == "bridge" {
				return o.Lacks
			}
		}
		return "not there"
	}
	require.Contains(t, offers(`{"version":1,"start":"deals","groups":[{"field":"kind"}],"summaries":[{"key":"a","fn":"average","of":"value"}]}`), "whose parts make a whole")
	require.Empty(t, offers(`{"version":1,"start":"deals","groups":[{"field":"kind"}]}`))
}
