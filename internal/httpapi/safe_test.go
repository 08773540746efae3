package httpapi_test

import (
	"bufio"
	"context"
	"database/sql"
	"encoding/json"
	"fmt"
	"io/fs"
	"log/slog"
	"net/http"
	"strings"
	"testing"
	"time"

	_ "github.com/mattn/go-sqlite3"
	"github.com/stretchr/testify/require"

	"uzzel/internal/app"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/httpapi"
)

func (c *client) answered(brief string) map[string]any {
	c.t.Helper()
	status, a := c.call("POST", "/api/answer", `{"brief":`+brief+`}`)
	require.Equal(c.t, http.StatusOK, status, a)
	return a
}

// Where deals are limited to one's own, so are their lines and changes, and the sentence and the answer say so.
func TestWhatBelongsToHiddenRecordsIsHidden(t *testing.T) {
	server := serve(t)
	admin, seller := signIn(t, server, 2), signIn(t, server, 3)
	lines, changes := `{"version":1,"start":"lines","summaries":[{"key":"v","fn":"sum","of":"amount"}]}`, `{"version":1,"start":"changes"}`
	all := map[string]any{}
	for _, b := range []string{lines, changes} {
		all[b] = seller.answered(b)["records"]
	}
	status, out := admin.call("PUT", "/api/settings/sees/deals", `{"how":"own"}`)
	require.Equal(t, http.StatusNoContent, status, out)
	own := seller.answered(`{"version":1,"start":"deals"}`)
	require.Contains(t, own["text"], "Deals you may see of everyone")
	for _, b := range []string{lines, changes} {
		a := seller.answered(b)
		require.Less(t, a["records"], all[b], b)
		require.Contains(t, a["text"], "you may see", b)
		seller.answered(strings.Replace(b, `"version":1`, `"version":1,"filter":{"field":"deal","is":"filled"}`, 1))
	}
	// As many as the lines of the own deals, counted the other way about.
	byDeal := seller.answered(`{"version":1,"start":"deals","bring":{"link":"lines","keepEmpty":false},"summaries":[{"key":"n","fn":"count","of":"lines"},{"key":"v","fn":"sum","of":"lines.amount"}]}`)
	cells := byDeal["lines"].([]any)[0].(map[string]any)["cells"].([]any)[0].([]any)
	a := seller.answered(lines)
	require.Equal(t, strings.ReplaceAll(cells[0].(string), ",", ""), fmt.Sprint(a["records"]))
	require.Equal(t, cells[1], a["lines"].([]any)[0].(map[string]any)["cells"].([]any)[0].([]any)[0])
	// The sentence is read back.
	_, typed := seller.call("POST", "/api/typed", fmt.Sprintf(`{"text":%q}`, byDeal["text"]))
	require.Empty(t, typed["unread"], "%v", typed)
	require.Equal(t, byDeal["text"], typed["text"])
	status, _ = seller.call("GET", "/api/records/lines/1", "")
	other, _ := seller.call("GET", "/api/records/lines/2", "")
	require.True(t, status == http.StatusNotFound || other == http.StatusNotFound, "the lines of others' deals are not opened")
}

// What is hidden is apart from what is empty: in groups, lists and pages, with how many there are.
func TestHiddenIsSaid(t *testing.T) {
	server := serve(t)
	admin, seller := signIn(t, server, 2), signIn(t, server, 3)
	empty := seller.answered(`{"version":1,"start":"deals","filter":{"field":"contact","is":"empty"}}`)["records"]
	admin.call("PUT", "/api/settings/sees/contacts", `{"how":"own"}`)
	require.Equal(t, empty, seller.answered(`{"version":1,"start":"deals","filter":{"field":"contact","is":"empty"}}`)["records"], "who sees less finds no more of them empty")
	a := seller.answered(`{"version":1,"start":"deals","groups":[{"field":"contact.kind"}],"chart":{"kind":"bar"}}`)
	text := mustJSON(t, a)
	require.Contains(t, text, "(blank)")
	require.Contains(t, text, "(hidden)")
	require.Contains(t, text, "~hidden")
	require.Contains(t, a["unseen"], "not yours to see")
	_, list := seller.call("POST", "/api/list", `{"brief":{"version":1,"start":"deals","columns":[{"field":"name"},{"field":"contact"},{"field":"contact.email"}]},"count":50}`)
	hidden := 0
	var closed string
	for _, r := range list["rows"].([]any) {
		row := r.(map[string]any)
		cells := row["cells"].([]any)
		if cells[1].(map[string]any)["hidden"] == true {
			require.Equal(t, true, cells[2].(map[string]any)["hidden"])
			require.Empty(t, cells[1].(map[string]any)["text"])
			hidden++
			closed = row["id"].(string)
		}
	}
	require.Positive(t, hidden)
	_, page := seller.call("GET", "/api/records/deals/"+closed, "")
	said := false
	for _, f := range page["fields"].([]any) {
		field := f.(map[string]any)
		if field["key"] == "contact" {
			said = field["hidden"] == true && field["to"] == nil && field["text"] == ""
		}
	}
	require.True(t, said, "%v", page["fields"])
}

