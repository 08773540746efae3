package httpapi_test

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/internal/app"
	"uzzel/internal/demo"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/httpapi"
	"uzzel/internal/store"
)

func serve(t *testing.T) *httptest.Server {
	t.Helper()
	s := demotest.Open(t)
	d, err := app.New(s, func() int32 { return demotest.Day }, nil)
	require.NoError(t, err)
	h, err := httpapi.New(d, httpapi.Config{Sessions: s.Sessions(), Demo: demo.Password})
	require.NoError(t, err)
	return served(t, h, s)
}

// served serves a handler over a store until the test ends.
func served(t *testing.T, h http.Handler, s *store.Store) *httptest.Server {
	t.Helper()
	server := httptest.NewServer(h)
	t.Cleanup(func() {
		server.CloseClientConnections()
		server.Close()
		require.NoError(t, s.Close())
	})
	return server
}

// client is one person's browser.
type client struct {
	t   *testing.T
	url string
	http.Client
}

func signIn(t *testing.T, server *httptest.Server, person int) *client {
	t.Helper()
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	c := &client{t: t, url: server.URL, Client: http.Client{Jar: jar}}
	if person > 0 {
		status, _ := c.call("POST", "/api/session", fmt.Sprintf(`{"email":"P%d@Brinehaven.example","password":%q}`, person, demo.Password))
		require.Equal(t, http.StatusNoContent, status)
	}
	return c
}

func (c *client) call(method, path, body string) (int, map[string]any) {
	c.t.Helper()
	status, _, text := c.text(method, path, body)
	data := []byte(text)
	var out map[string]any
	if bytes.HasPrefix(bytes.TrimSpace(data), []byte("{")) {
		require.NoError(c.t, json.Unmarshal(data, &out))
	}
	return status, out
}

// list reads a response that is a list.
func (c *client) list(path string, into any) {
	c.t.Helper()
	req, err := http.NewRequestWithContext(context.Background(), "GET", c.url+path, nil)
	require.NoError(c.t, err)
	res, err := c.Do(req)
	require.NoError(c.t, err)
	defer func() { _ = res.Body.Close() }()
	require.NoError(c.t, json.NewDecoder(res.Body).Decode(into))
}

// has says whether a list has something of a name.
func (c *client) has(path, name string) bool {
	c.t.Helper()
	var list []struct{ Name, Title string }
	c.list(path, &list)
	for _, l := range list {
		if l.Name == name || l.Title == name {
			return true
		}
	}
	return false
}

const deals = `{"version":1,"start":"deals","groups":[{"field":"stage"}]}`

func TestSignIn(t *testing.T) {
	server := serve(t)
	c := signIn(t, server, 0)
	status, p := c.call("GET", "/api/me", "")
	require.Equal(t, http.StatusUnauthorized, status)
	require.Equal(t, "Sign in again.", p["detail"])
	for _, body := range []string{`{"email":"p1@brinehaven.example","password":"wrong"}`, `{"email":"nobody@brinehaven.example","password":"amber beak"}`, `{"email":"","password":""}`} {
		status, p = c.call("POST", "/api/session", body)
		require.Equal(t, http.StatusUnauthorized, status)
		require.Equal(t, "No account has this e-mail address and this password.", p["detail"], "it does not say which was wrong")
	}
	c = signIn(t, server, 1)
	status, me := c.call("GET", "/api/me", "")
	require.Equal(t, http.StatusOK, status)
	require.Equal(t, "Maite Corrie", me["name"])
	status, _ = c.call("DELETE", "/api/session", "")
	require.Equal(t, http.StatusNoContent, status)
	status, _ = c.call("GET", "/api/me", "")
	require.Equal(t, http.StatusUnauthorized, status)
	for range 10 {
		status, p = c.call("POST", "/api/session", `{"email":"p1@brinehaven.example","password":"wrong"}`)
	}
	require.Equal(t, http.StatusTooManyRequests, status)
	require.NotEmpty(t, p["detail"])
}

