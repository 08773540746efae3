package engine

import (
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"

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
