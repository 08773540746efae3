package e2e

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// The Monday meeting: the dashboard as it was and as it is, what moved, the deals that slipped, and a follow-up for all
// of them.
func TestMonday(t *testing.T) {
	p := browse(t, open(t))
	p.signIn("Maite Corrie")
	p.visit("/dashboards/1")
	p.find("heading", "Company, Monday")
	p.click("button", "as of: now")
	p.click("radio", "the end of last month")
	p.sees("as of the end of last month (30 Apr 2026)")
	p.escape()
	p.click("link", "What closes this quarter")
	p.click("button", "What moved?")
	p.find("dialog", "What moved")
	p.choose("From", "last_month")
	p.sees("than on 30 Apr 2026")
	p.click("button", "slipped")
	p.find("region", "Records: slipped")
	p.click("checkbox", "All of them")
	p.click("button", "Log or plan…")
	p.fill("textbox", "What was done, or is planned", "call tomorrow 10 about the new date")
	p.enter()
	p.await(`document.querySelectorAll("[role=dialog]").length === 1 ? "planned" : ""`)
	p.escape()
	p.find("button", "What moved?")
}

// A figure that stands in the row at the top stays in view; a reader switches a panel for their reading alone.
func TestRowOfFiguresAndSwitches(t *testing.T) {
	p := browse(t, open(t))
	p.signIn("Osric Jarrow")
	p.visit("/dashboards/1")
	p.choose("What closes this quarter: what it groups by", "owner")
	p.sees("by owner")
	require.Contains(t, eval[string](p, `location.href`), "switched")
	p.click("button", "as it is kept")
	p.sees("by stage")
	require.NotContains(t, eval[string](p, `location.href`), "switched")
	p.click("button", "Arrange")
	p.click("button", "Settings of What closes this quarter")
	p.click("checkbox", "in the row of figures at the top, which stays as one scrolls")
	p.click("button", "Done")
	p.click("button", "Save dashboard")
	p.sees("Dashboard saved")
	p.find("region", "Figures")
	top := p.await(`(() => { document.querySelector("[aria-label=Figures]").scrollIntoView(); window.scrollTo(0, 900); return String(Math.round(document.querySelector("[aria-label=Figures]").getBoundingClientRect().top) >= 0) })()`)
	require.Equal(t, "true", top)
}

// A panel of Monday's dashboard tells what moved in its report, and opens what slipped.
func TestMovedOnDashboard(t *testing.T) {
	p := browse(t, open(t))
	p.signIn("Osric Jarrow")
	p.visit("/dashboards/1")
	p.click("button", "Arrange")
	p.click("button", "Settings of What closes this quarter")
	p.choose("Drawn as", "moved")
	p.click("button", "Done")
	p.gone()
	p.click("button", "Save dashboard")
	p.sees("Dashboard saved")
	p.sees("less than on 10 May 2026")
	p.await(`(() => { const b = [...document.querySelectorAll("[aria-label=Marks] button")].find((b) => b.textContent.startsWith("slipped: ")); b?.click(); return b ? "opened" : ""; })()`)
	p.sees("Mooring field Lanternwick")
	p.sees("18 Jun 2026 → 9 Jul 2026")
}
