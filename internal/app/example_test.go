package app_test

import (
	"context"
	"fmt"
	"testing"

	"uzzel/internal/demo/demotest"
)

// The application over a store: who reads, and what they see.
func ExampleApp_View() {
	a, _ := demotest.App(&testing.T{})
	who, err := a.People.Who(context.Background(), 1)
	v := a.View(who)
	fmt.Println(v.Who.Name, v.Who.Team, v.MayKeep(), err)
	// Output: Maite Corrie West shore true <nil>
}
