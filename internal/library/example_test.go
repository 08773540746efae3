package library_test

import (
	"context"
	"fmt"
	"testing"

	"uzzel/core/brief"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/library"
)

// Keeps a report in a folder that its team may change.
func ExampleLibrary_KeepNew() {
	ctx := context.Background()
	a, _ := demotest.App(&testing.T{})
	who, _ := a.People.Who(ctx, 1)
	v := a.View(who)
	b, _ := brief.Decode([]byte(`{"version":1,"start":"deals","groups":[{"field":"stage"}]}`))
	folders, _ := a.Library.Folders(ctx, v)
	r, err := a.Library.KeepNew(ctx, v, library.Keep{Title: "Where they are", Folder: folders[0].ID, Brief: b})
	fmt.Println(r.Title, r.Version, err)
	// Output: Where they are 1 <nil>
}