// A name is told from a namesake's by its number only where both are seen.
func TestNamesakesThatAreHiddenTellNothing(t *testing.T) {
	server := serve(t)
	admin := signIn(t, server, 2)
	// Two contacts of one name, of different owners.
	_, list := admin.call("POST", "/api/list", `{"brief":{"version":1,"start":"contacts","columns":[{"field":"name"},{"field":"owner"}],"order":[{"field":"name"}]},"count":1000}`)
	var id, name, owner string
	rows := list["rows"].([]any)
	at := func(i int) (string, string, string) {
		r := rows[i].(map[string]any)
		cells := r["cells"].([]any)
		return r["id"].(string), cells[0].(map[string]any)["text"].(string), fmt.Sprint(cells[1].(map[string]any)["id"])
	}
	alone := func(i int) bool { // of its name and owner
		_, n, o := at(i)
		count := 0
		for k := range rows {
			if _, m, p := at(k); m == n && p == o {
				count++
			}
		}
		return count == 1
	}
	for i := range len(rows) - 1 {
		a, n, o := at(i)
		if _, m, p := at(i + 1); n == m && o != p && alone(i) {
			id, name, owner = a, n, o
		}
	}
	require.NotEmpty(t, id)
	var person int
	_, err := fmt.Sscan(owner, &person)
	require.NoError(t, err)
	seller := signIn(t, server, person)
	brief := fmt.Sprintf(`{"version":1,"start":"deals","filter":{"field":"contact","is":"any_of","values":[%q]}}`, id)
	require.Contains(t, seller.answered(brief)["text"], name+" (number "+id+")")
	admin.call("PUT", "/api/settings/sees/contacts", `{"how":"own"}`)
	require.NotContains(t, seller.answered(brief)["text"], "number")
}

