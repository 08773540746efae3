package httpapi_test

import (
	"fmt"
	"net/http"
	"testing"

	"github.com/stretchr/testify/require"
)

// A report is placed on the dashboard of a name: one there is, whatever its case, or a new one.
func TestPlacingByName(t *testing.T) {
	c := signIn(t, serve(t), 1)
	status, b := c.call("PUT", "/api/reports/6/board", `{"name":"company, MONDAY"}`)
	require.Equal(t, http.StatusOK, status, b)
	require.EqualValues(t, 1, b["id"])
	panels := b["panels"].([]any)
	require.Len(t, panels, 6)
	for i, p := range panels {
		for _, q := range panels[:i] {
			require.False(t, clash(p.(map[string]any), q.(map[string]any)), "%v lies on %v", p, q)
		}
	}
	status, b = c.call("PUT", "/api/reports/6/board", `{"name":"A new one"}`)
	require.Equal(t, http.StatusOK, status)
	require.Equal(t, "A new one", b["title"])
	require.Len(t, b["panels"], 1)
	status, _ = c.call("PUT", "/api/reports/6/board", `{"name":"  "}`)
	require.Equal(t, http.StatusUnprocessableEntity, status)
}

func clash(p, q map[string]any) bool {
	n := func(m map[string]any, k string) float64 { return m[k].(float64) }
	return n(p, "x") < n(q, "x")+n(q, "w") && n(q, "x") < n(p, "x")+n(p, "w") && n(p, "y") < n(q, "y")+n(q, "h") && n(q, "y") < n(p, "y")+n(p, "h")
}

// A starting point is seen by its teams and by administrators; what is wrong in it is said where it is.
func TestStartingPoints(t *testing.T) {
	server := serve(t)
	admin, west, north := signIn(t, server, 2), signIn(t, server, 3), signIn(t, server, 8)
	point := `{"name":"For the west","about":"","brief":{"version":1,"start":"deals","columns":[{"field":"name"}]},"questions":[{"title":"Which are open?","brief":%s}],"teams":[2]}`
	status, out := admin.call("POST", "/api/starting-points", fmt.Sprintf(point, deals))
	require.Equal(t, http.StatusNoContent, status, out)
	status, out = admin.call("POST", "/api/starting-points", fmt.Sprintf(point, `{"version":1,"start":"deals","groups":[{"field":"stagge"}]}`))
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.Contains(t, fmt.Sprint(out), "stage")
	for c, want := range map[*client]bool{admin: true, west: true, north: false} {
		require.Equal(t, want, c.has("/api/starting-points", "For the west"))
	}
}

// A number's spread counts every record that has one, once.
func TestSpread(t *testing.T) {
	c := signIn(t, serve(t), 1)
	var bins []struct {
		From, To string
		Count    int
	}
	c.list("/api/spread?start=deals&path=value", &bins)
	require.Greater(t, len(bins), 5)
	sum := 0
	for i, b := range bins {
		sum += b.Count
		if i > 0 {
			require.Equal(t, bins[i-1].To, b.From)
		}
	}
	_, a := c.call("POST", "/api/answer", `{"brief":{"version":1,"start":"deals","filter":{"field":"value","is":"filled"}}}`)
	require.EqualValues(t, a["records"], sum)
	status, _ := c.call("GET", "/api/spread?start=deals&path=name", "")
	require.Equal(t, http.StatusUnprocessableEntity, status)
}

// The days of a period, and where today is.
func TestPeriods(t *testing.T) {
	c := signIn(t, serve(t), 1)
	for within, want := range map[string]string{
		`"this_quarter"`: "1 Apr – 30 Jun 2026 in", `"last_month"`: "1 Apr – 30 Apr 2026 after", `"next_week"`: "18 May – 24 May 2026 before",
		`{"last":30,"unit":"day"}`: "15 Apr – 14 May 2026 in", `{"last":30,"unit":"day","current":false}`: "14 Apr – 13 May 2026 after",
	} {
		status, p := c.call("POST", "/api/period", `{"within":`+within+`}`)
		require.Equal(t, http.StatusOK, status, p)
		require.Equal(t, want, fmt.Sprint(p["dates"], " ", p["today"]))
	}
	// A word that the schema lists is the same.
	_, schema := c.call("GET", "/api/schema", "")
	words := 0
	for _, w := range schema["periods"].([]any) {
		word := w.(map[string]any)
		_, p := c.call("POST", "/api/period", fmt.Sprintf(`{"within":%q}`, word["word"]))
		for key, want := range p {
			require.Equal(t, want, word[key], "%s of %s", key, word["word"])
		}
		words++
	}
	require.GreaterOrEqual(t, words, 10)
	status, _ := c.call("POST", "/api/period", `{"within":"someday"}`)
	require.Equal(t, http.StatusUnprocessableEntity, status)
}

// A comparison is in the table: what it was, by how much it changed.
func TestComparedTable(t *testing.T) {
	c := signIn(t, serve(t), 1)
	_, a := c.call("POST", "/api/answer", `{"brief":{"version":1,"start":"activities","period":{"field":"happens","within":"last_month"},"groups":[{"field":"kind"}],"compare":"previous_period","target":"2000","totalsOnly":true}}`)
	require.Equal(t, "1 Mar – 31 Mar 2026", a["compared"])
	lines := a["lines"].([]any)
	total := lines[len(lines)-1].(map[string]any)
	change := total["before"].([]any)[0].([]any)[0].(map[string]any)
	require.Regexp(t, `^[\d,]+$`, change["before"])
	require.Regexp(t, `^[+−][\d,]+ · [+−]\d+\.\d %$`, change["text"])
	drawing := a["drawing"].(map[string]any)
	progress := drawing["progress"].(map[string]any)
	require.Equal(t, "2,000", progress["target"])
	require.Equal(t, total["cells"].([]any)[0].([]any)[0], drawing["total"])
}
