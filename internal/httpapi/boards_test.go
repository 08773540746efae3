package httpapi_test

import (
	"fmt"
	"net/http"
	"testing"

	"github.com/stretchr/testify/require"
)

// A board's filters and a panel's words are kept as they are, and refused where they make no sense.
func TestBoardFiltersAndWords(t *testing.T) {
	c := signIn(t, serve(t), 1)
	ids := furnish(t, c)
	board := func(panels, filters string) (int, map[string]any) {
		return c.call("POST", "/api/boards", fmt.Sprintf(`{"title":"One more","folder":%s,"panels":[%s],"filters":%s}`, ids["$F"], panels, filters))
	}
	report := fmt.Sprintf(`{"report":%s,"x":0,"y":0,"w":6,"h":9,"options":{"heading":"Ours","kind":"bar","style":"quiet","items":5,"order":"largest","source":"From the books"}}`, ids["$T"])
	words := `{"report":0,"x":0,"y":9,"w":12,"h":2,"options":{"words":"What is open","section":true}}`
	filters := `{"period":{"last":30,"unit":"day"},"whose":"team","fields":[{"type":"customers","field":"segment","values":["Marina"]}]}`
	status, b := board(report+","+words, filters)
	require.Equal(t, http.StatusOK, status, b)
	_, kept := c.call("GET", fmt.Sprintf("/api/boards/%v", b["id"]), "")
	require.JSONEq(t, filters, mustJSON(t, kept["filters"]))
	require.JSONEq(t, "["+report+","+words+"]", mustJSON(t, kept["panels"]))

	for name, bad := range map[string][2]string{
		"a panel of nothing":         {`{"report":0,"x":0,"y":0,"w":6,"h":9}`, `{}`},
		"a kind there is not":        {`{"report":` + ids["$T"] + `,"x":0,"y":0,"w":6,"h":9,"options":{"kind":"tower"}}`, `{}`},
		"an order there is not":      {`{"report":` + ids["$T"] + `,"x":0,"y":0,"w":6,"h":9,"options":{"order":"upside down"}}`, `{}`},
		"more groups than are drawn": {`{"report":` + ids["$T"] + `,"x":0,"y":0,"w":6,"h":9,"options":{"items":401}}`, `{}`},
		"a panel beside the board":   {`{"report":` + ids["$T"] + `,"x":8,"y":0,"w":6,"h":9}`, `{}`},
		"a period there is not":      {report, `{"period":"someday"}`},
		"a field there is not":       {report, `{"fields":[{"type":"deals","field":"colour","values":["red"]}]}`},
		"a filter without values":    {report, `{"fields":[{"type":"deals","field":"stage","values":[]}]}`},
		"a whose that is no one":     {report, `{"whose":"theirs"}`},
		"a period that is no period": {report, `{"period":17}`},
	} {
		status, out := board(bad[0], bad[1])
		require.Equal(t, http.StatusUnprocessableEntity, status, "%s: %v", name, out)
	}
}

// A board goes out whole and comes in again, its reports made where they are not there yet; a set does the same.
func TestWholeBoards(t *testing.T) {
	server := serve(t)
	c := signIn(t, server, 1)
	ids := furnish(t, c)
	status, whole := c.call("GET", "/api/boards/1/whole", "")
	require.Equal(t, http.StatusOK, status)
	require.Len(t, whole["panels"], 5)
	reports := func() int {
		titles, _ := c.find("kind=report")
		return len(titles)
	}
	before := reports()
	whole["title"] = "Brought in"
	bring := func(folder string) (int, map[string]any) {
		return c.call("POST", "/api/whole-boards", fmt.Sprintf(`{"folder":%s,"board":%s}`, folder, mustJSON(t, whole)))
	}
	status, b := bring(ids["$F"])
	require.Equal(t, http.StatusOK, status, b)
	require.Equal(t, before+5, reports())
	_, again := c.call("GET", fmt.Sprintf("/api/boards/%v/whole", b["id"]), "")
	require.JSONEq(t, mustJSON(t, whole), mustJSON(t, again), "what goes out is what came in")

	// Into the same folder once more: its reports are there already.
	whole["title"] = "And again"
	status, b = bring(ids["$F"])
	require.Equal(t, http.StatusOK, status, b)
	require.Equal(t, before+5, reports())

	status, b = c.call("POST", "/api/sets/director", fmt.Sprintf(`{"title":"Two minutes","folder":%s}`, ids["$F"]))
	require.Equal(t, http.StatusOK, status, b)
	require.Len(t, b["panels"], 6)
	status, _ = c.call("POST", "/api/sets/nothing", fmt.Sprintf(`{"title":"None","folder":%s}`, ids["$F"]))
	require.Equal(t, http.StatusNotFound, status)

	// A report that does not let itself be downloaded does not go out with a board.
	status, b = c.call("POST", "/api/boards", fmt.Sprintf(`{"title":"With one kept in","folder":%s,"panels":[{"report":%s,"x":0,"y":0,"w":6,"h":9}]}`, ids["$F"], ids["$K"]))
	require.Equal(t, http.StatusOK, status, b)
	_, out := signIn(t, server, 8).call("GET", fmt.Sprintf("/api/boards/%v/whole", b["id"]), "")
	require.Empty(t, out["panels"])
}

