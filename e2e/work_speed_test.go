package e2e

import (
	"fmt"
	"os"
	"slices"
	"testing"
	"time"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"uzzel/internal/demo"
)

// TestWorkSpeed measures, where MEASURE names a data file, how long people at work wait in the browser: for a list from the
// click of its link to its first rows, for a key in its search, for a record's page with four panels, and for an edit in
// place: until it stands there, and until an open dashboard of somebody else shows it.
func TestWorkSpeed(t *testing.T) {
	file := os.Getenv("MEASURE")
	if _, err := os.Stat(file); file == "" || err != nil {
		t.Skip("set MEASURE to a data file made by uzzel seed")
	}
	p := measured(t, file)
	say := func(what string, list []float64) {
		slices.Sort(list)
		t.Logf("%-60s median %5.0f ms, 95 of 100 within %5.0f ms (%d)", what, list[len(list)/2], list[(len(list)*95-1)/100], len(list))
	}
	before := eval[float64](p, pace)
	var lists, keys, pages, panels []float64
	for range 40 {
		p.visit("/find")
		p.find("heading", "Find")
		eval[any](p, makeDeal)
		lists = append(lists, eval[float64](p, fmt.Sprintf(timed, `document.querySelector("nav a[href='/records/deals']").click()`, `document.querySelector("[role=gridcell] a")?.textContent`)))
	}
	say("a list of a million, opened after a write", lists)
	time.Sleep(6 * time.Second) // until what was made has been heard of
	for _, word := range []string{"gullness quay", "pontoon refit", "eider walkway"} {
		for i := range len(word) {
			keys = append(keys, eval[float64](p, fmt.Sprintf(timed, fmt.Sprintf(type1, word[:i+1]), rowsOf)))
			shown := eval[string](p, `window.shown`)
			time.Sleep(250 * time.Millisecond)
			require.Equal(t, shown, eval[string](p, rowsNow), "what was timed are the rows of %q", word[:i+1])
		}
	}
	say("a key in its search", keys)
	eval[any](p, fourOnPage)
	for i := range 40 {
		p.visit("/find")
		p.find("heading", "Find")
		ms := eval[map[string]float64](p, fmt.Sprintf(page1, 1000+2399*i))
		pages, panels = append(pages, ms["fields"]), append(panels, ms["panels"])
	}
	say("a customer's page: its fields", pages)
	say("a customer's page: four panels, answered", panels)
	shown, seen := p.edits(t)
	say("a value edited in place, until it stands there", shown)
	say("… until a dashboard that another person has open shows it", seen)
	var many []float64
	for i := range 5 {
		many = append(many, eval[float64](p, fmt.Sprintf(changeMany, i+1)))
	}
	say("10,000 records changed", many)
	t.Logf("how far it was said to be: %s", eval[string](p, `window.told.join(", ")`))
	t.Logf("the machine's pace: %.0f ms, then %.0f ms", before, eval[float64](p, pace))
}

// edits changes values in a list, each with its keys, while another browser has a dashboard of four panels open: how long
// after Enter the cell has the new value, and the dashboard another sum.
func (p *page) edits(t *testing.T) (shown, seen []float64) {
	t.Helper()
	board := eval[float64](p, fourOnBoard)
	other := browse(t, p.url)
	other.fill("textbox", "E-mail", "p1@brinehaven.example")
	other.fill("textbox", "Password", demo.Password)
	other.click("button", "Sign in")
	other.find("heading", "this is waiting")
	other.visit(fmt.Sprintf("/dashboards/%.0f", board))
	const sums = `[...document.querySelectorAll("article button")].map((b) => b.innerText).filter((n) => n.includes(": €")).join()`
	other.await(`[...document.querySelectorAll("article")].length === 4 && [...document.querySelectorAll("article")].every((a) => a.getAttribute("aria-busy") === "false") && ` + sums)
	p.visit("/records/deals")
	p.onList()
	p.await(`document.querySelector("[role=gridcell] a") ? "rows" : null`)
	p.key(kb.ArrowDown)
	for !eval[bool](p, `/€/.test(document.querySelector("#cell-at")?.innerText ?? "")`) {
		p.key(kb.ArrowRight)
	}
	eval[any](p, `void addEventListener("keydown", (e) => { if (e.key !== "Enter" || !e.target.matches("input")) return; const at = performance.timeOrigin + performance.now(); window.took = null;
	  const look = () => { if (/€/.test(document.querySelector("#cell-at")?.innerText ?? "") && !document.querySelector("#cell-at input")) window.took = [at, performance.timeOrigin + performance.now() - at]; else requestAnimationFrame(look); }; look(); }, true)`)
	for i := range 25 {
		eval[any](other, `void (() => { const sums = () => `+sums+`, was = sums(); window.seen = 0; const look = () => { if (sums() !== was) window.seen = performance.timeOrigin + performance.now(); else requestAnimationFrame(look); }; look(); })()`)
		p.key(kb.Enter)
		p.find("textbox", "Value")
		eval[any](p, `void document.activeElement.select()`)
		p.types(fmt.Sprint(50000 + 1000*i))
		p.key(kb.Enter)
		p.await(`window.took ? "there" : null`)
		other.await(`window.seen ? "there" : null`)
		took := eval[[]float64](p, `window.took`)
		shown, seen = append(shown, took[1]), append(seen, eval[float64](other, `window.seen`)-took[0])
		p.key(kb.ArrowDown)
	}
	return shown, seen
}

