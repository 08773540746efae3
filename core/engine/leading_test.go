package engine

import (
	"context"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/column"
)

// The first rows that are found here and there are those that putting all in order gives: of few and of very many rows, in
// the order that they have already, in its opposite and in none, with empty and equal values, with brought rows or without.
func TestLeading(t *testing.T) {
	random := rand.New(rand.NewPCG(5, 6))
	r := &run{guard: newGuard(context.Background(), nil)}
	for round := range 60 {
		n := []int{0, 1, 40, 3000, 20_000, 130_000}[round%6]
		var rows [3][]int32
		rows[0] = make([]int32, n)
		for i := range rows[0] {
			rows[0][i] = int32(i)
		}
		if round%2 == 0 {
			rows[1] = make([]int32, n)
			for i := range rows[1] {
				rows[1][i] = int32(random.IntN(3) - 1)
			}
		}
		by := make([][]int64, random.IntN(3))
		o := make(ordering, len(by))
		for k := range by {
			by[k] = make([]int64, n)
			kind := random.IntN(4)
			for i := range by[k] {
				switch v := int64(i); {
				case kind == 3 && i%7 == 0:
					by[k][i] = column.Null
				case kind == 0:
					by[k][i] = v / 3
				case kind == 1:
					by[k][i] = -v
				default:
					by[k][i] = []int64{random.Int64N(50), math.MaxInt64, math.MinInt64 + 1}[random.IntN(3)]
				}
			}
			o[k] = orderedBy{desc: random.IntN(2) == 0, node: &node{eval: func(b *batch, out []int64) {
				for i, row := range b.rows[0][:b.n] {
					out[i] = by[k][row]
				}
			}}}
		}
		all := putInOrder(r.guard, n, r.keys(o, rows, n), rows[:])
		for _, want := range []int{0, 1, 10, 1000} {
			require.Equal(t, all[:min(n, want)], append([]int32{}, r.firstOf(o, rows, n, want)...), "round %d, the first %d of %d", round, want, n)
		}
	}
	for n := range 500 { // each place is met once
		met := make([]bool, n)
		for k := range n {
			met[k*scattering(n)%n] = true
		}
		require.NotContains(t, met, false, n)
	}
}
