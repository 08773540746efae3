package chart_test

import (
	"context"
	"encoding/json"
	"fmt"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/chart"
	"uzzel/core/column"
	"uzzel/core/engine"
	"uzzel/core/exact"
	"uzzel/core/period"
	"uzzel/core/result"
	"uzzel/core/schema"
)

// deals are records of deals: stage, source, value and, where there is one, the day that is expected to close it.
type deals [][]string

func (d deals) Load(_ context.Context, b *column.Builder) error {
	if b.Type.Key != "deals" {
		return nil
	}
	for i, line := range d {
		b.RowNumber(int64(i + 1))
		for f := range b.Type.Fields {
			for k, key := range []string{"stage", "source", "value", "expected_close"}[:len(line)] {
				if b.Type.Fields[f].Key == key {
					if err := b.Set(f, line[k]); err != nil {
						return err
					}
				}
			}
		}
	}
	return nil
}

func draw(t *testing.T, d deals, text string) *chart.Drawing {
	t.Helper()
	return drawWith(t, d, text, chart.Writer{})
}

func drawWith(t *testing.T, d deals, text string, w chart.Writer) *chart.Drawing {
	t.Helper()
	s, err := schema.New(schema.Settings{Currency: "EUR", Stages: []schema.Stage{{Name: "Enquiry", Status: "open"}, {Name: "Design", Status: "open"}, {Name: "Ordered", Status: "won"}}})
	require.NoError(t, err)
	snap := column.NewSnapshot(s, d)
	b, err := brief.Decode([]byte(text))
	require.NoError(t, err)
	bound, err := brief.Bind(b, s)
	require.NoError(t, err)
	r, err := engine.Run(context.Background(), snap, bound, engine.Options{})
	require.NoError(t, err)
	w.Currency, w.Cal = "EUR", snap.Cal
	return chart.Draw(r, b.Chart, w)
}

var some = deals{{"Ordered", "a", "1500000"}, {"Enquiry", "b", "20000"}, {"Enquiry", "a", "5.5"}, {"Design", "", "-300"}}

const byStage = `{"version":1,"start":"deals","groups":[{"field":"stage"}],"summaries":[{"key":"n","fn":"count"},{"key":"v","fn":"sum","of":"value"}],"chart":{"kind":"funnel"}}`

// Stages are in their set order, marks carry their value in words, and the chart names itself.
func TestDrawing(t *testing.T) {
	d := draw(t, some, byStage)
	require.Equal(t, "Value by stage", d.Title)
	require.Equal(t, "€1,519,705.50", d.Total)
	var got []string
	for i, c := range d.Categories {
		p := d.Series[0].Points[i]
		got = append(got, strings.Join([]string{c.Label, c.Detail, p.Label, p.Share, p.Say, p.Mark.Rows[0]}, "|"))
	}
	require.Equal(t, []string{"Enquiry|2 deals|€20 K|1.3 %|Enquiry: €20,005.50|=Enquiry", "Design|1 deal|−€300|0.0 %|Design: −€300.00|=Design", "Ordered|1 deal|€1.50 M|98.7 %|Ordered: €1,500,000.00|=Ordered"}, got)
}

// The value axis has zero on it and reaches past the least and the greatest value in equal steps.
func TestTicks(t *testing.T) {
	d := draw(t, some, strings.Replace(byStage, "funnel", "column", 1))
	step := d.Ticks[1].Value - d.Ticks[0].Value
	zero := false
	for i, k := range d.Ticks {
		require.InDelta(t, d.Ticks[0].Value+float64(i)*step, k.Value, 1e-6)
		zero = zero || math.Abs(k.Value) < 1e-9
	}
	require.True(t, zero)
	require.LessOrEqual(t, d.Ticks[0].Value, -300.0)
	require.GreaterOrEqual(t, d.Ticks[len(d.Ticks)-1].Value, 1_500_000.0)
	empty := draw(t, nil, byStage)
	require.Empty(t, empty.Categories)
	require.NotEmpty(t, empty.Ticks)
}

// An axis of records has no half ones on it, however few they are.
func TestTicksOfCountsAreWhole(t *testing.T) {
	for n := range 45 {
		var many deals
		for range n + 1 {
			many = append(many, []string{"Enquiry", "", "1"})
		}
		labels := map[string]bool{}
		for _, k := range draw(t, many, `{"version":1,"start":"deals","groups":[{"field":"stage"}],"chart":{"kind":"column"}}`).Ticks {
			require.Equal(t, math.Round(k.Value), k.Value, "%d records", n+1)
			require.False(t, labels[k.Label])
			labels[k.Label] = true
		}
		require.LessOrEqual(t, len(labels), 8)
	}
}

