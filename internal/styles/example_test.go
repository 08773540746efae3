package styles_test

import (
	"context"
	"fmt"
	"testing"

	"uzzel/core/chart"
	"uzzel/internal/demo/demotest"
)

// Keeps a style by name, which charts and panels can ask for.
func Example() {
	ctx := context.Background()
	a, _ := demotest.App(&testing.T{})
	who, _ := a.People.Who(ctx, 2)
	kept, err := a.Styles.Keep(ctx, who, "", "For the fair", chart.Style{On: "ink", Labels: "values"}, 0)
	fmt.Println(kept.Name, err)
	// Output: For the fair <nil>
}
