package main

import (
	"bufio"
	"context"
	"database/sql"
	"encoding/json"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"syscall"
	"testing"
	"time"

	_ "github.com/mattn/go-sqlite3"
	"github.com/stretchr/testify/require"

	"uzzel/internal/soak"
	"uzzel/internal/store"
)

// server is the program, serving the demo.
type server struct {
	cmd  *exec.Cmd
	at   chan string // its address, once it has one
	url  string
	log  *strings.Builder
	done chan error

	ended error // what it ended with
}

var address = regexp.MustCompile(`at (http://[\d.:]+)`)

// built is the program.
func built(t *testing.T) string {
	t.Helper()
	bin := filepath.Join(t.TempDir(), "uzzel")
	out, err := exec.Command("go", "build", "-o", bin, ".").CombinedOutput()
	require.NoError(t, err, "%s", out)
	return bin
}

// start starts the program; wait gives up waiting for it to serve after a while and says so.
func start(t *testing.T, bin, db string) *server {
	t.Helper()
	s := &server{cmd: exec.Command(bin, "demo", "--db", db, "--addr", "127.0.0.1:0", "--today", "2026-05-14"), log: &strings.Builder{}, done: make(chan error, 1), at: make(chan string, 1)}
	out, err := s.cmd.StdoutPipe()
	require.NoError(t, err)
	s.cmd.Stderr = s.log
	require.NoError(t, s.cmd.Start())
	go func() {
		for scan := bufio.NewScanner(out); scan.Scan(); {
			if m := address.FindStringSubmatch(scan.Text()); m != nil {
				s.at <- m[1]
			}
		}
		s.done <- s.cmd.Wait()
	}()
	return s
}

// ready waits until the server serves, and fails the test where it does not.
func (s *server) ready(t *testing.T) {
	t.Helper()
	select {
	case s.url = <-s.at:
	case <-time.After(60 * time.Second):
		t.Fatalf("it does not start: %s", s.log)
	}
	for end := time.Now().Add(60 * time.Second); time.Now().Before(end); time.Sleep(5 * time.Millisecond) {
		if res, err := http.Get(s.url + "/readyz"); err == nil {
			_ = res.Body.Close()
			if res.StatusCode == http.StatusOK {
				return
			}
		}
	}
	t.Fatalf("it does not serve: %s", s.log)
}

func (s *server) kill() {
	_ = s.cmd.Process.Signal(syscall.SIGKILL)
	s.ended = <-s.done
}

// stop has the server end by itself, and says how long that took.
func (s *server) stop(t *testing.T) time.Duration {
	t.Helper()
	began := time.Now()
	require.NoError(t, s.cmd.Process.Signal(syscall.SIGTERM))
	select {
	case err := <-s.done:
		require.NoError(t, err, "%s", s.log)
	case <-time.After(30 * time.Second):
		t.Fatal("it does not end")
	}
	return time.Since(began)
}

// keeper writes through the API and remembers what was acknowledged.
type keeper struct {
	http.Client
	token  *http.Cookie
	folder int64
	kept   []string
	n      int
}

func (k *keeper) call(url, method, path, body string, into any) (int, error) {
	ctx, stop := context.WithTimeout(context.Background(), 20*time.Second)
	defer stop()
	req, err := http.NewRequestWithContext(ctx, method, url+path, strings.NewReader(body))
	if err != nil {
		return 0, err
	}
	req.Header.Set("Content-Type", "application/json")
	if k.token != nil {
		req.AddCookie(k.token)
	}
	res, err := k.Do(req)
	if err != nil {
		return 0, err
	}
	defer func() { _ = res.Body.Close() }()
	for _, c := range res.Cookies() {
		k.token = &http.Cookie{Name: c.Name, Value: c.Value}
	}
	data, err := io.ReadAll(res.Body)
	if err == nil && into != nil && res.StatusCode == http.StatusOK {
		err = json.Unmarshal(data, into)
	}
	return res.StatusCode, err
}

func (k *keeper) signIn(t *testing.T, url string) {
	t.Helper()
	status, err := k.call(url, "POST", "/api/session", `{"email":"p1@brinehaven.example","password":"amber beak"}`, nil)
	require.NoError(t, err)
	require.Equal(t, http.StatusNoContent, status)
	var folders []struct {
		ID      int64
		Private bool
	}
	_, err = k.call(url, "GET", "/api/folders", "", &folders)
	require.NoError(t, err)
	for _, f := range folders {
		if f.Private {
			k.folder = f.ID
		}
	}
	require.NotZero(t, k.folder)
}

