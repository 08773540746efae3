package main

import (
	"bytes"
	"context"
	"io"
	"net/http"
	"os"
	"path/filepath"
	"regexp"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/internal/answers"
	"uzzel/internal/app"
	"uzzel/internal/demo"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/httpapi"
	"uzzel/internal/store"
)

// The doctor says of a sound file that it is, who serves it and what people see; of a damaged one that it is damaged.
func TestDoctor(t *testing.T) {
	path := filepath.Join(t.TempDir(), "some.db")
	s, err := store.Open(path)
	require.NoError(t, err)
	require.NoError(t, s.SetSees(context.Background(), "deals", "team", 0))
	require.NoError(t, s.Close())
	examined := func() (string, error) {
		var out bytes.Buffer
		err := doctor(context.Background(), path, &out)
		return out.String(), err
	}
	said, err := examined()
	require.NoError(t, err, said)
	for _, line := range []string{"ok  file           sound", "no server is using the file", "Deals: people see their team's and their own", "Lines: seen with what they belong to", "Contacts: everyone sees all"} {
		require.Contains(t, said, line)
	}
	require.NotContains(t, said, "!!")

	release, err := store.Serve(path)
	require.NoError(t, err)
	said, err = examined()
	require.NoError(t, err)
	require.Contains(t, said, "a server is using the file")
	require.NoError(t, release())

	data, err := os.ReadFile(path)
	require.NoError(t, err)
	for i := 5000; i < len(data); i += 97 {
		data[i] ^= 0x5a
	}
	require.NoError(t, os.WriteFile(path, data, 0o600))
	said, err = examined()
	var exit exitError
	require.ErrorAs(t, err, &exit)
	require.Equal(t, 3, exit.code)
	require.Contains(t, said, "!!  file")
	require.Error(t, doctor(context.Background(), filepath.Join(t.TempDir(), "none.db"), io.Discard))
}

// What is measured is served on an address of its own, counts what happens, and names no record or person.
func TestMetrics(t *testing.T) {
	s := demotest.Open(t)
	a, err := app.New(s, func() int32 { return demotest.Day }, nil)
	require.NoError(t, err)
	cfg := httpapi.Config{Sessions: s.Sessions(), Demo: demo.Password}
	where, end, err := measured(a, &cfg, "127.0.0.1:0")
	require.NoError(t, err)
	defer end()
	cfg.Served("POST /api/answer", http.StatusOK, 30_000_000)
	a.Answers.Ran(answers.RunLarge, 2_000_000)
	res, err := http.Get("http://" + where + "/metrics")
	require.NoError(t, err)
	text, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	require.NoError(t, res.Body.Close())
	for _, line := range []string{`uzzel_request_seconds_count{route="POST /api/answer",status="200"} 1`, `uzzel_run_seconds_count{outcome="too large"} 1`,
		"uzzel_cache_bytes 0", "uzzel_runs_waiting 0", "go_goroutines ", "uzzel_columns_bytes "} {
		require.Contains(t, string(text), line)
	}
	require.NotRegexp(t, regexp.MustCompile("(?i)brinehaven|corrie"), string(text))
	_, _, err = measured(a, &cfg, "127.0.0.1:0:0")
	require.ErrorContains(t, err, "--metrics")
}
