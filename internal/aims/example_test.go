package aims_test

import (
	"context"
	"fmt"
	"testing"

	"uzzel/internal/aims"
	"uzzel/internal/demo/demotest"
)

// The measures that the demo company has targets for.
func ExampleRead() {
	_, s := demotest.App(&testing.T{})
	set, err := aims.Read(context.Background(), s)
	fmt.Println(len(set.Measures) > 0, err)
	// Output: true <nil>
}