// write keeps reports and dashboards until the server is gone.
func (k *keeper) write(url string) {
	for {
		k.n++
		title := fmt.Sprintf("Kept %d", k.n)
		status, err := k.call(url, "POST", "/api/reports", fmt.Sprintf(`{"title":%q,"description":"","folder":%d,"brief":{"version":1,"start":"deals"}}`, title, k.folder), nil)
		if err != nil {
			return
		}
		if status == http.StatusOK {
			k.kept = append(k.kept, title)
		}
		if _, err := k.call(url, "POST", "/api/whole-boards", fmt.Sprintf(`{"folder":%d,"board":{"title":"Board %d","panels":[{"x":0,"y":0,"w":6,"h":9,"title":"On board %d","brief":{"version":1,"start":"lines"}}]}}`, k.folder, k.n, k.n), nil); err != nil {
			return
		}
	}
}

// check finds all that was acknowledged, and of each dashboard with its report both or neither.
func (k *keeper) check(t *testing.T, url string) {
	t.Helper()
	var reports, boards []struct{ Title string }
	status, err := k.call(url, "GET", "/api/reports", "", &reports)
	require.NoError(t, err)
	require.Equal(t, http.StatusOK, status, "the session is kept, too")
	_, err = k.call(url, "GET", "/api/boards", "", &boards)
	require.NoError(t, err)
	has := map[string]bool{}
	for _, list := range [][]struct{ Title string }{reports, boards} {
		for _, r := range list {
			has[r.Title] = true
		}
	}
	for _, title := range k.kept {
		require.True(t, has[title], "%s was acknowledged and is gone", title)
	}
	for i := range k.n + 1 {
		require.Equal(t, has[fmt.Sprintf("Board %d", i)], has[fmt.Sprintf("On board %d", i)], "half of dashboard %d", i)
	}
}

// older takes a data file back to the version before the last migrations.
func older(t *testing.T, path string) {
	t.Helper()
	db, err := sql.Open("sqlite3", path)
	require.NoError(t, err)
	for _, q := range []string{"DROP TABLE merges", "DROP TABLE factors", "DROP TABLE setting_changes", "DROP TABLE secrets",
		"DELETE FROM migrations WHERE id IN ('0016_merges', '0017_factors', '0018_setting_changes', '0019_secrets')"} {
		_, err := db.Exec(q)
		require.NoError(t, err, q)
	}
	require.NoError(t, db.Close())
}

