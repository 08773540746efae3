package column_test

import (
	"context"
	"fmt"

	"uzzel/core/column"
	"uzzel/core/schema"
)

// berths is where the records of a snapshot come from, one row after another.
type berths struct{}

func (berths) Load(_ context.Context, b *column.Builder) error {
	if b.Type.Key != "deals" {
		return nil
	}
	for id, value := range map[string]string{"1": "1500.50", "2": ""} {
		b.Row(id)
		for i, f := range b.Type.Fields {
			if f.Key == "value" {
				if err := b.Set(i, value); err != nil {
					return err
				}
			}
		}
	}
	return nil
}

func ExampleNewSnapshot() {
	s, err := schema.New(schema.Settings{Currency: "EUR"})
	if err != nil {
		fmt.Println(err)
		return
	}
	deals, err := column.NewSnapshot(s, berths{}).Table("deals")
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Println(deals.N, "deals")
	// Output: 2 deals
}

func ExampleParse() {
	cents, err := column.Parse(schema.Money, "1500.5", nil)
	fmt.Println(cents, err, column.Format(schema.Money, cents, nil))
	_, err = column.Parse(schema.Money, "much", nil)
	fmt.Println(err)
	// Output:
	// 150050 <nil> 1500.50
	// "much" is not an amount of money like 1250.50, with two decimals at most
}
