package e2e

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/require"
)

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
	p.fill("textbox", "Name of new one", "Open day")
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
	p.sees("is retired first")
	p.click("button", "Retire Hull")
	p.find("dialog", "Retire “Hull”?")
	p.sees("It is used by Deals by hull")
	p.click("button", "Retire it")
	p.sees("Hull is retired")
	p.click("button", "Take away Hull")
	p.sees("is used by “Deals by hull”")
}

// A company makes a record type of its own, links it to customers, brings its records in from a file and groups deals by
// it, all from the screen.
func TestBerths(t *testing.T) {
	p := browse(t, open(t))
	p.signIn("Osric Jarrow")
	p.click("link", "Fields")
	p.find("heading", "Fields and choices")
	p.click("button", "New record type")
	p.fill("textbox", "Many of them", "Berths")
	p.fill("textbox", "One of them", "berth")
	p.click("button", "Add")
	p.sees("Called Berths; one alone: berth.")
	p.click("button", "Give them stages")
	p.fill("textbox", "Name of new one 1", "Free")
	p.fill("textbox", "Name of new one 2", "Let")
	p.fill("textbox", "Name of new one 3", "Given up")
	p.click("button", "Save")
	p.sees("Free (0) · Let (0) · Given up (0)")
	field := func(name, kind, to string) {
		p.click("button", "New field")
		p.find("dialog", "New field")
		p.fill("textbox", "Name", name)
		p.choose("It holds", kind)
		if to != "" {
			p.choose("It leads to", to)
		}
		p.click("button", "Add")
		p.sees(name + "your own")
	}
	field("Customer", "link", "customers")
	field("Depth", "number", "")
	p.click("radio", "Deals")
	p.sees("Called Deals")
	field("Berth", "link", "berths")

	p.click("link", "Bring in")
	p.find("button", "Choose files")
	lines := []string{"Name,Customer,Depth,Stage,Let on"}
	for i := range 5000 {
		lines = append(lines, fmt.Sprintf("Berth %d,%d,%d.5,%s", i+1, i%100+1, i%12, []string{"Free,", "Let,2026-03-02"}[i%2]))
	}
	file := filepath.Join(t.TempDir(), "berths.csv")
	require.NoError(t, os.WriteFile(file, []byte(strings.Join(lines, "\n")), 0o600))
	p.do(chromedp.SetUploadFiles(`input[type=file]`, []string{file}))
	p.sees("Berths new 5,000")
	p.click("button", "Bring in 5,000 berths")
	p.find("button", "Choose files")
	p.click("link", "Berths")
	p.find("heading", "Berths")
	p.sees("Berth 1")
	p.visit("/records/berths/2")
	p.sees("since 2 Mar 2026")
	p.sees("Closed 2 Mar 2026")
	p.click("button", "Ends without success")
	p.click("menuitem", "Given up")
	p.sees("Moved to Given up")

	p.visit("/records/deals/7")
	p.click("button", "Change")
	p.find("textbox", "Value")
	p.fill("combobox", "Berth", "Berth 12")
	p.click("option", "Berth 12")
	p.click("button", "Save")
	p.sees("Saved")
	p.visit("/reports/new/deals")
	p.click("button", "by…")
	p.fill("combobox", "Find a field to group by", "berth")
	p.click("option", "Berth")
	p.escape()
	p.sees("Berth 12")
	p.shot("berths")
}