// A series keeps its colour when others come and go; more than eight are cut, and that is said.
func TestSeries(t *testing.T) {
	const text = `{"version":1,"start":"deals","groups":[{"field":"stage"}],"across":[{"field":"source"}],"chart":{"kind":"column"}}`
	d := draw(t, some, text)
	colours := map[string]string{}
	for _, s := range d.Series {
		colours[s.Name] = s.Colour
	}
	require.Len(t, colours, 3)
	for _, s := range draw(t, some[:1], text).Series {
		require.Equal(t, colours[s.Name], s.Colour)
	}
	var many deals
	for i := range 12 {
		many = append(many, []string{"Enquiry", fmt.Sprint("source ", i), "1"})
	}
	d = draw(t, many, text)
	require.Len(t, d.Series, chart.MaxSeries+1, "the rest are one series, as counts add up")
	require.Equal(t, "4 others", d.Series[8].Name)
	require.InDelta(t, 4, *d.Series[8].Points[0].Value, 0)
	require.Len(t, d.Series[8].Points[0].More, 3, "it opens the records of all of them")
	d = draw(t, many, strings.Replace(text, `"chart"`, `"summaries":[{"key":"v","fn":"average","of":"value"}],"chart"`, 1))
	require.Equal(t, []string{"the first 8 of 12 series are drawn"}, d.Notes, "averages do not add up")
	// Empty sums are drawn as nothing at all, other empties as gaps.
	d = draw(t, some, strings.Replace(text, `"chart"`, `"summaries":[{"key":"v","fn":"average","of":"value"}],"chart"`, 1))
	require.Nil(t, d.Series[len(d.Series)-1].Points[0].Value)
}

// Groups that do not follow from one another need a name each; months and numbers do not.
func TestApart(t *testing.T) {
	dated := deals{{"Enquiry", "a", "1", "2026-03-02"}, {"Design", "b", "2", "2026-04-02"}}
	for group, want := range map[string]bool{`{"field":"stage"}`: true, `{"field":"source"}`: true, `{"field":"expected_close","by":"month"}`: false, `{"field":"value"}`: false} {
		d := draw(t, dated, `{"version":1,"start":"deals","groups":[`+group+`],"chart":{"kind":"column"}}`)
		require.Equal(t, want, d.Apart, group)
	}
	require.False(t, draw(t, dated, `{"version":1,"start":"deals","chart":{"kind":"figure"}}`).Apart)
}

// The kinds that suit a brief come first; the others say what they lack.
func TestOffers(t *testing.T) {
	n, v, a := `{"key":"n","fn":"count"}`, `{"key":"v","fn":"sum","of":"value"}`, `{"key":"a","fn":"average","of":"value"}`
	for _, c := range []struct {
		shape string
		first string            // the kinds offered first, in order
		lacks map[string]string // of some others
	}{
		{`"groups":[{"field":"stage"}]`, "funnel bar column", map[string]string{"heat": "a second group", "scatter": "a second summary", "progress": "a target"}},
		{`"groups":[{"field":"closed","by":"month"}],"summaries":[` + v + `]`, "line column area", map[string]string{"funnel": ""}},
		{`"groups":[{"field":"closed","by":"weekday"}]`, "column line", nil},
		{`"groups":[{"field":"source"}]`, "bar column pie", map[string]string{"pie": "", "table": "", "figure": ""}},
		{`"groups":[{"field":"source"}],"across":[{"field":"stage"}]`, "bar heat column", map[string]string{"heat": ""}},
		{`"groups":[{"field":"source"}],"summaries":[` + a + `]`, "bar column", map[string]string{"pie": "a count or a sum, whose parts make a whole", "ring": "a count or a sum, whose parts make a whole"}},
		{`"groups":[{"field":"source"}],"summaries":[` + n + `,` + v + `]`, "bar column pie", map[string]string{"scatter": "", "column_line": "", "bubble": "a third summary"}},
		{`"groups":[{"field":"source"}],"summaries":[` + n + `,` + v + `,` + a + `]`, "bar column pie", map[string]string{"bubble": ""}},
		{`"summaries":[` + v + `]`, "figure table", map[string]string{"column": "a group to draw along", "line": "a group to draw along"}},
		{`"summaries":[` + v + `],"target":"100"`, "progress figure table", nil},
		{`"period":{"field":"closed","within":"this_month"},"summaries":[` + v + `],"targetOf":"won"`, "progress figure table", map[string]string{"progress": ""}},
	} {
		s, err := schema.New(schema.Settings{Stages: []schema.Stage{{Name: "Enquiry", Status: "open"}}})
		require.NoError(t, err)
		b, err := brief.Decode([]byte(`{"version":1,"start":"deals",` + c.shape + `}`))
		require.NoError(t, err)
		bound, err := brief.Bind(b, s)
		require.NoError(t, err)
		offers := chart.Offers(bound)
		require.Len(t, offers, len(brief.ChartKinds))
		for i, kind := range strings.Fields(c.first) {
			require.Equal(t, kind, offers[i].Kind, c.shape)
			require.Empty(t, offers[i].Lacks)
		}
		for _, o := range offers {
			if want, ok := c.lacks[o.Kind]; ok {
				require.Equal(t, want, o.Lacks, "%s of %s", o.Kind, c.shape)
			}
		}
	}
}

