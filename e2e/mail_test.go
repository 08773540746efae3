package e2e

import (
	"net"
	"os"
	"path/filepath"
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/internal/mail"
)

// mailbox is the stand-in for a server for mail: where it keeps mails, and where it listens.
func mailbox(t *testing.T) (dir string, port int) {
	t.Helper()
	dir = t.TempDir()
	box := mail.Box(dir)
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	go func() { _ = box.Serve(l) }()
	t.Cleanup(func() { _ = box.Close() })
	return dir, l.Addr().(*net.TCPAddr).Port
}

// An administrator names a server for mail, which is tried first; someone is invited, and finds the address in the mail.
func TestInvitationsAreMailed(t *testing.T) {
	dir, port := mailbox(t)
	p := browse(t, open(t))
	p.signIn("Osric Jarrow")
	p.visit("/settings")
	p.fill("textbox", "Server", "127.0.0.1")
	p.fill("spinbutton", "Port", "1")
	p.choose("The connection is", "plain")
	p.fill("textbox", "Mails are from", "uzzel@brinehaven.example")
	p.click("button", "Try it, and save")
	p.sees("The server did not take a mail")
	p.fill("spinbutton", "Port", strconv.Itoa(port))
	p.click("button", "Try it, and save")
	p.sees("It works: a mail is on its way")
	p.sees("How mail is sent") // among what was changed
	p.visit("/people")
	p.click("button", "Invite people")
	p.fill("textbox", "Name", "Wila Ness")
	p.fill("textbox", "E-mail", "wila@brinehaven.example")
	p.click("button", "Invite")
	p.sees("It was mailed to them as well.")
	address := eval[string](p, `document.querySelector("input[aria-label='Address for wila@brinehaven.example']").value`)
	files, err := filepath.Glob(filepath.Join(dir, "*.eml"))
	require.NoError(t, err)
	require.Len(t, files, 2, "the one that tried it, and the invitation")
	last, err := os.ReadFile(files[1])
	require.NoError(t, err)
	require.Contains(t, string(last), address)
}
