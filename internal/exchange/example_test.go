package exchange_test

import (
	"fmt"
	"os"

	"uzzel/core/result"
	"uzzel/internal/exchange"
)

// Writes a table as CSV that a spreadsheet opens without working anything out.
func ExampleWriteCSV() {
	lines := result.Lines{Header: []string{"name", "value"}, Rows: [][]string{{"Jetty, long", "-3.50"}, {"=1+1", "2"}}}
	defused, err := exchange.WriteCSV(os.Stdout, lines.Table(), true)
	fmt.Println(defused, err)
	// Output:
	// name,value
	// "Jetty, long",-3.50
	// '=1+1,2
	// 1 <nil>
}
