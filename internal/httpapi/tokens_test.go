package httpapi_test

import (
	"net/http"
	"testing"

	"github.com/stretchr/testify/require"
)

// A program acts for a person with a token, within its scopes and what the person may do; a token that was taken away
// opens nothing.
func TestTokens(t *testing.T) {
	server := serve(t)
	aldo := signIn(t, server, 3)
	make1 := func(scopes string) string {
		status, out := aldo.call("POST", "/api/me/tokens", `{"name":"Nightly","scopes":[`+scopes+`],"days":30}`)
		require.Equal(t, http.StatusOK, status, out)
		return "Bearer " + out["token"].(string)
	}
	program := signIn(t, server, 0)
	reads, writes := make1(`"read-reports"`), make1(`"write-records","read-records"`)
	for _, c := range []struct {
		token, method, path, body string
		want                      int
	}{
		{reads, "GET", "/api/me", "", 200},
		{reads, "POST", "/api/answer", `{"brief":` + deals + `}`, 200},
		{reads, "GET", "/api/records/deals/7/values", "", 403},
		{reads, "PATCH", "/api/records/deals/7", `{"values":{"value":"1"}}`, 403},
		{writes, "GET", "/api/records/deals?count=1", "", 200},
		{writes, "PATCH", "/api/records/deals/7", `{"values":{"value":"1"}}`, 200},
		{writes, "POST", "/api/answer", `{"brief":` + deals + `}`, 403},
		{writes, "POST", "/api/me/tokens", `{"name":"x","scopes":["read-reports"],"days":1}`, 403},
		{writes, "GET", "/api/me/tokens", "", 403},
		{writes, "PUT", "/api/me/password", `{"was":"amber beak","password":"gravel lantern otter"}`, 403},
		{writes, "DELETE", "/api/boards/1", "", 403},
		{writes, "GET", "/api/people", "", 403},
		{"Bearer uzzel_GUESS", "GET", "/api/me", "", 401},
		{"Bearer GUESS", "GET", "/api/me", "", 401},
	} {
		status, _, out := program.send(c.method, c.path, "Authorization", c.token, c.body)
		require.Equal(t, c.want, status, "%s %s: %v", c.method, c.path, out)
	}
	var list []struct {
		ID   int64
		Used int64
	}
	aldo.list("/api/me/tokens", &list)
	require.Len(t, list, 2)
	require.Positive(t, list[0].Used)
	status, _ := signIn(t, server, 4).call("DELETE", "/api/me/tokens/1", "")
	require.Equal(t, http.StatusNotFound, status, "another's token")
	status, _ = aldo.call("DELETE", "/api/me/tokens/1", "")
	require.Equal(t, http.StatusNoContent, status)
	status, _, _ = program.send("GET", "/api/me", "Authorization", reads, "")
	require.Equal(t, http.StatusUnauthorized, status)

	for _, body := range []string{
		`{"name":"","scopes":["read-reports"],"days":1}`, `{"name":"x","scopes":[],"days":1}`,
		`{"name":"x","scopes":["all"],"days":1}`, `{"name":"x","scopes":["administer"],"days":1}`,
		`{"name":"x","scopes":["read-reports"],"days":4000}`,
	} {
		status, _ = aldo.call("POST", "/api/me/tokens", body)
		require.Equal(t, http.StatusUnprocessableEntity, status, body)
	}
}

// A calendar asks with the token in its address, which opens that and nothing else, and stands in no log.
func TestFeed(t *testing.T) {
	server := serve(t)
	aldo, calendar := signIn(t, server, 3), signIn(t, server, 0)
	token := func(scope string) string {
		status, out := aldo.call("POST", "/api/me/tokens", `{"name":"Calendar","scopes":["`+scope+`"],"days":30}`)
		require.Equal(t, http.StatusOK, status)
		return out["token"].(string)
	}
	own, reads := token("calendar"), token("read-records")
	status, _, text := calendar.text("GET", "/feeds/"+own+".ics", "")
	require.Equal(t, http.StatusOK, status)
	require.Contains(t, text, "BEGIN:VEVENT")
	status, _, _ = calendar.text("GET", "/feeds/"+reads+".ics", "")
	require.Equal(t, http.StatusForbidden, status)
	status, _, _ = calendar.text("GET", "/feeds/uzzel_GUESS.ics", "")
	require.Equal(t, http.StatusUnauthorized, status)
	status, _, _ = calendar.send("GET", "/api/me", "Authorization", "Bearer "+own, "")
	require.Equal(t, http.StatusForbidden, status)
}
