package e2e

import (
	"testing"
	"time"

	"github.com/pquerna/otp/totp"
	"github.com/stretchr/testify/require"
)

// An administrator has everyone sign in with a code; who has none sets it up first, keeps the recovery codes, and signs in
// with one of them later.
func TestSecondFactor(t *testing.T) {
	p, _ := begun(t)
	p.organises()
	p.administers("gravel lantern otter")
	p.find("heading", "What to begin with")
	p.click("radio", "Nothing yet")
	p.click("button", "Go on")
	p.find("heading", "What you call things")
	p.click("button", "Done")
	p.visit("/settings")
	p.click("checkbox", "Everyone signs in with a code of an app besides the password; who has none sets it up first")
	p.find("heading", "One thing more to sign in")
	p.visit("/find")
	p.find("heading", "One thing more to sign in") // there is no way around it
	p.fill("textbox", "Your password", "gravel lantern otter")
	p.click("button", "Set it up")
	p.find("textbox", "The code that it shows now")
	p.shot("second-factor")
	secret := eval[string](p, `document.querySelector("main code").innerText`)
	code, err := totp.GenerateCode(secret, time.Now())
	require.NoError(t, err)
	p.fill("textbox", "The code that it shows now", code)
	p.click("button", "Sign in with it from now on")
	p.find("button", "I have kept them")
	recovery := eval[string](p, `document.querySelector("ul[aria-label='Recovery codes'] li").innerText`)
	p.click("button", "I have kept them")
	p.find("button", "Sign out")
	p.await(`window.left ?? (fetch("/api/session", {method: "DELETE"}).then(() => { window.left = "left"; }), "")`)
	p.visit("/")
	p.fill("textbox", "E-mail", "idun@ketch.example")
	p.fill("textbox", "Password", "gravel lantern otter")
	p.click("button", "Sign in")
	p.fill("textbox", "Code", "000000")
	p.click("button", "Sign in")
	p.sees("not the code that the app shows now")
	p.fill("textbox", "Code", recovery)
	p.click("button", "Sign in")
	p.find("link", "Dashboards")
}
