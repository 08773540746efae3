package e2e

import (
	"encoding/base64"
	"testing"
	"time"

	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"
)

// A dashboard is arranged: a starter and a report are found in place, what was not saved survives a reload, steps are
// undone and done again, and an earlier version is seen and brought back.
func TestDashboardIsArrangedWithoutLoss(t *testing.T) {
	p := browse(t, open(t))
	p.signIn("Maite Corrie")
	p.visit("/dashboards/1")
	panels := func(n string) {
		t.Helper()
		p.await(`document.querySelectorAll("main article").length === ` + n + ` ? "so many" : ""`)
	}
	panels("5")
	p.click("button", "Arrange")
	p.click("button", "Add a report")
	p.fill("combobox", "Find a report or a starter", "how far")
	p.find("option", "How far deals get")
	p.enter()
	p.find("article", "How far deals get")
	p.click("button", "Add a report")
	p.fill("combobox", "Find a report or a starter", "deals by status")
	p.find("option", "Deals by status")
	p.enter()
	p.find("article", "Deals by status")
	panels("7")
	p.click("button", "Undo")
	panels("6")
	p.click("button", "Redo")
	panels("7")
	p.sees("draft saved")
	p.visit("/dashboards/1")
	panels("5")
	p.click("button", "Go on with it")
	panels("7")
	p.find("figure", "Deals by stage")
	p.sees("7 of 60 panels")
	p.click("button", "Save dashboard")
	p.sees("Dashboard saved")
	p.visit("/dashboards/1")
	panels("7")
	require.NotContains(t, eval[string](p, `document.body.innerText`), "did not save it", "the draft is gone once it is saved")

	p.click("button", "More to do with the dashboard")
	p.click("menuitem", "Earlier versions")
	p.sees("“How far deals get”, “Deals by status” placed")
	p.click("button", "See it")
	p.sees("As it was on")
	panels("5")
	p.click("button", "Back to now")
	panels("7")
	p.click("button", "More to do with the dashboard")
	p.click("menuitem", "Earlier versions")
	p.click("button", "Bring it back")
	p.sees("Brought back")
	panels("5")

	// Someone else saves it while it is being arranged: it shows what was saved, and offers what was arranged.
	p.click("button", "Arrange")
	p.click("button", "Add words")
	p.sees("6 of 60 panels")
	p.sees("draft saved")
	require.EqualValues(t, 200, eval[float64](p, `(async () => { const b = await (await fetch("/api/boards/1")).json();
	  return (await fetch("/api/boards/1", {method: "PUT", headers: {"Content-Type": "application/json"}, body: JSON.stringify({...b, title: "Company, Tuesday"})})).status; })()`))
	p.find("heading", "Company, Tuesday")
	p.sees("It was saved by someone since")
	p.click("button", "Go on with it")
	p.sees("6 of 60 panels")
	p.click("button", "Save dashboard")
	p.sees("Dashboard saved")
	require.Equal(t, "Company, Tuesday", eval[string](p, `document.querySelector("h1").innerText`))
}

// A dashboard as PNG and PDF, a panel as SVG: the files are what they say, and hold what is on the screen.
func TestPicturesAreFiles(t *testing.T) {
	p := browse(t, open(t))
	p.signIn("Maite Corrie")
	p.visit("/dashboards/1")
	p.find("figure", "Value by stage")
	eval[any](p, `void (window.taken = [], window.make = URL.createObjectURL, URL.createObjectURL = (blob) => { window.taken.push(blob); return window.make.call(URL, blob); })`)
	take := func(button, item string) string {
		t.Helper()
		p.click("button", button)
		p.click("menuitem", item)
		p.await(`window.taken.length ? "there" : ""`)
		data, err := base64.StdEncoding.DecodeString(eval[string](p, `new Promise((done) => { const r = new FileReader(); r.onload = () => done(r.result.split(",")[1]); r.readAsDataURL(window.taken.pop()); })`))
		require.NoError(t, err)
		return string(data)
	}
	png := take("More to do with the dashboard", "PNG")
	require.Equal(t, "\x89PNG", png[:4])
	require.Greater(t, len(png), 100_000)
	pdf := take("More to do with the dashboard", "PDF")
	require.Equal(t, "%PDF-", pdf[:5])
	require.Greater(t, len(pdf), 20_000)
	require.Equal(t, "\xff\xd8\xff", take("More of What closes this quarter", "JPEG")[:3])
	svg := take("More of What closes this quarter", "SVG")
	for _, want := range []string{"<svg", "@font-face", "Enquiry", "Contract review", "deals"} {
		require.Contains(t, svg, want)
	}
	require.Empty(t, eval[string](p, `document.querySelector(".pictured") ? "left" : ""`), "the screen is as it was")
}

