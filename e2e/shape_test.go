package e2e

import "testing"

// A kind of activity is named anew and a new one is there; a field of one's own is grouped by, and a report keeps it from
// being taken away.
func TestRecordsAreShaped(t *testing.T) {
	p := browse(t, open(t))
	p.signIn("Osric Jarrow")
	p.click("link", "Fields")
	p.find("heading", "Fields and choices")
	p.click("radio", "Activities")
	p.sees("Site visit (")
	p.click("button", "Change choices of Kind")
	p.fill("textbox", "Name of Site visit", "Visit on site")
	p.click("button", "Another choice")
	p.fill("textbox", "Name of a new one", "Open day")
	p.click("button", "Save")
	p.sees("Visit on site (")
	p.sees("Open day (0)")
	p.visit("/reports/2") // grouped by kind
	p.sees("Visit on site")

	p.visit("/shape")
	p.click("button", "New field")
	p.fill("textbox", "Name", "Hull")
	p.choose("It holds", "choice")
	p.fill("textbox", "Choices, one a line", "Steel\nWood")
	p.click("button", "Add")
	p.sees("your own")
	p.click("button", "Change stages")
	p.click("button", "Not now")
	p.visit("/records/deals/7")
	p.click("button", "Change")
	p.find("textbox", "Value")
	p.choose("Hull", "Wood")
	p.click("button", "Save")
	p.sees("Saved")
	p.visit("/reports/new/deals")
	p.click("button", "by…")
	p.fill("combobox", "Find a field to group by", "hull")
	p.click("option", "Hull")
	p.escape()
	p.sees("Wood")
	p.click("button", "Save report")
	p.find("dialog", "Save")
	p.click("button", "Save")
	p.find("heading", "Deals by hull")
	p.visit("/shape")
	p.click("button", "Take away Hull")
	p.sees("is used by “Deals by hull”")
}
