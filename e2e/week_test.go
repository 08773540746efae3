package e2e

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"
)

// focused is the name of what has the focus, as soon as it is asked.
const focused = `(() => { const e = document.activeElement; return e === document.body ? "" : e.getAttribute("aria-label") || e.labels?.[0]?.innerText || e.innerText || e.tagName })()`

// tab goes on with Tab, or back with Shift and Tab, until what is called so has the focus: within a number of presses.
func (p *page) tab(name string, most int, back ...bool) {
	p.t.Helper()
	var been []string
	for range most {
		if len(back) > 0 {
			p.do(chromedp.KeyEvent(kb.Tab, chromedp.KeyModifiers(chromedp.ModifierShift)))
			p.keys++
		} else {
			p.key(kb.Tab)
		}
		at := eval[string](p, focused)
		if at == name {
			return
		}
		been = append(been, at)
	}
	require.Fail(p.t, "not reached", "%d presses of Tab do not lead to “%s” but over %q", most, name, been)
}

// palette goes to what is found by some words.
func (p *page) palette(words, option string) {
	p.t.Helper()
	p.do(chromedp.KeyEvent("k", chromedp.KeyModifiers(chromedp.ModifierCtrl)))
	p.find("combobox", "Go to or do")
	p.types(words)
	p.find("option", option)
	p.await(fmt.Sprintf(`document.querySelector("[role=option][aria-selected=true]")?.innerText.includes(%s) ? "is" : null`, js(option)))
	p.key(kb.Enter)
	p.gone()
}

// A week of a seller by keys alone: what is overdue marked done at home, a call logged with the step that follows, the
// stage moved, a value corrected in the list; the dashboard that the manager has open shows each, by itself.
func TestWeekByKeys(t *testing.T) {
	url := open(t)
	manager := browse(t, url)
	manager.signIn("Maite Corrie")
	manager.visit("/dashboards")
	manager.click("link", "Company, Monday")
	mark := func(name string) string {
		return manager.await(fmt.Sprintf(`[...document.querySelectorAll("article button")].map((b) => b.innerText).find((n) => n.startsWith(%s))`, js(name+": ")))
	}
	turns := func(was, name, what string) {
		t.Helper()
		manager.await(fmt.Sprintf(`(() => { const n = [...document.querySelectorAll("article button")].map((b) => b.innerText).find((n) => n.startsWith(%s)); return n && n !== %s ? n : null })()`, js(name+": "), js(was)))
		require.NotEqual(t, was, mark(name), what)
	}
	calls, design, sent := mark("Ilva Norrie, Call"), mark("Design"), mark("Offer sent")

	p := browse(t, url)
	p.signIn("Ilva Norrie")
	deal := p.await(`(async () => {
	  const list = async (more, count, from = 0) => (await (await fetch("/api/list", {method: "POST", headers: {"Content-Type": "application/json"},
	    body: JSON.stringify({from, count, brief: {version: 1, start: "deals", columns: [{field: "name"}], ...more}})})).json()).rows.map((r) => r.cells[0].text);
	  const all = (await Promise.all([0, 1, 2, 3, 4, 5].map((n) => list({}, 500, n * 500)))).flat();
	  const mine = await list({whose: "mine", period: {field: "expected_close", within: "this_quarter"}, filter: {all: [{field: "stage", is: "any_of", values: ["Design"]}, {field: "status", is: "any_of", values: ["open"]}]}}, 50);
	  return mine.find((n) => all.filter((x) => x === n).length <= 1);
	})()`)

	// Monday: what is overdue.
	p.keys = 0
	p.palette("home", "Home: what waits")
	p.find("heading", "Ilva, this is waiting")
	p.find("button", "Done: Call Delivery dates")
	p.tab("Done: Call Delivery dates", 45)
	p.key(kb.Enter)
	p.sees("Marked done")
	p.await(`document.activeElement !== document.body && document.activeElement.closest("section[aria-label=Overdue]") ? "beside" : null`)

	// Tuesday: a call, and the step that follows.
	p.palette(deal, deal)
	p.find("heading", deal)
	p.find("textbox", "What was done, or is planned")
	p.key("l")
	p.types("call 20 min reached about the anchors, then site visit Monday 10")
	p.sees("Site visit, planned for Mon 18 May 10:00")
	p.key(kb.Enter)
	p.sees("Call, reached, 20 minutes")
	turns(calls, "Ilva Norrie, Call", "the call counts")

	// Wednesday: its stage.
	p.tab("Offer sent", 30, true)
	p.key(kb.Enter)
	p.sees("Moved to Offer sent")
	turns(design, "Design", "it left its stage")
	turns(sent, "Offer sent", "it came into the next one")
	sent = mark("Offer sent")

	// Thursday: a value, where it stands in the list.
	p.palette("list of deals", "List of deals")
	p.find("searchbox", "Find in all texts of deals")
	p.tab("Find in all texts of deals", 30)
	p.types(deal)
	p.sees("1 row, all of them")
	p.tab("Records", 20)
	p.key(kb.ArrowDown)
	for range 6 {
		if eval[string](p, `document.querySelector("#cell-at")?.innerText ?? ""`) != "" && eval[bool](p, `/€/.test(document.querySelector("#cell-at").innerText)`) {
			break
		}
		p.key(kb.ArrowRight)
	}
	p.key(kb.Enter)
	p.find("textbox", "Value")
	eval[any](p, `void document.activeElement.select()`)
	p.types("123456")
	p.key(kb.Enter)
	p.sees("Value of " + deal + " set to")
	turns(sent, "Offer sent", "its value counts")
	t.Logf("%d key presses, what is typed aside", p.keys)
	require.Less(t, p.keys, 140)
}
