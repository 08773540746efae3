package e2e

import (
	"fmt"
	"net/url"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"
)

// (a) The open pipeline of this quarter as a funnel, from nothing, by keyboard alone.
func TestByKeyboardAlone(t *testing.T) {
	p := browse(t, open(t))
	p.press("button", "Maite Corrie")
	p.press("button", "Sign in")
	p.press("link", "Find")
	p.press("link", "New report")
	p.find("heading", "Begin with nothing but the records")
	p.press("main link", "Deals")
	p.press("button", "in a period…")
	p.types("expected")
	p.enter()
	p.press("option", "this quarter")
	p.escape()
	p.sees("expected to close this quarter")
	p.press("button", "where…")
	p.types("status")
	p.enter()
	p.press("checkbox", "open")
	p.escape()
	p.sees("status is open")
	p.press("button", "by…")
	p.types("stage")
	p.enter()
	p.escape()
	p.press("button", "summary: count")
	p.press("button", "Sum of …")
	p.types("value")
	p.enter()
	p.escape()
	p.sees("showing count and sum of value")
	p.press("button", "chart: columns")
	p.press("option", "Funnel")
	p.escape()
	p.find("figure", "Value by stage")
	p.sees("as a funnel")
	p.press("button", "Save report")
	p.find("dialog", "Save")
	p.press("button", "Save")
	p.sees("Saved “Value by stage”")
	// A mark is walked to and opened, too.
	p.find("link", "Change report")
	p.press("button", "Enquiry: €")
	p.find("heading", "Behind Projects: Enquiry: €")
}

// (e) A dashboard by the keyboard alone: a panel is moved, sized and named, the board narrowed, several marks opened together.
func TestDashboardByKeyboardAlone(t *testing.T) {
	p := browse(t, open(t))
	p.press("button", "Maite Corrie")
	p.press("button", "Sign in")
	p.press("link", "Dashboards")
	p.press("link", "Company, Monday")
	p.find("article", "Won by segment")
	p.press("button", "Arrange")
	p.find("button", "Move “Won by segment”")
	place := func() string {
		return eval[string](p, `(() => { const r = document.querySelector("article[aria-label='Won by segment']").getBoundingClientRect(); return [r.x, r.width].map(Math.round).join(" "); })()`)
	}
	before := place()
	eval[any](p, `void window.found.focus()`)
	p.do(chromedp.KeyEvent(kb.ArrowRight))
	p.await(fmt.Sprintf(`(() => { const r = document.querySelector("article[aria-label='Won by segment']").getBoundingClientRect(); return [r.x, r.width].map(Math.round).join(" ") === %q ? "" : "moved"; })()`, before))
	p.press("button", "Tidy")
	p.press("button", "Settings of Won by segment")
	p.types("Closing soon")
	p.press("button", "Done")
	p.find("article", "Closing soon")
	p.press("button", "Save dashboard")
	p.sees("Dashboard saved")
	p.visit("/dashboards/1")
	p.find("article", "Closing soon")

	p.press("button", "period: each in its own period")
	p.press("option", "this month")
	p.escape()
	p.sees("Deals of everyone closed this month")

	gather := func(mark string) {
		p.find("button", mark)
		eval[any](p, `void window.found.focus()`)
		p.do(chromedp.KeyEvent("\r", chromedp.KeyModifiers(chromedp.ModifierCtrl)))
	}
	gather("Harbour: €")
	gather("Marina: €")
	p.press("button", "Show the records")
	p.find("heading", "Behind Harbour: €")
	p.press("button", "Narrow the other panels to this")
	p.sees("where customers' segment is Harbour or Marina")
	p.shot("board-two-marks")

	p.press("button", "On a wall")
	p.sees("1 of 5")
	p.do(chromedp.KeyEvent(kb.ArrowRight))
	p.sees("2 of 5")
	p.do(chromedp.KeyEvent("\x1b"))
	p.find("button", "Arrange")
}

