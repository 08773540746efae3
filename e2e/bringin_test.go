package e2e

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/require"
)

// files are those of an invented company, as its system of before wrote them, with faults.
var files = map[string]string{
	"customers.csv": "Company;Town;Industry;Type\n" +
		"Anker Marina;Kiel;Marina;Customer\n" +
		"Blue Quay;Husum;Marina;Prospect\n" +
		"Cable Ferries;Kiel;Ferry line;Customer\n" +
		";Kiel;Marina;Customer\n" + // no name
		"Dock Nine;Kiel;Marina;Best friend\n", // no such kind
	"contacts.csv": "Name\tCompany\tE-mail\tTelephone\n" +
		"Ayla Ness\tAnker Marina\tayla@anker.example\t+49 431 55 66\n" +
		"Rui Holm\tBlue Quay\trui at quay\t0431 5\n" + // no address
		"Ole Tarn\tElm Boats\tole@elm.example\t+49 431 55 67\n", // a customer that is made
	"deals.csv": "Subject;Company;Amount;Close date;Stage;Created on\n" +
		"Fuel jetty;Anker Marina;12.500,00;31.12.2026;Enquiry;03.02.2026\n" +
		"Long pier;Blue Quay;7.250,50;15.11.2026;Offer made;14.03.2026\n" +
		"Short pier;Blue Quay;viel;15.11.2026;Offer made;14.03.2026\n" + // no amount
		"Gangway;Cable Ferries;3.000,00;30.02.2026;Enquiry;20.04.2026\n" + // no day
		"Ramp;Cable Ferries;3.000,00;;Agreed;20.04.2026\n",
}

// From an empty file to a first chart of one's own records on a dashboard.
func TestOwnRecords(t *testing.T) {
	dir := t.TempDir()
	for name, text := range files {
		require.NoError(t, os.WriteFile(filepath.Join(dir, name), []byte(text), 0o600))
	}
	p, _ := begun(t)
	p.organises()
	p.administers("gravel lantern otter")
	p.find("heading", "What to begin with")
	p.click("button", "Go on") // with files
	p.find("heading", "What you call things")
	p.click("button", "Done")
	p.click("button", "Bring in records")
	p.find("heading", "Bring in records")

	// All three at once, in any order: what others link to is brought in first.
	p.do(chromedp.SetUploadFiles(`input[type=file]`, []string{
		filepath.Join(dir, "deals.csv"), filepath.Join(dir, "contacts.csv"), filepath.Join(dir, "customers.csv")}))
	p.sees("then contacts.csv, deals.csv")
	bring := func(button, said string) {
		p.click("button", button)
		p.sees(said)
	}
	p.sees("Customers refused")
	p.sees("Line 5, Company: Name: it cannot be empty")
	p.sees("Line 6, Type: Kind: “Best friend” is none of the choices")
	bring("Bring in 3 customers", "Brought in: 3 new")

	p.sees("then deals.csv")
	p.sees("Line 3, E-mail: Email: “rui at quay” is no e-mail address")
	p.sees("Customers made, by name alone")
	bring("Bring in 2 contacts", "Brought in: 2 new")

	p.sees("Line 4, Amount: Value: “viel” is no money")
	p.sees("Line 5, Close date")
	p.shot("bring-in")
	bring("Bring in 3 deals", "Brought in: 3 new")
	p.find("button", "Choose files")

	// A first chart, kept and placed.
	p.visit("/reports/new/deals")
	p.sees("3 of 3 records")
	p.click("button", "by…")
	p.fill("combobox", "Find a field to group by", "customer")
	p.click("option", "Customer")
	p.escape()
	p.sees("by customer")
	p.click("button", "Save report")
	p.find("dialog", "Save")
	p.fill("textbox", "Dashboard", "Where we stand")
	p.click("button", "Save")
	p.find("heading", "Deals by customer")
	p.click("link", "Dashboards")
	p.click("link", "Where we stand")
	p.sees("Anker Marina")

	// All of the deals are taken back again.
	p.visit("/bring-in")
	p.sees("deals.csv")
	p.click("button", "Take back")
	p.sees("Taken back.")
	p.visit("/records/deals")
	p.sees("0 rows, all of them")
}
