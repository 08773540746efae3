package chart_test

import (
	"fmt"

	"uzzel/core/chart"
	"uzzel/core/exact"
	"uzzel/core/figures"
	"uzzel/core/result"
	"uzzel/core/schema"
)

func ExampleWriter() {
	dutch, _ := figures.Of("nl")
	amount, _ := exact.Parse("1250000.5")
	for _, w := range []chart.Writer{{Currency: "EUR"}, {Currency: "EUR", Form: dutch}} {
		v := result.Value{Set: true, Num: amount}
		fmt.Println(w.Value(schema.Money, v, nil), w.Short(schema.Money, v, nil))
	}
	// Output:
	// €1,250,000.50 €1.25 M
	// €1.250.000,50 €1,25 M
}
