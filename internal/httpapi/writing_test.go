package httpapi_test

import (
	"context"
	"encoding/json"
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// send asks with a header, and gives the answer's ETag.
func (c *client) send(method, path, header, value, body string) (status int, tag string, out map[string]any) {
	c.t.Helper()
	req, err := http.NewRequestWithContext(context.Background(), method, c.url+path, strings.NewReader(body))
	require.NoError(c.t, err)
	req.Header.Set("Content-Type", "application/json")
	if header != "" {
		req.Header.Set(header, value)
	}
	res, err := c.Do(req)
	require.NoError(c.t, err)
	defer func() { _ = res.Body.Close() }()
	_ = json.NewDecoder(res.Body).Decode(&out)
	return res.StatusCode, res.Header.Get("ETag"), out
}

// A record is changed as it was read (RFC 9110, 13.1.1); the second of two writers is told what it is by now.
func TestRecordsHaveTags(t *testing.T) {
	server := serve(t)
	aldo, runa := signIn(t, server, 3), signIn(t, server, 4)
	status, tag, out := aldo.send("GET", "/api/records/deals/7/values", "", "", "")
	require.Equal(t, http.StatusOK, status)
	require.Equal(t, `"`+out["version"].(string)+`"`, tag)
	status, _, _ = runa.send("PATCH", "/api/records/deals/7", "If-Match", tag, `{"values":{"value":"10"}}`)
	require.Equal(t, http.StatusOK, status)
	status, _, out = aldo.send("PATCH", "/api/records/deals/7", "If-Match", tag, `{"values":{"likelihood":"50"}}`)
	require.Equal(t, http.StatusPreconditionFailed, status)
	require.Equal(t, "10.00", out["now"].(map[string]any)["values"].(map[string]any)["value"])
	status, _, _ = aldo.send("PATCH", "/api/records/deals/7", "", "", `{"values":{"likelihood":"50"}}`)
	require.Equal(t, http.StatusOK, status)
	status, _, out = aldo.send("PATCH", "/api/records/deals/7", "", "", `{"values":{"value":"much","stage":"Nowhere"}}`)
	require.Equal(t, http.StatusUnprocessableEntity, status)
	errs := out["errors"].([]any)
	require.Equal(t, "/stage", errs[0].(map[string]any)["pointer"])
	require.Equal(t, "/value", errs[1].(map[string]any)["pointer"])
}
