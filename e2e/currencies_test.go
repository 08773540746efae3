package e2e

import "testing"

// A deal in a currency without a rate is left out of a report, counted and shown; once its rate is entered it counts, and
// amounts as they are recorded stand by currency.
func TestCurrencies(t *testing.T) {
	p := browse(t, open(t))
	p.signIn("Osric Jarrow")
	p.visit("/settings")
	p.fill("textbox", "Another currency", "chf")
	p.click("button", "Add a currency")
	p.sees("Amounts can be in CHF from now on")
	p.sees("no rate yet")
	// A deal of ours is paid in francs.
	p.visit("/records/deals")
	p.click("button", "New deal")
	p.fill("textbox", "Name *", "Jetty for the lake")
	p.fill("textbox", "Value", "930")
	p.choose("Currency", "CHF")
	p.click("button", "Save")
	p.find("heading", "Jetty for the lake")
	p.sees("CHF 930.00")
	p.sees("without an exchange rate")
	const francs = `{"version":1,"start":"deals","filter":{"all":[{"field":"name","is":"contains","values":["jetty for the lake"]}]},"groups":[{"field":"stage"}],"summaries":[{"key":"v","fn":"sum","of":"value"}],"chart":{"kind":"column"}}`
	p.visit("/reports/new/deals?brief=" + inAddress(francs))
	p.sees("amounts in EUR at the rate of closed, else expected close, else today")
	p.sees("1 deal has amounts without an exchange rate for their day, and is left out")
	p.click("button", "See them")
	p.find("link", "Jetty for the lake")
	p.sees("CHF 930.00")
	p.escape()
	p.visit("/settings")
	p.click("button", "Enter a rate of CHF")
	p.fill("textbox", "So many CHF", "0.93")
	p.click("button", "Keep the rate")
	p.sees("The rate holds from its day on")
	p.sees("0.93 CHF = 1 EUR")
	p.visit("/reports/new/deals?brief=" + inAddress(francs))
	p.find("table", "Groups")
	p.sees("€1,000.00")
	p.sees("CHF 930.00")
	p.click("button", "currency of amounts")
	p.click("radio", "As recorded, by currency")
	p.sees("amounts as recorded")
	p.escape()
	p.find("rowheader", "CHF")
}
