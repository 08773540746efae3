package chart_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/chart"
	"uzzel/core/exact"
	"uzzel/core/schema"
)

// Bars of a bridge begin where the one before ended, also below nothing; the first and the last stand on nothing, and
// what has no records opens nothing.
func TestStepsCrossZero(t *testing.T) {
	sum := &brief.BoundSummary{Kind: schema.Money, Source: &brief.Summary{Key: "t", Fn: "sum", Of: "value"}}
	amounts := []int64{500, -800, 100, 40, -160}
	var steps []chart.Step
	for i, a := range amounts {
		steps = append(steps, chart.Step{Key: []string{"then", "lost", "", "new", "now"}[i], Label: []string{"then", "lost", "none", "new", "now"}[i], Amount: exact.Int(a)})
	}
	d := chart.Steps(chart.Writer{Currency: "EUR"}, "What moved", "Sum of value", sum, steps)
	from, to, labels := []float64{}, []float64{}, []string{}
	for _, p := range d.Series[0].Points {
		from, to, labels = append(from, *p.From), append(to, *p.Value), append(labels, p.Label)
	}
	require.Equal(t, []float64{0, 500, -300, -200, 0}, from)
	require.Equal(t, []float64{500, -300, -200, -160, -160}, to)
	require.Equal(t, []string{"€500", "−€800", "+€100", "+€40", "−€160"}, labels)
	require.LessOrEqual(t, d.Ticks[0].Value, -300.0)
	require.GreaterOrEqual(t, d.Ticks[len(d.Ticks)-1].Value, 500.0)
	require.True(t, d.Series[0].Points[2].Closed)
	require.Equal(t, []string{"lost"}, d.Series[0].Points[1].Mark.Rows)
	require.NotEqual(t, d.Categories[1].Colour, d.Categories[3].Colour, "what takes away looks otherwise than what adds")
	require.Equal(t, d.Categories[0].Colour, d.Categories[4].Colour)
	require.Nil(t, chart.Steps(chart.Writer{}, "", "", nil, steps[:1]).Progress)
}

// Where all that moves is high above nothing, the axis begins near it, and that is said.
func TestStepsHighAboveNothing(t *testing.T) {
	sum := &brief.BoundSummary{Kind: schema.Money, Source: &brief.Summary{Key: "t", Fn: "sum", Of: "value"}}
	draw := func(amounts ...int64) *chart.Drawing {
		var steps []chart.Step
		for _, a := range amounts {
			steps = append(steps, chart.Step{Key: "k", Label: "x", Amount: exact.Int(a)})
		}
		return chart.Steps(chart.Writer{Currency: "EUR"}, "", "", sum, steps)
	}
	high := draw(1000, 50, -20, 1030)
	require.Greater(t, high.Ticks[0].Value, 500.0)
	require.LessOrEqual(t, high.Ticks[0].Value, 1000.0)
	require.Contains(t, high.Notes[0], "the axis begins at "+high.Ticks[0].Label)
	low := draw(1000, 50, -800, 250)
	require.Zero(t, low.Ticks[0].Value)
	require.Empty(t, low.Notes)
	require.NotPanics(t, func() { draw(0, 0) })
}
