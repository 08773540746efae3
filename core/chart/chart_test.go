package chart_test

import (
	"context"
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
	"uzzel/core/schema"
)

// deals are records of deals: stage, source, value.
type deals [][3]string

func (d deals) Load(_ context.Context, b *column.Builder) error {
	if b.Type.Key != "deals" {
		return nil
	}
	for i, line := range d {
		b.RowNumber(int64(i + 1))
		for f := range b.Type.Fields {
			for k, key := range []string{"stage", "source", "value"} {
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
	s, err := schema.New(schema.Settings{Currency: "EUR", Stages: []schema.Stage{{Name: "Enquiry", Status: "open"}, {Name: "Design", Status: "open"}, {Name: "Ordered", Status: "won"}}})
	require.NoError(t, err)
	snap := column.NewSnapshot(s, d)
	b, err := brief.Decode([]byte(text))
	require.NoError(t, err)
	bound, err := brief.Bind(b, s)
	require.NoError(t, err)
	r, err := engine.Run(context.Background(), snap, bound, engine.Options{})
	require.NoError(t, err)
	return chart.Draw(r, b.Chart, chart.Writer{Currency: "EUR", Cal: snap.Cal})
}

var some = deals{{"Ordered", "a", "1500000"}, {"Enquiry", "b", "20000"}, {"Enquiry", "a", "5.5"}, {"Design", "", "-300"}}

const byStage = `{"version":1,"start":"deals","groups":[{"field":"stage"}],"summaries":[{"key":"n","fn":"count"},{"key":"v","fn":"sum","of":"value"}],"chart":{"kind":"funnel"}}`

// Stages stand in their set order, marks carry their value in words, and the chart names itself.
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
		many = append(many, [3]string{"Enquiry", fmt.Sprint("source ", i), "1"})
	}
	d = draw(t, many, text)
	require.Len(t, d.Series, chart.MaxSeries)
	require.Equal(t, []string{"the first 8 of 12 series are drawn"}, d.Notes)
	// Empty sums are drawn as nothing at all, other empties as gaps.
	d = draw(t, some, strings.Replace(text, `"chart"`, `"summaries":[{"key":"v","fn":"average","of":"value"}],"chart"`, 1))
	require.Nil(t, d.Series[len(d.Series)-1].Points[0].Value)
}

func TestWords(t *testing.T) {
	w := chart.Writer{Currency: "EUR"}
	two := 2
	val := func(n exact.Num) engine.Value { return engine.Value{Set: true, Num: n} }
	require.Equal(t, "€1,234.50", w.Value(schema.Money, val(exact.Frac(12345, 10)), nil))
	require.Equal(t, "12.5 %", w.Value(schema.Number, val(exact.Frac(1, 8)), &brief.Format{Style: "percent"}))
	require.Equal(t, "45 %", w.Value(schema.Percent, val(exact.Int(45)), nil))
	require.Equal(t, "0.33", w.Value(schema.Number, val(exact.Frac(1, 3)), &brief.Format{Decimals: &two}))
	require.Equal(t, "1,234,567", w.Value(schema.Number, val(exact.Int(1234567)), nil))
	require.Equal(t, "", w.Value(schema.Money, engine.Value{}, nil))
	require.Equal(t, "€999", w.Short(schema.Money, val(exact.Int(999)), nil))
	require.Equal(t, "€1.2 K", w.Short(schema.Money, val(exact.Int(1234)), nil))
}
