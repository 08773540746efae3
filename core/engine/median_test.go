package engine

import (
	"context"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"uzzel/core/column"
	"uzzel/core/exact"
)

// Whatever the order of the values, the median is the one that sorting finds.
func TestMiddle(t *testing.T) {
	chance := rand.New(rand.NewPCG(7, 11))
	orders := map[string]func(n, i int) int64{
		"rising":       func(_, i int) int64 { return int64(i) },
		"falling":      func(n, i int) int64 { return int64(n - i) },
		"all the same": func(int, int) int64 { return 5 },
		"two values":   func(_, i int) int64 { return int64(i % 2) },
		"up and down":  func(n, i int) int64 { return int64(min(i, n-i)) },
		"negative":     func(_, _ int) int64 { return -chance.Int64N(1000) },
		"scattered":    func(_, _ int) int64 { return chance.Int64N(1 << 40) },
		"saw":          func(_, i int) int64 { return int64(i * 7919 % 101) },
	}
	for name, at := range orders {
		for _, n := range []int{1, 2, 3, 31, 32, 33, 100, 1001, 4096} {
			list := make([]int64, n)
			for i := range list {
				list[i] = at(n, i)
			}
			sorted := slices.Sorted(slices.Values(list))
			want := exact.Frac(sorted[n/2], 100)
			if n%2 == 0 {
				want = exact.Frac(sorted[n/2-1], 100).Add(want).Mul(exact.Frac(1, 2))
			}
			assert.Equal(t, want.String(), middle(list, 100).String(), "%s, %d values", name, n)
			assert.Equal(t, sorted, slices.Sorted(slices.Values(list)), "no value is lost: %s, %d values", name, n)
		}
	}
}

// Values are put in order by their digits as comparing them would put them, also where they lie far apart or below
// zero; the median over several ordered lists is that of all their values together.
func TestOrderedMedians(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		far := rapid.SampledFrom([]int64{3, 1000, 1 << 20, 1 << 40}).Draw(t, "far")
		shift := rapid.Int64Range(-far, far).Draw(t, "shift")
		r := rand.New(rand.NewPCG(rapid.Uint64().Draw(t, "seed"), 1))
		var lists [][]int64
		var all, room []int64
		for range rapid.IntRange(1, 5).Draw(t, "lists") {
			list := make([]int64, rapid.SampledFrom([]int{1, 2, 30, 511, 512, 3000}).Draw(t, "n"))
			for i := range list {
				list[i] = shift + r.Int64N(far)
			}
			want := slices.Sorted(slices.Values(list))
			room = order(list, room)
			require.Equal(t, want, list)
			lists, all = append(lists, list), append(all, list...)
		}
		want := middle(all, 100)
		require.Zero(t, want.Cmp(middleOf(newGuard(context.Background(), nil), lists, 100)))
		slices.Sort(all)
		for _, k := range []int{0, len(all) / 3, len(all) - 1} {
			require.Equal(t, all[k], place(lists, k))
		}
	})
}

// Noted values come out leaf by leaf, each as often as it was noted, however many blocks and workers there are.
func TestNotedByLeaf(t *testing.T) {
	const leaves = 7
	r := rand.New(rand.NewPCG(1, 2))
	want := make([][]int64, leaves)
	var n noted
	for range 60 {
		vals, leaf, marks := make([]int64, batchSize), make([]int32, batchSize), make([]bool, batchSize)
		for i := range vals {
			vals[i], leaf[i], marks[i] = r.Int64N(900), r.Int32N(leaves-1), r.IntN(3) > 0
			if r.IntN(10) == 0 {
				vals[i] = column.Null
			} else if marks[i] {
				want[leaf[i]] = append(want[leaf[i]], vals[i])
			}
		}
		n.add(marks, nil, true, vals, leaf)
	}
	require.Greater(t, len(n.blocks), 1)
	o := n.byLeaf(newGuard(context.Background(), nil), leaves)
	for leaf, list := range want {
		slices.Sort(list)
		require.Equal(t, len(list), len(o.of(leaf)))
		require.True(t, slices.Equal(list, o.of(leaf)), "leaf %d", leaf)
	}
	n.release()
	require.Empty(t, (&noted{}).byLeaf(newGuard(context.Background(), nil), leaves).vals)
}
