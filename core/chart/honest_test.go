package chart_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/chart"
)

func labels(d *chart.Drawing) (list []string) {
	for _, c := range d.Categories {
		list = append(list, c.Label)
	}
	return list
}

// Groups are in the order of what is drawn, not of the first summary, unless another is asked for.
func TestGroupsAreOrderedByWhatIsDrawn(t *testing.T) {
	few := deals{{"Enquiry", "many", "1"}, {"Enquiry", "many", "1"}, {"Enquiry", "many", "1"}, {"Enquiry", "large", "900"}, {"Enquiry", "", "5000"}}
	text := `{"version":1,"start":"deals","groups":[{"field":"source"%s}],"summaries":[{"key":"n","fn":"count"},{"key":"v","fn":"sum","of":"value"}],"chart":{"kind":"bar"%s}}`
	require.Equal(t, []string{"large", "many", "(blank)"}, labels(draw(t, few, fmt.Sprintf(text, "", ""))), "the value is drawn")
	require.Equal(t, []string{"many", "large", "(blank)"}, labels(draw(t, few, fmt.Sprintf(text, "", `,"values":["n"]`))))
	require.Equal(t, []string{"many", "large", "(blank)"}, labels(draw(t, few, fmt.Sprintf(text, `,"order":{"by":"n","desc":true}`, ""))), "as it was asked for")
}

// Deals without a date are no point at the end of a line: they are left out, and said.
func TestTimeHasNoBlankPoint(t *testing.T) {
	dated := deals{{"Ordered", "a", "10", "2026-03-01"}, {"Ordered", "a", "20", "2026-04-01"}, {"Enquiry", "a", "24000000", ""}}
	d := draw(t, dated, `{"version":1,"start":"deals","groups":[{"field":"expected_close","by":"month"}],"summaries":[{"key":"n","fn":"count"},{"key":"v","fn":"sum","of":"value"}],"chart":{"kind":"line"}}`)
	require.Equal(t, []string{"Mar 2026", "Apr 2026"}, labels(d))
	require.Equal(t, []string{"1 deal without expected close: €24,000,000.00, not drawn"}, d.Notes)
	require.Less(t, d.Ticks[len(d.Ticks)-1].Value, 100.0, "nor does the axis go so far")
}

// A pie has as many slices as it can name, no colour twice, and says what it does not show.
func TestSlicesOfAPie(t *testing.T) {
	var many deals
	for i := range 12 {
		many = append(many, []string{"Enquiry", fmt.Sprint("source ", i), fmt.Sprint(100 - i)})
	}
	many = append(many, []string{"Enquiry", "returned", "-5"}, []string{"Enquiry", "free", "0"})
	text := `{"version":1,"start":"deals","groups":[{"field":"source"}],"summaries":[{"key":"v","fn":"sum","of":"value"}],"chart":{"kind":"pie"}}`
	d := draw(t, many, text)
	require.Len(t, d.Categories, chart.MaxSlices)
	require.Equal(t, "5 others", d.Categories[7].Label)
	require.InDelta(t, 93+92+91+90+89, *d.Series[0].Points[7].Value, 1e-9)
	require.Len(t, d.Series[0].Points[7].More, 4)
	colours := map[string]bool{}
	for _, c := range d.Categories {
		require.False(t, colours[c.Colour], "%s repeats a colour", c.Label)
		colours[c.Colour] = true
	}
	require.Equal(t, []string{"one group is below nothing, which no slice can show", "one group has nothing to show", "the 5 smallest are together in one slice"}, d.Notes)
	d = draw(t, many[:3], strings.Replace(text, `"sum"`, `"average"`, 1))
	require.Contains(t, d.Notes[0], "does not add up")
}

// Two amounts share one axis; an amount and a count have one each.
func TestTwoAmountsShareAnAxis(t *testing.T) {
	text := `{"version":1,"start":"deals","groups":[{"field":"stage"}],"summaries":[{"key":"v","fn":"sum","of":"value"},{"key":"a","fn":%s}],"chart":{"kind":"column_line"}}`
	require.Empty(t, draw(t, some, fmt.Sprintf(text, `"average","of":"value"`)).Second)
	require.NotEmpty(t, draw(t, some, fmt.Sprintf(text, `"count"`)).Second)
}