// fourOnBoard makes a dashboard of the four reports that were kept, and is its number.
const fourOnBoard = `(async () => {
  const ask = async (method, path, body) => (await fetch(path, {method, headers: {"Content-Type": "application/json"}, body: body && JSON.stringify(body)})).json();
  const reports = (await ask("GET", "/api/reports")).filter((r) => r.title.startsWith("Of a customer ")).slice(-4);
  const board = await ask("POST", "/api/boards", {title: "Measured", folder: reports[0].folder, panels: reports.map((r, i) => ({report: r.id, x: 6 * (i % 2), y: 9 * (i >> 1), w: 6, h: 9}))});
  return board.id;
})()`

// changeMany sets a field of 10,000 records, and notes how far it is said to be meanwhile.
const changeMany = `(async () => {
  const name = "measured" + Math.random(), t0 = performance.now();
  window.told = [];
  const asks = setInterval(() => fetch("/api/work/" + name).then((r) => r.ok && r.json()).then((w) => w && window.told.push(w.done + " of " + w.of)), 400);
  const r = await fetch("/api/records/deals/many", {method: "POST", headers: {"Content-Type": "application/json", Work: name}, body: JSON.stringify({ids: [...Array(10000)].map((_, i) => 100000 + i), values: {likelihood: String(10 + %d)}})});
  clearInterval(asks);
  if (!r.ok) throw new Error(await r.text());
  return performance.now() - t0;
})()`

// timed does something and says after how many milliseconds something is so, when the frame with it has been painted.
const timed = `new Promise((done) => {
  performance.clearResourceTimings();
  const t0 = performance.now();
  %s;
  const look = () => {
    if (%s) {
      const after = new MessageChannel();
      after.port1.onmessage = () => done(performance.now() - t0);
      after.port2.postMessage(0);
    } else if (performance.now() - t0 > 10000) done(10000);
    else requestAnimationFrame(look);
  };
  requestAnimationFrame(look);
})`

const makeDeal = `fetch("/api/records/deals", {method: "POST", headers: {"Content-Type": "application/json"}, body: JSON.stringify({records: [{name: "Measured " + Date.now(), value: "1000"}]})}).then((r) => r.status)`

// rowsNow is what a list shows: its rows, and how many there are.
const rowsNow = `document.querySelector("[role=grid]").parentElement.parentElement.textContent`

// rowsOf says that rows were asked for and are there, and notes them.
const rowsOf = `performance.getEntriesByName(location.origin + "/api/list").length > 0 && document.querySelector("[role=grid][aria-busy=false]") && (window.shown = ` + rowsNow + `, !window.shown.includes("Looking …"))`

// type1 has the search hold a text, as typing it does.
const type1 = `(() => { const i = document.querySelector("main input"); Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value").set.call(i, %q); i.dispatchEvent(new Event("input", {bubbles: true})); })()`

// fourOnPage keeps four reports and places them on the pages of customers.
const fourOnPage = `(async () => {
  const ask = async (method, path, body) => { const r = await fetch(path, {method, headers: {"Content-Type": "application/json"}, body: body && JSON.stringify(body)}); return r.status === 204 ? undefined : r.json(); };
  const folder = (await ask("GET", "/api/folders")).find((f) => f.mayChange).id;
  const briefs = [
    {version: 1, start: "deals", groups: [{field: "stage"}], summaries: [{key: "v", fn: "sum", of: "value"}], chart: {kind: "column"}},
    {version: 1, start: "activities", groups: [{field: "kind"}], chart: {kind: "bar"}},
    {version: 1, start: "deals", groups: [{field: "created", by: "quarter"}], chart: {kind: "line"}},
    {version: 1, start: "deals", groups: [{field: "status"}], chart: {kind: "pie"}},
  ];
  for (const [i, brief] of briefs.entries()) {
    const r = await ask("POST", "/api/reports", {title: "Of a customer " + i + " " + Date.now(), description: "", folder, brief});
    await ask("PUT", "/api/pages/customers/" + r.id);
  }
  return "placed";
})()`

// page1 opens a customer's page from within the application, and says when its fields are there and when four panels are.
const page1 = `new Promise((done) => {
  const t0 = performance.now(), at = {fields: -1, panels: -1};
  history.pushState(null, "", "/records/customers/%d");
  dispatchEvent(new PopStateEvent("popstate"));
  const look = () => {
    if (at.fields < 0 && document.querySelector("main h1") && location.pathname.startsWith("/records/customers/") && document.querySelector("main dl")) at.fields = performance.now() - t0;
    const ready = [...document.querySelectorAll("main article")].filter((x) => x.getAttribute("aria-busy") === "false" && /as of|€|\\d/.test(x.textContent));
    if (at.panels < 0 && ready.length >= 4) at.panels = performance.now() - t0;
    if ((at.fields > 0 && at.panels > 0) || performance.now() - t0 > 8000) done(at); else requestAnimationFrame(look);
  };
  look();
})`
