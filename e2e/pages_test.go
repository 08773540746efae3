package e2e

import (
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"
)

// A seller goes from the list to a deal and to the next one, logs a call and plans a visit in one line, marks the visit
// done, moves the stage, corrects a field where it stands, and takes it back.
func TestRecordAtWork(t *testing.T) {
	p := browse(t, open(t))
	p.signIn("Maite Corrie")
	p.visit("/records/deals")
	p.onlyOpen()
	p.onList()
	p.sees("416 rows")
	p.key(kb.ArrowDown, kb.ArrowDown)
	p.do(chromedp.KeyEvent("\r", chromedp.KeyModifiers(chromedp.ModifierCtrl)))
	p.sees("2 of 416")
	first := p.await(`document.querySelector("h1").innerText`)
	p.click("link", "The next one")
	p.sees("3 of 416")
	require.NotEqual(t, first, p.await(`document.querySelector("h1").innerText`))

	// Back is the list, at the place that was left.
	eval[any](p, `void history.back()`)
	p.onList()
	p.await(`document.querySelector("#cell-at") ? "there" : null`)
	p.key(kb.ArrowDown)
	p.do(chromedp.KeyEvent("\r", chromedp.KeyModifiers(chromedp.ModifierCtrl)))
	p.sees("3 of 416")

	p.key("l")
	p.types("call 15 min reached about the piles, then site visit tomorrow 10")
	p.sees("Understood: Call, done today")
	p.sees("Site visit, planned for tomorrow 10:00")
	p.key(kb.Enter)
	p.sees("Site visit tomorrow 10:00")
	p.sees("Call, reached, 15 minutes")
	p.shot("logged")
	p.types("the piles")
	p.sees("Begin with what it is")
	p.key(kb.Escape)

	// It is marked done in its line.
	p.await(`(() => { const li = [...document.querySelectorAll("[aria-label=Entries] li")].find(e => e.innerText.includes("tomorrow")); const b = [...li.querySelectorAll("button")].find(b => b.innerText === "Done"); b.click(); return "done" })()`)
	p.sees("Marked done: Site visit")

	p.click("button", "Design")
	p.sees("Moved to Design")
	p.find("button", "Enquiry")
	p.sees("Stage Enquiry → Design")
	p.shot("moved")
	p.press("button", "Undo")
	p.find("button", "Design")

	p.press("button", "Edit Source")
	p.choose("Source, edited", "Tender")
	p.sees("Source set to Tender")
	p.await(`[...document.querySelectorAll("dt")].find((d) => d.innerText === "Source")?.nextElementSibling?.innerText.includes("Tender") ? "set" : null`)
	p.await(`(() => { const li = [...document.querySelectorAll("[aria-label=Entries] li")].find(e => e.innerText.includes("Source") && e.innerText.includes("Tender")); const b = li && [...li.querySelectorAll("button")].find(b => b.innerText === "take back"); if (!b) return null; b.click(); return "done" })()`)
	p.sees("Source is what it was")
	p.shot("taken-back")
}

// From any screen: a letter, a name, a line.
func TestLogFromAnywhere(t *testing.T) {
	p := browse(t, open(t))
	p.signIn("Maite Corrie")
	p.visit("/dashboards")
	p.find("heading", "Dashboards")
	p.key("l")
	p.find("combobox", "Whom or what it is about")
	p.types("cormorbay marina")
	p.find("option", "Cormorbay Marina")
	p.key(kb.Enter)
	p.find("textbox", "What was done, or is planned")
	p.types("email tomorrow: the offer")
	p.sees("Email, planned for tomorrow 09:00, “the offer”")
	p.key(kb.Enter)
	p.gone()
	p.sees("Email, planned for tomorrow 09:00")
	p.visit("/records/customers/1")
	p.sees("the offer")
}

