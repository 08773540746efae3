package brief_test

import (
	"errors"
	"fmt"
	"time"

	"uzzel/core/brief"
	"uzzel/core/period"
	"uzzel/core/schema"
)

func ExampleSay() {
	s, _ := schema.New(schema.Settings{Timezone: "Europe/Lisbon", Currency: "EUR", Stages: []schema.Stage{{Name: "Enquiry", Status: "open"}, {Name: "Ordered", Status: "won"}}})
	b, _ := brief.Decode([]byte(`{"version":1,"start":"deals","period":{"field":"closed","within":"this_year"},"groups":[{"field":"owner.name"}],"summaries":[{"key":"v","fn":"sum","of":"value"}]}`))
	bound, err := brief.Bind(b, s)
	fmt.Println(err)
	fmt.Println(brief.Say(bound, period.Day(2026, time.May, 14), nil))

	b, _ = brief.Decode([]byte(`{"version":1,"start":"deals","groups":[{"field":"stag"}]}`))
	_, err = brief.Bind(b, s)
	var problems brief.Problems
	fmt.Println(errors.As(err, &problems), problems[0].Pointer)
	// Output:
	// <nil>
	// Deals of everyone closed this year (1 Jan – 31 Dec 2026), by owner's name, showing sum of value.
	// true /groups/0/field
}
