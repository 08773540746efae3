package bringin_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/internal/bringin"
	"uzzel/internal/demo/demotest"
)

// An amount that is written with its currency is not taken for one in the organisation's.
func TestAmountsWithTheirCurrency(t *testing.T) {
	a, _ := demotest.App(t)
	v := demotest.View(t, a, osric)
	file := "Name,Value\nNorth jetty,\"NOK 23,400.00\"\nSouth jetty,€ 100\nEast jetty,250\nWest jetty,£50.5\nFar jetty,$12\n"
	id, _, err := a.BringIn.Take(v, "orders.csv", []byte(file))
	require.NoError(t, err)
	p, err := guessed(a, v, id)
	require.NoError(t, err)
	_, o, err := brought(a, v, id, p)
	require.NoError(t, err)
	require.Equal(t, 4, o.New)
	require.Len(t, o.Refused, 1)
	require.Contains(t, o.Refused[0].Reason, "USD")
	l, err := demotest.View(t, a, osric).List(ctx, &brief.Brief{Version: 1, Part: brief.Part{Start: "deals", Filter: &brief.Tree{Field: "name", Is: "contains", Values: []string{"jetty"}},
		Period: nil}, Columns: []brief.Column{{Field: "name"}, {Field: "currency"}}, Order: []brief.Order{{Field: "id", Desc: true}}})
	require.NoError(t, err)
	page, err := l.Page(ctx, 0, 4)
	require.NoError(t, err)
	require.Equal(t, [][]string{{"West jetty", "GBP"}, {"East jetty", "EUR"}, {"South jetty", "EUR"}, {"North jetty", "NOK"}}, page.Texts)

	id, _, err = a.BringIn.Take(v, "orders.csv", []byte("Name,Value,Currency\nOld jetty,\"NOK 1\",SEK\nNew jetty,\"NOK 1\",nok\n"))
	require.NoError(t, err)
	p, err = guessed(a, v, id)
	require.NoError(t, err)
	o, err = a.BringIn.Try(ctx, v, id, p)
	require.NoError(t, err)
	require.Equal(t, 1, o.New)
	require.Equal(t, "the amount is in NOK, and the line says SEK", o.Refused[0].Reason)
}

// The same file of exchange rates can come every night: a rate of a currency and day takes the place of the one there is.
func TestRatesAgain(t *testing.T) {
	a, _ := demotest.App(t)
	night := func(text string) *bringin.Outcome {
		v := demotest.View(t, a, osric)
		id, s, err := a.BringIn.Take(v, "exchange rates.csv", []byte(text))
		require.NoError(t, err)
		p := bringin.GuessType(v, s)
		require.Equal(t, "exchange_rates", p.Type)
		_, o, err := brought(a, v, id, p)
		require.NoError(t, err)
		return o
	}
	const file = "currency,day,units,worth\nNOK,2027-01-04,11.62,1\nGBP,2027-01-04,1,1.15\n"
	o := night(file)
	require.Equal(t, []int{2, 0, 0}, []int{o.New, o.Changed, o.Same}, fmt.Sprint(o.Refused))
	o = night(file)
	require.Equal(t, []int{0, 0, 2}, []int{o.New, o.Changed, o.Same}, fmt.Sprint(o.Refused))
	o = night(file + "NOK,2027-01-05,11.6,1\nGBP,2027-01-05,1,1.16\ngbp,2027-01-05,1,1.17\nSEK,2027-01-05,0,1\n")
	require.Equal(t, []int{2, 0, 2}, []int{o.New, o.Changed, o.Same}, fmt.Sprint(o.Refused))
	require.Len(t, o.Refused, 2)
	o = night("currency,day,units,worth\nNOK,2027-01-04,11.7,1\n")
	require.Equal(t, []int{0, 1, 0}, []int{o.New, o.Changed, o.Same}, fmt.Sprint(o.Refused))
}