// Killed at whatever moment, a server starts again with everything that was acknowledged: while the demo is first made,
// while people save, while it brings an older file up to date, while it shuts down.
func TestKills(t *testing.T) {
	if testing.Short() {
		t.Skip("kills servers")
	}
	dir := t.TempDir()
	bin := built(t)
	r := rand.New(rand.NewPCG(uint64(time.Now().UnixNano()), 1))
	db := filepath.Join(dir, "kept.db")
	s := start(t, bin, db)
	s.ready(t)
	k := &keeper{}
	k.signIn(t, s.url)
	s.kill()
	kills, making, longest := 1, 0, time.Duration(0)
	for began := time.Now(); time.Since(began) < soak.For(45*time.Second) || kills < 8; kills++ {
		wait := time.Duration(r.IntN(900)) * time.Millisecond
		switch kills % 4 {
		case 0: // while it is first made
			fresh := filepath.Join(dir, fmt.Sprintf("fresh%d.db", kills))
			for range 3 {
				s := start(t, bin, fresh)
				time.Sleep(time.Duration(r.IntN(700)) * time.Millisecond)
				s.kill()
				making++
			}
			s := start(t, bin, fresh)
			s.ready(t)
			var welcome struct{ People []any }
			_, err := (&keeper{}).call(s.url, "GET", "/api/welcome", "", &welcome)
			require.NoError(t, err)
			require.Len(t, welcome.People, 14)
			s.kill()
		case 1: // while people save
			s := start(t, bin, db)
			s.ready(t)
			k.check(t, s.url)
			time.AfterFunc(wait, func() { _ = s.cmd.Process.Signal(syscall.SIGKILL) })
			k.write(s.url)
			require.Error(t, <-s.done, "it was killed")
		case 2: // while it shuts down, with a window open
			s := start(t, bin, db)
			s.ready(t)
			k.check(t, s.url)
			go func(url string) { _, _ = (&keeper{token: k.token}).call(url, "GET", "/api/events", "", nil) }(s.url)
			go (&keeper{token: k.token, folder: k.folder, n: 1_000_000 * kills}).write(s.url)
			time.Sleep(wait / 3)
			if r.IntN(2) == 0 {
				longest = max(longest, s.stop(t))
			} else {
				require.NoError(t, s.cmd.Process.Signal(syscall.SIGTERM))
				time.Sleep(time.Duration(r.IntN(30)) * time.Millisecond)
				s.kill()
			}
		case 3: // while an older file is brought up to date
			older(t, db)
			s := start(t, bin, db)
			time.Sleep(time.Duration(r.IntN(150)) * time.Millisecond)
			s.kill()
		}
	}
	s = start(t, bin, db)
	s.ready(t)
	k.check(t, s.url)
	require.Less(t, s.stop(t), 5*time.Second)
	require.Less(t, longest, 5*time.Second, "open windows do not hold it up")
	t.Logf("%d kills, %d of them while the demo was made; %d reports acknowledged and there; the longest end took %v", kills+making, making, len(k.kept), longest)
	second := start(t, bin, db)
	second.ready(t)
	again := exec.Command(bin, "demo", "--db", db, "--addr", "127.0.0.1:0")
	text, err := again.CombinedOutput()
	require.Error(t, err)
	require.Contains(t, string(text), "another server is using the data file")
	text, err = exec.Command(bin, "demo", "--db", db, "--reset").CombinedOutput()
	require.Error(t, err, "nor is it made anew under a server")
	require.Contains(t, string(text), "another server")
	k.check(t, second.url)
	second.kill()
}

// A file of the version before this one, whose server is killed while it brings the tables up to date, is whole
// afterwards: of either version, with what it held.
func TestKilledMigrations(t *testing.T) {
	names, err := filepath.Glob("../../internal/store/migrations/*.sql")
	require.NoError(t, err)
	require.Greater(t, len(names), 1)
	old := filepath.Join(t.TempDir(), "old.db")
	db, err := sql.Open("sqlite3", old)
	require.NoError(t, err)
	run := func(text string, args ...any) {
		_, err := db.Exec(text, args...)
		require.NoError(t, err)
	}
	run("CREATE TABLE migrations (id TEXT PRIMARY KEY)")
	for _, name := range names[:len(names)-1] {
		text, err := os.ReadFile(name)
		require.NoError(t, err)
		run(string(text))
		run("INSERT INTO migrations VALUES (?)", strings.TrimSuffix(filepath.Base(name), ".sql"))
	}
	run("INSERT INTO teams (id, name) VALUES (1, 'Kept')")
	require.NoError(t, db.Close())
	data, err := os.ReadFile(old)
	require.NoError(t, err)

	bin := built(t)
	for i := range 30 {
		path := filepath.Join(t.TempDir(), "killed.db")
		require.NoError(t, os.WriteFile(path, data, 0o600))
		cmd := exec.Command(bin, "serve", "--db", path, "--addr", "127.0.0.1:0")
		require.NoError(t, cmd.Start())
		time.Sleep(time.Duration(15+3*i) * time.Millisecond)
		require.NoError(t, cmd.Process.Kill())
		require.Error(t, cmd.Wait(), "it was killed")
		s, err := store.Open(path)
		require.NoError(t, err)
		faults, err := s.Sound(t.Context())
		require.NoError(t, err)
		require.Empty(t, faults)
		require.NoError(t, s.Close())
		db, err := sql.Open("sqlite3", path)
		require.NoError(t, err)
		var n, done int
		require.NoError(t, db.QueryRow("SELECT count(*) FROM teams WHERE name = 'Kept'").Scan(&n))
		require.NoError(t, db.QueryRow("SELECT count(*) FROM migrations").Scan(&done))
		require.NoError(t, db.Close())
		require.Equal(t, []int{1, len(names) + 2}, []int{n, done}, "those of SQL, the one of columns for added fields, and that of currencies")
	}
}
