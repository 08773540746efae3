package httpapi_test

import (
	"fmt"
	"net/http"
	"testing"

	"github.com/stretchr/testify/require"
)

// Two windows on one draft do not overwrite each other; a draft is its person's alone.
func TestDrafts(t *testing.T) {
	server := serve(t)
	maite, petra, reader := signIn(t, server, 1), signIn(t, server, 7), signIn(t, server, 8)
	status, first := maite.call("PUT", "/api/drafts", fmt.Sprintf(`{"report":1,"version":1,"brief":%s}`, deals))
	require.Equal(t, http.StatusOK, status, first)
	status, out := maite.call("PUT", "/api/drafts", fmt.Sprintf(`{"report":1,"version":1,"brief":%s}`, deals))
	require.Equal(t, http.StatusConflict, status, "another window begins a draft of the same report: %v", out)
	change := func(revision any) (int, map[string]any) {
		return maite.call("PUT", "/api/drafts", fmt.Sprintf(`{"id":%v,"revision":%v,"report":1,"version":1,"brief":{"version":1,"start":"deals","limit":5}}`, first["id"], revision))
	}
	status, second := change(first["revision"])
	require.Equal(t, http.StatusOK, status, second)
	status, out = change(first["revision"])
	require.Equal(t, http.StatusConflict, status)
	require.Contains(t, out["detail"], "another window")
	status, _ = change(second["revision"])
	require.Equal(t, http.StatusOK, status)

	var list []struct {
		ID     int64
		Report int64
		Title  string
	}
	maite.list("/api/drafts", &list)
	require.Len(t, list, 1)
	require.Equal(t, "What closes this quarter", list[0].Title)
	petra.list("/api/drafts", &list)
	require.Empty(t, list)
	petra.call("DELETE", fmt.Sprintf("/api/drafts/%v", first["id"]), "")
	maite.list("/api/drafts", &list)
	require.Len(t, list, 1, "another's draft is not thrown away")
	signIn(t, server, 2).call("PUT", "/api/settings/people", `{"readersKeep":false}`)
	status, _ = reader.call("PUT", "/api/drafts", fmt.Sprintf(`{"brief":%s}`, deals))
	require.Equal(t, http.StatusForbidden, status, "where readers keep nothing, they draft nothing")

	// A draft of a new report goes by its sentence.
	status, _ = petra.call("PUT", "/api/drafts", fmt.Sprintf(`{"brief":%s}`, deals))
	require.Equal(t, http.StatusOK, status)
	petra.list("/api/drafts", &list)
	require.Equal(t, "Deals of everyone, by stage, showing count.", list[0].Title)
}

// Each keeping is a version with who and what changed in words; one is brought back as a new version.
func TestVersions(t *testing.T) {
	server := serve(t)
	maite, osric := signIn(t, server, 1), signIn(t, server, 2)
	folder := furnish(t, maite)["$F"]
	status, r := maite.call("POST", "/api/reports", fmt.Sprintf(`{"title":"Told","description":"","folder":%s,"brief":{"version":1,"start":"deals","limit":5}}`, folder))
	require.Equal(t, http.StatusOK, status, r)
	at := fmt.Sprintf("/api/reports/%v", r["id"])
	keep := func(c *client, version int, title, brief string) (int, map[string]any) {
		return c.call("PUT", at, fmt.Sprintf(`{"title":%q,"description":"","folder":%v,"brief":%s,"version":%d}`, title, r["folder"], brief, version))
	}
	status, out := keep(osric, 1, "Told again", `{"version":1,"start":"deals","limit":5,"filter":{"all":[{"field":"status","is":"any_of","values":["open"]}]}}`)
	require.Equal(t, http.StatusOK, status, out)
	status, out = keep(maite, 1, "Told", deals)
	require.Equal(t, http.StatusConflict, status, "what someone else kept meanwhile is not overwritten: %v", out)

	var list []struct {
		Version int
		Title   string
		Who     string
		Change  []string
	}
	maite.list(at+"/versions", &list)
	require.Len(t, list, 2)
	require.Equal(t, "Osric Jarrow", list[0].Who)
	require.Contains(t, fmt.Sprint(list[0].Change), "status is open")
	require.Contains(t, fmt.Sprint(list[0].Change), "was “Told”")
	require.Equal(t, []string{"first kept"}, list[1].Change)

	status, back := maite.call("POST", at+"/versions/1/back", "")
	require.Equal(t, http.StatusOK, status, back)
	require.Equal(t, "Told", back["title"])
	require.EqualValues(t, 3, back["version"])
	require.Nil(t, back["brief"].(map[string]any)["filter"])
	status, _ = maite.call("POST", at+"/versions/9/back", "")
	require.Equal(t, http.StatusNotFound, status)
}

// A dismissed warning stays dismissed for the report, for everyone.
func TestDismissed(t *testing.T) {
	server := serve(t)
	maite, reader := signIn(t, server, 1), signIn(t, server, 8)
	status, _ := maite.call("PUT", "/api/reports/1/dismissed", `{"code":"empty /period"}`)
	require.Equal(t, http.StatusNoContent, status)
	status, _ = maite.call("PUT", "/api/reports/1/dismissed", `{"code":"empty /period"}`)
	require.Equal(t, http.StatusNoContent, status, "twice is once")
	var codes []string
	reader.list("/api/reports/1/dismissed", &codes)
	require.Equal(t, []string{"empty /period"}, codes)
}
