package e2e

import (
	"testing"
	"time"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"
)

// Two people change one deal: the second sees what the first changed, chooses, and loses nothing. A new deal is made,
// corrected, deleted and brought back.
func TestRecordsAreWritten(t *testing.T) {
	url := open(t)
	maite, aldo := browse(t, url), browse(t, url)
	maite.signIn("Maite Corrie")
	aldo.signIn("Aldo Marlow")
	for _, p := range []*page{maite, aldo} {
		p.visit("/records/deals/7")
		p.click("button", "Change")
		p.find("textbox", "Value")
	}
	maite.fill("textbox", "Value", "12345.6")
	maite.fill("textbox", "Likelihood (%)", "35")
	maite.click("button", "Save")
	maite.sees("Saved")
	maite.sees("€12,345.60")

	aldo.fill("textbox", "Value", "777")
	aldo.fill("textbox", "Name *", "Renamed by Aldo")
	aldo.click("button", "Save")
	aldo.sees("Someone else changed this meanwhile")
	aldo.click("radio", "theirs, 12345.60")
	aldo.click("button", "Go on with both")
	aldo.click("button", "Save")
	aldo.find("heading", "Renamed by Aldo")
	aldo.sees("€12,345.60")
	aldo.sees("35")

	aldo.visit("/records/deals")
	aldo.click("button", "New deal")
	aldo.click("button", "Save")
	aldo.sees("cannot be empty")
	aldo.fill("textbox", "Name *", "Fuel jetty Northmere")
	aldo.fill("combobox", "Customer", "tarn")
	aldo.click("option", "Tarn")
	aldo.fill("textbox", "Value", "much")
	aldo.click("button", "Save")
	aldo.sees("is no money")
	aldo.fill("textbox", "Value", "1000")
	aldo.click("button", "Save")
	aldo.find("heading", "Fuel jetty Northmere")
	aldo.sees("€1,000.00")
	// A time that nobody touched stays as it is.
	when := aldo.text("/records/activities/1", "Date")
	aldo.click("button", "Change")
	aldo.fill("textbox", "Minutes (min)", "33")
	aldo.click("button", "Save")
	aldo.sees("Saved")
	require.Equal(t, when, aldo.text("/records/activities/1", "Date"))
	require.Contains(t, aldo.text("/records/activities/1", "Minutes"), "33")
	aldo.visit("/records/deals/2601")
	aldo.find("heading", "Fuel jetty Northmere")
	aldo.press("button", "More of Fuel jetty Northmere")
	aldo.press("menuitem", "Delete")
	aldo.find("heading", "Deals")
	aldo.click("button", "Undo")
	aldo.find("heading", "Fuel jetty Northmere")
}

// Two customers become one, and are taken apart again.
func TestMerge(t *testing.T) {
	p := browse(t, open(t))
	p.signIn("Osric Jarrow")
	p.visit("/records/customers/7")
	p.press("button", "More of ")
	p.press("menuitem", "Merge with another…")
	p.fill("combobox", "The other customer", "marina")
	p.await(`document.querySelector("[aria-label=Found] [role=option]") ? "x" : ""`)
	p.key(kb.Enter)
	p.find("button", "Make them one")
	p.await(`document.querySelector("dialog table, [role=dialog] table") ? "x" : ""`)
	p.click("button", "Make them one")
	p.sees("They are one")
	p.click("button", "Undo")
	p.sees("They are two again")
}

// An administrator sees the screens of someone else, marked so, changes nothing there, and goes back.
func TestSeeAs(t *testing.T) {
	p := browse(t, open(t))
	p.signIn("Osric Jarrow")
	p.visit("/people")
	p.click("button", "More to do with Aldo Marlow")
	p.click("menuitem", "See what they see")
	time.Sleep(time.Second) // the page is loaded anew, which nothing can be asked in meanwhile
	p.visit("/records/deals/7")
	p.sees("You see what Aldo Marlow sees")
	p.shot("see-as")
	p.press("button", "More of ")
	p.press("menuitem", "Delete")
	p.sees("Nothing is changed like that")
	p.click("button", "Back to mine")
	time.Sleep(time.Second)
	p.visit("/people")
	p.find("heading", "People")
}