// A report is placed where there is room, keeping what the board has; a panel goes to another board as it is; the
// report is taken off again.
func TestPlacingAndTakingOff(t *testing.T) {
	server := serve(t)
	c := signIn(t, server, 1)
	ids := furnish(t, c)
	_, one := c.call("GET", "/api/boards/1", "")
	one["filters"] = map[string]any{"period": "this_month"}
	status, one := c.call("PUT", "/api/boards/1", mustJSON(t, one))
	require.Equal(t, http.StatusOK, status, one)
	n := len(one["panels"].([]any))

	status, b := c.call("POST", "/api/boards/1/panels", fmt.Sprintf(`{"report":%s,"w":4,"h":6,"options":{"heading":"Ours","period":"last_month","link":"/dashboards/1"}}`, ids["$T"]))
	require.Equal(t, http.StatusOK, status, b)
	require.Equal(t, map[string]any{"period": "this_month"}, b["filters"], "what it opens with stays")
	panels := b["panels"].([]any)
	require.Len(t, panels, n+1)
	last := panels[n].(map[string]any)
	require.EqualValues(t, 4, last["w"])
	require.Equal(t, map[string]any{"heading": "Ours", "period": "last_month", "link": "/dashboards/1"}, last["options"])
	for i, p := range panels {
		for _, q := range panels[i+1:] {
			a, z := p.(map[string]any), q.(map[string]any)
			num := func(m map[string]any, k string) float64 { return m[k].(float64) }
			apart := num(a, "x")+num(a, "w") <= num(z, "x") || num(z, "x")+num(z, "w") <= num(a, "x") || num(a, "y")+num(a, "h") <= num(z, "y") || num(z, "y")+num(z, "h") <= num(a, "y")
			require.True(t, apart, "panels lie over each other: %v %v", a, z)
		}
	}

	status, b = c.call("DELETE", "/api/boards/1/reports/"+ids["$T"], "")
	require.Equal(t, http.StatusOK, status, b)
	require.Len(t, b["panels"], n)
	status, _ = c.call("DELETE", "/api/boards/1/reports/"+ids["$T"], "")
	require.Equal(t, http.StatusNotFound, status)

	for _, options := range []string{`{"link":"javascript:alert(1)"}`, `{"link":"//elsewhere.example/x"}`, `{"link":"http://plain.example"}`, `{"link":"/settings"}`, `{"period":"someday"}`, `{"kind":"globe"}`} {
		status, _ = c.call("POST", "/api/boards/1/panels", fmt.Sprintf(`{"report":%s,"options":%s}`, ids["$T"], options))
		require.Equal(t, http.StatusUnprocessableEntity, status, options)
	}
}

// A report that some who may open a board may not open is told, with whom it is closed to, and put beside the board in
// one step.
func TestClosedReportsOnABoard(t *testing.T) {
	server := serve(t)
	c := signIn(t, server, 1)
	ids := furnish(t, c)
	status, b := c.call("POST", "/api/boards/1/panels", fmt.Sprintf(`{"report":%s}`, ids["$P"]))
	require.Equal(t, http.StatusOK, status, b)
	told := func(c *client) (list []map[string]any) {
		c.list("/api/boards/1/closed", &list)
		return list
	}
	closed := told(c)
	require.Len(t, closed, 1)
	require.Equal(t, true, closed[0]["mayMove"])
	require.Contains(t, closed[0]["to"], "Joren Brandt")
	require.NotContains(t, closed[0]["to"], "Maite Corrie")
	// The administrator may not open another's private report, and is told no more than that there is one.
	admin := signIn(t, server, 2)
	theirs := told(admin)
	require.Len(t, theirs, 1)
	require.Equal(t, "", theirs[0]["title"])
	require.Equal(t, false, theirs[0]["mayMove"])
	admin.call("POST", "/api/boards/1/open-reports", "")
	require.Len(t, told(admin), 1, "it stays where it is")

	c.call("POST", "/api/boards/1/open-reports", "")
	require.Empty(t, told(c))
	status, _ = signIn(t, server, 8).call("GET", "/api/reports/"+ids["$P"], "")
	require.Equal(t, http.StatusOK, status)
}