// Home is where one begins: what waits is marked done there, a followed record tells what others did, a favourite stands
// there; on a phone nothing is wider than the window.
func TestHome(t *testing.T) {
	url := open(t)
	p := browse(t, url)
	p.signIn("Ilva Norrie")
	p.visit("/records/deals/40")
	p.click("button", "Follow")
	p.find("button", "Followed")
	p.visit("/")
	p.find("heading", "Ilva, this is waiting")
	p.find("article", "Won by segment")
	before := p.await(`document.querySelector("section[aria-label=Today] h2 span")?.innerText`)
	p.await(`document.querySelector("section[aria-label=Today] li button") ? "x" : null`)
	eval[any](p, `void document.querySelector("section[aria-label=Today] li button").click()`)
	p.sees("Marked done")
	p.await(`document.querySelector("section[aria-label=Today] h2 span")?.innerText === String(` + before + ` - 1) ? "one less" : null`)
	p.shot("home")
	p.click("link", "All of them")
	p.sees("Activities of mine")

	other := browse(t, url)
	other.signIn("Maite Corrie")
	other.visit("/records/deals/40")
	other.find("textbox", "What was done, or is planned")
	other.key("l")
	other.types("call reached: they want two arms")
	other.sees("Understood")
	other.key(kb.Enter)
	other.sees("they want two arms")

	p.do(chromedp.EmulateViewport(390, 844))
	p.visit("/")
	p.sees("Call, reached, they want two arms · Maite Corrie")
	require.LessOrEqual(t, eval[float64](p, `document.documentElement.scrollWidth`), 390.0)
	p.shot("home-phone")
	p.visit("/records/deals/40")
	p.find("textbox", "What was done, or is planned")
	require.LessOrEqual(t, eval[float64](p, `document.documentElement.scrollWidth`), 390.0)
	p.shot("record-phone")
	p.visit("/records/deals")
	p.find("grid", "Records")
	require.LessOrEqual(t, eval[float64](p, `document.documentElement.scrollWidth`), 390.0)
	p.shot("list-phone")
}

// Customers that were entered twice are found, compared and made one, which is undone; two that are two are told no more.
func TestEnteredTwice(t *testing.T) {
	p := browse(t, open(t))
	p.signIn("Osric Jarrow")
	p.visit("/records/customers")
	p.press("button", "More of customers")
	p.press("menuitem", "Customers entered twice…")
	p.find("heading", "Customers entered twice")
	pairs := func() int { return eval[int](p, `document.querySelectorAll("[aria-label=Pairs] li").length`) }
	p.await(`document.querySelector("[aria-label=Pairs] li") ? "there" : null`)
	p.shot("twins")
	before := pairs()
	require.GreaterOrEqual(t, before, 20)
	p.press("button", "They are two")
	p.await(`document.querySelectorAll("[aria-label=Pairs] li").length === ` + js(before-1) + ` ? "one less" : null`)
	p.press("button", "Undo")
	p.await(`document.querySelectorAll("[aria-label=Pairs] li").length === ` + js(before) + ` ? "again" : null`)
	p.press("button", "Compare")
	p.find("button", "Make them one")
	p.shot("twins-compared")
	p.press("button", "Make them one")
	p.sees("They are one")
	p.await(`document.querySelectorAll("[aria-label=Pairs] li").length === ` + js(before-1) + ` ? "one less" : null`)
}

// An administrator lays out the page of every customer beside one of them, which shows it at once; undone, saved, seen by
// others, and taken back among the settings.
func TestPageIsLaidOut(t *testing.T) {
	url := open(t)
	p := browse(t, url)
	p.signIn("Osric Jarrow")
	p.visit("/records/customers/1")
	p.find("list", "Entries")
	p.press("button", "More of Cormorbay Marina")
	p.press("menuitem", "Lay out the page of every customer")
	p.find("dialog", "The page of a customer")
	p.press("button", "Another section")
	p.fill("textbox", "Heading of the section", "Where it is")
	p.choose("Add to: Fields of Where it is", "city")
	p.choose("Add to: Fields of Where it is", "country")
	p.find("heading", "Where it is")
	p.press("button", "Remove Size")
	p.await(`[...document.querySelectorAll("main dl.sheet dt")].some(d => d.innerText === "Size") ? null : "gone"`)
	p.shot("laying-out")
	p.press("button", "Undo")
	p.await(`[...document.querySelectorAll("main dl.sheet dt")].some(d => d.innerText === "Size") ? "there" : null`)

	// What is not saved is there again, in another browser, too.
	p.visit("/records/customers/2")
	p.find("list", "Entries")
	again := browse(t, url)
	again.signIn("Osric Jarrow")
	again.visit("/records/customers/1")
	again.press("button", "More of Cormorbay Marina")
	again.press("menuitem", "Lay out the page of every customer")
	again.sees("This was left unsaved.")
	again.find("heading", "Where it is")
	again.shot("left-unsaved")
	p = again
	p.press("button", "Save for every customer")
	p.gone()
	p.sees("The page of every customer is laid out")

	other := browse(t, url)
	other.signIn("Maite Corrie")
	other.visit("/records/customers/2")
	other.find("heading", "Where it is")
	p.visit("/settings")
	p.sees("The page of a customer")
	p.shot("laid-out-settings")
	p.press("button", "Take back")
	p.visit("/records/customers/2")
	p.find("heading", "About")
	p.await(`[...document.querySelectorAll("main h2")].some(h => h.innerText === "Where it is") ? null : "as it came"`)
}
