package httpapi_test

import (
	"net/http"
	"testing"

	"github.com/stretchr/testify/require"
)

// How figures and days are written holds in every answer from then on, a kept one too; a sentence reads as it did.
func TestFiguresAndDaysOfAnOrganisation(t *testing.T) {
	server := serve(t)
	admin, reader := signIn(t, server, 2), signIn(t, server, 8)
	const days = `{"brief":{"version":1,"start":"deals","period":{"field":"closed","within":{"from":"2026-05-04","to":"2026-05-04"}},"groups":[{"field":"closed","by":"day"}],"summaries":[{"key":"v","fn":"sum","of":"value"}]}}`
	ask := func() (drawn string, sentence any) {
		status, out := reader.call("POST", "/api/answer", days)
		require.Equal(t, http.StatusOK, status, out)
		return mustJSON(t, out["drawing"]), out["text"]
	}
	before, said := ask()
	require.Contains(t, before, `"label":"4 May 2026"`)
	_, ways := admin.call("GET", "/api/settings/figures", "")
	require.Equal(t, "words", ways["days"])
	require.Len(t, ways["dayWays"], 4)
	status, out := admin.call("PUT", "/api/settings/figures", `{"tag":"nl","days":"slashes"}`)
	require.Equal(t, http.StatusNoContent, status, out)
	after, still := ask()
	require.Contains(t, after, `"label":"04/05/2026"`)
	require.NotContains(t, after, `"label":"4 May 2026"`)
	require.Contains(t, after, `€239.160,90`)
	require.Equal(t, said, still)
	_, schema := reader.call("GET", "/api/schema", "")
	require.Equal(t, "slashes", schema["days"])
	_, typed := reader.call("POST", "/api/typed", `{"text":"deals where created is after 03/05/2026"}`)
	require.Empty(t, typed["unread"])
	require.Contains(t, typed["text"], "from 4 May 2026 on")
	status, _ = admin.call("PUT", "/api/settings/figures", `{"tag":"nl","days":"moons","version":1}`)
	require.Equal(t, http.StatusUnprocessableEntity, status)
}

// One person has figures written otherwise, and nobody else; an empty choice is that of everyone.
func TestFiguresOfOnesOwn(t *testing.T) {
	server := serve(t)
	aldo, osric := signIn(t, server, 3), signIn(t, server, 2)
	total := func(c *client) string {
		_, out := c.call("POST", "/api/answer", `{"brief":{"version":1,"start":"deals","summaries":[{"key":"t","fn":"sum","of":"value"}]}}`)
		return mustJSON(t, out["drawing"])
	}
	same := total(aldo)
	status, _ := aldo.call("PUT", "/api/me/figures", `{"tag":"de","days":"dots"}`)
	require.Equal(t, 204, status)
	require.NotEqual(t, same, total(aldo))
	_, schema := aldo.call("GET", "/api/schema", "")
	require.Equal(t, "de", schema["figures"])
	_, schema = osric.call("GET", "/api/schema", "")
	require.NotEqual(t, "de", schema["figures"])
	_, ways := aldo.call("GET", "/api/settings/figures", "")
	require.Equal(t, "de", ways["own"])
	require.NotEqual(t, "de", ways["tag"])
	status, _ = aldo.call("PUT", "/api/me/figures", `{"tag":"elvish"}`)
	require.Equal(t, 422, status)
	status, _ = aldo.call("PUT", "/api/me/figures", `{"tag":""}`)
	require.Equal(t, 204, status)
	require.Equal(t, same, total(aldo))
}
