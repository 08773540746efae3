package difftest

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"math"
	"math/rand/v2"
	"sort"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/engine"
	"uzzel/core/period"
	"uzzel/core/result"
	"uzzel/core/schema"
	"uzzel/internal/soak"
)

var (
	many = flag.Int("briefs", 3000, "how many random briefs to compare")
	seed = flag.Uint64("seed", soak.Seed(), "where the random briefs begin")
)

// TestAgainstSQL compares the engine with SQLite over thousands of random briefs; SOAK=1h goes on for an hour.
func TestAgainstSQL(t *testing.T) {
	s, err := schema.New(settings)
	require.NoError(t, err)
	seen := map[string]int{}
	compared, differ := 0, 0
	var w *world
	var snap *column.Snapshot
	began, long := time.Now(), soak.For(0)
	for i := 0; i < *many || time.Since(began) < long; i++ {
		if i%100 == 0 {
			if w != nil {
				_ = w.db.Close()
			}
			w = newWorld(t, *seed*1000+uint64(i))
			snap = column.NewSnapshot(s, w)
		}
		m := &maker{r: rand.New(rand.NewPCG(*seed, uint64(i))), w: w, seen: seen}
		b, view := m.brief()
		data, err := json.Marshal(b)
		require.NoError(t, err)
		reader := pick(m, w.ids["people"])
		want := expected(t, w, b, view, reader)
		got, err := answer(snap, data, view, reader, seen)
		if err != nil {
			t.Errorf("brief %d is refused: %v\n%s", i, err, data)
			differ++
		} else if diff := difference(want, got); diff != "" {
			t.Errorf("brief %d (seed %d, world %d, %s, reader %s) differs: %s\n%s", i, *seed, *seed*1000+uint64(i/100*100), view, reader, diff, data)
			differ++
		}
		compared++
		if differ >= 5 {
			t.Fatalf("stopped after %d briefs", compared)
		}
	}
	keys := make([]string, 0, len(seen))
	for k := range seen {
		keys = append(keys, k)
	}
	sort.Strings(keys)
	var table []string
	for _, k := range keys {
		table = append(table, fmt.Sprintf("%s %d", k, seen[k]))
	}
	t.Logf("%d briefs compared. Occurred: %s", compared, strings.Join(table, "; "))
	for _, must := range mustOccur() {
		require.NotZero(t, seen[must], "%q never occurred", must)
	}
}

func mustOccur() []string {
	list := []string{"links deep: 0", "links deep: 1", "links deep: 2", "links deep: 3", "links deep: 4", "bring", "nested bring", "bring where", "keepEmpty: true", "keepEmpty: false",
		"all", "any", "not", "other", "ask", "fixed", "condition on link: some", "condition on link: none", "at_least on link", "own formula", "own bands", "own merge", "own in summary",
		"top", "every", "order of group", "where on summary", "summary formula", "compare: previous_period", "compare: year_before", "compare by place", "parts", "target", "target of a measure", "totalsOnly",
		"blank: true", "blank: false", "columns", "order", "limit", "period: rolling", "period: dates", "period: open", "period: current", "groups: 4", "across: 2", "overlap",
		"pair: top with compare", "pair: own with where", "pair: parts with every", "pair: bring with overlap", "view: records", "view: summary", "view: totals"}
	for _, w := range words {
		list = append(list, "period: "+w)
	}
	for _, u := range append([]string{"hour"}, units...) {
		list = append(list, "by: "+u)
	}
	for _, f := range []string{"count", "filled", "distinct", "sum", "average", "median", "min", "max"} {
		list = append(list, "fn: "+f, "linked "+f)
	}
	for _, s := range []string{"value", "percent_of_total", "percent_of_parent", "percent_of_row", "percent_of_column", "running_total", "change"} {
		list = append(list, "show: "+s)
	}
	for _, is := range []string{"any_of", "none_of", "contains", "not_contains", "starts_with", "under", "at_most", "over", "at_least", "between", "within", "empty", "filled"} {
		list = append(list, "is: "+is)
	}
	return append(list, "linked newest", "linked oldest")
}

func expected(t *testing.T, w *world, b obj, view, reader string) [][]string {
	t.Helper()
	o := &oracle{t: t, w: w, b: b, reader: reader}
	if view == "records" {
		header, lines := o.records()
		return append([][]string{header}, lines...)
	}
	header, lines, totals := o.summary()
	if view == "totals" {
		return [][]string{header[len(o.groups):], totals}
	}
	return append([][]string{header}, lines...)
}

func answer(snap *column.Snapshot, data []byte, view, reader string, seen map[string]int) ([][]string, error) {
	return answerSeeing(snap, data, view, reader, seen, nil)
}

func answerSeeing(snap *column.Snapshot, data []byte, view, reader string, seen map[string]int, sees map[string]engine.Sees) ([][]string, error) {
	b, err := brief.Decode(data)
	if err != nil {
		return nil, err
	}
	bound, err := brief.Bind(b, snap.Schema)
	if err != nil {
		return nil, err
	}
	day, err := period.ParseDay(today)
	if err != nil {
		return nil, err
	}
	opts := engine.Options{Today: day, Reader: reader, Sees: sees}
	var lines result.Lines
	if view == "records" {
		l, err := engine.List(context.Background(), snap, bound, opts)
		if err != nil {
			return nil, err
		}
		if lines, err = l.Lines(context.Background()); err != nil {
			return nil, err
		}
	} else {
		r, err := engine.Run(context.Background(), snap, bound, opts)
		if err != nil {
			return nil, err
		}
		for _, o := range r.Overlap {
			if o {
				seen["overlap"]++
				if b.Bring != nil {
					seen["pair: bring with overlap"]++
				}
			}
		}
		lines = r.Summary()
		if view == "totals" {
			lines = r.Totals()
		}
	}
	return append([][]string{lines.Header}, lines.Rows...), nil
}

func difference(want, got [][]string) string {
	if len(want) != len(got) {
		return fmt.Sprintf("%d lines, not %d\nwant %q\ngot  %q", len(got)-1, len(want)-1, head(want), head(got))
	}
	for i := range want {
		if len(want[i]) != len(got[i]) {
			return fmt.Sprintf("line %d has %d cells, not %d", i, len(got[i]), len(want[i]))
		}
		for j := range want[i] {
			if !alikeText(want[i][j], got[i][j]) {
				return fmt.Sprintf("line %d, %s: want %q, got %q\nwant %q\ngot  %q", i, want[0][j], want[i][j], got[i][j], head(want), head(got))
			}
		}
	}
	return ""
}

func head(lines [][]string) [][]string { return lines[:min(len(lines), 14)] }

// alikeText compares numbers to what is written of them: money to a cent, others to a millionth.
func alikeText(a, b string) bool {
	if a == b {
		return true
	}
	x, errX := strconv.ParseFloat(a, 64)
	y, errY := strconv.ParseFloat(b, 64)
	if errX != nil || errY != nil {
		return false
	}
	room := 1.01e-6 * math.Max(1, math.Abs(x)/1000)
	if dot := strings.IndexByte(b, '.'); dot >= 0 && len(b)-dot == 3 {
		room = 0.00501
	}
	return math.Abs(x-y) <= room
}
