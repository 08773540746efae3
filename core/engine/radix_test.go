package engine

import (
	"context"
	"math"
	"math/rand/v2"
	"sort"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/column"
)

// Sorting by digits gives what sorting by comparing gives: several keys up and down, empty values, ties, brought rows.
func TestInOrder(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	g := newGuard(context.Background(), nil)
	for round := range 200 {
		n := r.IntN(300)
		l := &Records{n: n}
		for i := range l.rows {
			if i == 0 || r.IntN(2) == 0 {
				for range n {
					l.rows[i] = append(l.rows[i], int32(r.IntN(40)-1))
				}
			}
		}
		for i := range n { // no two rows are the same
			l.rows[0][i] = int32((i * 7919) % max(n, 1))
		}
		keys := make([]sortKey, r.IntN(4))
		for k := range keys {
			keys[k].desc = r.IntN(2) == 0
			spread := []int64{2, 50, 1 << 40}[r.IntN(3)]
			for range n {
				v := r.Int64N(spread) - spread/2
				switch r.IntN(12) {
				case 0:
					v = column.Null
				case 1:
					v = []int64{math.MaxInt64, math.MinInt64 + 1, 0}[r.IntN(3)]
				}
				keys[k].vals = append(keys[k].vals, v)
			}
		}
		want := make([]int32, n)
		for i := range want {
			want[i] = int32(i)
		}
		before := less(keys, l.rows)
		sort.SliceStable(want, func(i, j int) bool { return before(want[i], want[j]) })
		require.Equal(t, want, putInOrder(g, n, keys, l.rows[:]), round)
	}
}
