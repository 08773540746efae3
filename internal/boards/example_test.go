package boards_test

import (
	"context"
	"fmt"
	"testing"

	"uzzel/internal/demo/demotest"
)

// Opens a customer's page: its fields, and the reports that are on it.
func ExampleBoards_Record() {
	ctx := context.Background()
	a, _ := demotest.App(&testing.T{})
	who, _ := a.People.Who(ctx, 1)
	record, panels, err := a.Boards.Record(ctx, a.View(who), "customers", "1")
	fmt.Println(record.Type.One, len(panels) > 0, err)
	// Output: customer true <nil>
}
