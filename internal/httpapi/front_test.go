package httpapi_test

import (
	"context"
	"io"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/require"

	"uzzel/internal/app"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/httpapi"
)

// The front end's files are served with how long they may be kept, its routes by its page, and nothing else.
func TestFront(t *testing.T) {
	s := demotest.Open(t)
	defer func() { require.NoError(t, s.Close()) }()
	d, err := app.New(s, func() int32 { return demotest.Day }, nil)
	require.NoError(t, err)
	files := fstest.MapFS{"index.html": {Data: []byte("<title>Uzzel</title>")}, "assets/app-1.js": {Data: []byte("run()")}, "theme.js": {Data: []byte("theme()")}}
	h, err := httpapi.New(d, httpapi.Config{Sessions: s.Sessions(), Front: files})
	require.NoError(t, err)
	server := httptest.NewServer(h)
	defer server.Close()
	ask := func(method, path string) (status int, header http.Header, text string) {
		req, err := http.NewRequestWithContext(context.Background(), method, server.URL+path, strings.NewReader(""))
		require.NoError(t, err)
		res, err := http.DefaultTransport.RoundTrip(req)
		require.NoError(t, err)
		defer func() { require.NoError(t, res.Body.Close()) }()
		body, err := io.ReadAll(res.Body)
		require.NoError(t, err)
		return res.StatusCode, res.Header, string(body)
	}
	for _, c := range []struct {
		method, path string
		status       int
		cache, holds string
	}{
		{"GET", "/", 200, "no-cache", "<title>"},
		{"GET", "/dashboards/3?at=%7B%7D", 200, "no-cache", "<title>"},
		{"GET", "/assets", 200, "no-cache", "<title>"},
		{"GET", "/assets/app-1.js", 200, "public, max-age=31536000, immutable", "run()"},
		{"GET", "/assets/app-0.js", 404, "", "There is nothing at this address."},
		{"GET", "/theme.js", 200, "", "theme()"},
		{"HEAD", "/theme.js", 200, "", ""},
		{"GET", "/../../etc/passwd", 200, "no-cache", "<title>"},
		{"GET", "/api/nothing", 404, "no-store", "There is nothing at this address."},
		{"POST", "/dashboards", 404, "", "There is nothing at this address."},
		{"GET", "/healthz", 200, "", "ok"},
	} {
		status, header, text := ask(c.method, c.path)
		require.Equal(t, c.status, status, c.path)
		require.Equal(t, c.cache, header.Get("Cache-Control"), c.path)
		require.Contains(t, text, c.holds, c.path)
		require.Contains(t, header.Get("Content-Security-Policy"), "default-src 'self'", c.path)
		require.Equal(t, "nosniff", header.Get("X-Content-Type-Options"), c.path)
		require.NotEmpty(t, header.Get("X-Request-Id"), c.path)
	}
	_, header, text := ask("GET", "/api/nothing")
	require.Equal(t, "application/problem+json", header.Get("Content-Type"), text)
	_, header, text = ask("GET", "/api/brief.schema.json")
	require.Equal(t, "application/schema+json", header.Get("Content-Type"))
	require.Contains(t, text, `"totalsOnly"`)
}