// A report is tried under a dashboard's filters without being changed, and taken off a dashboard from its own menu; a
// private one on a shared dashboard is told of and put beside it.
func TestReportAndItsDashboards(t *testing.T) {
	p := browse(t, open(t))
	p.signIn("Maite Corrie")
	p.visit("/reports/3")
	p.sees(" of 2,600 records")
	p.click("button", "More to do with the report")
	p.click("menuitem", "Try as on a dashboard")
	p.click("button", "period: each in its own period")
	p.click("option", "this month")
	p.escape()
	p.sees("obeys the period by closed")
	p.await(`/\b1?\d of 2,600 records/.test(document.body.innerText) ? "fewer" : ""`)
	p.sees("closed this year")
	p.click("button", "Leave")
	p.sees(" of 2,600 records")

	p.click("button", "More to do with the report")
	p.click("menuitem", "Where it stands")
	p.click("button", "Remove it from Company, Monday")
	p.sees("Taken off “Company, Monday”")
	p.sees("It stands on no dashboard")

	p.visit("/reports/new/deals?brief=" + inAddress(`{"version":1,"start":"deals","groups":[{"field":"stage"}]}`))
	p.click("button", "Save report")
	p.find("dialog", "Save")
	p.fill("textbox", "Title", "Mine alone")
	p.fill("textbox", "Dashboard", "Company, Monday")
	p.click("button", "Save")
	p.sees("Placed on “Company, Monday”")
	p.visit("/dashboards/1")
	p.sees("13 people may open this dashboard, but cannot read “Mine alone”.")
	p.shot("dashboard-closed")
	p.click("button", "Put it into the dashboard’s folder")
	p.sees("Everyone who opens this dashboard can read all of it now")
}

// (b) Large deals gone quiet, from a starter, kept and placed in one step.
func TestFromAStarter(t *testing.T) {
	p := browse(t, open(t))
	p.signIn("Maite Corrie")
	p.click("link", "New report")
	p.fill("searchbox", "Find a starter or a report", "quiet")
	p.find("article", "Large deals gone quiet")
	p.click("button", "Keep as mine")
	p.folder("West shore")
	p.fill("textbox", "Dashboard", "Quiet ones")
	p.sees("A dashboard of this name is made for it.")
	p.shot("starter-keep")
	p.click("button", "Save")
	p.sees("Placed on “Quiet ones”")
	p.sees("Deals of everyone, where status is open and value is over €40,000 and with no activities")
	p.click("link", "Dashboards")
	p.find("heading", "Dashboards")
	p.click("link", "Quiet ones")
	p.find("article", "Large deals gone quiet")
	p.sees("rows, all of them")
	require.Less(t, eval[int](p, `document.querySelectorAll("article [role=row]").length`), 60, "only the rows that are looked at are drawn")
}

// (c) People by kind of activity, the last 28 days against the 28 before; (c2) two record types side by side.
func TestComparedAndSideBySide(t *testing.T) {
	p := browse(t, open(t))
	p.signIn("Maite Corrie")
	p.click("link", "New report")
	p.fill("combobox", "Type what you want to know", "activities in the last 28 days by owner across kind, against the period before, totals only")
	p.sees("Understood: Activities of everyone")
	p.click("button", "Compose it")
	p.find("table", "Groups")
	p.sees("compared with the period before (20 Mar – 16 Apr 2026)")
	p.sees("17 Apr – 14 May 2026")
	require.Regexp(t, `[+−]\d+ · [+−]\d+\.\d %`, p.await(`document.querySelector("[role=table][aria-label=Groups]")?.innerText`))
	p.click("radio", "Groups")
	p.shot("compared")

	p.visit("/reports/new/deals")
	p.click("button", "in a period…")
	p.fill("combobox", "Find a date for the period", "closed")
	p.press("combobox", "Find a date for the period")
	p.click("option", "this quarter")
	p.escape()
	p.click("button", "where…")
	p.fill("combobox", "Find a field to narrow by", "status")
	p.press("combobox", "Find a field to narrow by")
	p.click("checkbox", "won")
	p.escape()
	p.click("button", "by…")
	p.fill("combobox", "Find a field to group by", "owner")
	p.press("combobox", "Find a field to group by")
	p.escape()
	p.click("button", "beside other records…")
	p.click("option", "Activities")
	p.sees("beside activities of everyone")
	p.sees("by owner: the owner of Deals, the owner of Activities")
	p.click("button", "then by…")
	p.fill("combobox", "Find a field of Deals to group by", "closed")
	p.press("combobox", "Find a field of Deals to group by")
	p.fill("combobox", "Find a field of Activities to group by", "happens")
	p.press("combobox", "Find a field of Activities to group by")
	p.escape()
	p.sees("the closed of Deals, the date of Activities (each month)")
	p.click("button", "summary: count of Deals")
	p.click("button", "Sum of …")
	p.fill("combobox", "Find a field to sum up", "value")
	p.press("combobox", "Find a field to sum up")
	p.escape()
	p.sees("sum of value of Deals")
	p.find("table", "Groups")
	p.shot("side-by-side")
	head := p.await(`document.querySelector("[role=table][aria-label=Groups]")?.innerText`)
	require.Contains(t, head, "Sum of value")
	require.Contains(t, head, "Activities")
}

