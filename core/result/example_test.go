package result_test

import (
	"fmt"

	"uzzel/core/brief"
	"uzzel/core/exact"
	"uzzel/core/result"
)

// A result of two groups and their total, with a count each.
func ExampleResult_Summary() {
	b := &brief.Bound{
		Rows:      1,
		Groups:    []*brief.BoundGroup{{Group: &brief.Group{Field: "status"}, Values: []*brief.Value{{Text: "status"}}}},
		Summaries: []*brief.BoundSummary{{Source: &brief.Summary{Key: "n"}}},
	}
	r := &result.Result{
		Bound: b,
		Rows: []result.Node{
			{Parent: -1, Children: []int{1, 2}},
			{Member: result.Member{Label: "open"}, Depth: 1},
			{Member: result.Member{Label: "won"}, Depth: 1},
		},
		Cols: []result.Node{{Parent: -1}},
	}
	count := func(n int64) result.Value { return result.Value{Set: true, Num: exact.Int(n)} }
	r.Finish(result.Cells{
		At:    map[[2]int32]int32{{0, 0}: 0, {1, 0}: 1, {2, 0}: 2},
		Now:   [][]result.Value{{count(5), count(3), count(2)}},
		Empty: []result.Value{count(0)},
	}, make(result.Names, 1), nil)
	for _, line := range r.Summary().Rows {
		fmt.Println(line)
	}
	fmt.Println(r.Totals().Rows[0], r.Keys(true, 2))
	// Output:
	// [open 3]
	// [won 2]
	// [5] [=won]
}
