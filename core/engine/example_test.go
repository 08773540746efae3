package engine_test

import (
	"context"
	"fmt"
	"testing"

	"uzzel/core/engine"
)

func ExampleRun() {
	t := &testing.T{}
	snap := snapshot(t, harbour)
	r, err := engine.Run(context.Background(), snap, bind(t, snap, `{"version":1,"start":"deals","groups":[{"field":"status"}],"summaries":[{"key":"n","fn":"count"}]}`), engine.Options{Today: today})
	if err != nil {
		fmt.Println(err)
		return
	}
	for _, row := range r.Summary().Rows {
		fmt.Println(row)
	}
	fmt.Println(r.Records, "of", r.Of)
	// Output:
	// [open 3]
	// [won 1]
	// [lost 1]
	// 5 of 5
}
