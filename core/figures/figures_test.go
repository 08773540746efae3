package figures_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/figures"
	"uzzel/core/period"
)

// Every way has marks of its own for thousands and decimals, loses no digit of any number, and has the sign in its
// place.
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

// A day is written in four ways, each in numbers that a spreadsheet's cell has the same way.
func TestDays(t *testing.T) {
	said := map[string]string{}
	for _, way := range figures.Days {
		f, err := figures.Form{}.WithDays(way)
		require.NoError(t, err)
		require.Equal(t, way, f.Way())
		said[f.DayCode()] = f.Day(period.Day(2026, 5, 4))
	}
	require.Equal(t, map[string]string{"d mmm yyyy": "4 May 2026", `dd\.mm\.yyyy`: "04.05.2026", "dd/mm/yyyy": "04/05/2026", "yyyy-mm-dd": "2026-05-04"}, said)
	var zero figures.Form
	require.Equal(t, "31 Dec 1969", zero.Day(-1))
	_, err := zero.WithDays("moons")
	require.Error(t, err)
	words, err := zero.WithDays("words")
	require.NoError(t, err)
	require.Equal(t, zero, words, "the first is what there is without a choice")
}

func ExampleForm_Money() {
	dutch, _ := figures.Of("nl")
	fmt.Println(dutch.Money("€", dutch.Number("-1234567.5")))
	// Output: −€1.234.567,5
}
