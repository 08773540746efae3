package people_test

import (
	"context"
	"fmt"
	"testing"

	"uzzel/internal/demo"
	"uzzel/internal/demo/demotest"
)

// Signs someone in with an address, in letters of any size, and a password.
func Example() {
	a, _ := demotest.App(&testing.T{})
	who, err := a.People.SignIn(context.Background(), "P3@Brinehaven.example", demo.Password, "")
	fmt.Println(who.Name, who.Role, err)
	_, err = a.People.SignIn(context.Background(), "p3@brinehaven.example", "wrong", "")
	fmt.Println(err)
	// Output:
	// Aldo Marlow reader <nil>
	// No account has this e-mail address and this password.
}
