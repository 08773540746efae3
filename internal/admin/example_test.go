package admin_test

import (
	"context"
	"fmt"
	"testing"

	"uzzel/core/engine"
	"uzzel/internal/demo/demotest"
)

// Has people see their own deals alone, from the next question on.
func ExampleAdmin_SetSees() {
	ctx := context.Background()
	a, _ := demotest.App(&testing.T{})
	osric, _ := a.People.Who(ctx, 2)
	fmt.Println(a.Admin.SetSees(ctx, a.View(osric), "deals", engine.SeesOwn, 0))
	aldo, _ := a.People.Who(ctx, 3)
	fmt.Println(a.View(aldo).Sees["deals"])
	// Output:
	// <nil>
	// own
}