// (d) A private report is shared into the team's folder; a member who can open it changes the period for a reading, but
// cannot keep it.
func TestSharedToRead(t *testing.T) {
	url := open(t)
	p := browse(t, url)
	p.signIn("Maite Corrie")
	p.visit("/reports/6")
	p.click("button", "More to do with the report")
	p.click("menuitem", "Save as another")
	p.fill("textbox", "Title", "Tally of mine")
	p.folder("only you")
	p.click("button", "Save")
	p.sees("Saved “Tally of mine”")

	q := browse(t, url)
	q.signIn("Aldo Marlow")
	q.fill("searchbox", "Find a report, dashboard or folder", "tally")
	q.sees("Nothing is like that")

	p.click("button", "More to do with the report")
	p.click("menuitem", "Move to another folder")
	p.folder("West shore")
	p.click("button", "Move")
	p.gone()

	// It is there at once, in the window that looks for it.
	q.click("link", "Tally of mine")
	q.find("figure", "Deals by status")
	q.click("button", "Change for this reading")
	q.click("button", "in a period…")
	q.fill("combobox", "Find a date for the period", "created")
	q.press("combobox", "Find a date for the period")
	q.click("option", "this year")
	q.escape()
	q.sees("Changed for this reading")
	q.shot("reading")
	screen := eval[string](q, `document.body.innerText`)
	require.NotContains(t, screen, "Save report")
	require.NotContains(t, screen, "Change report")
	address := eval[string](q, `location.pathname + location.search`)
	require.Contains(t, address, "reading=")
	q.visit(address) // a link carries the reading
	q.sees("created this year")
	q.press("button", "back to as saved")
	q.sees("Deals of everyone")
	q.await(`document.querySelector(".sentence")?.innerText.includes("created") ? "" : "as saved"`)
}

// (e) Undo, a draft after a closed tab, an earlier version brought back.
func TestNothingIsLost(t *testing.T) {
	url := open(t)
	p := browse(t, url)
	p.signIn("Maite Corrie")
	p.visit("/reports/6/edit")
	p.find("figure", "Deals by status")
	p.click("button", "then by…")
	p.fill("combobox", "Find a field to group by", "pipeline")
	p.press("combobox", "Find a field to group by")
	p.escape()
	p.sees("then by pipeline")
	p.do(chromedp.KeyEvent("z", chromedp.KeyModifiers(2)))
	p.await(`document.body.innerText.includes("then by pipeline") ? "" : "gone"`)
	p.click("button", "Redo")
	p.sees("then by pipeline")
	p.sees("draft saved")

	// The tab is closed; another one finds the draft.
	p.visit("/find")
	p.sees("Not saved yet")
	p.click("link", "Deals by status: changed")
	p.sees("then by pipeline")
	p.click("button", "Save report")
	p.find("dialog", "Save")
	p.sees("What changes")
	p.shot("save-change")
	p.click("button", "Save")
	p.sees("Saved “Deals by status”")
	p.click("button", "More to do with the report")
	p.click("menuitem", "Earlier versions")
	p.find("heading", "Earlier versions of “Deals by status”")
	p.shot("versions")
	p.click("button", "Bring it back")
	p.sees("Brought back")
	p.await(`document.querySelector(".sentence")?.innerText.includes("then by pipeline") ? "" : "back"`)

	// Deleting loses nothing, either; what stood on a board shows as missing until it is brought back.
	p.visit("/reports/1")
	p.click("button", "More to do with the report")
	p.click("menuitem", "Delete")
	p.sees("It stands on these, which will show it as missing:")
	p.click("button", "Delete report")
	p.sees("It can be brought back for 30 days")
	p.visit("/dashboards/1")
	p.find("article", "Missing report")
	p.shot("missing")
	p.visit("/find?deleted=true")
	p.click("checkbox", "Choose What closes this quarter")
	p.click("button", "Bring back")
	p.sees("1 brought back")
	p.visit("/dashboards/1")
	p.find("article", "What closes this quarter")
}

