package figures_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/figures"
)

// Every way has marks of its own for thousands and decimals, loses no digit of any number, and has the sign in its place.
func TestForms(t *testing.T) {
	const long = "-12345678901234567890.123456"
	seen := map[string]bool{}
	for _, tag := range figures.Tags {
		f, err := figures.Of(tag)
		require.NoError(t, err)
		said := f.Number(long)
		require.Equal(t, "12345678901234567890123456", strings.Map(func(r rune) rune {
			if r < '0' || r > '9' {
				return -1
			}
			return r
		}, said), tag)
		require.True(t, strings.HasPrefix(said, "−12"), said)
		require.Equal(t, "0", f.Number("0"))
		require.Equal(t, "999", f.Number("999"))
		seen[f.Money("€", f.Number("-1234.50"))] = true
	}
	for _, want := range []string{"−€1,234.50", "−1.234,50\u00a0€", "−€1’234.50", "−€1.234,50"} {
		require.True(t, seen[want], "%q is not among %q", want, seen)
	}
	for _, wrong := range []string{"xx", "en-US; DROP", "de_DE"} {
		_, err := figures.Of(wrong)
		require.Error(t, err, wrong)
	}
	var zero figures.Form
	require.Equal(t, "CHF 1,234", zero.Money("CHF ", zero.Number("1234")))
}

func ExampleForm_Money() {
	dutch, _ := figures.Of("nl")
	fmt.Println(dutch.Money("€", dutch.Number("-1234567.5")))
	// Output: −€1.234.567,5
}
