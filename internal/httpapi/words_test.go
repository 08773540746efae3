package httpapi_test

import (
	"fmt"
	"net/http"
	"testing"

	"github.com/stretchr/testify/require"
)

// An organisation's own words are typed like record types; what they mean is checked, said, and the same for everyone.
func TestWordsOfAnOrganisation(t *testing.T) {
	server := serve(t)
	admin, reader := signIn(t, server, 2), signIn(t, server, 8)
	typed := func(text string) map[string]any {
		status, out := reader.call("POST", "/api/typed", fmt.Sprintf(`{"text":%q}`, text))
		require.Equal(t, http.StatusOK, status)
		return out
	}
	require.Equal(t, "Customers of everyone, where kind is Prospect, by segment, showing count, as bars.", typed("leads by segment")["text"])
	require.NotEmpty(t, typed("whales")["unread"])
	set := func(version int, words string) (int, map[string]any) {
		return admin.call("PUT", "/api/settings/words", fmt.Sprintf(`{"version":%d,"words":[%s]}`, version, words))
	}
	whales := `{"name":"whales","brief":{"version":1,"start":"deals","period":{"field":"closed","within":"this_year"},"filter":{"all":[{"field":"value","is":"over","values":["200000"]},{"field":"created","is":"within","period":"this_year"}]}}}`
	status, out := set(1, whales)
	require.Equal(t, http.StatusNoContent, status, out)
	require.Equal(t, "Deals of everyone, where value is over €200,000 and created this year (1 Jan – 31 Dec 2026), showing count, amounts in EUR at the rate of closed, else expected close, else today.", typed("whales, showing count")["text"])
	require.NotEmpty(t, typed("leads by segment")["unread"], "it was taken away")
	_, words := reader.call("GET", "/api/settings/words", "")
	require.Contains(t, mustJSON(t, words), "value is over €200,000")
	status, _ = set(1, "")
	require.Equal(t, http.StatusConflict, status)
	for name, bad := range map[string]string{
		"a record type's name":   `{"name":"Deal","brief":{"version":1,"start":"deals","filter":{"field":"status","is":"filled"}}}`,
		"twice":                  whales + "," + whales,
		"of all records":         `{"name":"all","brief":{"version":1,"start":"deals"}}`,
		"a field there is not":   `{"name":"odd","brief":{"version":1,"start":"deals","filter":{"field":"shoe","is":"filled"}}}`,
		"a type there is not":    `{"name":"odd","brief":{"version":1,"start":"boats","filter":{"field":"name","is":"filled"}}}`,
		"no word":                `{"name":"5 (five)","brief":{"version":1,"start":"deals","filter":{"field":"status","is":"filled"}}}`,
		"a condition kept to it": `{"name":"odd","brief":{"version":1,"start":"deals","filter":{"field":"status","is":"filled","fixed":true}}}`,
	} {
		status, out := set(2, bad)
		require.Equal(t, http.StatusUnprocessableEntity, status, "%s: %v", name, out)
	}
}
