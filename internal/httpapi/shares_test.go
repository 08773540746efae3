package httpapi_test

import (
	"fmt"
	"net/http"
	"testing"

	"github.com/stretchr/testify/require"
)

// private is the number of a person's private folder.
func (c *client) private() string {
	c.t.Helper()
	var folders []struct {
		ID      int64
		Private bool
	}
	c.list("/api/folders", &folders)
	for _, f := range folders {
		if f.Private {
			return fmt.Sprint(f.ID)
		}
	}
	c.t.Fatal("there is no private folder")
	return ""
}

// A single report or dashboard is opened to people and teams beside its folder: to read, or to change; who may change
// it cannot open it to others; when it is taken back, it is as if it had never been there.
func TestSharing(t *testing.T) {
	server := serve(t)
	owner, reader, composer := signIn(t, server, 1), signIn(t, server, 8), signIn(t, server, 7)
	ids := furnish(t, owner)
	report, shares := "/api/reports/"+ids["$P"], "/api/shares/report/"+ids["$P"]
	share := func(version int, access string) int {
		status, _ := owner.call("PUT", shares, fmt.Sprintf(`{"version":%d,"access":[%s]}`, version, access))
		return status
	}
	opens := func(c *client) int {
		status, _ := c.call("GET", report, "")
		return status
	}
	require.Equal(t, http.StatusNotFound, opens(reader))
	require.Equal(t, http.StatusNoContent, share(0, `{"kind":"person","subject":8,"mayChange":true},{"kind":"person","subject":7,"mayChange":false}`))
	require.Equal(t, http.StatusConflict, share(0, ``), "someone has changed it since")
	_, r := reader.call("GET", report, "")
	title := fmt.Sprint(r["title"])
	require.Equal(t, false, r["mayChange"], "a reader composes nothing of others")
	require.Equal(t, false, r["mayShare"])
	titles, _ := reader.find("kind=report")
	require.Contains(t, titles, title)
	require.NotNil(t, reader.panels(`{"panels":[{"report":` + ids["$P"] + `}]}`)[0].Answer)
	status, _ := reader.call("POST", "/api/export", fmt.Sprintf(`{"brief":%s,"view":"summary","report":%s}`, ids["$Q"], ids["$P"]))
	require.Equal(t, http.StatusOK, status)
	change := fmt.Sprintf(`{"title":%q,"description":"Theirs now","folder":%v,"brief":%s,"version":%v}`, title, r["folder"], mustJSON(t, r["brief"]), r["version"])
	status, _ = composer.call("PUT", report, change)
	require.Equal(t, http.StatusForbidden, status, "to read is not to change")

	require.Equal(t, http.StatusNoContent, share(1, `{"kind":"person","subject":7,"mayChange":true}`))
	require.Equal(t, http.StatusNotFound, opens(reader), "it was taken back")
	titles, _ = reader.find("kind=report")
	require.NotContains(t, titles, title)
	status, r = composer.call("PUT", report, change)
	require.Equal(t, http.StatusOK, status, r)
	status, _ = composer.call("PUT", shares, `{"access":[{"kind":"everyone","subject":0,"mayChange":false}],"version":2}`)
	require.Equal(t, http.StatusForbidden, status)
	_, now := owner.call("GET", shares, "")
	require.JSONEq(t, `{"access":[{"kind":"person","subject":7,"mayChange":true}],"version":2}`, mustJSON(t, now))
	for _, bad := range []string{`{"kind":"person","subject":99999,"mayChange":false}`, `{"kind":"team","subject":0,"mayChange":false}`} {
		require.Equal(t, http.StatusUnprocessableEntity, share(2, bad), bad)
	}

	// A dashboard, to a team.
	status, b := owner.call("POST", "/api/boards", fmt.Sprintf(`{"title":"Mine alone","folder":%s,"panels":[{"report":%s,"x":0,"y":0,"w":6,"h":9}]}`, owner.private(), ids["$P"]))
	require.Equal(t, http.StatusOK, status, b)
	board := fmt.Sprintf("/api/boards/%v", b["id"])
	status, _ = reader.call("GET", board, "")
	require.Equal(t, http.StatusNotFound, status)
	status, _ = owner.call("PUT", fmt.Sprintf("/api/shares/board/%v", b["id"]), `{"access":[{"kind":"everyone","subject":0,"mayChange":false}]}`)
	require.Equal(t, http.StatusNoContent, status)
	status, _ = reader.call("GET", board, "")
	require.Equal(t, http.StatusOK, status)
	require.Equal(t, http.StatusNotFound, reader.panels(`{"panels":[{"report":` + ids["$P"] + `}]}`)[0].Problem.Status, "its reports are shared by themselves")
}

