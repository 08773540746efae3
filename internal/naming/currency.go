package naming

import "golang.org/x/text/currency"

// Currency says whether a code is one of ISO 4217.
func Currency(code string) bool {
	unit, err := currency.ParseISO(code)
	return err == nil && unit.String() == code
}
