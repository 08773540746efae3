package httpapi_test

import (
	"fmt"
	"net/http"
	"testing"

	"github.com/stretchr/testify/require"
)

// A kept style changes all charts that ask for it and no other; deleted, they follow the house style and say so.
func TestKeptStyles(t *testing.T) {
	server := serve(t)
	c := signIn(t, server, 1)
	ids := furnish(t, c)
	status, k := c.call("POST", "/api/styles", `{"name":"Loud  ones","style":{"guides":"both","totals":"records","palette":["#007C7D","#CA8100","#6D629F"]}}`)
	require.Equal(t, http.StatusOK, status, k)
	require.Equal(t, "loud_ones", k["key"])

	drawing := func(chart string) map[string]any {
		status, a := c.call("POST", "/api/answer", `{"brief":{"version":1,"start":"deals","groups":[{"field":"stage"}],"chart":`+chart+`}}`)
		require.Equal(t, http.StatusOK, status, a)
		return a["drawing"].(map[string]any)
	}
	require.Equal(t, "both", drawing(`{"kind":"column","style":"loud_ones"}`)["guides"])
	require.Equal(t, "2,600 deals", drawing(`{"kind":"column","style":"loud_ones"}`)["totals"])
	require.Equal(t, "values", drawing(`{"kind":"column"}`)["guides"])

	status, _ = c.call("PUT", "/api/styles/loud_ones", `{"name":"Louder","style":{"guides":"stripes"}}`)
	require.Equal(t, http.StatusOK, status)
	require.Equal(t, "stripes", drawing(`{"kind":"column","style":"loud_ones"}`)["guides"], "the key stays when the name changes")
	require.Equal(t, "none", drawing(`{"kind":"column","style":"quiet"}`)["guides"])

	// A report is given a style, and lets go of its own looks but not of its kind.
	own := `{"version":1,"start":"deals","groups":[{"field":"stage"}],"chart":{"kind":"bar","guides":"none","heading":"Stages"}}`
	status, r := c.call("POST", "/api/reports", fmt.Sprintf(`{"title":"Dressed","description":"","folder":%s,"brief":%s}`, ids["$F"], own))
	require.Equal(t, http.StatusOK, status, r)
	at := fmt.Sprintf("/api/reports/%v/style", r["id"])
	status, r = c.call("PUT", at, `{"style":"loud_ones"}`)
	require.Equal(t, http.StatusOK, status, r)
	require.Equal(t, map[string]any{"kind": "bar", "style": "loud_ones", "heading": "Stages"}, r["brief"].(map[string]any)["chart"])
	status, _ = c.call("PUT", at, `{"style":"nothing"}`)
	require.Equal(t, http.StatusUnprocessableEntity, status)

	for name, bad := range map[string]string{
		"a colour that is none": `{"name":"Bad","style":{"palette":["red","#CA8100","#6D629F"]}}`,
		"too few colours":       `{"name":"Bad","style":{"palette":["#CA8100"]}}`,
		"colours of values":     `{"name":"Bad","style":{"values":{"deals.stage":{"Enquiry":"#CA8100"}}}}`,
		"a legend that is none": `{"name":"Bad","style":{"legend":"behind"}}`,
		"no name":               `{"name":" ","style":{}}`,
	} {
		status, out := c.call("POST", "/api/styles", bad)
		require.Equal(t, http.StatusUnprocessableEntity, status, "%s: %v", name, out)
	}
	status, _ = c.call("POST", "/api/styles", `{"name":"LOUDER","style":{}}`)
	require.Equal(t, http.StatusConflict, status, "a name is one style’s, whatever the case")

	// Who did not make a style leaves it alone, unless an administrator.
	status, _ = signIn(t, server, 7).call("DELETE", "/api/styles/loud_ones", "")
	require.Equal(t, http.StatusForbidden, status)
	status, _ = c.call("DELETE", "/api/styles/loud_ones", "")
	require.Equal(t, http.StatusNoContent, status)
	gone := drawing(`{"kind":"column","style":"loud_ones"}`)
	require.Equal(t, "values", gone["guides"])
	require.Equal(t, []any{"the style that this chart asks for is no longer kept, so it follows the house style"}, gone["notes"])
}

// A funnel of stages says how many deals went on, from the history; the answer is the same for who sees all deals.
func TestFunnelOfHistory(t *testing.T) {
	c := signIn(t, serve(t), 1)
	status, a := c.call("POST", "/api/answer", `{"brief":{"version":1,"start":"deals","filter":{"field":"pipeline","is":"any_of","values":["Projects"]},"groups":[{"field":"stage"}],"chart":{"kind":"funnel","steps":true}}}`)
	require.Equal(t, http.StatusOK, status, a)
	var said []string
	for _, x := range a["drawing"].(map[string]any)["categories"].([]any) {
		step, _ := x.(map[string]any)["step"].(string)
		said = append(said, step)
	}
	require.Len(t, said, 7)
	for _, step := range said[:5] {
		require.Regexp(t, `^\d+\.\d % went on$`, step)
	}
	require.Equal(t, []string{"", ""}, said[5:], "nothing comes after won and lost")
}
