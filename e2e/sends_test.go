package e2e

import (
	"context"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/engine"
	"uzzel/internal/app"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/mail"
)

// A delivery is made from a dashboard, previewed as a reader who sees one team, sent, and read in the outbox; its
// recipient is told in the inbox, and leaves it by the address in the mail.
func TestDelivery(t *testing.T) {
	dir, port := mailbox(t)
	s := demotest.Open(t)
	ctx := context.Background()
	a, err := app.New(s, func() int32 { return demotest.Day }, nil)
	require.NoError(t, err)
	admin := demotest.View(t, a, 2)
	require.NoError(t, a.Admin.SetSees(ctx, admin, "deals", engine.SeesTeam, 0))
	url := serve(t, s)
	require.NoError(t, a.Mail.Set(ctx, admin, mail.Settings{
		Host: "127.0.0.1", Port: port, Security: mail.Plain, From: "uzzel@brinehaven.example", Address: url,
	}, "", "osric@brinehaven.example"))
	p := browse(t, url)
	p.signIn("Osric Jarrow")
	p.visit("/dashboards/1")
	p.click("button", "More to do with the dashboard")
	p.click("menuitem", "Send…")
	p.choose("Send it to someone else, too", "person 3")
	p.click("checkbox", "pages (PDF)")
	p.click("button", "Preview")
	p.choose("Whose eyes it is seen through", "3")
	reader := demotest.View(t, a, 3).Who.Name
	p.await(`(document.querySelector("iframe")?.srcdoc ?? "").includes("As ` + reader + ` sees it") ? "shown" : ""`)
	p.sees("With Company, Monday")
	p.shot("send")
	p.click("button", "Send it so")
	p.gone()
	p.visit("/deliveries")
	p.sees("every Monday at 08:00")
	p.click("button", "More of Company, Monday")
	p.click("menuitem", "Send it now, to all")
	p.sees("On its way to 2 people")
	require.NoError(t, a.Sends.Tick(ctx))
	p.click("button", "Outbox")
	p.find("table", "")
	p.await(`[...document.querySelectorAll("section[aria-label^=Outbox] tbody tr")].filter((r) => r.textContent.includes("sent")).length === 2 ? "both" : ""`)
	p.shot("deliveries")
	files, err := filepath.Glob(filepath.Join(dir, "*.eml"))
	require.NoError(t, err)
	require.Len(t, files, 3, "the one that tried the server, and two")
	var theirs string
	for _, f := range files {
		data, err := os.ReadFile(f)
		require.NoError(t, err)
		if strings.Contains(string(data), "To: <p3@") {
			theirs = strings.ReplaceAll(strings.ReplaceAll(string(data), "=\r\n", ""), "=3D", "=")
		}
	}
	_, key, ok := strings.Cut(theirs, "/leave#")
	require.True(t, ok)
	key = strings.FieldsFunc(key, func(r rune) bool { return r == '"' || r == ' ' || r == '\r' || r == '\n' })[0]
	p.visit("/leave#" + key)
	p.click("button", "Get it no longer")
	p.sees("You get “Company, Monday” no longer")
	p.shot("leave")

	other := browse(t, url)
	other.signIn(reader)
	other.visit("/inbox")
	other.sees("Company, Monday: as it is on 14 May 2026")
	other.find("button", "Get Company, Monday again")
	other.shot("inbox")
	other.click("button", "All is read")
	other.await(`document.querySelector("nav [class*=rounded-full]") ? "" : "none"`)
}

// A manager has herself told when a large deal goes quiet: once, in her inbox and by mail, however often it is looked for.
func TestToldOnce(t *testing.T) {
	dir, port := mailbox(t)
	s := demotest.Open(t)
	ctx := context.Background()
	a, err := app.New(s, func() int32 { return demotest.Day }, nil)
	require.NoError(t, err)
	url := serve(t, s)
	require.NoError(t, a.Mail.Set(ctx, demotest.View(t, a, 2), mail.Settings{
		Host: "127.0.0.1", Port: port, Security: mail.Plain, From: "uzzel@brinehaven.example", Address: url,
	}, "", "osric@brinehaven.example"))
	later := 0
	s.Now = func() time.Time { return time.Now().Add(time.Duration(later) * time.Minute) }
	look := func() { // as the program does by itself, some minutes on
		later += 5
		require.NoError(t, a.Sends.Tick(ctx))
	}
	p := browse(t, url)
	p.signIn("Maite Corrie")
	p.visit("/reports/new/deals?brief=" + inAddress(`{"version":1,"start":"deals","filter":{"all":[{"field":"status","is":"any_of","values":["open"]},{"field":"value","is":"over","values":["900000"]},{"link":"activities","is":"none","where":{"field":"happens","is":"within","period":{"last":14,"unit":"day"}}}]},"columns":[{"field":"name"},{"field":"value"}]}`))
	p.click("button", "Save report")
	p.fill("textbox", "Title", "Large and quiet")
	p.click("button", "Save")
	p.find("heading", "Large and quiet")
	p.click("button", "More to do with the report")
	p.click("menuitem", "Send…")
	p.choose("When it is sent", "comes")
	p.click("button", "Send it so")
	p.gone()
	look() // what is there is not news
	quiet, err := brief.Decode([]byte(`{"version":1,"start":"deals","filter":{"all":[{"field":"status","is":"any_of","values":["open"]},{"field":"currency","is":"any_of","values":["EUR"]},{"link":"activities","is":"none","where":{"field":"happens","is":"within","period":{"last":14,"unit":"day"}}}]},"columns":[{"field":"id"}],"limit":1}`))
	require.NoError(t, err)
	l, err := demotest.View(t, a, 1).List(ctx, quiet)
	require.NoError(t, err)
	page, err := l.Page(ctx, 0, 1)
	require.NoError(t, err)
	p.visit("/records/deals/" + page.IDs[0])
	p.click("button", "Change")
	p.fill("textbox", "Value", "1234567")
	p.click("button", "Save")
	p.sees("Saved")
	name := p.await(`document.querySelector("h1").innerText`)
	look()
	p.visit("/inbox")
	p.sees(name + " came into it")
	look()
	look()
	p.visit("/inbox")
	p.sees(name + " came into it")
	require.Equal(t, "1", p.await(`String([...document.querySelectorAll("main li")].filter((l) => l.textContent.includes("came into it")).length)`))
	files, err := filepath.Glob(filepath.Join(dir, "*.eml"))
	require.NoError(t, err)
	require.Len(t, files, 2, "the one that tried the server, and one")
}
