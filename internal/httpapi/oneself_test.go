package httpapi_test

import (
	"net/http"
	"testing"

	"github.com/stretchr/testify/require"
)

type session struct {
	Name string
	Here bool
}

// One sees where one is signed in, and signs out everywhere else; nobody else's sessions are seen or end.
func TestSessionsOfOneself(t *testing.T) {
	server := serve(t)
	here, there, other := signIn(t, server, 3), signIn(t, server, 3), signIn(t, server, 4)
	var list []session
	here.list("/api/me/sessions", &list)
	require.Len(t, list, 2)
	require.NotEqual(t, list[0].Here, list[1].Here)
	require.NotEqual(t, list[0].Name, list[1].Name)
	status, _ := here.call("DELETE", "/api/me/sessions", "")
	require.Equal(t, http.StatusNoContent, status)
	for c, want := range map[*client]int{here: 200, there: 401, other: 200} {
		status, _ = c.call("GET", "/api/me", "")
		require.Equal(t, want, status)
	}
}

// Another password is taken where the one before is right, and signs one out everywhere else.
func TestAnotherPassword(t *testing.T) {
	server := serve(t)
	here, there := signIn(t, server, 3), signIn(t, server, 3)
	for body, says := range map[string]string{
		`{"was":"wrong","password":"gravel lantern otter"}`:  "/was",
		`{"was":"amber beak","password":"too short"}`:        "/password",
		`{"was":"amber beak","password":"aaaaaaaaaaaaaaaa"}`: "/password",
	} {
		status, p := here.call("PUT", "/api/me/password", body)
		require.Equal(t, http.StatusUnprocessableEntity, status)
		require.Equal(t, says, p["errors"].([]any)[0].(map[string]any)["pointer"])
	}
	status, p := here.call("PUT", "/api/me/password", `{"was":"amber beak","password":"gravel lantern otter"}`)
	require.Equal(t, http.StatusNoContent, status, p)
	status, _ = there.call("GET", "/api/me", "")
	require.Equal(t, http.StatusUnauthorized, status)
	status, _ = here.call("GET", "/api/me", "")
	require.Equal(t, http.StatusOK, status)
	status, _ = there.call("POST", "/api/session", `{"email":"p3@brinehaven.example","password":"amber beak"}`)
	require.Equal(t, http.StatusUnauthorized, status)
	status, _ = there.call("POST", "/api/session", `{"email":"p3@brinehaven.example","password":"gravel lantern otter"}`)
	require.Equal(t, http.StatusNoContent, status)
}

// Passwords and one-time keys are tried so often from an address in a minute, together.
func TestKeysAreThrottled(t *testing.T) {
	c := signIn(t, serve(t), 0)
	status := 0
	for i := range 12 {
		path, body := "/api/keys/look", `{"key":"GUESS"}`
		if i%2 == 0 {
			path, body = "/api/setup", `{"key":"GUESS"}`
		}
		status, _ = c.call("POST", path, body)
	}
	require.Equal(t, http.StatusTooManyRequests, status)
}
