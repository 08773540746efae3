package e2e

import "testing"

func TestZZLook(t *testing.T) {
	p := browse(t, open(t))
	p.signIn("Osric Jarrow")
	p.visit("/reports/new/deals?brief=%7B%22version%22%3A1%2C%22start%22%3A%22deals%22%2C%22period%22%3A%7B%22field%22%3A%22expected_close%22%2C%22within%22%3A%22this_quarter%22%7D%2C%22filter%22%3A%7B%22all%22%3A%5B%7B%22field%22%3A%22status%22%2C%22is%22%3A%22any_of%22%2C%22values%22%3A%5B%22open%22%5D%7D%5D%7D%2C%22groups%22%3A%5B%7B%22field%22%3A%22stage%22%7D%5D%2C%22summaries%22%3A%5B%7B%22key%22%3A%22n%22%2C%22fn%22%3A%22count%22%7D%2C%7B%22key%22%3A%22t%22%2C%22fn%22%3A%22sum%22%2C%22of%22%3A%22value%22%7D%5D%7D")
	p.click("button", "What moved?")
	p.find("dialog", "What moved")
	p.choose("From", "last_month")
	p.sees("less than on")
	p.shot("moved")
	p.click("button", "slipped")
	p.sees("then")
	p.shot("slipped")
	p.escape()
	p.click("button", "as of a day…")
	p.shot("asof")
}
