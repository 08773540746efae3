package httpapi_test

import (
	"fmt"
	"net/http"
	"testing"

	"github.com/stretchr/testify/require"
)

type boardVersion struct {
	Version int
	Title   string
	Who     string
	Change  []string
	Panels  []struct{ Report int64 }
}

// Every saving of a board is a version; it says in words what changed, names no report that is closed to who asks, and
// can be brought back, without the panels of reports that are gone for good.
func TestBoardVersions(t *testing.T) {
	server := serve(t)
	c := signIn(t, server, 1)
	ids := furnish(t, c)
	at := "/api/boards/" + ids["$B"]
	put := func(version int, title, panels string) {
		t.Helper()
		status, b := c.call("PUT", at, fmt.Sprintf(`{"title":%q,"folder":%s,"version":%d,"panels":[%s]}`, title, ids["$F"], version, panels))
		require.Equal(t, http.StatusOK, status, b)
	}
	team := fmt.Sprintf(`{"report":%s,"x":0,"y":0,"w":6,"h":9}`, ids["$T"])
	secret := fmt.Sprintf(`{"report":%s,"x":6,"y":0,"w":6,"h":9}`, ids["$P"])
	put(1, "The team’s board", team+","+secret)
	put(2, "The morning", fmt.Sprintf(`{"report":%s,"x":0,"y":0,"w":12,"h":9}`, ids["$T"])+`,{"report":0,"x":0,"y":9,"w":12,"h":2,"options":{"words":"Good morning"}}`)

	var list []boardVersion
	c.list(at+"/versions", &list)
	require.Len(t, list, 3)
	require.Equal(t, []string{"named “The morning”, was “The team’s board”", "words placed", "“Secret plan” taken off"}, list[0].Change)
	require.Equal(t, []string{"“Secret plan” placed"}, list[1].Change)
	require.Equal(t, []string{"as it began"}, list[2].Change)
	require.Equal(t, "Maite Corrie", list[0].Who)

	var seen []boardVersion
	signIn(t, server, 3).list(at+"/versions", &seen)
	require.Equal(t, []string{"a report that is not open to you placed"}, seen[1].Change)

	status, b := c.call("POST", at+"/versions/2/back", "")
	require.Equal(t, http.StatusOK, status, b)
	require.Equal(t, "The team’s board", b["title"])
	require.Len(t, b["panels"], 2)
	require.EqualValues(t, 4, b["version"], "bringing back is a version, too")
	status, _ = c.call("POST", at+"/versions/99/back", "")
	require.Equal(t, http.StatusNotFound, status)

	// Another composer of the team brings it back as well, with the panel that is closed to that person.
	status, b = signIn(t, server, 2).call("POST", at+"/versions/2/back", "")
	require.Equal(t, http.StatusOK, status, b)
	require.Len(t, b["panels"], 2)
}

// How a board is being arranged is kept for the person alone, notices another window, and is checked like a board.
func TestBoardDrafts(t *testing.T) {
	server := serve(t)
	c := signIn(t, server, 1)
	ids := furnish(t, c)
	at := "/api/boards/" + ids["$B"] + "/draft"
	_, none := c.call("GET", at, "")
	require.EqualValues(t, 0, none["revision"])
	panel := fmt.Sprintf(`{"report":%s,"x":2,"y":0,"w":6,"h":5}`, ids["$T"])
	status, d := c.call("PUT", at, fmt.Sprintf(`{"version":1,"panels":[%s]}`, panel))
	require.Equal(t, http.StatusOK, status, d)
	require.EqualValues(t, 1, d["revision"])

	status, _ = c.call("PUT", at, `{"version":1,"panels":[]}`)
	require.Equal(t, http.StatusConflict, status, "another window has begun one")
	status, d = c.call("PUT", at, fmt.Sprintf(`{"version":1,"revision":1,"panels":[%s,%s]}`, panel, panel))
	require.Equal(t, http.StatusOK, status, d)
	status, _ = c.call("PUT", at, `{"version":1,"revision":1,"panels":[]}`)
	require.Equal(t, http.StatusConflict, status, "another window has gone on")
	status, _ = c.call("PUT", at, `{"version":1,"revision":2,"panels":[{"report":0,"x":0,"y":0,"w":6,"h":9}]}`)
	require.Equal(t, http.StatusUnprocessableEntity, status, "a panel of nothing")

	_, kept := c.call("GET", at, "")
	require.Len(t, kept["panels"], 2)
	_, board := c.call("GET", "/api/boards/"+ids["$B"], "")
	require.Len(t, board["panels"], 1, "the board itself is as it was")
	_, others := signIn(t, server, 2).call("GET", at, "")
	require.EqualValues(t, 0, others["revision"], "a draft is its person’s")

	status, _ = c.call("DELETE", at, "")
	require.Equal(t, http.StatusNoContent, status)
	_, none = c.call("GET", at, "")
	require.EqualValues(t, 0, none["revision"])
}

// Each person has dashboards in an order of their own; those not put in order come after, by title.
func TestOrderOfBoards(t *testing.T) {
	server := serve(t)
	c := signIn(t, server, 1)
	ids := furnish(t, c)
	titles := func(c *client) (out []string) {
		var list []struct{ Title string }
		c.list("/api/boards", &list)
		for _, b := range list {
			if b.Title == "Company, Monday" || b.Title == "The team’s board" { // the demo's teams have theirs besides
				out = append(out, b.Title)
			}
		}
		return out
	}
	require.Equal(t, []string{"Company, Monday", "The team’s board"}, titles(c))
	status, _ := c.call("PUT", "/api/board-order", fmt.Sprintf(`{"boards":[%s]}`, ids["$B"]))
	require.Equal(t, http.StatusNoContent, status)
	require.Equal(t, []string{"The team’s board", "Company, Monday"}, titles(c))
	require.Equal(t, []string{"Company, Monday", "The team’s board"}, titles(signIn(t, server, 3)))
	status, _ = c.call("PUT", "/api/board-order", fmt.Sprintf(`{"boards":[%s,%s]}`, ids["$B"], ids["$B"]))
	require.Equal(t, http.StatusNotFound, status, "each stands once")
	status, _ = c.call("PUT", "/api/board-order", `{"boards":[4711]}`)
	require.Equal(t, http.StatusNotFound, status)
}