// Two measures have an axis each; a heat grid shades by the most there is; stacked to a hundred, each category's marks
// make a whole.
func TestTwoMeasuresShadesAndWholes(t *testing.T) {
	d := draw(t, some, `{"version":1,"start":"deals","groups":[{"field":"stage"}],"summaries":[{"key":"n","fn":"count"},{"key":"v","fn":"sum","of":"value"}],"chart":{"kind":"column_line","values":["v","n"]}}`)
	require.Equal(t, []string{"column", "line"}, []string{d.Series[0].Form, d.Series[1].Form})
	require.GreaterOrEqual(t, d.Ticks[len(d.Ticks)-1].Value, 1_500_000.0)
	require.LessOrEqual(t, d.Second[len(d.Second)-1].Value, 5.0)

	d = draw(t, some, `{"version":1,"start":"deals","groups":[{"field":"stage"}],"across":[{"field":"source"}],"chart":{"kind":"heat"}}`)
	most := 0.0
	for _, s := range d.Series {
		for _, p := range s.Points {
			most = max(most, p.Weight)
			require.GreaterOrEqual(t, p.Weight, 0.0)
		}
	}
	require.InDelta(t, 1, most, 1e-9)

	d = draw(t, some, `{"version":1,"start":"deals","groups":[{"field":"stage"}],"across":[{"field":"source"}],"chart":{"kind":"bar","stacked":true,"measure":"share"}}`)
	for i, c := range d.Categories {
		sum := 0.0
		for _, s := range d.Series {
			if v := s.Points[i].Value; v != nil {
				sum += *v
			}
		}
		require.InDelta(t, 1, sum, 1e-9, c.Label)
	}
	require.Equal(t, "100 %", d.Ticks[len(d.Ticks)-1].Label)
}

// What a summary is shown as is what is drawn: a running total rises, shares are percentages.
func TestDrawsWhatIsShown(t *testing.T) {
	const text = `{"version":1,"start":"deals","groups":[{"field":"stage"}],"summaries":[{"key":"n","fn":"count","show":"SHOW"}],"chart":{"kind":"column"}}`
	d := draw(t, some, strings.Replace(text, "SHOW", "running_total", 1))
	var got []string
	for _, p := range d.Series[0].Points {
		got = append(got, p.Label)
	}
	require.Equal(t, []string{"2", "3", "4"}, got)
	d = draw(t, some, strings.Replace(text, "SHOW", "percent_of_total", 1))
	require.Equal(t, "Enquiry: 50.0 %", d.Series[0].Points[0].Say)
	require.Contains(t, d.Ticks[1].Label, "%")
	require.Equal(t, "4", d.Total)
}

