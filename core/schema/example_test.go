package schema_test

import (
	"fmt"

	"uzzel/core/schema"
)

func ExampleNew() {
	s, err := schema.New(schema.Settings{Currency: "EUR", Stages: []schema.Stage{{Name: "Enquiry", Status: "open"}, {Name: "Ordered", Status: "won"}}})
	if err != nil {
		fmt.Println(err)
		return
	}
	deals := s.Type("deals")
	fmt.Println(deals.Label, deals.Field("stage").Choices, deals.Field("customer").To)
	// Output: Deals [Enquiry Ordered] customers
}
