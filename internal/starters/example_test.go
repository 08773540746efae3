package starters_test

import (
	"fmt"

	"uzzel/internal/starters"
)

// The ready reports that ship with the application, and the sets of them that make a dashboard.
func Example() {
	fmt.Println(len(starters.All()) > 10, len(starters.Sets()) > 0)
	// Output: true true
}