func TestOtherSitesAreRefused(t *testing.T) {
	server := serve(t)
	req, err := http.NewRequestWithContext(context.Background(), "POST", server.URL+"/api/session", strings.NewReader(`{}`))
	require.NoError(t, err)
	req.Header.Set("Sec-Fetch-Site", "cross-site")
	res, err := http.DefaultClient.Do(req)
	require.NoError(t, err)
	require.NoError(t, res.Body.Close())
	require.Equal(t, http.StatusForbidden, res.StatusCode)
	require.Equal(t, "application/problem+json", res.Header.Get("Content-Type"))
}

// Every operation but the welcome and signing in and out wants a signed-in person.
// A bad brief comes back as a problem that points at its members.
func TestBadBriefs(t *testing.T) {
	c := signIn(t, serve(t), 1)
	for body, pointer := range map[string]string{
		`{"brief":{"version":1,"start":"deals","gruops":[]}}`:                     "/gruops",
		`{"brief":{"version":1,"start":"deals","groups":[{"field":"stagee"}]}}`:   "/groups/0/field",
		`{"brief":{"version":1,"start":"deals","whose":{"people":["1"],"x":[]}}}`: "/whose/x",
	} {
		status, p := c.call("POST", "/api/answer", body)
		require.Equal(t, http.StatusUnprocessableEntity, status, "%v", p)
		require.Equal(t, pointer, p["errors"].([]any)[0].(map[string]any)["pointer"], "%v", p)
	}
}

func TestAnswerAndBehindAgree(t *testing.T) {
	c := signIn(t, serve(t), 1)
	status, ans := c.call("POST", "/api/answer", `{"brief":`+deals+`}`)
	require.Equal(t, http.StatusOK, status)
	lines := ans["lines"].([]any)
	require.Len(t, lines, 12, "eleven stages and all of them")
	for _, l := range lines {
		line := l.(map[string]any)
		keys, err := json.Marshal(line["keys"])
		require.NoError(t, err)
		_, list := c.call("POST", "/api/behind", fmt.Sprintf(`{"brief":%s,"marks":[{"rows":%s,"across":[]}]}`, deals, keys))
		count := strings.ReplaceAll(line["cells"].([]any)[0].([]any)[0].(string), ",", "")
		require.Equal(t, count, fmt.Sprint(list["total"]), "%s", keys)
	}
}

