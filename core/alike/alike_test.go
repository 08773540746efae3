package alike_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/alike"
)

func names(a, b string) float64 { return alike.Names(alike.Words(a), alike.Words(b)) }

func TestNames(t *testing.T) {
	require.Equal(t, 1.0, names("Kelpholm Marina", "KELPHOLM marina Ltd."))
	require.Equal(t, 1.0, names("Tova Voss", "Voss, Tova"))
	for _, pair := range [][2]string{{"Kelpholm Marina", "Kelphlom Marina"}, {"Tova Voss", "T. Voss"}, {"Tova Voss", "Tova Vos"}, {"Gullness Yacht Club", "Gulness Yacht Club"}} {
		l := names(pair[0], pair[1])
		require.Greater(t, l, 0.8, pair)
		require.Less(t, l, 1.0, pair)
		require.InDelta(t, l, names(pair[1], pair[0]), 1e-9, "either way")
	}
	for _, pair := range [][2]string{{"Kelpholm Marina", "Sedgewick Harbour"}, {"Tova Voss", "Oskar Breck"}, {"", "Tova"}, {"Eiderhaven Group", "Eiderhaven Group, North pier, second basin"}} {
		require.Less(t, names(pair[0], pair[1]), 0.6, pair)
	}
	require.Equal(t, []string{"ltd"}, alike.Words("Ltd"))
	require.Equal(t, alike.Key(alike.Words("Voss, Tova")), alike.Key(alike.Words("tova voss")))
}

func ExampleNames() {
	fmt.Printf("%.2f\n", alike.Names(alike.Words("T. Voss"), alike.Words("Tova Voss")))
	// Output: 0.95
}