// Others' work stays where its readers find it: nobody moves it into a private folder, or closes a folder to others;
// its owner and administrators always get at it and bring it back.
func TestNobodyTakesOthersWorkAway(t *testing.T) {
	server := serve(t)
	owner, admin, colleague := signIn(t, server, 1), signIn(t, server, 2), signIn(t, server, 7)
	ids := furnishIn(t, owner, "Company") // which everyone may change
	_, me := colleague.call("GET", "/api/me", "")
	require.Equal(t, "composer", me["role"], "someone who may change what lies in the folder")
	var folders []struct {
		ID      int64
		Private bool
	}
	colleague.list("/api/folders", &folders)
	private := ""
	for _, f := range folders {
		if f.Private {
			private = fmt.Sprint(f.ID)
		}
	}
	for _, c := range []struct{ method, path, body string }{
		{"PUT", "/api/reports/$T/folder", `{"folder":` + private + `}`},
		{"PUT", "/api/boards/$B/folder", `{"folder":` + private + `}`},
		{"PUT", "/api/reports/$T", `{"title":"Mine now","description":"","folder":` + private + `,"brief":` + deals + `,"version":1}`},
		{"PUT", "/api/boards/$B", `{"title":"Mine now","folder":` + private + `,"version":1,"panels":[]}`},
		{"PUT", "/api/folders/$F", `{"name":"Company","access":[{"kind":"person","subject":7,"mayChange":true}]}`},
		{"DELETE", "/api/folders/$F", ""},
	} {
		path := c.path
		for key, id := range ids {
			path = strings.ReplaceAll(path, key, id)
		}
		status, out := colleague.call(c.method, path, c.body)
		require.Equal(t, http.StatusForbidden, status, "%s %s: %v", c.method, c.path, out)
	}
	// Deleted by a colleague, it is brought back by its owner, and by an administrator.
	for _, who := range []*client{owner, admin} {
		status, _ := colleague.call("DELETE", "/api/reports/"+ids["$T"], "")
		require.Equal(t, http.StatusNoContent, status)
		status, out := who.call("POST", "/api/deleted/report/"+ids["$T"]+"/back", "")
		require.Equal(t, http.StatusNoContent, status, out)
	}
	// A folder that is closed to an owner by who keeps it still gives the owner what is the owner's.
	_, folder := colleague.call("POST", "/api/folders", `{"name":"The colleague’s","access":[{"kind":"everyone","subject":0,"mayChange":true}]}`)
	_, report := owner.call("POST", "/api/reports", fmt.Sprintf(`{"title":"Lent","description":"","folder":%v,"brief":%s}`, folder["id"], deals))
	_, board := owner.call("POST", "/api/boards", fmt.Sprintf(`{"title":"Lent too","folder":%v,"panels":[]}`, folder["id"]))
	status, out := colleague.call("PUT", fmt.Sprintf("/api/folders/%v", folder["id"]), `{"name":"The colleague’s","access":[]}`)
	require.Equal(t, http.StatusNoContent, status, out)
	for _, path := range []string{"/api/reports/%v", "/api/boards/%v"} {
		of := map[string]any{"/api/reports/%v": report["id"], "/api/boards/%v": board["id"]}[path]
		status, out := owner.call("GET", fmt.Sprintf(path, of), "")
		require.Equal(t, http.StatusOK, status)
		require.Equal(t, true, out["mayChange"])
		status, _ = owner.call("PUT", fmt.Sprintf(path, of)+"/folder", `{"folder":`+ids["$F"]+`}`)
		require.Equal(t, http.StatusOK, status)
	}
	// What is given away leaves the private folder it lay in, and whoever may not keep reports only reads it.
	admin.call("PUT", "/api/settings/people", `{"readersKeep":false}`)
	status, given := owner.call("PUT", "/api/reports/"+ids["$P"]+"/owner", `{"owner":3}`)
	require.Equal(t, http.StatusNotFound, status, "it is no longer the owner's to open: %v", given)
	reader := signIn(t, server, 3)
	status, given = reader.call("GET", "/api/reports/"+ids["$P"], "")
	require.Equal(t, http.StatusOK, status)
	require.Equal(t, false, given["mayChange"])
	status, _ = reader.call("DELETE", "/api/reports/"+ids["$P"], "")
	require.Equal(t, http.StatusForbidden, status)
}

// The second of two who change a setting is told, and nothing of the first's is lost.
func TestSettingsHaveVersions(t *testing.T) {
	server := serve(t)
	one, two := signIn(t, server, 2), signIn(t, server, 2)
	_, folder := one.call("POST", "/api/folders", `{"name":"Ours","access":[{"kind":"everyone","subject":0,"mayChange":true}]}`)
	_, points := one.text2("GET", "/api/starting-points")
	var list []struct {
		ID, Version int
		Name        string
	}
	require.NoError(t, json.Unmarshal([]byte(points), &list))
	_, grid := one.call("GET", "/api/targets/won_value/grid", "")
	for _, c := range []struct{ path, body string }{
		{fmt.Sprintf("/api/folders/%v", folder["id"]), `{"name":"Ours %d","access":[{"kind":"everyone","subject":0,"mayChange":true}],"version":0}`},
		{fmt.Sprintf("/api/starting-points/%d", list[0].ID), `{"name":"Point %d","about":"","brief":` + deals + `,"questions":[],"teams":[],"version":0}`},
		{"/api/settings/style", `{"style":{"legend":"below"},"version":0}`},
		{"/api/settings/sees/deals", `{"how":"team","version":0}`},
		{"/api/settings/homes/2", `{"board":1,"version":1}`},
		{"/api/styles/quiet", `{"name":"Quiet %d","style":{"guides":"both"},"version":0}`},
		{"/api/targets/won_value/amounts", fmt.Sprintf(`{"kind":"team","id":"2","year":2026,"from":0,"months":3,"amount":"900k","version":%v}`, grid["version"])},
	} {
		body := func(n int) string {
			if strings.Contains(c.body, "%d") {
				return fmt.Sprintf(c.body, n)
			}
			return c.body
		}
		status, out := one.call("PUT", c.path, body(1))
		require.Less(t, status, 300, "%s: %v", c.path, out)
		status, out = two.call("PUT", c.path, body(2))
		require.Equal(t, http.StatusConflict, status, "%s: %v", c.path, out)
		require.Contains(t, out["detail"], "changed by someone else meanwhile")
	}
}

