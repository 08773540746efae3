package e2e

import (
	"os"
	"sort"
	"testing"
	"time"

	pages "github.com/chromedp/cdproto/page"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/require"
)

// TestFinderToPaint measures how long the field finder takes from a key to what it finds being painted, with a thousand
// more fields on deals than the demo has, where MEASURE is set.
func TestFinderToPaint(t *testing.T) {
	if os.Getenv("MEASURE") == "" {
		t.Skip("set MEASURE=1")
	}
	p := measured(t, "")
	_, err := chromedp.Call(p.ctx, pages.AddScriptToEvaluateOnNewDocument, pages.AddScriptToEvaluateOnNewDocumentParams{Source: `
	  const real = window.fetch;
	  window.fetch = async (...args) => {
	    const res = await real(...args);
	    if (!String(args[0]?.url ?? args[0]).endsWith("/api/schema")) return res;
	    const schema = await res.json();
	    const deals = schema.types.find((t) => t.key === "deals");
	    const like = deals.fields.find((f) => f.kind === "text");
	    for (let i = 0; i < 1000; i++) deals.fields.push({...like, key: "more_" + i, label: ["Berth", "Chain", "Deck", "Fender"][i % 4] + " measure " + i});
	    return new Response(JSON.stringify(schema), {status: 200, headers: {"Content-Type": "application/json"}});
	  };`})
	require.NoError(t, err)
	p.visit("/reports/new/deals")
	p.click("button", "where…")
	p.find("combobox", "Find a field to narrow by")
	require.Greater(t, eval[int](p, `document.querySelectorAll("[role=dialog] [role=option]").length`), 100)
	eval[any](p, `void (() => {
	  window.keys = [];
	  document.querySelector("[role=dialog] input").addEventListener("keydown", () => {
	    const t0 = performance.now();
	    requestAnimationFrame(() => setTimeout(() => window.keys.push(performance.now() - t0)));
	  }, true);
	})()`)
	for _, key := range "fender measure 77\b\b\b\b\b\b\b\b\b\b\b\b\b\b\b\bchain" {
		p.do(chromedp.KeyEvent(string(key)))
		time.Sleep(60 * time.Millisecond)
	}
	times := eval[[]float64](p, `window.keys`)
	sort.Float64s(times)
	t.Logf("%d keys: median %.0f ms, 95 of 100 within %.0f ms, longest %.0f ms", len(times), times[len(times)/2], times[len(times)*95/100], times[len(times)-1])
}
