package table_test

import (
	"context"
	"fmt"

	"uzzel/core/brief"
	"uzzel/core/chart"
	"uzzel/core/column"
	"uzzel/core/engine"
	"uzzel/core/result"
	"uzzel/core/schema"
	"uzzel/core/table"
)

// sums is three deals by their stages, worked out.
func sums() (*column.Snapshot, *result.Result) {
	s, _ := schema.New(schema.Settings{Currency: "EUR", Stages: []schema.Stage{{Name: "Enquiry", Status: "open"}, {Name: "Ordered", Status: "won"}}})
	snap := column.NewSnapshot(s, three)
	b, _ := brief.Decode([]byte(`{"version":1,"start":"deals","groups":[{"field":"stage"}],"summaries":[{"key":"v","fn":"sum","of":"value"}]}`))
	bound, _ := brief.Bind(b, s)
	r, err := engine.Run(context.Background(), snap, bound, engine.Options{})
	if err != nil {
		fmt.Println(err)
	}
	return snap, r
}

func ExampleOfGroups() {
	snap, r := sums()
	groups, _ := table.OfGroups(r, chart.Writer{Currency: "EUR", Cal: snap.Cal}, 10, func() error { return nil })
	for _, l := range groups.Lines {
		fmt.Println(l.Depth, l.Label, l.Cells[0][0])
	}
	// Output:
	// 1 Enquiry €25.00
	// 1 Ordered €700.50
	// 0 All €725.50
}
