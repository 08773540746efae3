package httpapi_test

import (
	"fmt"
	"net/http"
	"testing"

	"github.com/stretchr/testify/require"
)

// find gives the titles of what was found, and what was looked for in words.
func (c *client) find(query string) (titles []string, said string) {
	c.t.Helper()
	status, out := c.call("GET", "/api/find?"+query, "")
	require.Equal(c.t, http.StatusOK, status, out)
	for _, i := range out["items"].([]any) {
		titles = append(titles, i.(map[string]any)["title"].(string))
	}
	return titles, out["said"].(string)
}

// What is looked for narrows by whose, mark, folder, board, record type, time and words, and is said.
func TestFinding(t *testing.T) {
	server := serve(t)
	maite, reader := signIn(t, server, 1), signIn(t, server, 8)
	ids := furnish(t, maite)
	all, said := maite.find("")
	require.Equal(t, "Reports, dashboards and folders.", said)
	require.Contains(t, all, "Secret plan")
	require.Contains(t, all, "Company, Monday")
	require.Contains(t, all, "West shore")

	theirs, _ := reader.find("")
	require.NotContains(t, theirs, "Secret plan")
	require.NotContains(t, theirs, "Secret folder")
	none, _ := reader.find("search=secret")
	require.Empty(t, none, "what may not be opened is not found by its words, either")
	none, _ = reader.find("folder=" + ids["$N"])
	require.Empty(t, none)

	unplaced, said := maite.find("kind=report&whose=mine&board=none")
	require.Equal(t, "Reports of mine, on no dashboard.", said)
	require.Contains(t, unplaced, "Secret plan")
	require.NotContains(t, unplaced, "Won by segment")
	on, _ := maite.find("kind=report&board=" + ids["$B"])
	require.Equal(t, []string{"The team’s"}, on)
	mine, _ := reader.find("kind=report&whose=mine")
	require.Empty(t, mine)
	private, _ := maite.find("kind=report&for=me")
	require.Equal(t, []string{"Secret plan"}, private)
	about, said := maite.find("kind=report&start=activities")
	require.Contains(t, about, "Who did what in the last four weeks")
	require.NotContains(t, about, "Won by segment")
	require.Contains(t, said, "about activities")
	byField, _ := maite.find("kind=report&search=customer%27s+segment")
	require.Contains(t, byField, "Won by segment", "fields and sentences are searched, too")
	for word, title := range map[string]string{"revenue": "Won by segment", "task": "Who did what in the last four weeks", "meeting": "Who did what in the last four weeks"} {
		found, _ := maite.find("kind=report&search=" + word)
		require.Contains(t, found, title, "kinds and other words of the trade are searched: %s", word)
	}
	_, said = maite.find("kind=report&changed=this_month")
	require.Equal(t, "Reports, changed this month.", said)
	status, _ := maite.call("GET", "/api/find?changed=someday", "")
	require.Equal(t, http.StatusUnprocessableEntity, status)

	sorted, _ := maite.find("kind=report&sort=title")
	require.Equal(t, "Deals by status", sorted[0])
	maite.call("PUT", "/api/favourites/report/"+ids["$T"], "")
	starred, _ := maite.find("favourite=true")
	require.Equal(t, []string{"The team’s"}, starred)
	others, _ := reader.find("favourite=true")
	require.Empty(t, others, "a favourite is one person's")
	maite.call("PUT", "/api/opened/board/"+ids["$B"], "")
	opened, _ := maite.find("opened=true")
	require.Equal(t, []string{"The team’s board"}, opened)
}

