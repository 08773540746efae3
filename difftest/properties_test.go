package difftest

import (
	"context"
	"encoding/json"
	"math/rand/v2"
	"runtime"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/engine"
	"uzzel/core/exact"
	"uzzel/core/period"
	"uzzel/core/result"
	"uzzel/core/schema"
)

// TestProperties runs random briefs and checks what holds for every result.
func TestProperties(t *testing.T) {
	s, err := schema.New(settings)
	require.NoError(t, err)
	w := newWorld(t, 5)
	defer func() { _ = w.db.Close() }()
	snap := column.NewSnapshot(s, w)
	day, err := period.ParseDay(today)
	require.NoError(t, err)
	did := map[string]int{}
	for i := range 800 {
		m := &maker{r: rand.New(rand.NewPCG(8, uint64(i))), w: w, seen: map[string]int{}}
		made, _ := m.brief()
		data, err := json.Marshal(made)
		require.NoError(t, err)
		b, err := brief.Decode(data)
		require.NoError(t, err)
		opts := engine.Options{Today: day, Reader: pick(m, w.ids["people"])}
		run := func(b *brief.Brief) *result.Result {
			bound, err := brief.Bind(b, s)
			require.NoError(t, err, "%s", data)
			r, err := engine.Run(context.Background(), snap, bound, opts)
			require.NoError(t, err, "%s", data)
			return r
		}
		r := run(b)
		partition(t, r, did, data)
		stable(t, run, b, r, did, data)
		otherIsTheRest(t, run, b, r, did, data)
	}
	for _, what := range []string{"partition", "overlap", "stable", "other"} {
		require.Greater(t, did[what], 20, "%s was hardly ever tried: %v", what, did)
	}
}

// partition: the groups of the first level add up to the total, unless overlap says that they share records; then they
// come to no less.
func partition(t *testing.T, r *result.Result, did map[string]int, data []byte) {
	if r.Bound.Rows == 0 {
		return
	}
	for k, sum := range r.Bound.Summaries {
		if sum.Formula != nil || sum.Source.Fn != "count" {
			continue
		}
		total := exact.Num{}
		for _, n := range r.Rows[0].Children {
			total = total.Add(r.Cell(n, 0).Plain[k].Num)
		}
		all := r.Cell(0, 0).Plain[k].Num
		if r.Overlap[0] {
			did["overlap"]++
			require.GreaterOrEqual(t, total.Cmp(all), 0, "%s", data)
			continue
		}
		did["partition"]++
		require.Zero(t, total.Cmp(all), "groups come to %s, the total is %s\n%s", total, all, data)
	}
}

// stable: the same brief gives the same lines in the same order, whatever number of workers share the scan.
func stable(t *testing.T, run func(*brief.Brief) *result.Result, b *brief.Brief, r *result.Result, did map[string]int, data []byte) {
	did["stable"]++
	was := runtime.GOMAXPROCS(1)
	alone := run(b)
	runtime.GOMAXPROCS(was)
	require.Equal(t, r.Summary(), alone.Summary(), "%s", data)
	require.Equal(t, r.Totals(), alone.Totals(), "%s", data)
}

// otherIsTheRest: what is kept, Other and (blank) together are all records, so that a top with Other changes no total.
func otherIsTheRest(t *testing.T, run func(*brief.Brief) *result.Result, b *brief.Brief, r *result.Result, did map[string]int, data []byte) {
	without, tops := *b, 0
	strip := func(list []brief.Group) []brief.Group {
		out := append([]brief.Group{}, list...)
		for i := range out {
			if out[i].Top == nil {
				continue
			}
			if out[i].Top.Rest == "drop" {
				tops = -1 << 30
			}
			out[i].Top = nil
			tops++
		}
		return out
	}
	without.Groups, without.Across = strip(b.Groups), strip(b.Across)
	if tops <= 0 || b.Compare != "" {
		return
	}
	did["other"]++
	require.Equal(t, run(&without).Totals().Rows, r.Totals().Rows, "%s", data)
}