func (c *client) text2(method, path string) (int, string) {
	status, _, text := c.text(method, path, "")
	return status, text
}

// The stream of events tells nobody of what others keep to themselves, and ends with the session, or the server.
func TestEventsAreForThoseConcerned(t *testing.T) {
	s := demotest.Open(t)
	d, err := app.New(s, func() int32 { return demotest.Day }, nil)
	require.NoError(t, err)
	h, err := httpapi.New(d, httpapi.Config{Sessions: s.Sessions(), Demo: "amber beak", Heartbeat: 20 * time.Millisecond})
	require.NoError(t, err)
	server := served(t, h, s)
	owner, other := signIn(t, server, 1), signIn(t, server, 8)
	listen := func(c *client) (next func() string, ended func() bool) {
		ctx, stop := context.WithTimeout(context.Background(), 20*time.Second)
		t.Cleanup(stop)
		req, err := http.NewRequestWithContext(ctx, "GET", server.URL+"/api/events", nil)
		require.NoError(t, err)
		res, err := c.Do(req) //nolint:bodyclose // closed below, by the goroutine that reads it
		require.NoError(t, err)
		require.Equal(t, "no-store", res.Header.Get("Cache-Control"))
		lines := make(chan string, 100)
		go func() {
			defer close(lines)
			defer func() { _ = res.Body.Close() }()
			for scan := bufio.NewScanner(res.Body); scan.Scan(); {
				if strings.HasPrefix(scan.Text(), "data:") || strings.Contains(scan.Text(), "hello") {
					lines <- scan.Text()
				}
			}
		}()
		next = func() string {
			select {
			case l := <-lines:
				return l
			case <-time.After(10 * time.Second):
				return "nothing"
			}
		}
		require.Contains(t, next(), "hello")
		return next, func() bool {
			for {
				select {
				case _, open := <-lines:
					if !open {
						return true
					}
				case <-time.After(10 * time.Second):
					return false
				}
			}
		}
	}
	mine, _ := listen(owner)
	theirs, ended := listen(other)
	ids := furnish(t, owner) // a report of the team's, a private one, the team's board …
	first := func(next func() string, last string) (all []string) {
		for l := ""; !strings.Contains(l, last) && l != "nothing"; {
			l = next()
			all = append(all, l)
		}
		return all
	}
	board := fmt.Sprintf(`"kind":"board","id":%s`, ids["$B"])
	private := fmt.Sprintf(`"kind":"report","id":%s}`, ids["$P"])
	require.Contains(t, strings.Join(first(mine, board), "\n"), private)
	heard := strings.Join(first(theirs, board), "\n")
	require.Contains(t, heard, fmt.Sprintf(`"kind":"report","id":%s}`, ids["$T"]))
	require.NotContains(t, heard, private, "what lies in a private folder is told to its owner alone")
	status, _ := other.call("DELETE", "/api/session", "")
	require.Equal(t, http.StatusNoContent, status)
	require.True(t, ended(), "it ends with the session")
	_, ended = listen(owner)
	began := time.Now()
	d.Feed.Close()
	require.True(t, ended(), "and with the server")
	require.Less(t, time.Since(began), 5*time.Second)
}

// Wrong passwords for one account end its tries from everywhere, whatever address they come from; another account is
// not affected. The word of a proxy is taken only from the proxy that was set.
func TestTriesOfOneAccount(t *testing.T) {
	server := serve(t)
	try := func(from, email, password string) int {
		req, err := http.NewRequestWithContext(context.Background(), "POST", server.URL+"/api/session", strings.NewReader(fmt.Sprintf(`{"email":%q,"password":%q}`, email, password)))
		require.NoError(t, err)
		req.Header.Set("X-Forwarded-For", from)
		res, err := http.DefaultClient.Do(req)
		require.NoError(t, err)
		require.NoError(t, res.Body.Close())
		return res.StatusCode
	}
	got := []int{}
	for i := range 14 {
		got = append(got, try(fmt.Sprintf("10.0.0.%d", i), "p4@brinehaven.example", "wrong"))
	}
	require.Equal(t, http.StatusTooManyRequests, got[13], "the header is nobody's word: %v", got)
}

