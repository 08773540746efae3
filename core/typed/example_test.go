package typed_test

import (
	"fmt"

	"uzzel/core/schema"
	"uzzel/core/typed"
)

func ExampleRead() {
	s, _ := schema.New(schema.Settings{Currency: "EUR", Stages: []schema.Stage{{Name: "Enquiry", Status: "open"}, {Name: "Ordered", Status: "won"}}})
	b, unread := typed.Read("open deals over 50k by stage, shiny", s, typed.Known{})
	fmt.Println(b.Start, b.Groups[0].Field, len(b.Filter.All))
	fmt.Println(unread[0].Text)
	// Output:
	// deals stage 2
	// shiny
}
