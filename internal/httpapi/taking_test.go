package httpapi_test

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"
)

// take takes something out, and gives its name and content.
func (c *client) take(body string) (name string, data []byte) {
	c.t.Helper()
	req, err := http.NewRequestWithContext(context.Background(), "POST", c.url+"/api/export", strings.NewReader(body))
	require.NoError(c.t, err)
	req.Header.Set("Content-Type", "application/json")
	res, err := c.Do(req)
	require.NoError(c.t, err)
	defer func() { _ = res.Body.Close() }()
	data, err = io.ReadAll(res.Body)
	require.NoError(c.t, err)
	require.Equal(c.t, http.StatusOK, res.StatusCode, "%s", data)
	return res.Header.Get("Content-Disposition"), data
}

const byOwner = `{"version":1,"start":"deals","filter":{"all":[{"field":"status","is":"any_of","values":["open"]}]},"groups":[{"field":"owner.team"},{"field":"owner"}],"across":[{"field":"pipeline"}],"summaries":[{"key":"v","fn":"sum","of":"value"}]}`

// The summary as a workbook has a line for each group, before those in it, and each group across as a column; it is
// named after its report.
func TestTakingAWorkbook(t *testing.T) {
	c := signIn(t, serve(t), 1)
	name, data := c.take(fmt.Sprintf(`{"brief":%s,"view":"outline","format":"xlsx"}`, byOwner))
	require.Contains(t, name, "Value by owner's team, owner and pipeline - groups and records - 14 May 2026.xlsx")
	f, err := excelize.OpenReader(bytes.NewReader(data))
	require.NoError(t, err)
	rows, err := f.GetRows("Report")
	require.NoError(t, err)
	require.Equal(t, []string{"Owner's team", "Owner", "Name", "Customer", "Contact", "Stage", "Value", "Expected close", "Projects: Sum of value", "Care: Sum of value", "All: Sum of value"}, rows[0])
	for row, want := range map[int]uint8{2: 0, 3: 1, 4: 2} { // a team, a person in it, a deal of that person
		level, err := f.GetRowOutlineLevel("Report", row)
		require.NoError(t, err)
		require.Equal(t, want, level, "row %d", row)
	}
	require.NotEmpty(t, rows[3][2], "the name of the deal")
	require.Less(t, len(rows[3]), 9, "its value stands under its own header, not under a sum")
	require.Equal(t, "All", rows[len(rows)-1][0])
	about, err := f.GetRows("About")
	require.NoError(t, err)
	require.Contains(t, fmt.Sprint(about), "Condition status is open")
	require.Contains(t, fmt.Sprint(about), "Taken by Maite Corrie")
}

// As JSON, the brief goes with the table; read back, it gives the same. Records have names for people, not numbers.
func TestTakingJSON(t *testing.T) {
	c := signIn(t, serve(t), 1)
	_, data := c.take(fmt.Sprintf(`{"brief":%s,"view":"summary","format":"json"}`, byOwner))
	var whole struct {
		Brief   json.RawMessage
		Summary []map[string]string
		About   []struct{ Name, Text string }
	}
	require.NoError(t, json.Unmarshal(data, &whole))
	require.NotEmpty(t, whole.Summary)
	_, again := c.take(fmt.Sprintf(`{"brief":%s,"view":"summary","format":"json"}`, whole.Brief))
	require.JSONEq(t, string(data), string(again))

	_, csv := c.take(`{"brief":{"version":1,"start":"deals","columns":[{"field":"owner"}],"limit":1},"view":"records"}`)
	lines := strings.Split(strings.TrimSpace(string(csv)), "\n")
	require.Equal(t, "Owner", lines[0])
	require.Regexp(t, `^\p{L}+ \p{L}+$`, lines[1])
}
