package e2e

import (
	"os"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Each screen is checked by axe-core with all its rules of levels A and AA and of best practice, in both themes: nothing is found.
func TestScreensAreAccessible(t *testing.T) {
	axe, err := os.ReadFile("../web/node_modules/axe-core/axe.min.js")
	require.NoError(t, err, "make test installs the packages of the front end")
	p := browse(t, open(t))
	p.find("button", "Maite Corrie")
	check := func(screen string) {
		eval[any](p, string(axe)+"; void 0")
		found := eval[[]string](p, `axe.run(document, {resultTypes: ["violations"], runOnly: ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"]}).then((r) => r.violations
		  .map((v) => v.id + ": " + v.nodes.slice(0, 3).map((n) => n.target.join(" ") + " " + n.html.slice(0, 160)).join(" | ")))`)
		assert.Empty(t, found, "%s:\n%s", screen, strings.Join(found, "\n"))
	}
	check("signing in")
	p.signIn("Osric Jarrow")
	screens := []struct {
		name, path, wait string
	}{
		{"find", "/find", "found, all of them"},
		{"new report", "/reports/new", "Keep as mine"},
		{"reading", "/reports/1", "records, all of them"},
		{"composing", "/reports/1/edit", "records, all of them"},
		{"a cross-tab", "/reports/2", "Video meeting"},
		{"dashboards", "/dashboards", "5 panels"},
		{"a dashboard", "/dashboards/1", "as of"},
		{"records", "/records/deals", "rows, all of them"},
		{"a record", "/records/customers/1", "Segment"},
		{"targets", "/targets?of=won_value", "West shore"},
		{"settings", "/settings", "Which records people may see"},
	}
	// As on a desk, on a phone, and with everything twice as large.
	for _, size := range []struct {
		name       string
		wide, high int64
	}{{"", 1280, 800}, {" on a phone", 390, 844}, {" at 200 %", 640, 400}} {
		p.do(chromedp.EmulateViewport(size.wide, size.high))
		for _, theme := range []string{"paper", "ink"} {
			for _, s := range screens {
				p.visit(s.path)
				p.sees(s.wait)
				eval[any](p, `void (document.documentElement.dataset.theme = "`+theme+`")`)
				check(s.name + " on " + theme + size.name)
				wide := eval[float64](p, `document.documentElement.scrollWidth - innerWidth`)
				assert.LessOrEqual(t, wide, 0.0, "%s scrolls sideways%s", s.name, size.name)
			}
		}
	}
	p.do(chromedp.EmulateViewport(1280, 800))
	p.visit("/reports/1/edit")
	p.click("button", "period: this quarter")
	p.find("option", "this month")
	check("choosing a period")
	p.escape()
	p.click("button", "condition: status is open")
	p.find("checkbox", "open")
	check("a condition")
	p.escape()
	p.press("button", "Design: €")
	p.find("heading", "Behind Design: €")
	check("behind")
	p.escape()
	p.click("button", "chart: a funnel")
	p.find("option", "Funnel")
	eval[any](p, `void (document.querySelector("section[aria-label=\"Style of the chart\"] details").open = true)`)
	p.click("button", "Colours of its own")
	p.sees("told apart by readers of any sight")
	check("the looks of a chart")
	p.visit("/dashboards/1")
	p.click("button", "Arrange")
	p.find("button", "Move “Won by segment”")
	check("arranging")
	p.click("button", "Add a report")
	p.find("option", "How far deals get")
	check("finding a report to place")
	p.escape()
	p.click("button", "Settings")
	p.find("combobox", "Drawn as")
	check("how a panel differs")
	p.escape()
	p.visit("/dashboards/1")
	p.click("button", "More to do with the dashboard")
	p.click("menuitem", "Earlier versions")
	p.sees("as it is now")
	check("earlier versions")
}