// A dashboard's period and whose change all panels and the address; a reload gives the same; a mark narrows the others.
func TestBoardIsReadByItsOwnSentence(t *testing.T) {
	p := browse(t, open(t))
	p.signIn("Maite Corrie")
	p.visit("/dashboards/1")
	p.find("figure", "Value by stage")
	p.click("button", "period: each in its own period")
	p.click("option", "this month")
	p.escape()
	p.sees("Deals of everyone expected to close this month")
	p.sees("Activities of everyone taking place this month")
	p.sees("obeys the period by expected close")
	p.click("button", "whose: everyone")
	p.click("option", "My team's")
	p.escape()
	p.sees("Deals of my team expected to close this month")
	p.sees("Activities of my team taking place this month")
	p.sees("obeys whose · not the period, having none of its own")
	address := eval[string](p, `location.pathname + location.search`)
	require.Contains(t, address, "this_month")
	p.visit(address)
	p.sees("Deals of my team closed this month")

	// What a mark stands for narrows the other panels, and is taken back.
	p.press("button", "back to as saved")
	p.sees("Deals of everyone closed this year")
	p.press("button", "Harbour: €")
	p.click("button", "Narrow the other panels to this")
	p.sees("where customers' segment is Harbour")
	p.sees("Activities of everyone taking place in the last 28 days, today included (17 Apr – 14 May 2026), where customer's segment is Harbour")
	p.shot("board-narrowed")
	p.click("button", "segment: customers' segment is Harbour")
	p.click("button", "Remove")
	p.await(`document.body.innerText.includes("segment is Harbour") ? "" : "taken back"`)

	// A report that is begun here comes back here.
	p.click("link", "New report here")
	p.sees("New report for “Company, Monday”")
	p.fill("searchbox", "Find a starter or a report", "win rate by segment")
	p.find("article", "Win rate by segment")
	p.click("button", "Keep as mine")
	p.click("button", "Save")
	p.sees("Placed on “Company, Monday”")
	p.sees("Of everyone")
	p.find("article", "Win rate by segment")

	// What it opens with can be kept.
	p.click("button", "whose: everyone")
	p.click("option", "My team's")
	p.escape()
	p.click("button", "open like this from now on")
	p.sees("Dashboard saved")
	p.visit("/dashboards/1")
	p.sees("Of my team")
	p.sees("Deals of my team closed this year")
}

// A style that is changed once in the house style changes what follows it, and nothing else.
func TestHouseStyleIsFollowed(t *testing.T) {
	p := browse(t, open(t))
	p.signIn("Osric Jarrow")
	bar := "/reports/new/activities?brief=" + inAddress(`{"version":1,"start":"activities","groups":[{"field":"kind"}],"chart":{"kind":"bar"LOOKS}}`)
	fills := func(looks string) string {
		p.visit(strings.Replace(bar, "LOOKS", url.QueryEscape(looks), 1))
		p.find("figure", "Activities by kind")
		p.await(`document.querySelector("[data-kind][data-finished]") ? "drawn" : ""`)
		return eval[string](p, `[...document.querySelectorAll("[data-kind] svg path")].map((e) => e.getAttribute("fill")).filter((f) => f && f !== "none").join(" ")`)
	}
	before := fills("")
	require.Contains(t, strings.ToUpper(before), "#007C7D")
	p.visit("/settings")
	p.find("button", "Save style")
	p.sees("told apart by readers of any sight")
	eval[any](p, `void (() => { const i = document.querySelector("input[aria-label='Colour 1']");
	  Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value").set.call(i, "#6d629f"); i.dispatchEvent(new Event("input", {bubbles: true})); })()`)
	p.sees("hard to tell apart")
	eval[any](p, `void (() => { const i = document.querySelector("input[aria-label='Colour 1']");
	  Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value").set.call(i, "#3a5fa8"); i.dispatchEvent(new Event("input", {bubbles: true})); })()`)
	p.sees("#3A5FA8 and #6D629F are hard to tell apart") // what is said of it moves what is below
	p.click("button", "Save style")
	p.sees("Saved. Charts that say nothing else follow it.")
	after := fills("")
	require.Contains(t, strings.ToUpper(after), "#3A5FA8")
	require.NotContains(t, strings.ToUpper(after), "#007C7D")
	require.Equal(t, strings.Count(before, "#"), strings.Count(after, "#"), "nothing else has changed")

	// Reports are given a style by name, all at once; the style changes, and they with it.
	p.visit("/find")
	p.click("checkbox", "Choose Won by segment")
	p.click("checkbox", "Choose Deals by status")
	p.find("combobox", "Give a style")
	eval[any](p, `void (() => { const e = document.querySelector("select[aria-label='Give a style']"); e.value = "quiet"; e.dispatchEvent(new Event("change", {bubbles: true})); })()`)
	p.sees("2 drawn so")
	drawn := func(id string) string {
		p.visit("/reports/" + id)
		p.find("figure", "")
		p.await(`document.querySelector("[data-kind][data-finished]") ? "drawn" : ""`)
		return strings.ToUpper(eval[string](p, `[...document.querySelectorAll("[data-kind] svg path")].map((e) => e.getAttribute("fill")).join(" ")`))
	}
	require.Contains(t, drawn("3"), "#1374C7")
	p.visit("/settings")
	p.click("button", "Change Quiet")
	p.find("dialog", "Change “Quiet”")
	p.click("button", "Follow the house style’s colours again")
	p.click("button", "Save style")
	p.sees("Charts that ask for it have changed with it.")
	require.NotContains(t, drawn("3"), "#1374C7")
}

