package e2e

import (
	"context"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/internal/people"
	"uzzel/internal/store"
)

// begun serves an empty file and opens the address that sets it up.
func begun(t *testing.T) (*page, string) {
	t.Helper()
	s, err := store.Open(filepath.Join(t.TempDir(), "new.db"))
	require.NoError(t, err)
	key, err := people.New(s).NewKey(context.Background(), people.SetUpKey, 0)
	require.NoError(t, err)
	url := serve(t, s)
	p := browse(t, url)
	p.sees("Uzzel is not set up yet")
	p.visit("/begin#" + key)
	p.find("heading", "Your organisation")
	return p, url
}

// organises says what the organisation is called.
func (p *page) organises() {
	p.t.Helper()
	p.fill("textbox", "Name", "Ketch & Daughters")
	p.click("button", "Go on")
}

// administers says who the first administrator is.
func (p *page) administers(password string) {
	p.t.Helper()
	p.find("heading", "The first administrator")
	p.fill("textbox", "Name", "Idun Ketch")
	p.fill("textbox", "E-mail", "idun@ketch.example")
	p.fill("textbox", "Password", password)
	p.click("button", "Go on")
}

// From an empty file: set up at the one-time address, someone is invited and comes in, and is taken off again.
func TestFromAnEmptyFile(t *testing.T) {
	p, url := begun(t)
	p.shot("setup")
	p.organises()
	p.administers("password1234")
	p.sees("one of those that are tried first")
	p.visit("/begin") // a reload goes on where it was
	p.find("heading", "The first administrator")
	p.click("button", "Back")
	p.find("heading", "Your organisation")
	p.click("button", "Go on")
	p.administers("gravel lantern otter")
	p.find("heading", "What to begin with")
	p.click("radio", "Nothing yet")
	p.click("button", "Go on")
	p.find("heading", "What you call things")
	p.fill("textbox", "Deals, several", "Orders")
	p.fill("textbox", "Deals, one", "order")
	p.click("button", "Done")
	p.find("heading", "Uzzel is ready")
	p.click("button", "Invite people")
	p.find("heading", "People")
	p.find("link", "Orders")

	p.click("button", "Invite people")
	p.click("radio", "Many")
	p.fill("textbox", "One person a line", "Wila Ness, wila@ketch.example, Boatyard\nno address here")
	p.sees("no e-mail address on line 2")
	p.fill("textbox", "One person a line", "Wila Ness, wila@ketch.example, Boatyard")
	p.click("button", "Invite")
	p.find("heading", "Hand this address on")
	address := p.await(`document.querySelector("[aria-label='Address for wila@ketch.example']")?.value ?? ""`)
	p.click("button", "Done")
	p.sees("Boatyard")

	wila := browse(t, url)
	wila.visit(address[len(url):])
	wila.find("heading", "Welcome, Wila Ness")
	wila.fill("textbox", "Password", "kettle orchard violin")
	wila.click("button", "Sign in")
	wila.find("heading", "this is waiting")
	wila.click("link", "Wila Ness")
	wila.find("heading", "Where I am signed in")

	p.visit("/people")
	p.click("button", "More to do with Wila Ness")
	p.click("menuitem", "Take off and hand over…")
	p.sees("There is nothing to hand over")
	p.click("button", "Take off")
	p.sees("signs in no more")
	wila.visit("/find")
	wila.find("heading", "Sign in")
}
