package exact_test

import (
	"math"
	"math/big"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"uzzel/core/exact"
)

// Every operation agrees with math/big on numbers small and huge.
func TestAgreesWithBig(t *testing.T) {
	num := rapid.Custom(func(t *rapid.T) exact.Num {
		n := rapid.OneOf(rapid.Int64(), rapid.Int64Range(-1000, 1000)).Draw(t, "n")
		d := rapid.OneOf(rapid.Int64Range(1, math.MaxInt64), rapid.SampledFrom([]int64{1, 100, 1_000_000})).Draw(t, "d")
		return exact.Frac(n, d)
	})
	rapid.Check(t, func(t *rapid.T) {
		a, b := num.Draw(t, "a"), num.Draw(t, "b")
		x, y := a.Rat(), b.Rat()
		require.Zero(t, a.Add(b).Rat().Cmp(new(big.Rat).Add(x, y)))
		require.Zero(t, a.Sub(b).Rat().Cmp(new(big.Rat).Sub(x, y)))
		require.Zero(t, a.Mul(b).Mul(a).Rat().Cmp(new(big.Rat).Mul(new(big.Rat).Mul(x, y), x)))
		require.Equal(t, x.Cmp(y), a.Cmp(b))
		q, ok := a.Quo(b)
		require.Equal(t, y.Sign() != 0, ok)
		if ok {
			require.Zero(t, q.Rat().Cmp(new(big.Rat).Quo(x, y)))
		}
		require.Equal(t, x.Sign(), a.Sign())
	})
}

func TestRoundsHalfAwayFromZero(t *testing.T) {
	for _, c := range []struct {
		num      exact.Num
		decimals int
		want     string
	}{
		{exact.Frac(5, 2), 0, "3"}, {exact.Frac(-5, 2), 0, "-3"}, {exact.Frac(2675, 1000), 2, "2.68"},
		{exact.Frac(-1, 1000), 2, "0.00"}, {exact.Int(1550), -2, "1600"}, {exact.Frac(1, 3), 6, "0.333333"},
	} {
		got := c.num.Round(c.decimals).Fixed(max(c.decimals, 0))
		require.Equal(t, c.want, got)
	}
	require.Equal(t, "0", exact.Frac(-1, 10_000_000).String(), "minus zero is 0")
	require.Equal(t, "2.5", exact.Frac(5, 2).String())
	require.Equal(t, "-18446744073709551616", exact.Wide(-1, 0, 1).String())
}

func TestParse(t *testing.T) {
	for s, want := range map[string]string{"12.50": "12.5", "-0.000001": "-0.000001", "007": "7", "99999999999999999999": "99999999999999999999"} {
		n, ok := exact.Parse(s)
		require.True(t, ok, s)
		require.Equal(t, want, n.String())
	}
	for _, s := range []string{"", "-", ".5", "5.", "1e3", "+1", "1,000", " 1", "0x1", "1.2.3", "NaN"} {
		_, ok := exact.Parse(s)
		require.False(t, ok, s)
	}
	_, ok := exact.ParseScaled("1.005", 100)
	require.False(t, ok, "finer than a cent")
	_, ok = exact.ParseScaled("99999999999999999999", 100)
	require.False(t, ok, "does not fit")
}
