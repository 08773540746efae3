package e2e

import (
	"context"
	"fmt"
	"os"
	"sort"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/require"

	"uzzel/internal/demo"
	"uzzel/internal/store"
)

// TestEditToPaint measures how long it takes from an edit of the sentence until its answer is painted, where MEASURE is
// set: on the demo company, or on the data file that it names. The edits are those of a person who narrows, groups and
// compares: forty, eight of them undone and done again.
func TestEditToPaint(t *testing.T) {
	file := os.Getenv("MEASURE")
	if file == "" {
		t.Skip("set MEASURE=1, or to a data file made by uzzel seed")
	}
	p := measured(t, file)
	p.visit("/reports/new/deals?brief=" + `%7B%22version%22%3A1%2C%22start%22%3A%22deals%22%2C%22groups%22%3A%5B%7B%22field%22%3A%22stage%22%7D%5D%2C%22chart%22%3A%7B%22kind%22%3A%22column%22%7D%7D`)
	p.find("table", "Groups")
	before := eval[float64](p, pace)
	var times []float64
	edit := func(clause string, pick func()) {
		p.click("button", clause)
		time.Sleep(150 * time.Millisecond)
		pick()
		p.escape()
	}
	note := func(before string) {
		ms := eval[float64](p, painted)
		times = append(times, ms)
		t.Logf("%-28s %4.0f ms, of which the server %s", before, ms, eval[string](p, answered))
	}
	for _, unit := range []string{"this month", "last month", "this quarter", "last quarter", "next quarter", "this year", "last year", "this week", "next month", "this fiscal year"} {
		name := "in a period…"
		if len(times) > 0 {
			name = eval[string](p, `document.querySelector("[data-clause=period]").innerText`)
		}
		edit(name, func() {
			if name == "in a period…" {
				p.fill("combobox", "Find a date for the period", "expected")
				p.press("combobox", "Find a date for the period")
			}
			p.find("option", unit)
			eval[any](p, watch)
			eval[any](p, `void window.found.click()`)
			note(unit)
		})
	}
	for i, value := range []string{"open", "won", "lost"} {
		name := "where…"
		if i > 0 {
			name = eval[string](p, `document.querySelector("[data-clause=filter]").innerText`)
		}
		edit(name, func() {
			if i == 0 {
				p.fill("combobox", "Find a field to narrow by", "status")
				p.press("combobox", "Find a field to narrow by")
			}
			p.find("checkbox", value)
			eval[any](p, watch)
			eval[any](p, `void window.found.click()`)
			note("status " + value)
		})
	}
	for _, field := range []string{"owner", "customer segment", "kind", "source", "customer country"} {
		name := eval[string](p, `document.querySelector("[data-clause=groups]").innerText`)
		edit(name, func() {
			p.click("button", eval[string](p, `document.querySelector("[role=dialog] .btn-quiet").innerText`))
			p.fill("combobox", "Find a field to group by", field)
			time.Sleep(100 * time.Millisecond)
			eval[any](p, watch)
			p.do(chromedp.KeyEvent("\r"))
			note("by " + field)
		})
	}
	edit("count", func() {
		for _, fn := range []string{"Sum of …", "Average of …", "Median of …", "Greatest of …"} {
			p.click("button", fn)
			p.fill("combobox", "Find a field to sum up", "value")
			time.Sleep(100 * time.Millisecond)
			eval[any](p, watch)
			p.do(chromedp.KeyEvent("\r"))
			note(fn)
		}
	})
	press := func(role, name string) {
		p.find(role, name)
		eval[any](p, watch)
		eval[any](p, `void window.found.click()`)
		note(name)
	}
	edit("everyone", func() {
		for _, whose := range []string{"My team's", "Mine", "Everyone's"} {
			press("option", whose)
		}
	})
	edit("across…", func() {
		p.fill("combobox", "Find a field to group by", "status")
		time.Sleep(100 * time.Millisecond)
		eval[any](p, watch)
		p.do(chromedp.KeyEvent("\r"))
		note("across status")
	})
	press("radio", "Totals only")
	press("radio", "Groups and records")
	edit(eval[string](p, `document.querySelector("[data-clause=chart]").innerText`), func() {
		for _, kind := range []string{"Bar", "Line", "Area", "Heat grid"} {
			press("option", kind)
		}
	})
	for i := range 8 {
		which := []string{"Undo", "Redo"}[i/4%2]
		p.find("button", which)
		eval[any](p, watch)
		eval[any](p, `void window.found.click()`)
		note(fmt.Sprint(which, " ", i))
	}
	sort.Float64s(times)
	t.Logf("%d edits: median %.0f ms, 95 of 100 within %.0f ms, longest %.0f ms; the machine's pace: %.0f ms, then %.0f ms", len(times), times[len(times)/2], times[len(times)*95/100], times[len(times)-1], before, eval[float64](p, pace))
}

