package shape_test

import (
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/fault"
	"uzzel/internal/lookup"
	"uzzel/internal/records"
	"uzzel/internal/shape"
)

// Currencies are set, those that records are in stay, and rates are entered by who shapes records alone.
func TestCurrencies(t *testing.T) {
	a, _ := demotest.App(t)
	v := demotest.View(t, a, osric)
	c, err := a.Shape.Currencies(v)
	require.NoError(t, err)
	require.Equal(t, []any{"EUR", 35, 4}, []any{c.Own, c.Hold, len(c.Others)})
	nok := c.Others[0]
	require.Equal(t, "NOK", nok.Code)
	require.Positive(t, nok.Records)
	require.Positive(t, nok.Rates)
	require.Regexp(t, `^1[01]\.\d+ NOK = 1 EUR$`, nok.Latest)
	require.Equal(t, []any{"14 May 2026", false}, []any{nok.Day, nok.Stale})

	set := func(hold int, list ...string) error {
		return a.Shape.SetCurrencies(ctx, demotest.View(t, a, osric), list, hold, version(t, a))
	}
	for says, err := range map[string]error{
		"is no currency":            set(35, "NOK", "SEK", "DKK", "GBP", "NOPE"),
		"the organisation’s own":    set(35, "EUR"),
		"there already":             set(35, "NOK", "NOK"),
		"have amounts in NOK":       set(35, "SEK", "DKK", "GBP"),
		"holds for 1 to":            set(0, "NOK", "SEK", "DKK", "GBP"),
		"40 other currencies":       set(35, make([]string, 41)...),
		"Only administrators":       a.Shape.SetCurrencies(ctx, demotest.View(t, a, aldo), nil, 35, version(t, a)),
		"Currencies are set in the": a.Shape.SetChoices(ctx, demotest.View(t, a, osric), "deals", "currency", nil, version(t, a)),
	} {
		require.ErrorContains(t, err, says)
	}
	_, err = a.Shape.Currencies(demotest.View(t, a, aldo))
	require.True(t, fault.Is(err, fault.Forbidden))

	francs := records.Values{"name": "Lake jetty", "value": "930", "currency": "CHF"}
	_, err = a.Records.Create(ctx, demotest.View(t, a, aldo), "deals", []records.Values{francs})
	require.ErrorContains(t, err, "Currency")
	require.NoError(t, set(60, "NOK", "SEK", "DKK", "GBP", "CHF"))
	ids, err := a.Records.Create(ctx, demotest.View(t, a, aldo), "deals", []records.Values{francs})
	require.NoError(t, err)
	rate := []records.Values{{"currency": "CHF", "day": "2026-03-16", "units": "0.93", "worth": "1"}}
	_, err = a.Records.Create(ctx, demotest.View(t, a, aldo), "exchange_rates", rate)
	require.True(t, fault.Is(err, fault.Forbidden), "a seller changes nobody's numbers")
	worth := func() string {
		rec, err := lookup.Open(ctx, demotest.View(t, a, aldo), "deals", strconv.FormatInt(ids[0], 10))
		require.NoError(t, err)
		for _, f := range rec.Fields {
			if f.Field.Key == "value" {
				require.Equal(t, "CHF 930.00", f.Text)
				return f.Worth
			}
		}
		return "no value"
	}
	require.Equal(t, "without an exchange rate", worth())
	_, err = a.Records.Create(ctx, demotest.View(t, a, osric), "exchange_rates", rate)
	require.NoError(t, err)
	require.Equal(t, "€1,000.00", worth(), "on the 59th of 60 days")
	require.NoError(t, set(58, "NOK", "SEK", "DKK", "GBP", "CHF"))
	require.Equal(t, "without an exchange rate", worth())

	// Reports say that it is left out, and count it once its rate holds again.
	b := &brief.Brief{Version: 1, Part: brief.Part{Start: "deals", Summaries: []brief.Summary{{Key: "v", Fn: "sum", Of: "value"}},
		Filter: &brief.Tree{Field: "id", Is: "any_of", Values: []string{strconv.FormatInt(ids[0], 10)}}}}
	ans, err := demotest.View(t, a, aldo).Ask(ctx, b)
	require.NoError(t, err)
	require.Equal(t, "1 deal has amounts without an exchange rate for their day, and is left out", ans.Unrated)
	require.Contains(t, ans.Drawing.Notes, brief.Capital(ans.Unrated))
	require.Zero(t, ans.Result.Records)
	e, err := demotest.View(t, a, aldo).Explain(ctx, b)
	require.NoError(t, err)
	last := e.Sift[0][len(e.Sift[0])-1]
	require.Equal(t, []any{"rates", int64(1), "there is an exchange rate for its amounts"}, []any{last.What, last.Out, last.Words})
	why, err := demotest.View(t, a, aldo).Why(ctx, b, 0, strconv.FormatInt(ids[0], 10))
	require.NoError(t, err)
	require.False(t, why.In)
	require.Equal(t, "there is an exchange rate for its amounts", why.Failing[0].Words)
}

// A field that an organisation had for the currency goes on under its name.
func TestOwnCurrencyField(t *testing.T) {
	a, s := demotest.App(t)
	key, err := a.Shape.AddField(ctx, demotest.View(t, a, osric), "customers", shape.FieldEdit{Label: "Currency", Kind: "choice"}, version(t, a))
	require.NoError(t, err)
	require.Equal(t, "currency", key)
	require.Equal(t, "currency", s.Schema().Type("customers").Currency)
	require.Equal(t, []string{"EUR", "NOK", "SEK", "DKK", "GBP"}, s.Schema().Type("customers").Field("currency").Choices)
}
