package advise_test

import (
	"fmt"
	"testing"
)

func ExampleFind() {
	for _, w := range find(&testing.T{}, `{"version":1,"start":"deals","period":{"field":"expected_close","within":{"last":7,"unit":"day"}}}`) {
		fmt.Println(w.Text)
		fmt.Println(w.Do)
	}
	// Output:
	// In 1 deal expected close is empty, so no period finds it.
	// Show them
}
