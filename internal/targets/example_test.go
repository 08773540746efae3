package targets_test

import (
	"context"
	"fmt"
	"testing"

	"uzzel/internal/demo/demotest"
)

// The targets of a measure for a year, by whom.
func ExampleTargets_Grid() {
	a, _ := demotest.App(&testing.T{})
	who, _ := a.People.Who(context.Background(), 2)
	grid, err := a.Targets.Grid(a.View(who), "won_value", 2026)
	fmt.Println(len(grid.Rows) > 0, err)
	// Output: true <nil>
}