// What it was and what is aimed at are beside one value, and nowhere else; only lines may leave zero.
func TestBeside(t *testing.T) {
	const text = `{"version":1,"start":"deals","period":{"field":"expected_close","within":{"from":"2026-05-01","to":"2026-05-31"}},"groups":[{"field":"stage"}],"summaries":[{"key":"n","fn":"count"SHOW}],"compare":"previous_period","target":"5","chart":{"kind":"column"LOOKS}}`
	dated := deals{{"Ordered", "a", "10", "2026-05-05"}, {"Enquiry", "b", "20", "2026-05-07"}, {"Enquiry", "a", "5", "2026-04-20"}, {"Enquiry", "a", "5", "2026-04-21"}}
	with := func(show, looks string) *chart.Drawing {
		return draw(t, dated, strings.Replace(strings.Replace(text, "SHOW", show, 1), "LOOKS", looks, 1))
	}
	forms := func(d *chart.Drawing) (list []string) {
		for _, s := range d.Series {
			list = append(list, s.Form+" "+s.Name)
		}
		return list
	}
	d := with("", "")
	require.Equal(t, []string{" Deals", "ghost the period before"}, forms(d))
	require.Equal(t, "Enquiry, the period before: 2", d.Series[1].Points[0].Say)
	require.Equal(t, []string{" Deals", "aim the target"}, forms(with(`,"show":"running_total"`, "")), "a running total is not compared, but goes towards the target")
	require.Equal(t, []string{" Deals"}, forms(with("", `,"measure":"share"`)))
	require.GreaterOrEqual(t, with(`,"show":"running_total"`, "").Ticks[len(with(`,"show":"running_total"`, "").Ticks)-1].Value, 5.0, "the axis has room for the target")

	d = with("", `,"from":"2","to":"40","valueTitle":"How many","height":300,"on":"ink"`)
	require.Zero(t, d.Ticks[0].Value, "columns start at zero")
	require.Equal(t, 40.0, d.Ticks[len(d.Ticks)-1].Value)
	require.Contains(t, d.Notes, "bars and areas start at zero, so the axis does not begin at 2")
	require.Equal(t, "How many 300 ink", fmt.Sprint(d.ValueTitle, " ", d.Height, " ", d.On))
	d = draw(t, some, `{"version":1,"start":"deals","groups":[{"field":"stage"}],"chart":{"kind":"line","from":"-10","to":"40"}}`)
	require.Equal(t, -10.0, d.Ticks[0].Value)
}

// A figure says how far it is from its target.
func TestProgress(t *testing.T) {
	d := draw(t, some, `{"version":1,"start":"deals","summaries":[{"key":"v","fn":"sum","of":"value"}],"target":"2000000","chart":{"kind":"progress"}}`)
	require.Equal(t, "€1,519,705.50", d.Total)
	require.Equal(t, chart.Progress{Total: "€1,519,705.50", Target: "€2,000,000.00", Share: "76.0 %", Missing: "€480,294.50", Part: d.Progress.Part}, *d.Progress)
	require.InDelta(t, 0.76, d.Progress.Part, 0.001)
	d = draw(t, some, `{"version":1,"start":"deals","summaries":[{"key":"n","fn":"count"}],"target":"4","chart":{"kind":"progress"}}`)
	require.Empty(t, d.Progress.Missing)

	// The target is the first summary's, whatever is drawn beside it.
	two := `{"version":1,"start":"deals","groups":[{"field":"stage"}],"summaries":[{"key":"n","fn":"count"},{"key":"v","fn":"sum","of":"value"}],"target":"8","chart":{"kind":"%s","values":["v"]}}`
	d = draw(t, some, fmt.Sprintf(two, "column"))
	require.Equal(t, "€1,519,705.50", d.Total)
	require.Equal(t, "4 of 8, 50.0 %, 4 to go", fmt.Sprintf("%s of %s, %s, %s to go", d.Progress.Total, d.Progress.Target, d.Progress.Share, d.Progress.Missing))
	require.Equal(t, "4", draw(t, some, fmt.Sprintf(two, "progress")).Total)
}

