package nightly_test

import (
	"context"
	"io"
	"log/slog"
	"net"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"uzzel/internal/app"
	"uzzel/internal/bringin"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/mail"
	"uzzel/internal/nightly"
)

var quiet = slog.New(slog.NewTextHandler(io.Discard, nil))

// byHand brings a file in from the screen, which is remembered.
func byHand(t *testing.T, a *app.App, person int64, text string) {
	t.Helper()
	ctx, v := t.Context(), demotest.View(t, a, person)
	id, _, err := a.BringIn.Take(v, "first.csv", []byte(text))
	require.NoError(t, err)
	p, _, err := a.BringIn.Guess(ctx, v, id, "customers")
	require.NoError(t, err)
	p.Key = "name"
	require.NoError(t, a.BringIn.Start(ctx, v, id, p))
	require.Eventually(t, func() bool {
		now, err := a.BringIn.Progress(v, id)
		return err == nil && now.Phase == bringin.Done
	}, 20*time.Second, time.Millisecond)
}

// watched is a folder that is watched until the test ends.
func watched(t *testing.T, a *app.App) string {
	t.Helper()
	dir := t.TempDir()
	ctx, stop := context.WithCancel(t.Context())
	done := make(chan struct{})
	go func() {
		defer close(done)
		nightly.Watch(ctx, a, dir, 10*time.Millisecond, quiet)
	}()
	t.Cleanup(func() { stop(); <-done })
	return dir
}

func inFolder(t *testing.T, dir, of string) []string {
	t.Helper()
	entries, err := os.ReadDir(filepath.Join(dir, of))
	if os.IsNotExist(err) {
		return nil
	}
	require.NoError(t, err)
	var names []string
	for _, e := range entries {
		_, name, _ := strings.Cut(e.Name(), "-")
		_, name, _ = strings.Cut(name, "-")
		names = append(names, name)
	}
	return names
}

// Files that are put into a watched folder come in once and are put aside; what is refused stands beside the file.
func TestWatch(t *testing.T) {
	a, s := demotest.App(t)
	byHand(t, a, 1, "Firm;Town\nTern Marina;Kiel\n")
	dir := watched(t, a)
	put := func(name, text string) {
		require.NoError(t, os.WriteFile(filepath.Join(dir, name), []byte(text), 0o600))
	}
	put("good.csv", "Firm;Town\nTern Marina;Husum\nGull Marina;Kiel\n")
	require.Eventually(t, func() bool { return len(inFolder(t, dir, nightly.CameIn)) == 1 }, 20*time.Second, 5*time.Millisecond)
	require.Equal(t, []string{"good.csv"}, inFolder(t, dir, nightly.CameIn))
	require.Len(t, s.Snapshot().Named("customers", "Gull Marina"), 1)

	put("strange.csv", "Ship;Flag\nTern;PT\n")
	put("notes.pdf", "no file of records")
	require.Eventually(t, func() bool { return len(inFolder(t, dir, nightly.Failed)) == 2 }, 20*time.Second, 5*time.Millisecond)
	require.Equal(t, []string{"strange.csv", "strange.csv.reasons"}, inFolder(t, dir, nightly.Failed))
	left, err := nightly.Names(dir)
	require.NoError(t, err)
	require.Empty(t, left)
	_, err = os.Stat(filepath.Join(dir, "notes.pdf"))
	require.NoError(t, err, "what is no file of records is left alone")
}

// A file that was under way when the server stopped is not brought in again by itself.
func TestStoppedInTheMiddle(t *testing.T) {
	a, s := demotest.App(t)
	byHand(t, a, 1, "Firm;Town\nTern Marina;Kiel\n")
	dir := t.TempDir()
	under := filepath.Join(dir, nightly.UnderWay)
	require.NoError(t, os.MkdirAll(under, 0o750))
	require.NoError(t, os.WriteFile(filepath.Join(under, "half.csv"), []byte("Firm;Town\nGull Marina;Kiel\n"), 0o600))
	ctx, stop := context.WithCancel(t.Context())
	stop()
	nightly.Watch(ctx, a, dir, time.Hour, quiet)
	require.Equal(t, []string{"half.csv", "half.csv.reasons"}, inFolder(t, dir, nightly.Failed))
	require.Empty(t, s.Snapshot().Named("customers", "Gull Marina"))
}

// What fails is mailed to whoever brought in the last such file; what nobody ever brought in, to the administrators.
func TestTell(t *testing.T) {
	a, _ := demotest.App(t)
	byHand(t, a, 1, "Firm;Town\nTern Marina;Kiel\n")
	box := t.TempDir()
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	server := mail.Box(box)
	go func() { _ = server.Serve(listener) }()
	t.Cleanup(func() { _ = server.Close() })
	number := listener.Addr().(*net.TCPAddr).Port
	set := mail.Settings{Host: "127.0.0.1", Port: number, From: "uzzel@brinehaven.example", Address: "http://localhost", Security: mail.Plain}
	require.NoError(t, a.Mail.Set(t.Context(), demotest.View(t, a, 2), set, "", "osric.jarrow@brinehaven.example"))

	dir := t.TempDir()
	require.NoError(t, os.WriteFile(filepath.Join(dir, "a.csv"), []byte("Firm;Town\n;Kiel\nTern Marina;Husum\n"), 0o600))
	require.NoError(t, os.WriteFile(filepath.Join(dir, "b.csv"), []byte("Ship;Flag\nTern;PT\n"), 0o600))
	names, err := nightly.Names(dir)
	require.NoError(t, err)
	files := nightly.Bring(t.Context(), a, dir, names)
	require.Len(t, files, 2)
	require.NoError(t, nightly.Tell(t.Context(), a, files))
	mails := map[string]string{}
	entries, err := filepath.Glob(filepath.Join(box, "*.eml"))
	require.NoError(t, err)
	for _, e := range entries {
		text, err := os.ReadFile(e)
		require.NoError(t, err)
		_, to, _ := strings.Cut(string(text), "To: <")
		to, _, _ = strings.Cut(to, ">")
		if strings.Contains(string(text), "not all brought in") {
			mails[to] += string(text)
		}
	}
	require.Len(t, mails, 2, "%v", mails)
	require.Contains(t, mails["p1@brinehaven.example"], "a.csv: 0 new, 1 changed")
	require.NotContains(t, mails["p1@brinehaven.example"], "b.csv")
	require.Contains(t, mails["p2@brinehaven.example"], "b.csv")
	require.NotContains(t, mails["p2@brinehaven.example"], "a.csv")
}
