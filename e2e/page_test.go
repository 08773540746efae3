// Package e2e drives the real interface in a headless browser, finding controls as a person's screen reader does: by
// role and name.
package e2e

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http/httptest"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/require"

	"uzzel/internal/app"
	"uzzel/internal/demo"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/httpapi"
	"uzzel/internal/store"
	"uzzel/web"
)

// patience is how long a journey waits for what is to come, on a busy machine too.
const patience = time.Minute

// open serves a fresh demo company.
func open(t *testing.T) string {
	t.Helper()
	return serve(t, demotest.Open(t))
}

// serve serves an open store until the test ends.
func serve(t *testing.T, s *store.Store) string {
	t.Helper()
	a, err := app.New(s, func() int32 { return demotest.Day }, nil)
	require.NoError(t, err)
	front, err := web.Front()
	require.NoError(t, err)
	h, err := httpapi.New(a, httpapi.Config{Sessions: s.Sessions(), Front: front, Demo: demo.Password})
	require.NoError(t, err)
	server := httptest.NewServer(h)
	t.Cleanup(func() {
		server.Close()
		require.NoError(t, s.Close())
	})
	return server.URL
}

func chromium(t *testing.T) string {
	t.Helper()
	for _, name := range []string{os.Getenv("CHROMIUM"), "chromium-headless-shell", "chromium"} {
		if path, err := exec.LookPath(name); name != "" && err == nil {
			return path
		}
	}
	t.Fatal("there is no Chromium; make test installs one, or set CHROMIUM")
	return ""
}

// page is one tab of a browser of its own.
type page struct {
	t    *testing.T
	ctx  context.Context
	url  string
	keys int // that were pressed
}

func browse(t *testing.T, url string) *page {
	t.Helper()
	opts := append([]chromedp.ExecAllocatorOption{}, chromedp.DefaultExecAllocatorOptions[:]...)
	opts = append(opts, chromedp.ExecPath(chromium(t)), chromedp.NoSandbox)
	for _, flag := range []string{"disable-background-networking", "disable-component-update", "disable-sync", "disable-quic", "hide-scrollbars", "force-prefers-reduced-motion"} {
		opts = append(opts, chromedp.Flag(flag, true))
	}
	opts = append(opts, chromedp.Flag("font-render-hinting", "none"))
	alloc, cancelAlloc := chromedp.NewExecAllocator(context.Background(), opts...)
	ctx, cancel := chromedp.NewContext(alloc)
	t.Cleanup(func() { cancel(); cancelAlloc() })
	p := &page{t: t, ctx: ctx, url: url}
	require.NoError(t, chromedp.Do(ctx, chromedp.EmulateViewport(1280, 800)))
	go func() {
		for m, err := range chromedp.Console(ctx) {
			if err != nil {
				return
			}
			if m.IsException() || (m.Type == "error" && !strings.HasPrefix(m.Text, "Failed to load resource")) {
				t.Errorf("the page threw: %s", m)
			}
		}
	}()
	p.visit("/")
	return p
}

func (p *page) do(steps ...chromedp.Action[chromedp.Void]) {
	p.t.Helper()
	ctx, cancel := context.WithTimeout(p.ctx, patience)
	defer cancel()
	require.NoError(p.t, chromedp.Do(ctx, steps...))
}

func (p *page) visit(path string) {
	p.t.Helper()
	p.do(chromedp.Navigate(p.url + path))
}

// finder is the part of a screen reader that is needed here: elements by role and accessible name.
const finder = `(role, name) => {
  const within = role.startsWith("main ") ? "main" : "";
  role = role.replace("main ", "");
  const implied = {button: "button", link: "a[href]", heading: "h1,h2,h3", textbox: "input:not([type]),input[type=text],input[type=email],input[type=password],textarea",
    searchbox: "input[type=search]", spinbutton: "input[type=number]", combobox: "select", checkbox: "input[type=checkbox]", radio: "input[type=radio]", cell: "td", table: "table", article: "article", figure: "figure", dialog: "dialog", listitem: "li", list: "ul,ol", alert: "", region: "section[aria-label]"};
  const text = (e) => (e.innerText ?? e.textContent ?? "").replace(/\s+/g, " ").trim();
  const nameOf = (e) => e.getAttribute("aria-label") ?? (e.getAttribute("aria-labelledby") ? text(document.getElementById(e.getAttribute("aria-labelledby"))) :
    e.id && document.querySelector('label[for="' + e.id + '"]') ? text(document.querySelector('label[for="' + e.id + '"]')) : e.matches("input,select") && e.closest("label") ? text(e.closest("label")) : e.placeholder && !text(e) ? e.placeholder : text(e));
  const root = within ? document.querySelector(within) : document;
  if (!root) return null;
  const all = [...root.querySelectorAll('[role="' + role + '"]' + (implied[role] ? "," + implied[role] : ""))]
    .filter((e) => !e.getAttribute("role") || e.getAttribute("role") === role)
    .filter((e) => e.getClientRects().length > 0 && !e.closest("[aria-hidden=true]"));
  return all.find((e) => nameOf(e) === name) ?? all.find((e) => nameOf(e).startsWith(name)) ?? all.find((e) => nameOf(e).includes(name)) ?? null;
}`

