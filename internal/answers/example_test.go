package answers_test

import (
	"context"
	"fmt"
	"testing"

	"uzzel/core/brief"
	"uzzel/internal/demo/demotest"
)

// Answers a report for Aldo, who sees what he may see.
func ExampleView_Ask() {
	a, _ := demotest.App(&testing.T{})
	who, _ := a.People.Who(context.Background(), 3)
	b, _ := brief.Decode([]byte(`{"version":1,"start":"deals","whose":"mine","groups":[{"field":"status"}]}`))
	answer, err := a.View(who).Ask(context.Background(), b)
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Println(answer.Sentence)
	fmt.Println(answer.Result.Of, "deals,", len(answer.Result.Rows)-1, "groups")
	// Output:
	// Deals of mine, by status, showing count.
	// 2600 deals, 3 groups
}
