package e2e

import (
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"
)

// at is what has the focus, by its name.
func (p *page) at() string {
	p.t.Helper()
	return eval[string](p, `new Promise(r => setTimeout(() => { const e = document.activeElement; r(e === document.body ? "nothing" : e.getAttribute("aria-label") || e.innerText || e.tagName) }, 150))`)
}

// key presses a key, and counts it.
func (p *page) key(keys ...string) {
	p.t.Helper()
	for _, k := range keys {
		p.do(chromedp.KeyEvent(k))
		p.keys++
	}
}

// rest lets the mouse rest on an element, as long as help needs to come.
func (p *page) rest(role, name string) {
	p.t.Helper()
	p.find(role, name)
	at := eval[[]float64](p, `(() => { const r = window.found.getClientRects()[0]; return [r.x + r.width / 2 + 2, r.y + r.height / 2] })()`)
	p.do(chromedp.MouseEvent("mouseMoved", at[0], at[1]))
	time.Sleep(time.Second)
}

// By keys alone, with the focus where one expects it after every step: a new report by typing it, saved, found again by
// the palette; sixty key presses at most, the words aside.
func TestFocusIsWhereOneExpects(t *testing.T) {
	p := browse(t, open(t))
	p.signIn("Maite Corrie")
	p.sees("Company, Monday")

	// The palette, from anywhere.
	p.do(chromedp.KeyEvent("k", chromedp.KeyModifiers(2)))
	p.find("combobox", "Go to or do")
	require.Equal(t, "Go to or do", p.at())
	p.types("new report")
	p.key(kb.Enter)
	p.find("heading", "New report")
	require.Contains(t, eval[string](p, `document.title`), "New report")
	require.NotEqual(t, "nothing", p.at(), "coming to a screen puts the focus there")

	// Typed, composed; the clauses opened, left and chosen from.
	eval[any](p, `void document.querySelector("[role=combobox]").focus()`)
	p.types("won deals this year by owner")
	p.key(kb.Enter)
	p.sees("closed this year")
	for name, leave := range map[string]string{"period: this year": kb.Escape, "condition: status is won": kb.Escape, "group: owner": kb.Escape} {
		p.press("button", name)
		p.find("dialog", "Edit: "+strings.SplitN(name, ":", 2)[0])
		p.key(leave)
		p.gone()
		require.Equal(t, name, p.at(), "Escape goes back to where one was")
	}
	p.press("button", "whose: everyone")
	p.find("option", "Mine")
	p.press("option", "Mine")
	p.gone()
	p.sees("Deals of mine")
	require.Equal(t, "whose: mine", p.at(), "what is chosen is done")

	// A new clause, taken away again: the focus goes to what stands beside it.
	p.press("button", "another condition…")
	p.key(kb.Escape)
	require.Equal(t, "another condition…", p.at())

	// With the mouse resting on what opened it, as long as its help takes to come: one Escape leaves it all the same.
	p.click("button", "another condition…")
	p.find("dialog", "Edit: condition")
	p.rest("button", "another condition…")
	p.key(kb.Escape)
	p.gone()

	// Menus and dialogs give it back.
	p.press("button", "More to do with the report")
	p.key(kb.Escape)
	require.Equal(t, "More to do with the report", p.at())
	p.press("button", "Save report")
	p.find("dialog", "Save")
	p.find("textbox", "Title")
	p.key(kb.Escape)
	p.gone()
	require.Equal(t, "Save report", p.at())
	p.key(kb.Enter)
	p.find("textbox", "Title")
	p.press("button", "Save")
	p.sees("Saved “")
	require.NotEqual(t, "nothing", p.at(), "saving leaves it somewhere")
	require.LessOrEqual(t, p.keys, 60)

	// Back and Forward open and close what is behind a number.
	p.press("button", "Maite Corrie: ")
	p.find("heading", "Behind Maite Corrie: ")
	eval[any](p, `history.back()`)
	p.find("table", "Groups")
	eval[any](p, `history.forward()`)
	p.find("heading", "Behind Maite Corrie: ")
}