func TestWords(t *testing.T) {
	w := chart.Writer{Currency: "EUR"}
	two := 2
	val := func(n exact.Num) result.Value { return result.Value{Set: true, Num: n} }
	require.Equal(t, "€1,234.50", w.Value(schema.Money, val(exact.Frac(12345, 10)), nil))
	require.Equal(t, "12.5 %", w.Value(schema.Number, val(exact.Frac(1, 8)), &brief.Format{Style: "percent"}))
	require.Equal(t, "45 %", w.Value(schema.Percent, val(exact.Int(45)), nil))
	require.Equal(t, "0.33", w.Value(schema.Number, val(exact.Frac(1, 3)), &brief.Format{Decimals: &two}))
	require.Equal(t, "1,234,567", w.Value(schema.Number, val(exact.Int(1234567)), nil))
	require.Equal(t, "", w.Value(schema.Money, result.Value{}, nil))
	require.Equal(t, "€999", w.Short(schema.Money, val(exact.Int(999)), nil))
	require.Equal(t, "€1.2 K", w.Short(schema.Money, val(exact.Int(1234)), nil))

	// Days are the organisation's where a format says nothing of them.
	may := val(exact.Int(int64(period.Day(2026, 5, 14))))
	require.Equal(t, "14 May 2026", w.Value(schema.Date, may, nil))
	dots, err := w.Form.WithDays("dots")
	require.NoError(t, err)
	w.Form = dots
	require.Equal(t, "14.05.2026", w.Value(schema.Date, may, &brief.Format{Decimals: &two}))
	require.Equal(t, "May 2026", w.Value(schema.Date, may, &brief.Format{Date: "month"}))
	require.Equal(t, "14.05.2026", w.Inner(schema.Date, "2026-05-14", nil))
}

// The house style holds where a chart says nothing, and nowhere else; a value keeps its colour on every chart.
func TestHouseStyle(t *testing.T) {
	s, err := schema.New(schema.Settings{Currency: "EUR", Stages: []schema.Stage{{Name: "Enquiry", Status: "open"}, {Name: "Design", Status: "open"}, {Name: "Ordered", Status: "won"}}})
	require.NoError(t, err)
	snap := column.NewSnapshot(s, some)
	with := func(style *chart.Style, text string) *chart.Drawing {
		b, err := brief.Decode([]byte(text))
		require.NoError(t, err)
		bound, err := brief.Bind(b, s)
		require.NoError(t, err)
		r, err := engine.Run(context.Background(), snap, bound, engine.Options{})
		require.NoError(t, err)
		return chart.Draw(r, b.Chart, chart.Writer{Currency: "EUR", Cal: snap.Cal, Style: style})
	}
	house := &chart.Style{Palette: []string{"#111111", "#222222", "#333333"}, Values: map[string]map[string]string{"deals.stage": {"Design": "#ABCDEF"}}, Legend: "right", Guides: "stripes"}
	require.NoError(t, house.Check(s))
	plain := `{"version":1,"start":"deals","groups":[{"field":"source"}],"across":[{"field":"stage"}],"chart":{"kind":"bar"}}`
	d := with(house, plain)
	require.Equal(t, []string{"right", "stripes"}, []string{d.Legend, d.Guides})
	for _, series := range d.Series {
		if series.Name == "Design" {
			require.Equal(t, "#ABCDEF", series.Colour)
		} else {
			require.Contains(t, house.Palette, series.Colour)
		}
	}
	d = with(house, strings.Replace(plain, `"bar"`, `"bar","legend":"below","guides":"none"`, 1))
	require.Equal(t, []string{"below", "none"}, []string{d.Legend, d.Guides}, "what a chart says for itself stays")
	d = with(house, `{"version":1,"start":"deals","groups":[{"field":"stage"}],"chart":{"kind":"column"}}`)
	require.Equal(t, "#ABCDEF", d.Categories[1].Colour)
	for _, bad := range []chart.Style{{Palette: []string{"#111111"}}, {Palette: []string{"red", "#111111", "#222222"}}, {Values: map[string]map[string]string{"deals.nothing": {"a": "#111111"}}}, {Legend: "inside"}} {
		require.Error(t, bad.Check(s))
	}
}

// Our own palette stands out from both grounds and is told apart by everyone; a palette of near greens is not.
func TestPaletteChecks(t *testing.T) {
	require.Empty(t, chart.CheckPalette(chart.Palette()))
	found := chart.CheckPalette([]string{"#1F7A72", "#207B70", "#FFFF00"})
	text := ""
	for _, f := range found {
		text += f.Text + "\n"
	}
	require.Contains(t, text, "#1F7A72 and #207B70 are hard to tell apart")
	require.Contains(t, text, "#FFFF00 has a contrast of 1.1 on paper")
	// Red and green of one lightness look alike to those who do not see green.
	found = chart.CheckPalette([]string{"#A8563A", "#6E7A2E"})
	require.NotEmpty(t, found)
}

