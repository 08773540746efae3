package httpapi_test

import (
	"fmt"
	"net/http"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// A list that is asked for with words is the list with the condition that those words stand for, whatever it was narrowed
// to before.
func TestListWithWords(t *testing.T) {
	c := signIn(t, serve(t), 1)
	list := func(brief, more string) (int, map[string]any) {
		return c.call("POST", "/api/list", `{"brief":{"version":1,"start":"deals"`+brief+`},"count":5`+more+`}`)
	}
	for _, words := range []string{"pontoon", "Pontoon  kelp", "é", "nothing of the kind"} {
		_, _, cond := c.text("GET", "/api/lists/deals/search?text="+url.QueryEscape(words), "")
		for _, narrowed := range []string{"", `{"field":"status","is":"any_of","values":["open"]}`} {
			own, both := "", fmt.Sprintf(`,"filter":%s`, cond)
			if narrowed != "" {
				own, both = `,"filter":`+narrowed, fmt.Sprintf(`,"filter":{"all":[%s,%s]}`, narrowed, cond)
			}
			_, want := list(both, "")
			status, got := list(own, fmt.Sprintf(`,"search":%q`, words))
			require.Equal(t, http.StatusOK, status, got)
			require.Equal(t, want["total"], got["total"], words)
			require.Equal(t, want["rows"], got["rows"], words)
		}
	}
	_, all := list("", "")
	_, none := list("", `,"search":"  "`)
	require.Equal(t, all["total"], none["total"], "no words are looked for nowhere")
	status, _ := list("", fmt.Sprintf(`,"search":%q`, strings.Repeat("x", 401)))
	require.Equal(t, http.StatusUnprocessableEntity, status)
}
