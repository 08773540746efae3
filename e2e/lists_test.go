package e2e

import (
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"
)

// onList puts the keys into the list.
func (p *page) onList() {
	p.t.Helper()
	p.find("grid", "Records")
	eval[any](p, `void document.querySelector("[role=grid]").focus()`)
}

// onlyOpen narrows a list of deals to those that are open.
func (p *page) onlyOpen() {
	p.t.Helper()
	p.click("button", "where…")
	p.fill("combobox", "Find a field to narrow by", "status")
	p.click("option", "Status")
	p.click("checkbox", "open")
	p.escape()
}

// A list with a chart: a mark narrows it, is broken down by owner, each is let go singly; it becomes a panel; the list is
// kept by a name, opens first, and is gone back to.
func TestListWithItsChart(t *testing.T) {
	p := browse(t, open(t))
	p.signIn("Maite Corrie")
	p.visit("/records/deals")
	p.sees("2,600 rows, all of them")
	p.click("button", "Chart")
	p.find("button", "Design: ")
	p.press("button", "Design: ")
	p.sees("where stage is Design")
	p.shot("picked")
	p.click("button", "Owner")
	p.sees("Value by owner")
	p.press("button", "Ilva Norrie: ")
	p.sees("and owner is Ilva Norrie")
	p.shot("broken-down")
	p.click("button", "Let go of stage is Design")
	p.sees("where owner is Ilva Norrie")
	require.NotContains(t, eval[string](p, `document.querySelector(".sentence").innerText`), "Design")
	// Back is the way back, a step at a time.
	eval[any](p, `void history.back()`)
	p.sees("where stage is Design")

	p.press("button", "Place on a dashboard")
	p.press("menuitem", "Company, Monday")
	p.sees("Placed on “Company, Monday”")
	p.click("button", "Open it")
	p.find("article", "Value by owner")

	p.visit("/records/deals")
	p.onlyOpen()
	p.click("button", "Keep this list…")
	p.fill("textbox", "Name", "Open ones")
	p.click("button", "Keep list")
	p.gone()
	p.sees("status is open")
	p.press("button", "More of this list")
	p.press("menuitem", "Open this one first")
	p.visit("/records/deals")
	p.sees("status is open")
	p.click("button", "All deals")
	p.sees("2,600 rows, all of them")
	p.click("button", "Open ones")
	p.sees("status is open")
	p.shot("kept")
}

// Looking for words in all texts, editing a cell by keys, choosing several and setting their stage, taking it all back.
func TestListIsWorkedIn(t *testing.T) {
	p := browse(t, open(t))
	p.signIn("Maite Corrie")
	p.visit("/records/deals")
	p.sees("2,600 rows, all of them")
	p.click("searchbox", "Find in all texts of deals")
	p.types("fuel eider")
	p.sees("rows, all of them")
	p.await(`(() => { const names = [...document.querySelectorAll("[role=grid] [role=row] a:first-of-type")].map(e => e.closest("[role=row]").innerText.toLowerCase()); return names.length > 0 && names.every(n => n.includes("fuel") && n.includes("eider")) ? "all" : null })()`)
	p.shot("sought")
	eval[any](p, `void (() => { const i = document.querySelector("main input[type=search]"); i.focus(); i.select() })()`)
	p.key(kb.Delete)
	p.sees("2,600 rows, all of them")

	// The value of the first, by keys alone.
	p.onList()
	p.key(kb.ArrowDown, kb.ArrowRight, kb.ArrowRight, kb.ArrowRight, kb.ArrowRight)
	was := p.await(`document.querySelector("#cell-at")?.innerText`)
	p.key(kb.Enter)
	p.find("textbox", "Value, edited")
	p.types("abc")
	p.key(kb.Enter)
	p.sees("Value:")
	p.shot("refused")
	eval[any](p, `void document.activeElement.select?.()`)
	p.types("4321")
	p.key(kb.Enter)
	p.await(`document.querySelector("#cell-at")?.innerText.includes("4,321") ? "set" : null`)
	p.key(kb.Escape)
	p.onList()
	p.do(chromedp.KeyEvent("z", chromedp.KeyModifiers(2)))
	p.sees("Taken back")
	p.key(kb.ArrowDown, kb.ArrowRight, kb.ArrowRight, kb.ArrowRight, kb.ArrowRight)
	p.await(`document.querySelector("#cell-at")?.innerText === ` + js(was) + ` ? "as it was" : null`)

	// Three get a stage at once.
	p.key(kb.Home, " ", kb.ArrowDown, " ", kb.ArrowDown, " ")
	p.sees("3 chosen")
	p.press("button", "Stage…")
	p.find("dialog", "Change 3 deals")
	p.choose("All get", "Contract review")
	p.sees("would change")
	p.shot("many")
	p.press("button", "Change them")
	p.gone()
	p.sees("Stage of")
	p.onList()
	p.do(chromedp.KeyEvent("z", chromedp.KeyModifiers(2)))
	p.sees("Taken back: Stage of")
}