// settled runs what only looks at the page, and again where the page it was to look at has just made way for the next:
// the browser says so before it has done anything.
func settled[T any](ctx context.Context, look chromedp.Action[T]) (T, error) {
	for {
		v, err := chromedp.Run(ctx, look)
		if err == nil || !strings.Contains(err.Error(), "Cannot find context with specified id") {
			return v, err
		}
		select {
		case <-ctx.Done():
			return v, err
		case <-time.After(20 * time.Millisecond):
		}
	}
}

// until waits until an expression gives something.
func until[T any](p *page, expression string) (T, error) {
	ctx, cancel := context.WithTimeout(p.ctx, patience)
	defer cancel()
	return settled(ctx, chromedp.Poll[T](expression))
}

func js(v any) string {
	text, _ := json.Marshal(v)
	return string(text)
}

// find waits until there is an element of a role and name that is not disabled, and marks it.
func (p *page) find(role, name string) {
	p.t.Helper()
	_, err := until[bool](p, fmt.Sprintf(`(() => { const e = (%s)(%s, %s); if (!e || e.disabled || document.querySelector("main [aria-busy=true]")) return false; window.found = e; return true; })()`, finder, js(role), js(name)))
	if err != nil {
		p.shot("failed")
		text, _ := chromedp.Run(p.ctx, chromedp.Evaluate[string](`[...document.querySelectorAll("main [aria-busy=true]")].map(e => "busy: " + e.outerHTML.slice(0, 200) + "\n").join("") + document.body.innerText`))
		require.NoError(p.t, err, "no %s “%s” on the screen, which says:\n%s", role, name, text)
	}
}

func eval[T any](p *page, expression string) T {
	p.t.Helper()
	v, err := settled(p.ctx, chromedp.Evaluate[T](expression, chromedp.EvalAwaitPromise))
	require.NoError(p.t, err)
	return v
}

// await waits until an expression gives text.
func (p *page) await(expression string) string {
	p.t.Helper()
	text, err := until[string](p, expression)
	if err != nil {
		p.shot("failed")
	}
	require.NoError(p.t, err, "nothing comes of %s", expression)
	return text
}

// click clicks an element with the mouse, once it has stood still for 80 ms.
func (p *page) click(role, name string) {
	p.t.Helper()
	p.find(role, name)
	at, err := until[[]float64](p, fmt.Sprintf(`(() => { const e = (%s)(%s, %s); if (!e || e.disabled) return null; e.scrollIntoView({block: "nearest"});
	  const r = e.getClientRects()[0]; if (!r) return null; const at = [r.x + r.width / 2, r.y + r.height / 2]; const was = window.still;
	  if (was && was[0] === e && was[1] === at[0] && was[2] === at[1]) return performance.now() - was[3] > 80 ? at : null;
	  window.still = [e, ...at, performance.now()]; return null; })()`, finder, js(role), js(name)))
	require.NoError(p.t, err, "%s “%s” does not stand still", role, name)
	eval[any](p, `void (window.still = null)`)
	p.do(chromedp.MouseClickXY(at[0], at[1]))
}

// press focuses an element and presses Enter.
func (p *page) press(role, name string) {
	p.t.Helper()
	p.find(role, name)
	// What closes hands the focus back some frames later: the key is pressed once it has rested where it is to be.
	eval[any](p, `void (window.rested = null)`)
	p.await(`(() => { const e = window.found, now = performance.now(); if (document.activeElement !== e) { e.focus(); window.rested = now; return ""; }
	  return window.rested === null || now - window.rested > 120 ? "rests" : ""; })()`)
	p.do(chromedp.KeyEvent("\r"))
}

