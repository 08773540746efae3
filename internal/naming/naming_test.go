package naming_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/internal/fault"
	"uzzel/internal/naming"
)

func TestFreeKey(t *testing.T) {
	taken := map[string]bool{"won_value": true, "won_value_2": true}
	for name, want := range map[string]string{"Won value": "won_value_3", "  Ümläut & Co.": "[a-z][a-z0-9_]*", "2026": "m_2026", "日本": "m", "Quiet": "quiet"} {
		require.Regexp(t, "^"+want+"$", naming.FreeKey(name, func(key string) bool { return taken[key] }), name)
	}
}

func TestTitle(t *testing.T) {
	for _, wrong := range []string{"", " \n\t", strings.Repeat("ü", naming.MaxTitle+1)} {
		_, err := naming.Title(wrong, "/title")
		require.True(t, fault.Is(err, fault.Invalid), "%q", wrong)
	}
	_, err := naming.Title(strings.Repeat("ü", naming.MaxTitle), "/title")
	require.NoError(t, err)
}

func ExampleTitle() {
	name, err := naming.Title("  Won   by team ", "/title")
	fmt.Printf("%q %v\n", name, err)
	// Output: "Won by team" <nil>
}
