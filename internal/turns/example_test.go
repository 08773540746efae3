package turns_test

import (
	"context"
	"fmt"

	"uzzel/internal/turns"
)

// Two people ask at a gate of one place: the second works when the first is done.
func ExampleGate_Take() {
	gate := turns.New(1)
	first, err := gate.Take(context.Background(), 1, false)
	fmt.Println("the first works", err)
	second := make(chan error)
	go func() {
		t, err := gate.Take(context.Background(), 2, false)
		if err == nil {
			t.Done()
		}
		second <- err
	}()
	first.Done()
	fmt.Println("the second worked", <-second)
	// Output:
	// the first works <nil>
	// the second worked <nil>
}