// Answers are kept by no browser and no proxy; over HTTPS, browsers are told to keep to it.
func TestAnswersAreNotCached(t *testing.T) {
	s := demotest.Open(t)
	d, err := app.New(s, func() int32 { return demotest.Day }, nil)
	require.NoError(t, err)
	h, err := httpapi.New(d, httpapi.Config{Sessions: s.Sessions(), Demo: "amber beak", Secure: true})
	require.NoError(t, err)
	server := served(t, h, s)
	for _, path := range []string{"/api/welcome", "/api/me", "/api/brief.schema.json", "/api/nothing"} {
		res, err := http.Get(server.URL + path)
		require.NoError(t, err)
		require.NoError(t, res.Body.Close())
		require.Equal(t, "no-store", res.Header.Get("Cache-Control"), path)
		require.Contains(t, res.Header.Get("Strict-Transport-Security"), "max-age=31536000", path)
	}
}

// Requests that are odd, but that honest people come to, are answered in words.
func TestOddButHonest(t *testing.T) {
	server := serve(t)
	owner, admin := signIn(t, server, 1), signIn(t, server, 2)
	ids := furnish(t, owner)
	// Groups and records with the rest left out, and with (blank) left out.
	for _, more := range []string{`"groups":[{"field":"customer","top":{"n":3,"by":"v","rest":"drop"}}]`, `"blank":false,"groups":[{"field":"contact.kind"},{"field":"source"}]`} {
		a := owner.answered(`{"version":1,"start":"deals",` + more + `,"summaries":[{"key":"v","fn":"sum","of":"value"}]}`)
		require.NotEmpty(t, a["lines"].([]any)[0].(map[string]any)["keys"])
		status, under := owner.call("POST", "/api/grouped", `{"brief":{"version":1,"start":"deals",`+more+`,"summaries":[{"key":"v","fn":"sum","of":"value"}]}}`)
		require.Equal(t, http.StatusOK, status, under)
		require.NotEmpty(t, under["rows"])
	}
	for _, kind := range []string{"scatter", "bubble", "column_line"} {
		a := owner.answered(`{"version":1,"start":"deals","groups":[{"field":"stage"},{"field":"owner"}],"summaries":[{"key":"v","fn":"sum","of":"value"}],"chart":{"kind":"` + kind + `"}}`)
		require.Contains(t, mustJSON(t, a["drawing"].(map[string]any)["notes"]), "drawn as columns")
	}
	status, page := owner.call("POST", "/api/list", `{"brief":{"version":1,"start":"deals"},"from":100000,"count":50}`)
	require.Equal(t, http.StatusOK, status)
	require.Empty(t, page["rows"])
	require.EqualValues(t, 2600, page["total"])
	for _, text := range []string{"deals by stage, as", "deals, as", "deals listing name as", "deals taking x as"} {
		status, out := owner.call("POST", "/api/typed", fmt.Sprintf(`{"text":%q}`, text))
		require.Equal(t, http.StatusOK, status, "%s: %v", text, out)
	}
	status, out := admin.call("POST", "/api/targets", `{"name":"Nothing"}`)
	require.Equal(t, http.StatusUnprocessableEntity, status, out)
	// A dashboard whose folder is closed to its owner, and one that is kept in a folder that is gone.
	_, folder := admin.call("POST", "/api/folders", `{"name":"For a while","access":[{"kind":"everyone","subject":0,"mayChange":true}]}`)
	_, board := owner.call("POST", "/api/boards", fmt.Sprintf(`{"title":"On its own","folder":%v,"panels":[]}`, folder["id"]))
	status, _ = admin.call("PUT", fmt.Sprintf("/api/folders/%v", folder["id"]), `{"name":"For a while","access":[]}`)
	require.Equal(t, http.StatusNoContent, status)
	for _, path := range []string{"/api/boards/%v", "/api/boards/%v/closed", "/api/boards/%v/versions"} {
		status, _ = owner.call("GET", fmt.Sprintf(path, board["id"]), "")
		require.Equal(t, http.StatusOK, status, path)
	}
	status, out = owner.call("POST", "/api/reports", fmt.Sprintf(`{"title":"Too late","description":"","folder":999,"brief":%s}`, deals))
	require.Equal(t, http.StatusUnprocessableEntity, status, out)
	// A file of a dashboard that is refused in its middle leaves nothing behind.
	whole := fmt.Sprintf(`{"folder":%s,"board":{"title":"Half","panels":[{"x":0,"y":0,"w":6,"h":9,"title":"First of half","brief":%s},{"x":6,"y":0,"w":6,"h":9,"title":"Second of half","brief":{"version":1,"start":"boats"}}]}}`, ids["$F"], deals)
	status, out = owner.call("POST", "/api/whole-boards", whole)
	require.Equal(t, http.StatusUnprocessableEntity, status, out)
	require.False(t, owner.has("/api/reports", "First of half"))
	require.False(t, owner.has("/api/boards", "Half"))
}