// fill types into a field after emptying it.
func (p *page) fill(role, name, text string) {
	p.t.Helper()
	p.find(role, name)
	eval[any](p, `void (window.found.focus(), window.found.select?.())`)
	p.do(chromedp.KeyEvent(text))
}

// folder picks a folder by its name.
func (p *page) folder(option string) {
	p.t.Helper()
	p.find("combobox", "Folder")
	eval[any](p, fmt.Sprintf(`void (() => { const s = window.found; const o = [...s.options].find((o) => o.text.includes(%s));
	  Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, "value").set.call(s, o.value); s.dispatchEvent(new Event("change", {bubbles: true})); })()`, js(option)))
}

// sees waits until the screen says something.
func (p *page) sees(text string) {
	p.t.Helper()
	if _, err := until[bool](p, fmt.Sprintf(`document.body.innerText.replace(/\s+/g, " ").includes(%s)`, js(text))); err != nil {
		p.shot("failed")
		require.NoError(p.t, err, "the screen does not say “%s” but:\n%s", text, eval[string](p, `document.body.innerText`))
	}
}

// gone waits until nothing is open over the page.
func (p *page) gone() {
	p.t.Helper()
	_, err := until[bool](p, `!document.querySelector("[role=dialog]")`)
	require.NoError(p.t, err, "a dialog stays on the screen")
}

// escape closes what is open, and waits until it is gone.
func (p *page) escape() {
	p.t.Helper()
	p.do(chromedp.KeyEvent("\x1b"))
	p.gone()
}

func (p *page) signIn(person string) {
	p.t.Helper()
	p.click("button", person)
	p.click("button", "Sign in")
	p.find("heading", "this is waiting")
	p.visit("/find")
	p.find("heading", "Find")
}

// shot takes a picture into the folder SHOTS, where one is named.
func (p *page) shot(name string) {
	p.t.Helper()
	dir := os.Getenv("SHOTS")
	if dir == "" {
		return
	}
	_, _ = chromedp.Run(p.ctx, chromedp.Poll[bool](`[...document.querySelectorAll("[data-kind]")].every((e) => e.dataset.finished)`, chromedp.WithPollingTimeout(5*time.Second)))
	data, err := chromedp.Run(p.ctx, chromedp.CaptureScreenshot())
	require.NoError(p.t, err)
	require.NoError(p.t, os.WriteFile(filepath.Join(dir, strings.ReplaceAll(name, " ", "-")+".png"), data, 0o600))
}

// drag moves an element with the mouse.
func (p *page) drag(role, name string, dx, dy float64) {
	p.t.Helper()
	p.find(role, name)
	at := eval[[]float64](p, `(() => { const r = window.found.getBoundingClientRect(); return [r.x + r.width / 2, r.y + r.height / 2]; })()`)
	p.do(chromedp.DragAndDropXY(at[0], at[1], at[0]+dx, at[1]+dy, 12))
}

// dragCorner resizes the first panel by its corner.
func (p *page) dragCorner(dx, dy float64) {
	p.t.Helper()
	at := eval[[]float64](p, `(() => { const r = document.querySelector(".react-resizable-handle").getBoundingClientRect(); return [r.x + r.width / 2, r.y + r.height / 2]; })()`)
	p.do(chromedp.DragAndDropXY(at[0], at[1], at[0]+dx, at[1]+dy, 12))
}

// choose sets a select, found by its label, to a value.
func (p *page) choose(label, value string) {
	p.t.Helper()
	p.find("combobox", label)
	p.await(fmt.Sprintf(`[...window.found.options].some((o) => o.value === %s) ? "there" : ""`, js(value)))
	p.await(fmt.Sprintf(`(() => { Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, "value").set.call(window.found, %s);
		window.found.dispatchEvent(new Event("change", {bubbles: true})); return "done"; })()`, js(value)))
}

// text is what a record's page says of a field.
func (p *page) text(path, field string) string {
	p.t.Helper()
	p.visit(path)
	return p.await(fmt.Sprintf(`[...document.querySelectorAll("dt")].find((d) => d.innerText === %s)?.nextElementSibling?.innerText ?? ""`, js(field)))
}
