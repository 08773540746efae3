package e2e

import (
	"context"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/internal/demo/demotest"
	"uzzel/internal/store"
)

// TestScroll measures the frames while a list of 50,000 rows is scrolled, where MEASURE is set: none
// takes more than 50 ms, save what the machine itself leaves out while nothing is scrolled.
func TestScroll(t *testing.T) {
	if os.Getenv("MEASURE") == "" {
		t.Skip("set MEASURE=1")
	}
	s := demotest.Open(t)
	require.NoError(t, s.Write(context.Background(), func(w *store.Writer) error {
		i := int64(14000)
		return w.Bulk("activities", []string{"id", "kind", "subject", "customer", "owner", "happens", "minutes"}, func() []any {
			if i++; i > 50_000 {
				return nil
			}
			return []any{i, "Call", "Berth plan", 1 + i%420, 1 + i%14, int64(demotest.Day)*86400 - i*60, 10_000_000}
		})
	}))
	p := browse(t, serve(t, s))
	p.signIn("Maite Corrie")
	p.visit("/records/activities")
	p.sees("50,000 rows, all of them")
	idle := eval[map[string]float64](p, strings.ReplaceAll(scroll, "box.scrollTop", "box.idle"))
	frames := eval[map[string]float64](p, scroll)
	t.Logf("idle %v; scrolling %v", idle, frames)
	require.Less(t, frames["worst"], max(50, idle["worst"]*1.5))
}

// scroll goes through the list for ten seconds, with one long jump, and gives the times between frames.
const scroll = `new Promise((done) => {
  const box = document.querySelector("[role=table]"); const times = []; let last = performance.now(); let n = 0; box.idle = 0;
  const step = () => { const now = performance.now(); times.push(now - last); last = now; box.scrollTop += 137; if (++n === 300) box.scrollTop = 900000; if (n < 600) requestAnimationFrame(step);
    else { times.sort((a, b) => a - b); done({frames: n, median: times[n >> 1], tenth: times[n - 10], worst: times[n - 1], over50: times.filter((t) => t > 50).length}); } };
  requestAnimationFrame(step); })`
