package typed_test

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"unicode"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/typed"
)

// sentences are all that the project has as examples: what the cases say, and what people type in short.
func sentences(t testing.TB) []string {
	t.Helper()
	s := company(t)
	list := []string{"open deals over 20k closing this quarter by stage, sum of value", "my deals by month", "activities in the last 28 days by owner across kind as bars",
		"open deals without a call for three weeks", "deals of Aldo Marlow or Runa Kestle where value is at least €1,500.50", "customers created last month",
		"won: Deals of mine; beside them lost: Deals, by stage of won, stage of lost as Stage", "deals, as a funnel of sum of value, as shares"}
	files, err := filepath.Glob("../../testdata/cases/*.brief.json")
	require.NoError(t, err)
	require.NotEmpty(t, files)
	for _, f := range files {
		data, err := os.ReadFile(f)
		require.NoError(t, err)
		b, err := brief.Decode(data)
		require.NoError(t, err)
		if bound, err := brief.Bind(b, s); err == nil {
			list = append(list, brief.Say(bound, today, names).String())
		}
	}
	return list
}

// Whatever someone has typed so far can be read, and says what it did not understand.
func TestEveryBeginningCanBeRead(t *testing.T) {
	s := company(t)
	tried := 0
	for _, text := range sentences(t) {
		for at := range text {
			for _, end := range []string{"", " as", ",", " of", " by", " (", " “"} {
				if end != "" && at%5 != 0 {
					continue
				}
				begun := text[:at] + end
				require.NotPanics(t, func() {
					b, un := typed.Read(begun, s, known())
					if strings.ContainsFunc(begun, unicode.IsLetter) {
						require.True(t, b != nil || len(un) > 0, "nothing is said of %q", begun)
					}
					typed.Complete(begun, s, typed.Known{})
				}, fmt.Sprintf("%q", begun))
				tried++
			}
		}
	}
	require.Greater(t, tried, 3000)
}
