package exact_test

import (
	"fmt"

	"uzzel/core/exact"
)

func ExampleNum() {
	price, _ := exact.Parse("0.10")
	third, _ := exact.Int(1).Quo(exact.Int(3))
	fmt.Println(price.Mul(exact.Int(3)).Fixed(2), third.Mul(exact.Int(3)))
	// Output: 0.30 1
}
