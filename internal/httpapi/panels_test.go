package httpapi_test

import (
	"cmp"
	"encoding/json"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/internal/httpapi"
)

// linesOf reads the lines of a stream of panels, in the order in which they were asked for.
func linesOf(t *testing.T, text string) []httpapi.PanelLine {
	t.Helper()
	var list []httpapi.PanelLine
	for line := range strings.Lines(text) {
		var p httpapi.PanelLine
		require.NoError(t, json.Unmarshal([]byte(line), &p), line)
		list = append(list, p)
	}
	slices.SortFunc(list, func(a, b httpapi.PanelLine) int { return cmp.Compare(a.At, b.At) })
	return list
}

// panels asks for panels.
func (c *client) panels(body string) []httpapi.PanelLine {
	c.t.Helper()
	status, head, text := c.text("POST", "/api/panels", body)
	require.Equal(c.t, http.StatusOK, status, text)
	require.Equal(c.t, "application/x-ndjson", head.Get("Content-Type"))
	return linesOf(c.t, text)
}

// A board is answered in one request: each panel under the board's filters, as its options would have it, with what it
// follows; one that cannot be answered takes none of the others with it.
func TestPanels(t *testing.T) {
	c := signIn(t, serve(t), 1)
	ids := furnish(t, c)
	keep := func(title, brief string) string {
		status, r := c.call("POST", "/api/reports", fmt.Sprintf(`{"title":%q,"description":"","folder":%s,"brief":%s}`, title, ids["$F"], brief))
		require.Equal(t, http.StatusOK, status, r)
		return fmt.Sprint(r["id"])
	}
	won := keep("Won by owner", `{"version":1,"start":"deals","period":{"field":"closed","within":"this_year"},"filter":{"field":"status","is":"any_of","values":["won"]},"groups":[{"field":"owner.name"}],"summaries":[{"key":"v","fn":"sum","of":"value"}],"chart":{"kind":"bar"}}`)
	staff := keep("People", `{"version":1,"start":"people","columns":[{"field":"name"}]}`)
	figure := keep("All deals", `{"version":1,"start":"deals","chart":{"kind":"figure"}}`)

	lines := c.panels(fmt.Sprintf(`{"filters":{"period":"last_year","whose":"mine"},"panels":[{"report":%s},{"report":%s},{"report":%s},{"report":999999},{"report":%s,"options":{"period":"this_month","items":2,"kind":"column"}},{"report":%s,"options":{"list":true,"items":3}}]}`, won, staff, figure, won, won))
	require.Len(t, lines, 6)
	first := lines[0]
	require.Equal(t, []string{"the period by closed", "whose"}, first.Under.Obeys)
	require.Empty(t, first.Under.Ignores)
	require.Contains(t, first.Answer.Text, "Deals of mine closed last year")
	require.Equal(t, "people", first.Narrows.Type)
	require.Nil(t, first.List)
	require.Equal(t, "Won by owner", first.Report.Title)
	require.Equal(t, c.answered(mustJSON(t, first.Under.Brief))["records"], float64(first.Answer.Records), "it is what its brief is answered")

	require.Equal(t, []string{"the period, having none of its own", "whose, its records having no owner"}, lines[1].Under.Ignores)
	require.EqualValues(t, lines[1].Answer.Records, lines[1].List.Total, "what has no groups comes with its records")
	require.NotEmpty(t, lines[1].List.Rows)
	require.Nil(t, lines[2].List, "a figure needs none")
	require.NotNil(t, lines[2].Answer.Drawing)
	require.Equal(t, http.StatusNotFound, lines[3].Problem.Status)
	require.Nil(t, lines[3].Report)
	require.Equal(t, []string{"whose"}, lines[4].Under.Obeys)
	require.Equal(t, "column", lines[4].Answer.Drawing.Kind)
	require.LessOrEqual(t, len(lines[4].Answer.Drawing.Categories), 3)
	require.LessOrEqual(t, lines[5].List.Total, 3)

	for name, bad := range map[string]string{
		"filters that are none": `{"filters":{"period":"someday"},"panels":[]}`,
		"too many":              `{"panels":[` + strings.TrimSuffix(strings.Repeat(`{"report":1},`, 61), ",") + `]}`,
	} {
		status, _, text := c.text("POST", "/api/panels", bad)
		require.Equal(t, http.StatusUnprocessableEntity, status, "%s: %s", name, text)
	}
	status, under := c.call("POST", "/api/filters", `{"filters":{"whose":"mine"},"brief":{"version":1,"start":"people"}}`)
	require.Equal(t, http.StatusOK, status, under)
	require.Equal(t, []any{"whose, its records having no owner"}, under["under"].(map[string]any)["ignores"])
}
