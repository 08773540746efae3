package main

import (
	"bytes"
	"context"
	"path/filepath"
	"regexp"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/period"
	"uzzel/internal/demo"
)

// Who runs the server gets a one-time address: for the set-up of an empty file, and for an administrator who cannot get
// in; not for anybody else.
func TestAdminInvite(t *testing.T) {
	invite := func(db, email string) (string, error) {
		c := adminCommand()
		var out bytes.Buffer
		c.SetOut(&out)
		c.SetErr(&out)
		c.SetArgs([]string{"invite", email, "--db", db, "--url", "https://uzzel.example/"})
		err := c.ExecuteContext(context.Background())
		return out.String(), err
	}
	empty := filepath.Join(t.TempDir(), "new.db")
	first, err := invite(empty, "me@ketch.example")
	require.NoError(t, err)
	require.Regexp(t, regexp.MustCompile(`https://uzzel\.example/begin#[A-Z2-7]{26}\n`), first)
	again, err := invite(empty, "me@ketch.example")
	require.NoError(t, err)
	require.NotEqual(t, first, again)

	full := filepath.Join(t.TempDir(), "demo.db")
	_, err = demo.Ensure(context.Background(), full, period.Day(2026, 5, 14), 1)
	require.NoError(t, err)
	out, err := invite(full, "P2@brinehaven.example")
	require.NoError(t, err)
	require.Contains(t, out, "https://uzzel.example/key#")
	_, err = invite(full, "p3@brinehaven.example")
	require.ErrorContains(t, err, "no administrator")
}

// Everything goes out and comes in again by the commands, which say how many records of each type.
func TestExportAndImport(t *testing.T) {
	dir := t.TempDir()
	db := filepath.Join(dir, "demo.db")
	_, err := demo.Ensure(context.Background(), db, period.Day(2026, 5, 14), 1)
	require.NoError(t, err)
	var said [2]string
	for i, c := range []struct{ of, db string }{{"export", db}, {"import", filepath.Join(dir, "again.db")}} {
		command := exportCommand()
		if c.of == "import" {
			command = importCommand()
		}
		var out bytes.Buffer
		command.SetOut(&out)
		command.SetArgs([]string{filepath.Join(dir, "out"), "--db", c.db})
		require.NoError(t, command.ExecuteContext(context.Background()))
		said[i] = out.String()
	}
	require.Equal(t, said[0], said[1])
	require.Contains(t, said[0], "2600 deals\n")
}
