package e2e

import (
	"testing"
)

// A result is kept from a report, stays as it was while a deal changes, is read beside today, and stands on a dashboard
// of one's own.
func TestKeptResult(t *testing.T) {
	p := browse(t, open(t))
	p.signIn("Maite Corrie")
	p.visit("/dashboards/1")
	p.click("link", "What closes this quarter")
	p.click("button", "More to do with the report")
	p.click("menuitem", "Keep this result…")
	p.fill("textbox", "What it is called", "Before the review")
	p.click("button", "Keep result")
	p.click("button", "Open it")
	p.find("heading", "Before the review")
	p.sees("As it was on 14 May 2026")
	p.shot("kept")
	p.click("radio", "Beside today")
	p.find("table", "Then and now")
	p.shot("kept-against")
	p.click("button", "Place it on a dashboard of your own")
	p.click("menuitem", "A new one, “What I kept”")
	p.find("article", "Before the review")
	p.shot("kept-board")
	p.click("link", "Beside today")
	p.find("table", "Then and now")
}
