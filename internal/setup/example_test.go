package setup_test

import (
	"context"
	"fmt"
	"os"
	"path/filepath"

	"uzzel/internal/app"
	"uzzel/internal/store"
)

// What an empty file waits for.
func ExampleSetUp_Step() {
	dir, _ := os.MkdirTemp("", "setup")
	defer func() { _ = os.RemoveAll(dir) }()
	s, err := store.Open(filepath.Join(dir, "new.db"))
	if err != nil {
		fmt.Println(err)
		return
	}
	defer func() { _ = s.Close() }()
	a, _ := app.New(s, func() int32 { return 0 }, nil)
	step, err := a.SetUp.Step(context.Background())
	key, _ := a.SetUp.Key(context.Background())
	fmt.Println(step, len(key), err)
	// Output: organisation 26 <nil>
}
