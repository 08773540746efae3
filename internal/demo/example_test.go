package demo_test

import (
	"context"
	"fmt"
	"os"
	"path/filepath"

	"uzzel/core/period"
	"uzzel/internal/demo"
)

// Makes the demo company once; a file that is there is left as it is.
func ExampleEnsure() {
	dir, _ := os.MkdirTemp("", "demo")
	defer func() { _ = os.RemoveAll(dir) }()
	for range 2 {
		made, err := demo.Ensure(context.Background(), filepath.Join(dir, "demo.db"), period.Day(2026, 5, 14), 1)
		fmt.Println(made, err)
	}
	// Output:
	// true <nil>
	// false <nil>
}