// A chart's own looks go before the style that it asks for, that before the house style, and values keep their colours.
func TestKeptStyles(t *testing.T) {
	w := chart.Writer{Style: &chart.Style{Palette: []string{"#111111", "#222222", "#333333"}, Legend: "below", Guides: "stripes",
		Values: map[string]map[string]string{"deals.source": {"b": "#ABCDEF"}}},
		Styles: map[string]chart.Style{"loud": {Palette: []string{"#AA0000", "#00AA00", "#0000AA"}, Guides: "both", Totals: "both", On: "ink"}}}
	by := func(chart string) string {
		return `{"version":1,"start":"deals","groups":[{"field":"source"}],"summaries":[{"key":"v","fn":"sum","of":"value"}],"chart":` + chart + `}`
	}
	loud := drawWith(t, some, by(`{"kind":"pie","style":"loud"}`), w)
	require.Equal(t, "#ABCDEF", loud.Categories[1].Colour)
	require.Contains(t, []string{"#AA0000", "#00AA00", "#0000AA"}, loud.Categories[0].Colour)
	require.Equal(t, "both below ink", loud.Guides+" "+loud.Legend+" "+loud.On)
	require.Equal(t, "Sum of value €1,519,705.50 · 4 deals", loud.Totals)
	require.Equal(t, []string{"one group is below nothing, which no slice can show"}, loud.Notes)

	own := drawWith(t, some, by(`{"kind":"pie","style":"loud","palette":["#010101","#020202","#030303"],"guides":"none","totals":"records","on":"paper"}`), w)
	require.Equal(t, "none paper 4 deals", own.Guides+" "+own.On+" "+own.Totals)
	require.Contains(t, []string{"#010101", "#020202", "#030303"}, own.Categories[0].Colour)

	gone := drawWith(t, some, by(`{"kind":"pie","style":"gone"}`), w)
	require.Equal(t, "stripes", gone.Guides)
	require.Contains(t, gone.Notes, "the style that this chart asks for is no longer kept, so it follows the house style")
	require.Empty(t, drawWith(t, some, by(`{"kind":"pie"}`), w).Totals, "the whole is said where it is asked for")
}

// A funnel says how many went on from each stage but the last that is drawn, where it is asked and the history is
// known.
func TestFunnelSteps(t *testing.T) {
	asked := strings.Replace(byStage, `"kind":"funnel"`, `"kind":"funnel","steps":true`, 1)
	steps := map[string]engine.Onward{"Enquiry": {Stood: 4, Went: 3}, "Design": {}, "Ordered": {Stood: 2, Went: 2}}
	d := drawWith(t, some, asked, chart.Writer{Steps: steps})
	require.Equal(t, []string{"75.0 % went on", "", ""}, []string{d.Categories[0].Step, d.Categories[1].Step, d.Categories[2].Step})
	require.Empty(t, drawWith(t, some, byStage, chart.Writer{Steps: steps}).Categories[0].Step)
	require.Equal(t, []string{"how many went on is known only where a report's own records are grouped by stage"}, draw(t, some, asked).Notes)
}

// Every kind of chart is drawn of every report, whatever it lacks; what it lacks is said.
func TestEveryKindIsDrawnOfEveryReport(t *testing.T) {
	for _, members := range []string{``, `,"groups":[{"field":"stage"}]`, `,"groups":[{"field":"stage"},{"field":"owner"}]`, `,"across":[{"field":"stage"}]`,
		`,"groups":[{"field":"stage"}],"across":[{"field":"owner"},{"field":"expected_close","by":"month"}]`, `,"filter":{"field":"name","is":"any_of","values":["none such"]},"groups":[{"field":"stage"}]`} {
		for _, sums := range []string{``, `,"summaries":[{"key":"v","fn":"sum","of":"value"}]`, `,"summaries":[{"key":"n","fn":"count"},{"key":"d","fn":"max","of":"expected_close"}]`} {
			for _, kind := range brief.ChartKinds {
				d := draw(t, some, fmt.Sprintf(`{"version":1,"start":"deals"%s%s,"chart":{"kind":%q,"measure":"share","stacked":true}}`, members, sums, kind))
				_, err := json.Marshal(d)
				require.NoError(t, err)
				if (kind == "scatter" || kind == "bubble" || kind == "column_line") && !strings.Contains(sums, "count") {
					require.Equal(t, "column", d.Kind)
					require.Contains(t, strings.Join(d.Notes, " "), "so this is drawn as columns")
				}
			}
		}
	}
}