// panicking is a front end whose files cannot be opened without a panic.
type panicking struct{}

func (panicking) Open(string) (fs.File, error) { panic("something odd") }

// A panic is written down with its request's number, and whoever asked is told the number and what to do.
func TestPanicsAreWrittenDown(t *testing.T) {
	s := demotest.Open(t)
	log := &noted{}
	logger := slog.New(slog.NewJSONHandler(log, nil))
	d, err := app.New(s, func() int32 { return demotest.Day }, logger)
	require.NoError(t, err)
	h, err := httpapi.New(d, httpapi.Config{Sessions: s.Sessions(), Log: logger, Front: panicking{}})
	require.NoError(t, err)
	server := served(t, h, s)
	res, err := http.Get(server.URL + "/reports/1")
	require.NoError(t, err)
	var told struct{ Detail string }
	require.NoError(t, json.NewDecoder(res.Body).Decode(&told))
	require.NoError(t, res.Body.Close())
	require.Equal(t, http.StatusInternalServerError, res.StatusCode)
	id := res.Header.Get("X-Request-Id")
	require.NotEmpty(t, id)
	require.Contains(t, told.Detail, id)
	require.Contains(t, told.Detail, "Nothing that was saved is lost")
	var line map[string]any
	for _, l := range strings.Split(log.String(), "\n") {
		if strings.Contains(l, `"msg":"panic"`) {
			require.NoError(t, json.Unmarshal([]byte(l), &line))
		}
	}
	require.Equal(t, id, line["id"])
	require.Equal(t, "something odd", line["panic"])
	require.Contains(t, line["stack"], "panicking")
}

// A server that cannot write says so to whoever saves, in words; it stays alive, and what could not be saved can be
// saved when it can write again.
func TestReadiness(t *testing.T) {
	s := demotest.Open(t)
	d, err := app.New(s, func() int32 { return demotest.Day }, nil)
	require.NoError(t, err)
	h, err := httpapi.New(d, httpapi.Config{Sessions: s.Sessions(), Demo: "amber beak"})
	require.NoError(t, err)
	server := served(t, h, s)
	owner := signIn(t, server, 1)
	ids := furnish(t, owner)
	status, _, text := owner.text("GET", "/readyz", "")
	require.Equal(t, http.StatusOK, status, text)
	other, err := sql.Open("sqlite3", s.Path()) // another program
	require.NoError(t, err)
	defer func() { _ = other.Close() }()
	other.SetMaxOpenConns(1)
	_, err = other.Exec("BEGIN IMMEDIATE")
	require.NoError(t, err)
	body := fmt.Sprintf(`{"title":"Held up","description":"","folder":%s,"brief":%s}`, ids["$F"], deals)
	status, out := owner.call("POST", "/api/reports", body)
	require.Equal(t, http.StatusServiceUnavailable, status, out)
	require.Contains(t, out["detail"], "Another program holds")
	status, _, _ = owner.text("GET", "/healthz", "")
	require.Equal(t, http.StatusOK, status)
	_, err = other.Exec("ROLLBACK")
	require.NoError(t, err)
	status, out = owner.call("POST", "/api/reports", body)
	require.Equal(t, http.StatusOK, status, out)
}