// What is deleted is nowhere, is shown as missing where it was, and comes back whole; a taken title is said.
func TestDeletedComesBack(t *testing.T) {
	c := signIn(t, serve(t), 1)
	ids := furnish(t, c)
	report, board := "/api/reports/"+ids["$T"], "/api/boards/"+ids["$B"]
	status, used := c.call("GET", report+"/uses", "")
	require.Equal(t, http.StatusOK, status)
	require.Contains(t, fmt.Sprint(used["uses"]), "The team’s board")
	status, _ = c.call("DELETE", report, "")
	require.Equal(t, http.StatusNoContent, status)
	live, _ := c.find("kind=report")
	require.NotContains(t, live, "The team’s")
	status, _ = c.call("GET", report, "")
	require.Equal(t, http.StatusNotFound, status)
	_, b := c.call("GET", board, "")
	require.Len(t, b["panels"], 1, "the panel keeps its place")

	// The board can be kept meanwhile.
	status, out := c.call("PUT", board, fmt.Sprintf(`{"title":"The team’s board","folder":%s,"version":1,"panels":[{"report":%s,"x":2,"y":0,"w":6,"h":9}]}`, ids["$F"], ids["$T"]))
	require.Equal(t, http.StatusOK, status, out)
	gone, said := c.find("deleted=true")
	require.Equal(t, []string{"The team’s"}, gone)
	require.Contains(t, said, "recently deleted")

	status, again := c.call("POST", "/api/reports", fmt.Sprintf(`{"title":"THE TEAM’S","description":"","folder":%s,"brief":%s}`, ids["$F"], deals))
	require.Equal(t, http.StatusOK, status, "a deleted title is free")
	status, out = c.call("POST", "/api/deleted/report/"+ids["$T"]+"/back", "")
	require.Equal(t, http.StatusConflict, status)
	require.Contains(t, out["detail"], "already")
	c.call("DELETE", fmt.Sprintf("/api/reports/%v", again["id"]), "")
	status, out = c.call("POST", "/api/deleted/report/"+ids["$T"]+"/back", "")
	require.Equal(t, http.StatusNoContent, status, out)
	status, _ = c.call("GET", report, "")
	require.Equal(t, http.StatusOK, status)
}

// A folder's access is what lies in it: who can open it, who can change it, once nested, gone only when empty.
func TestFolderAccess(t *testing.T) {
	server := serve(t)
	maite, petra, reader := signIn(t, server, 1), signIn(t, server, 7), signIn(t, server, 8)
	status, f := maite.call("POST", "/api/folders", `{"name":"Both shores","access":[{"kind":"team","subject":2,"mayChange":true},{"kind":"person","subject":7,"mayChange":true},{"kind":"person","subject":8,"mayChange":false}]}`)
	require.Equal(t, http.StatusOK, status, f)
	id := fmt.Sprint(f["id"])
	status, r := petra.call("POST", "/api/reports", fmt.Sprintf(`{"title":"Shared","description":"","folder":%s,"brief":%s}`, id, deals))
	require.Equal(t, http.StatusOK, status, r)
	status, _ = maite.call("PUT", fmt.Sprintf("/api/reports/%v", r["id"]), fmt.Sprintf(`{"title":"Shared","description":"by both","folder":%s,"brief":%s,"version":1}`, id, deals))
	require.Equal(t, http.StatusOK, status, "who can change the folder can change what lies in it")
	require.True(t, reader.has("/api/reports", "Shared"))
	status, _ = reader.call("DELETE", fmt.Sprintf("/api/reports/%v", r["id"]), "")
	require.Equal(t, http.StatusForbidden, status)

	status, inner := maite.call("POST", "/api/folders", fmt.Sprintf(`{"name":"Within","parent":%s,"access":[]}`, id))
	require.Equal(t, http.StatusOK, status, inner)
	status, out := maite.call("POST", "/api/folders", fmt.Sprintf(`{"name":"Deeper","parent":%v,"access":[]}`, inner["id"]))
	require.Equal(t, http.StatusUnprocessableEntity, status, out)
	status, out = maite.call("POST", "/api/folders", `{"name":"both SHORES","access":[]}`)
	require.Equal(t, http.StatusConflict, status, out)
	for _, bad := range []string{`{"name":" ","access":[]}`, `{"name":"X","access":[{"kind":"team","subject":99,"mayChange":false}]}`} {
		status, _ = maite.call("POST", "/api/folders", bad)
		require.Equal(t, http.StatusUnprocessableEntity, status, bad)
	}
	status, _ = maite.call("DELETE", "/api/folders/"+id, "")
	require.Equal(t, http.StatusConflict, status, "something lies in it")

	// Access is taken away at once.
	status, _ = maite.call("PUT", "/api/folders/"+id, `{"name":"Both shores","access":[{"kind":"team","subject":2,"mayChange":true}]}`)
	require.Equal(t, http.StatusNoContent, status)
	require.False(t, reader.has("/api/reports", "Shared"))
	status, _ = reader.call("GET", fmt.Sprintf("/api/reports/%v", r["id"]), "")
	require.Equal(t, http.StatusNotFound, status)
}