// On a touch screen a panel is moved by its handle, and on a phone panels stack in their reading order.
func TestDashboardByTouch(t *testing.T) {
	p := browse(t, open(t))
	p.signIn("Maite Corrie")
	p.do(chromedp.EmulateViewport(1280, 800, chromedp.EmulateTouch))
	p.visit("/dashboards/1")
	p.find("article", "Won by segment")
	p.click("button", "Arrange")
	p.find("button", "Move “Won by segment”")
	left := `document.querySelector("article[aria-label='Won by segment']").getBoundingClientRect().left`
	before := eval[float64](p, left)
	at := eval[[]float64](p, `(() => { const r = window.found.getBoundingClientRect(); return [r.x + r.width / 2, r.y + r.height / 2]; })()`)
	touch := func(kind input.DispatchTouchEventType, points ...*input.TouchPoint) {
		t.Helper()
		_, err := chromedp.Call(p.ctx, input.DispatchTouchEvent, input.DispatchTouchEventParams{Type: kind, TouchPoints: points})
		require.NoError(t, err)
		eval[any](p, `new Promise((done) => requestAnimationFrame(() => done(0)))`) // a finger is not faster
	}
	touch("touchStart", &input.TouchPoint{X: at[0], Y: at[1]})
	for i := 1; i <= 12; i++ {
		touch("touchMove", &input.TouchPoint{X: at[0] + 40*float64(i), Y: at[1] + 2*float64(i)})
	}
	touch("touchEnd")
	p.await(`Math.abs(` + left + ` - ` + js(before) + `) > 100 ? "moved" : ""`)
	p.click("button", "Save dashboard")
	p.sees("Dashboard saved")

	p.do(chromedp.EmulateViewport(390, 800, chromedp.EmulateTouch, chromedp.EmulateMobile))
	p.visit("/dashboards/1")
	p.find("article", "Won by segment")
	boxes := eval[[][]float64](p, `[...document.querySelectorAll("main article")].map((e) => { const r = e.getBoundingClientRect(); return [r.left, r.top, r.right]; })`)
	require.Len(t, boxes, 5)
	for i, b := range boxes {
		require.LessOrEqual(t, b[2], 390.0, "nothing is beside the screen")
		if i > 0 {
			require.Greater(t, b[1], boxes[i-1][1], "panels stack")
		}
	}
}

// Dashboards stand in one's own order, which is made by keys as well.
func TestOrderOfDashboards(t *testing.T) {
	p := browse(t, open(t))
	p.signIn("Maite Corrie")
	eval[any](p, `(async () => { const folder = (await (await fetch("/api/folders")).json()).find((f) => f.mayChange).id;
	  for (const title of ["Alpha", "Beta"]) await fetch("/api/boards", {method: "POST", headers: {"Content-Type": "application/json"}, body: JSON.stringify({title, folder, panels: []})}); return 1; })()`)
	p.visit("/dashboards")
	p.find("button", "Move Alpha")
	order := `[...document.querySelectorAll("ul[aria-label=Dashboards] a")].map((e) => e.innerText).filter((t) => /^(Alpha|Beta|Company)/.test(t)).join(", ")`
	require.Equal(t, "Alpha, Beta, Company, Monday", eval[string](p, order))
	p.drag("button", "Move Alpha", 0, 90)
	p.await(order + ` === "Beta, Company, Monday, Alpha" ? "moved" : ""`)
	p.find("button", "Move Beta")
	eval[any](p, `void window.found.focus()`)
	for _, key := range []string{" ", kb.ArrowDown, " "} {
		p.do(chromedp.KeyEvent(key))
		time.Sleep(300 * time.Millisecond) // the list is measured anew between keys, and listens for them a moment later
	}
	p.await(order + ` === "Company, Monday, Beta, Alpha" ? "moved" : ""`)
	p.visit("/dashboards")
	p.find("button", "Move Beta")
	require.Equal(t, "Company, Monday, Beta, Alpha", eval[string](p, order))
}

// One report serves two panels, open ones and won ones: each has conditions of its own.
func TestPanelOfItsOwnConditions(t *testing.T) {
	p := browse(t, open(t))
	p.signIn("Osric Jarrow")
	p.visit("/dashboards/1")
	p.click("button", "Arrange")
	p.find("button", "Move “Won by segment”")
	p.click("button", "Settings of Deals created, month by month")
	p.click("button", "Only where…")
	p.fill("combobox", "Find a field to narrow by", "status")
	p.click("option", "Status")
	p.click("checkbox", "open")
	p.shot("panel-where")
	p.click("button", "Done")
	p.gone()
	p.sees("where status is open")
	p.shot("panel-narrowed")
}