// measured opens the application on the demo company, or on a data file, for an administrator.
func measured(t *testing.T, file string) *page {
	t.Helper()
	if _, err := os.Stat(file); err != nil {
		p := browse(t, open(t))
		p.signIn("Maite Corrie")
		return p
	}
	ctx := context.Background()
	s, err := store.Open(file)
	require.NoError(t, err)
	hash, err := store.HashPassword(demo.Password)
	require.NoError(t, err)
	require.NoError(t, s.PutAccount(ctx, store.Account{Person: 1, Role: "administrator", Password: hash}))
	require.NoError(t, s.Write(ctx, func(w *store.Writer) error {
		return w.Change("people", 1, store.Record{"email": "p1@brinehaven.example"})
	}))
	require.NoError(t, s.Warm(ctx))
	p := browse(t, serve(t, s))
	p.fill("textbox", "E-mail", "p1@brinehaven.example")
	p.fill("textbox", "Password", demo.Password)
	p.click("button", "Sign in")
	p.find("heading", "this is waiting")
	return p
}

// TestBoardOfTwentyFour measures how long a dashboard of 24 panels takes from the click of a link to all panels being
// there, the first time and again, where MEASURE is set.
func TestBoardOfTwentyFour(t *testing.T) {
	file := os.Getenv("MEASURE")
	if file == "" {
		t.Skip("set MEASURE=1, or to a data file made by uzzel seed")
	}
	p := measured(t, file)
	id := eval[float64](p, twentyFour)
	for _, round := range []string{"the first time", "again", "again"} {
		p.visit("/dashboards")
		p.find("link", "Twenty-four")
		ms := eval[map[string]float64](p, fmt.Sprintf(opening, id))
		t.Logf("%-15s first panel %4.0f ms, all 24 %5.0f ms, with the pictures in view %5.0f ms, with all pictures %5.0f ms", round, ms["first"], ms["all"], ms["seen"], ms["drawn"])
	}
}

// twentyFour makes a dashboard of the first 24 starters, and says its number.
const twentyFour = `(async () => {
	  const ask = async (method, path, body) => (await fetch(path, {method, headers: {"Content-Type": "application/json"}, body: body && JSON.stringify(body)})).json();
	  const folder = (await ask("GET", "/api/folders")).find((f) => f.mayChange).id;
	  const starters = (await ask("GET", "/api/starters")).slice(0, 24);
	  const panels = [];
	  for (const [i, s] of starters.entries()) {
	    const r = await ask("POST", "/api/reports", {title: "Panel " + i + " " + Date.now(), description: "", folder, brief: s.brief});
	    panels.push({report: r.id, x: (i % 3) * 4, y: Math.floor(i / 3) * 7, w: 4, h: 7});
	  }
	  return (await ask("POST", "/api/boards", {title: "Twenty-four " + Date.now(), folder, panels})).id;
	})()`

// opening clicks the link to a dashboard of 24 panels, and says after how many milliseconds the first of them has its
// answer, all have, every picture in view is drawn too, and every picture. What is not there after 20 s counts as never.
const opening = `new Promise((done) => {
  const t0 = performance.now(), at = {first: -1, all: -1, seen: -1, drawn: -1};
  const note = (what, is) => { if (is && at[what] < 0) at[what] = performance.now() - t0; };
  document.querySelector("a[href='/dashboards/%.0f']").click();
  const look = () => {
    const all = [...document.querySelectorAll("main article")];
    const ready = all.filter((a) => a.getAttribute("aria-busy") === "false" && a.textContent.includes("as of"));
    note("first", ready.length > 0);
    note("all", ready.length === 24);
    if (at.all > 0) {
      const bare = [...document.querySelectorAll("main [data-kind]")].filter((b) => !b.querySelector("svg"));
      note("seen", bare.every((b) => b.getBoundingClientRect().top > innerHeight));
      note("drawn", bare.length === 0);
    }
    if (at.drawn > 0 || performance.now() - t0 > 20000) done(at); else requestAnimationFrame(look);
  };
  look();
})`

// watch notes when the next answer has been painted: the page goes busy with the edit, and is painted when the frame in
// which it no longer is has been rendered. What is posted while a frame is made up runs right after its rendering.
const watch = `void (() => {
  const t0 = performance.now(); window.paintedAt = null;
  const before = document.querySelector(".sentence")?.innerText;
  const look = () => {
    const busy = document.querySelector("main [aria-busy=true]");
    const changed = document.querySelector(".sentence")?.innerText !== before;
    if (changed && !busy) {
      const after = new MessageChannel();
      after.port1.onmessage = () => { window.paintedAt = performance.now() - t0; };
      after.port2.postMessage(0);
    }
    else if (performance.now() - t0 < 5000) requestAnimationFrame(look);
    else window.paintedAt = 5000;
  };
  requestAnimationFrame(look);
})()`

// pace is how long a fixed piece of work takes in the browser: what was measured while it was longer was measured on a
// slower machine.
const pace = `(() => { const t0 = performance.now(); let s = 0; for (let i = 0; i < 2e8; i++) s = (s + i * 7) % 1000003; return s < 0 ? 0 : performance.now() - t0; })()`

// answered says how long the last answer took to come, and how large it was.
const answered = `(() => { const e = performance.getEntriesByType("resource").filter((x) => x.name.endsWith("/api/answer")).pop();
  const out = e ? Math.round(e.responseEnd - e.startTime) + " ms for " + Math.round(e.decodedBodySize / 1024) + " kB" : "nothing"; performance.clearResourceTimings(); return out; })()`

const painted = `new Promise((done) => { const look = () => window.paintedAt === null ? requestAnimationFrame(look) : done(window.paintedAt); look(); })`