// Where the sentence says shares, the axis has per cents and the marks are shares, stacked or not.
func TestSharesAreShares(t *testing.T) {
	four := deals{{"Enquiry", "a", "1"}, {"Enquiry", "a", "1"}, {"Enquiry", "b", "1"}, {"Ordered", "b", "1"}}
	d := draw(t, four, `{"version":1,"start":"deals","groups":[{"field":"stage"}],"chart":{"kind":"column","measure":"share"}}`)
	require.InDelta(t, 0.75, *d.Series[0].Points[0].Value, 1e-9)
	require.Equal(t, "75.0 %", d.Series[0].Points[0].Label)
	for _, tick := range d.Ticks {
		require.Contains(t, tick.Label, "%")
	}
	d = draw(t, four, `{"version":1,"start":"deals","groups":[{"field":"stage"}],"summaries":[{"key":"m","fn":"average","of":"value"}],"chart":{"kind":"column","measure":"share"}}`)
	require.Contains(t, d.Notes[0], "does not add up")
}

// A stage has the colour of its place among all stages, whichever of them are drawn and however; so has a status its
// own.
func TestColourMeansOneThing(t *testing.T) {
	by := func(text string, all deals) map[string]string {
		d := draw(t, all, `{"version":1,"start":"deals",`+text+`}`)
		out := map[string]string{}
		for _, c := range d.Categories {
			out[c.Label] = c.Colour
		}
		if len(d.Series) > 1 {
			for _, s := range d.Series {
				out[s.Name] = s.Colour
			}
		}
		return out
	}
	all := by(`"groups":[{"field":"stage"}],"chart":{"kind":"funnel"}`, some)
	one := by(`"groups":[{"field":"stage"}],"chart":{"kind":"bar"}`, some[:1])
	series := by(`"groups":[{"field":"source"}],"across":[{"field":"stage"}],"chart":{"kind":"column"}`, some)
	require.Equal(t, all["Ordered"], one["Ordered"])
	require.Equal(t, all["Ordered"], series["Ordered"])
	status := by(`"groups":[{"field":"status"}],"chart":{"kind":"pie"}`, some)
	require.Equal(t, status["won"], by(`"groups":[{"field":"status"}],"chart":{"kind":"pie"}`, some[:1])["won"])
	require.NotEqual(t, status["won"], status["open"])
}

// What is no value has greys that are told apart; text on every mark can be read, on paper and on ink.
func TestMarksCanBeRead(t *testing.T) {
	greys := map[string]string{}
	d := draw(t, deals{{"Enquiry", "", "1"}, {"Enquiry", "a", "3"}, {"Enquiry", "b", "1"}}, `{"version":1,"start":"deals","groups":[{"field":"source","top":{"n":1,"by":"v"}}],"summaries":[{"key":"v","fn":"sum","of":"value"}],"chart":{"kind":"pie"}}`)
	for _, c := range d.Categories {
		greys[c.Label] = c.Colour
	}
	require.Empty(t, chart.CheckPalette([]string{greys["Other"], greys["(blank)"]}))
	for _, c := range append(chart.Palette(), greys["Other"], greys["(blank)"], "#808080", "#FFFFFF", "#000000") {
		p := chart.PaintOf(c)
		require.GreaterOrEqual(t, chart.Contrast(p.Text, p.Colour), 4.5, c)
		require.GreaterOrEqual(t, chart.Contrast(p.TextOnInk, p.OnInk), 4.5, c)
		require.GreaterOrEqual(t, chart.Contrast(p.OnInk, "#1D1F25"), 4.5, "%s is not dim on ink", c)
	}
}

// A funnel of a group without an order is drawn where it is asked for, the largest first, and says that its steps are
// none.
func TestFunnelOfAnything(t *testing.T) {
	d := draw(t, some, `{"version":1,"start":"deals","groups":[{"field":"source"}],"chart":{"kind":"funnel"}}`)
	require.Equal(t, "funnel", d.Kind)
	require.Equal(t, []string{"a", "b", "(blank)"}, labels(d))
	require.Equal(t, []string{"source has no set order, so these are no stages: the largest first"}, d.Notes)
}

// With a group across there is no room for the earlier period, which is said.
func TestComparedAcrossIsSaid(t *testing.T) {
	d := draw(t, some, `{"version":1,"start":"deals","period":{"field":"expected_close","within":{"from":"2026-01-01","to":"2026-12-31"}},"groups":[{"field":"stage"}],"across":[{"field":"source"}],"compare":"previous_period","chart":{"kind":"column"}}`)
	require.Contains(t, d.Notes, "the earlier period is not drawn here; the table has it")
}