// Progress towards a quarter's target, copied and set to the month, takes the month's target by itself; an administrator
// sets a year's target, cut into months, and takes it back.
func TestProgressFollowsItsPeriod(t *testing.T) {
	url := open(t)
	p := browse(t, url)
	p.signIn("Osric Jarrow")
	p.visit("/targets?of=won_value")
	p.sees("Deals, where status is won, showing sum of value, amounts in EUR at the rate of closed, else expected close, else today, by closed.")
	p.fill("textbox", "Everyone, Year", "12m")
	p.enter()
	p.await(`document.querySelector("input[aria-label='Everyone, May 2026']")?.value === "€1,000,000" ? "cut" : ""`)
	p.shot("targets")
	p.click("button", "Undo")
	p.await(`document.querySelector("input[aria-label='Everyone, May 2026']")?.value === "" ? "taken back" : ""`)
	p.fill("textbox", "Everyone, May 2026", "a lot")
	p.enter()
	p.sees("“a lot” is no amount")
	p.fill("textbox", "Everyone, May 2026", "900k")
	p.enter()
	p.await(`document.querySelector("input[aria-label='Everyone, Year']")?.value === "€900,000" ? "set" : ""`)

	p.click("link", "Report on it")
	p.sees("of €2,800,000.00")

	p = browse(t, url)
	p.signIn("Maite Corrie")
	p.visit("/reports/new/deals?brief=" + inAddress(`{"version":1,"start":"deals","period":{"field":"closed","within":"this_quarter"},"filter":{"all":[{"field":"status","is":"any_of","values":["won"]}]},"summaries":[{"key":"v","fn":"sum","of":"value"}]}`))
	p.click("button", "a target…")
	p.click("button", "Won value")
	p.escape()
	p.sees("towards the target for “Won value”, as progress")
	// The quarter: two months of the teams', and everyone's own in May.
	p.sees("of €2,800,000.00")
	p.sees("The target of Won value · everyone · 1 Apr – 30 Jun 2026")
	p.click("button", "Save")
	p.fill("textbox", "Title", "Quarter so far")
	p.click("button", "Save")
	p.sees("Quarter so far")
	p.click("button", "More to do with the report")
	p.click("menuitem", "Save as another")
	p.fill("textbox", "Title", "Month so far")
	p.click("button", "Save")
	p.click("button", "period: this quarter")
	p.click("option", "this month")
	p.escape()
	p.sees("of €900,000.00")
	p.sees("The target of Won value · everyone · 1 May – 31 May 2026")
}

// types types where the focus is.
func (p *page) types(text string) {
	p.t.Helper()
	p.await(`document.activeElement?.matches("input") ? "ready" : ""`)
	p.do(chromedp.KeyEvent(text))
}

func (p *page) enter() {
	p.t.Helper()
	p.do(chromedp.KeyEvent("\r"))
}