// Who may keep, see and change what.
func TestKeepingAndAccess(t *testing.T) {
	server := serve(t)
	admin, composer, reader := signIn(t, server, 2), signIn(t, server, 1), signIn(t, server, 3)
	folder := func(c *client, name string) string {
		req, err := c.Get(c.url + "/api/folders")
		require.NoError(t, err)
		defer func() { _ = req.Body.Close() }()
		var list []struct {
			ID   int64
			Name string
		}
		require.NoError(t, json.NewDecoder(req.Body).Decode(&list))
		for _, f := range list {
			if f.Name == name {
				return fmt.Sprint(f.ID)
			}
		}
		return "0"
	}
	keep := func(title, folder string) string {
		return fmt.Sprintf(`{"title":%q,"description":"","folder":%s,"brief":%s}`, title, folder, deals)
	}
	company := folder(composer, "Company")
	status, p := reader.call("POST", "/api/reports", keep("Mine", company))
	require.Equal(t, http.StatusForbidden, status, "%v", p)
	status, shared := composer.call("POST", "/api/reports", keep("Pipeline", company))
	require.Equal(t, http.StatusOK, status, "%v", shared)
	status, p = composer.call("POST", "/api/reports", keep(" PIPELINE ", company))
	require.Equal(t, http.StatusConflict, status)
	require.Contains(t, p["detail"], "already")
	status, p = composer.call("POST", "/api/reports", keep(strings.Repeat("x", 201), company))
	require.Equal(t, http.StatusUnprocessableEntity, status, "%v", p)
	status, private := composer.call("POST", "/api/reports", keep("Only I", folder(composer, "Private")))
	require.Equal(t, http.StatusOK, status)
	status, p = composer.call("POST", "/api/reports", keep("In another's", folder(admin, "Private")))
	require.Equal(t, http.StatusUnprocessableEntity, status, "%v", p)

	at := func(r map[string]any) string { return "/api/reports/" + fmt.Sprint(r["id"]) }
	status, _ = reader.call("GET", at(shared), "")
	require.Equal(t, http.StatusOK, status)
	for _, c := range []*client{reader, admin} {
		status, _ = c.call("GET", at(private), "")
		require.Equal(t, http.StatusNotFound, status, "a private report is its owner's alone")
	}
	status, _ = reader.call("PUT", at(shared), keep("Taken over", company))
	require.Equal(t, http.StatusForbidden, status)

	// Boards hold only reports that their maker may open; a panel may not lie outside.
	board := func(report any, x int) string {
		return fmt.Sprintf(`{"title":"Monday","folder":%s,"panels":[{"report":%v,"x":%d,"y":0,"w":6,"h":9}]}`, company, report, x)
	}
	status, _ = admin.call("POST", "/api/boards", board(private["id"], 0))
	require.Equal(t, http.StatusNotFound, status)
	status, _ = composer.call("POST", "/api/boards", board(shared["id"], 7))
	require.Equal(t, http.StatusUnprocessableEntity, status)
	status, b := composer.call("POST", "/api/boards", board(shared["id"], 0))
	require.Equal(t, http.StatusOK, status, "%v", b)
	status, _ = reader.call("GET", fmt.Sprintf("/api/boards/%v", b["id"]), "")
	require.Equal(t, http.StatusOK, status)

	// Record pages are laid out by administrators; each shows the record's own.
	page := fmt.Sprintf("/api/pages/customers/%v", shared["id"])
	status, _ = composer.call("PUT", page, "")
	require.Equal(t, http.StatusForbidden, status)
	status, p = admin.call("PUT", fmt.Sprintf("/api/pages/products/%v", shared["id"]), "")
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.Contains(t, p["detail"], "no link to products")
	status, _ = admin.call("PUT", page, "")
	require.Equal(t, http.StatusNoContent, status)
	status, rec := reader.call("GET", "/api/records/customers/7", "")
	require.Equal(t, http.StatusOK, status)
	panel := rec["panels"].([]any)[0].(map[string]any)
	require.Equal(t, "deals of this customer", panel["words"])
	shown := reader.panels(`{"panels":[{"report":` + fmt.Sprint(shared["id"]) + `,"type":"customers","id":"7"},{"report":` + fmt.Sprint(shared["id"]) + `,"type":"products","id":"1"}]}`)
	require.Equal(t, "deals of this customer", shown[0].Words)
	require.Equal(t, http.StatusNotFound, shown[1].Problem.Status, "it stands on no page of theirs")
	_, own := reader.call("POST", "/api/list", fmt.Sprintf(`{"brief":%s}`, mustJSON(t, shown[0].Under.Brief)))
	_, want := reader.call("POST", "/api/list", `{"brief":{"version":1,"start":"deals","filter":{"field":"customer","is":"any_of","values":["7"]}}}`)
	require.Equal(t, want["total"], own["total"])
	require.NotEqual(t, "0", fmt.Sprint(own["total"]))
}

func TestExportIsDefused(t *testing.T) {
	c := signIn(t, serve(t), 1)
	req, err := http.NewRequestWithContext(context.Background(), "POST", c.url+"/api/export", strings.NewReader(`{"brief":{"version":1,"start":"contacts","filter":{"field":"phone","is":"filled"},"columns":[{"field":"phone","label":"=phone"}],"limit":3},"view":"records"}`))
	require.NoError(t, err)
	req.Header.Set("Content-Type", "application/json")
	res, err := c.Do(req)
	require.NoError(t, err)
	defer func() { _ = res.Body.Close() }()
	data, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	require.Equal(t, "text/csv; charset=utf-8", res.Header.Get("Content-Type"))
	require.True(t, strings.HasPrefix(string(data), "'=phone\n'+000"), "%s", data)
	require.NotEqual(t, "0", res.Header.Get("X-Defused"))
}
