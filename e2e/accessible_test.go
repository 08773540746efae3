package e2e

import (
	"os"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// checker runs axe-core over what is on the screen, or over those parts of it that a selector names.
func checker(t *testing.T, p *page) func(screen string, parts ...string) {
	axe, err := os.ReadFile("../web/node_modules/axe-core/axe.min.js")
	require.NoError(t, err, "make test installs the packages of the front end")
	return func(screen string, parts ...string) {
		if !eval[bool](p, `typeof axe === "object"`) {
			eval[any](p, string(axe)+"; void 0")
		}
		within := "document"
		if len(parts) > 0 {
			within = "{include: [...document.querySelectorAll(" + js(strings.Join(parts, ",")) + ")]}"
		}
		found := eval[[]string](p, `axe.run(`+within+`, {resultTypes: ["violations"], preload: false, runOnly: ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"]}).then((r) => r.violations
		  .map((v) => v.id + ": " + v.nodes.slice(0, 3).map((n) => n.target.join(" ") + " " + n.html.slice(0, 160)).join(" | ")))`)
		assert.Empty(t, found, "%s:\n%s", screen, strings.Join(found, "\n"))
	}
}

// Each screen is checked by axe-core with all its rules of levels A and AA and of best practice, in both themes: nothing is found.
func TestScreensAreAccessible(t *testing.T) {
	t.Parallel()
	p := browse(t, open(t))
	check := checker(t, p)
	p.find("button", "Maite Corrie")
	check("signing in")
	p.signIn("Osric Jarrow")
	screens := []struct {
		name, path, wait string
	}{
		{"home", "/", "this is waiting"},
		{"entered twice", "/duplicates/customers", "pairs, the likeliest first"},
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
		{"people", "/people", "Invite people"},
		{"fields", "/shape", "Fields and choices"},
		{"bring in", "/bring-in", "Bring in records"},
		{"oneself", "/me", "Where I am signed in"},
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
	p.click("button", "Settings of What closes this quarter")
	p.find("combobox", "Drawn as")
	check("how a panel differs")
	p.escape()
	p.visit("/dashboards/1")
	p.click("button", "More to do with the dashboard")
	p.click("menuitem", "Earlier versions")
	p.sees("as it is now")
	check("earlier versions")
}

// What opens over a screen is checked likewise, each dialog, drawer, menu and editor: it fits the window, and nothing is
// found in it, in both themes, on a phone, and with everything twice as large.
func TestWhatOpensIsAccessible(t *testing.T) {
	t.Parallel()
	p := browse(t, open(t))
	check := checker(t, p)
	p.signIn("Osric Jarrow")
	report, board := "More to do with the report", "More to do with the dashboard"
	places := []struct {
		path, wait string
		open       [][]string // what is pressed, one after the other: role and name
	}{
		{"/reports/1", "records, all of them", [][]string{{report}, {report, "Where it stands"}, {report, "Earlier versions"}, {report, "Share…"}, {report, "Give to someone else"}, {report, "Move to another folder"},
			{report, "Delete"}, {report, "Name and details"}, {report, "Save as another"}, {report, "Edit as text"}, {"Export"}, {"Place on…"}}},
		{"/reports/1/edit", "records, all of them", [][]string{{"records: Deals"}, {"whose: everyone"}, {"period: this quarter"}, {"condition: status is open"}, {"group: stage"}, {"summary: count"}, {"columns…"}, {"your own field…"},
			{"with linked records…"}, {"then by…"}, {"across…"}, {"compared with…"}, {"a target…"}, {"beside other records…"}, {"another condition…"}}},
		{"/dashboards/1", "as of", [][]string{{board}, {board, "Share…"}, {board, "Rename"}, {board, "Delete"}, {board, "Keep as another"}, {"whose: everyone"}, {"period: each in its own period"}, {"narrow by: all records"},
			{"More of What closes this quarter"}, {"More of What closes this quarter", "Enlarge"}}},
		{"/find", "found, all of them", [][]string{{"New folder"}, {"More to do with How its deals stand"}, {"More to do with How its deals stand", "Rename"}, {"More to do with How its deals stand", "Make a copy"}, {"More to do with How its deals stand", "Share…"}, {"More to do with How its deals stand", "Delete"}}},
		{"/settings", "Which records people may see", [][]string{{"Another word"}, {"Help: Charts"}}},
		{"/people", "Osric Jarrow", [][]string{{"Invite people"}, {"More to do with Aldo Marlow"}, {"More to do with Aldo Marlow", "Change"}, {"More to do with Aldo Marlow", "Take off and hand over…"}}},
		{"/shape", "Stage", [][]string{{"New field"}, {"New record type"}, {"Call them otherwise"}, {"Change choices of Kind"}, {"Change stages of Stage"}}},
		{"/me", "Tokens for programs", [][]string{{"New token"}}},
		{"/records/deals/7", "Value", [][]string{{"Change"}, {"More of ", "Merge with another…"}}},
		{"/records/deals", "rows, all of them", [][]string{{"New deal"}, {"More of deals"}}},
		{"/", "this is waiting", [][]string{{"New record"}, {"Log or plan"}}},
		{"/duplicates/customers", "pairs, the likeliest first", [][]string{{"Compare"}}},
		{"/dashboards", "5 panels", [][]string{{"New dashboard"}}},
	}
	for i, how := range []struct {
		name, theme string
		wide, high  int64
	}{{"on paper", "paper", 1280, 800}, {"on ink", "ink", 1280, 800}, {"on a phone", "ink", 390, 844}, {"at 200 %", "paper", 640, 400}} {
		p.do(chromedp.EmulateViewport(how.wide, how.high))
		for _, at := range places {
			p.visit(at.path)
			p.sees(at.wait)
			eval[any](p, `void (document.documentElement.dataset.theme = "`+how.theme+`")`)
			for _, names := range at.open {
				p.press("button", names[0])
				if len(names) > 1 {
					p.find("menuitem", names[1])
					eval[any](p, `void window.found.click()`)
				}
				name := strings.Join(names, " › ") + " " + how.name
				p.await(`document.querySelector("[role=dialog],[role=menu]") && !document.querySelector("[role=dialog] [aria-busy=true]") ? "open" : ""`)
				// What is behind it is looked at once; it is the screen of the test before.
				if i == 0 {
					check(name)
				} else {
					check(name, "[role=dialog]", "[role=menu]")
				}
				over := eval[float64](p, `Math.max(0, ...[...document.querySelectorAll("[role=dialog],[role=menu]")].flatMap((e) => { const r = e.getBoundingClientRect(); return [r.right - innerWidth, -r.left, -r.top, r.bottom - innerHeight]; }))`)
				assert.LessOrEqual(t, over, 1.0, "%s does not fit the window", name)
				p.do(chromedp.KeyEvent("\x1b"))
				// What closes hands the focus back a moment later; opened within that moment, a menu would lose it again.
				p.await(`document.querySelector("[role=dialog],[role=menu]") ? "" : "gone"`)
				eval[any](p, `new Promise((done) => setTimeout(done, 80))`)
			}
		}
	}
}