// Readers keep reports of their own where the organisation lets them: in their private folder, and nothing else.
func TestReadersKeepTheirOwn(t *testing.T) {
	server := serve(t)
	admin, reader := signIn(t, server, 2), signIn(t, server, 8)
	ids := furnish(t, signIn(t, server, 1))
	keep := func(folder, title string) (int, map[string]any) {
		return reader.call("POST", "/api/reports", fmt.Sprintf(`{"title":%q,"description":"","folder":%s,"brief":%s}`, title, folder, ids["$Q"]))
	}
	_, me := reader.call("GET", "/api/me", "")
	require.Equal(t, []any{false, true}, []any{me["mayCompose"], me["mayKeep"]})
	status, r := keep(reader.private(), "My deals")
	require.Equal(t, http.StatusOK, status, r)
	require.Equal(t, true, r["mayChange"])
	own := fmt.Sprintf("/api/reports/%v", r["id"])
	status, _ = keep(ids["$F"], "In the team’s")
	require.Equal(t, http.StatusForbidden, status)
	status, _ = reader.call("PUT", own+"/folder", fmt.Sprintf(`{"folder":%s}`, ids["$F"]))
	require.Equal(t, http.StatusForbidden, status)
	status, r = reader.call("PUT", own, fmt.Sprintf(`{"title":"My deals","description":"by stage","folder":%v,"brief":%s,"version":1}`, r["folder"], ids["$Q"]))
	require.Equal(t, http.StatusOK, status, r)
	status, _ = reader.call("PUT", fmt.Sprintf("/api/shares/report/%v", r["id"]), `{"access":[{"kind":"everyone","subject":0,"mayChange":false}]}`)
	require.Equal(t, http.StatusForbidden, status, "what they keep is theirs alone")
	status, _ = reader.call("POST", "/api/boards", fmt.Sprintf(`{"title":"A board","folder":%s,"panels":[]}`, reader.private()))
	require.Equal(t, http.StatusForbidden, status)
	// What others do not let out is not let out by way of a report of one's own.
	status, _ = reader.call("PUT", own, fmt.Sprintf(`{"title":"My deals","description":"","folder":%v,"brief":{"version":1,"start":"people"},"version":2}`, r["folder"]))
	require.Equal(t, http.StatusOK, status)
	_, kept := reader.call("GET", "/api/reports/"+ids["$K"], "")
	status, _ = reader.call("POST", "/api/export", fmt.Sprintf(`{"brief":%s,"view":"records","report":%v}`, mustJSON(t, kept["brief"]), r["id"]))
	require.Equal(t, http.StatusForbidden, status)

	status, _ = admin.call("PUT", "/api/settings/people", `{"readersKeep":false}`)
	require.Equal(t, http.StatusNoContent, status)
	status, _ = keep(reader.private(), "One more")
	require.Equal(t, http.StatusForbidden, status)
	_, r = reader.call("GET", own, "")
	require.Equal(t, false, r["mayChange"], "it stays, to be read")
	status, _ = admin.call("PUT", "/api/settings/people", `{"readersKeep":true}`)
	require.Equal(t, http.StatusConflict, status)
}
