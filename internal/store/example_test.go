package store_test

import (
	"context"
	"fmt"
	"testing"

	"uzzel/internal/demo/demotest"
	"uzzel/internal/store"
)

// Changes a record; the snapshot after it has the change, and the history who made it.
func ExampleStore_Write() {
	_, s := demotest.App(&testing.T{})
	err := s.Write(context.Background(), func(w *store.Writer) error {
		w.Person = 3
		return w.Change("deals", 7, store.Record{"value": "1250.00"})
	})
	r, _ := s.ReadRecord(context.Background(), "deals", 7)
	fmt.Println(r["value"], r["changed_by"], err)
	// Output: 1250.00 3 <nil>
}