// A report says itself where it is before people who cannot read it, record pages too, to whoever may change it;
// moved to where all of them read, it says nothing.
func TestPlacesWhereAReportIsClosed(t *testing.T) {
	server := serve(t)
	c, admin := signIn(t, server, 1), signIn(t, server, 2)
	ids := furnish(t, c)
	places := func() (list []map[string]any) {
		c.list("/api/reports/"+ids["$P"]+"/closed", &list)
		return list
	}
	require.Empty(t, places(), "it stands nowhere")
	status, b := c.call("POST", "/api/boards/1/panels", fmt.Sprintf(`{"report":%s}`, ids["$P"]))
	require.Equal(t, http.StatusOK, status, b)
	at := places()
	require.Len(t, at, 1)
	require.Contains(t, at[0]["to"], "Joren Brandt")
	require.NotContains(t, at[0]["to"], "Maite Corrie")
	into := at[0]["into"]
	require.NotZero(t, into)
	status, _ = admin.call("GET", "/api/reports/"+ids["$P"]+"/closed", "")
	require.Equal(t, http.StatusNotFound, status, "nobody else learns of it")
	status, b = c.call("PUT", "/api/reports/"+ids["$P"]+"/folder", fmt.Sprintf(`{"folder":%v}`, into))
	require.Equal(t, http.StatusOK, status, b)
	require.Empty(t, places())

	// On record pages, which everyone comes to, a folder of some is too narrow.
	status, b = admin.call("PUT", "/api/pages/customers/"+ids["$P"], "")
	require.Equal(t, http.StatusNoContent, status, b)
	require.Empty(t, places(), "everyone reads this folder")
	var folders []map[string]any
	c.list("/api/folders", &folders)
	for _, f := range folders {
		if f["private"] == true {
			c.call("PUT", "/api/reports/"+ids["$P"]+"/folder", fmt.Sprintf(`{"folder":%v}`, f["id"]))
		}
	}
	at = places()
	require.Len(t, at, 2)
	require.Equal(t, true, at[0]["pages"] == true || at[1]["pages"] == true)
}

// A team begins on its board, others on the one for all; nobody on one that they may not open.
func TestHomeBoards(t *testing.T) {
	server := serve(t)
	owner, admin := signIn(t, server, 1), signIn(t, server, 2)
	home := func(c *client) any {
		status, h := c.call("GET", "/api/home", "")
		require.Equal(t, http.StatusOK, status)
		return h["board"]
	}
	require.EqualValues(t, 1, home(owner), "the demo's, for everyone")
	var folders []map[string]any
	owner.list("/api/folders", &folders)
	var private, shared any
	for _, f := range folders {
		switch {
		case f["private"] == true:
			private = f["id"]
		case f["name"] == "West shore":
			shared = f["id"]
		}
	}
	_, mine := owner.call("POST", "/api/boards", fmt.Sprintf(`{"title":"Mine","folder":%v,"panels":[]}`, private))
	set := func(team string, board any) int {
		_, homes := admin.call("GET", "/api/settings/homes", "")
		status, _ := admin.call("PUT", "/api/settings/homes/"+team, fmt.Sprintf(`{"board":%v,"version":%v}`, board, homes["version"]))
		return status
	}
	require.Equal(t, http.StatusNotFound, set("2", mine["id"]), "not one that the administrator may not open")
	require.Equal(t, http.StatusNotFound, set("99", 1))
	require.Equal(t, http.StatusNoContent, set("0", 1))
	_, team := owner.call("POST", "/api/boards", fmt.Sprintf(`{"title":"Ours","folder":%v,"panels":[]}`, shared))
	require.Equal(t, http.StatusNoContent, set("2", team["id"]))
	require.EqualValues(t, team["id"], home(owner))
	require.EqualValues(t, 1, home(signIn(t, server, 8)))
	status, _ := owner.call("DELETE", fmt.Sprintf("/api/boards/%v", team["id"]), "")
	require.Equal(t, http.StatusNoContent, status)
	require.EqualValues(t, 1, home(owner), "one that was deleted is none")
	require.Equal(t, http.StatusNoContent, set("0", 0))
	require.EqualValues(t, 0, home(owner))
}

// The house style changes what is answered from then on, for everyone.
func TestHouseStyle(t *testing.T) {
	server := serve(t)
	admin, reader := signIn(t, server, 2), signIn(t, server, 8)
	colour := func() any {
		_, a := reader.call("POST", "/api/answer", `{"brief":{"version":1,"start":"activities","groups":[{"field":"kind"}],"chart":{"kind":"bar"}}}`)
		d := a["drawing"].(map[string]any)
		require.NotNil(t, d)
		return []any{d["legend"], d["series"].([]any)[0].(map[string]any)["colour"]}
	}
	before := colour()
	status, out := admin.call("PUT", "/api/settings/style", `{"style":{"palette":["#123456","#654321","#336699"],"legend":"below"}}`)
	require.Equal(t, http.StatusNoContent, status, out)
	require.Equal(t, []any{"below", "#123456"}, colour())
	for _, bad := range []string{`{"palette":["red","#654321","#336699"]}`, `{"legend":"inside"}`, `{"values":{"deals.colour":{"a":"#123456"}}}`} {
		status, _ = admin.call("PUT", "/api/settings/style", `{"version":1,"style":`+bad+`}`)
		require.Equal(t, http.StatusUnprocessableEntity, status, bad)
	}
	require.Equal(t, []any{"below", "#123456"}, colour())
	status, _ = admin.call("PUT", "/api/settings/style", `{"style":{}}`)
	require.Equal(t, http.StatusConflict, status, "someone set it since")
	admin.call("PUT", "/api/settings/style", `{"style":{},"version":1}`)
	require.Equal(t, before, colour())
}
