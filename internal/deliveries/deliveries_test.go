package deliveries_test

import (
	"bytes"
	"context"
	"encoding/base64"
	"fmt"
	"io"
	"mime"
	"mime/multipart"
	"mime/quotedprintable"
	"net"
	netmail "net/mail"
	"os"
	"path/filepath"
	"sort"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/engine"
	"uzzel/internal/answers"
	"uzzel/internal/app"
	"uzzel/internal/deliveries"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/fault"
	"uzzel/internal/library"
	"uzzel/internal/mail"
	"uzzel/internal/people"
	"uzzel/internal/records"
	"uzzel/internal/roster"
	"uzzel/internal/store"
)

// post is the company with a stand-in for a server for mail, a clock that the test sets, and a report that all may open.
type post struct {
	*testing.T
	app    *app.App
	store  *store.Store
	now    time.Time
	dir    string
	stop   func()
	port   int
	report int64
	folder int64
}

const byOwner = `{"version":1,"start":"deals","period":{"field":"created","within":"this_year"},"compare":"previous_period","groups":[{"field":"owner"}],"summaries":[{"key":"n","fn":"count"},{"key":"t","fn":"sum","of":"value"}],"chart":{"kind":"bar"}}`

func open(t *testing.T) *post {
	t.Helper()
	a, s := demotest.App(t)
	p := &post{T: t, app: a, store: s, now: time.Date(2026, 5, 14, 6, 0, 0, 0, time.UTC)} // Thursday, 07:00 in Lisbon
	s.Now = func() time.Time { return p.now }
	p.serve()
	ctx, admin := context.Background(), p.view(2)
	require.NoError(t, a.Mail.Set(ctx, admin, mail.Settings{
		Host: "127.0.0.1", Port: p.port, Security: mail.Plain, From: "Uzzel <uzzel@brinehaven.example>", Address: "https://uzzel.example",
	}, "", "osric@brinehaven.example"))
	f, err := a.Library.KeepFolder(ctx, admin, store.Folder{Name: "Open to all", Access: []store.Access{{Kind: store.ForEveryone}}}, 0)
	require.NoError(t, err)
	p.folder = f.ID
	p.report = p.kept("By owner", byOwner)
	p.mails() // the one that tried the server
	return p
}

func (p *post) kept(title, text string) int64 {
	p.Helper()
	b, err := brief.Decode([]byte(text))
	require.NoError(p, err)
	r, err := p.app.Library.KeepNew(context.Background(), p.view(2), library.Keep{Title: title, Folder: p.folder, Brief: b})
	require.NoError(p, err)
	return r.ID
}

func (p *post) serve() {
	p.Helper()
	p.dir = p.TempDir()
	s := mail.Box(p.dir)
	l, err := net.Listen("tcp", fmt.Sprintf("127.0.0.1:%d", p.port))
	require.NoError(p, err)
	p.port = l.Addr().(*net.TCPAddr).Port
	go func() { _ = s.Serve(l) }()
	p.stop = func() { _ = s.Close() }
	p.Cleanup(p.stop)
}

func (p *post) view(id int64) *answers.View {
	p.Helper()
	return demotest.View(p.T, p.app, id)
}

func (p *post) send(owner int64, title string, t deliveries.Terms) deliveries.Delivery {
	p.Helper()
	d, err := p.app.Sends.Keep(context.Background(), p.view(owner), store.Delivery{Title: title, Kind: store.KindReport, Item: p.report}, t)
	require.NoError(p, err)
	return d
}

func (p *post) tick(after time.Duration) {
	p.Helper()
	p.now = p.now.Add(after)
	require.NoError(p, p.app.Sends.Tick(context.Background()))
}

// got is a mail that arrived.
type got struct {
	to, subject, text, page string
	pictures, files         map[string][]byte
	head                    netmail.Header
}

// mails takes what has arrived since it was asked last, by address.
func (p *post) mails() []got {
	p.Helper()
	names, err := filepath.Glob(filepath.Join(p.dir, "*.eml"))
	require.NoError(p, err)
	var list []got
	for _, name := range names {
		data, err := os.ReadFile(name)
		require.NoError(p, err)
		require.NoError(p, os.Remove(name))
		m, err := netmail.ReadMessage(bytes.NewReader(data))
		require.NoError(p, err)
		g := got{to: m.Header.Get("To"), head: m.Header, pictures: map[string][]byte{}, files: map[string][]byte{}}
		g.subject, err = new(mime.WordDecoder).DecodeHeader(m.Header.Get("Subject"))
		require.NoError(p, err)
		p.read(&g, m.Header.Get("Content-Type"), m.Header.Get("Content-Transfer-Encoding"), "", "", m.Body)
		list = append(list, g)
	}
	sort.Slice(list, func(i, j int) bool { return list[i].to < list[j].to })
	return list
}

func (p *post) read(g *got, typ, coding, id, name string, body io.Reader) {
	p.Helper()
	kind, params, err := mime.ParseMediaType(typ)
	require.NoError(p, err)
	if strings.HasPrefix(kind, "multipart/") {
		r := multipart.NewReader(body, params["boundary"])
		for {
			part, err := r.NextRawPart()
			if err == io.EOF {
				return
			}
			require.NoError(p, err)
			p.read(g, part.Header.Get("Content-Type"), part.Header.Get("Content-Transfer-Encoding"), part.Header.Get("Content-ID"), part.FileName(), part)
		}
	}
	switch coding {
	case "base64":
		body = base64.NewDecoder(base64.StdEncoding, body)
	case "quoted-printable":
		body = quotedprintable.NewReader(body)
	}
	data, err := io.ReadAll(body)
	require.NoError(p, err)
	switch {
	case id != "":
		g.pictures[strings.Trim(id, "<>")] = data
	case name != "":
		g.files[name] = data
	case kind == "text/html":
		g.page = string(data)
	case kind == "text/plain":
		g.text = string(data)
	}
}

var (
	monday = deliveries.When{Every: deliveries.EveryWeek, On: 1, At: "08:00"}
	week   = 7 * 24 * time.Hour
)

func (p *post) total(id int64) string {
	p.Helper()
	b, err := brief.Decode([]byte(byOwner))
	require.NoError(p, err)
	a, err := p.view(id).Ask(context.Background(), b)
	require.NoError(p, err)
	return a.Writer.Value("money", a.Result.Cell(0, 0).Plain[1], nil)
}

// A delivery comes at its time, once, to each through their own eyes: with picture, figures and their change, pages and
// workbook, a link, and a way to get it no longer; and in it there is no trace of what its recipient may not see.
func TestMondayMail(t *testing.T) {
	p := open(t)
	ctx := context.Background()
	require.NoError(t, p.app.Admin.SetSees(ctx, p.view(2), "deals", engine.SeesTeam, 0))
	reader := p.view(3) // of one team
	d := p.send(2, "Monday’s numbers", deliveries.Terms{When: monday, People: []int64{2, 3}, Mail: true, Picture: true, PDF: true, XLSX: true, Note: "Ahead of the meeting."})
	require.Equal(t, "every Monday at 08:00", d.Words)
	p.tick(0)
	require.Empty(t, p.mails(), "before its time")
	p.now = time.Date(2026, 5, 18, 7, 0, 30, 0, time.UTC)
	p.tick(0)
	list := p.mails()
	require.Len(t, list, 2)
	byPerson := map[int64]got{}
	for _, id := range []int64{2, 3} {
		account, err := p.app.People.AccountOf(ctx, id)
		require.NoError(t, err)
		for _, g := range list {
			if strings.Contains(g.to, account.Email) {
				byPerson[id] = g
			}
		}
	}
	require.NotEqual(t, p.total(2), p.total(3))
	for id, g := range byPerson {
		require.Equal(t, "Monday’s numbers, 14 May 2026", g.subject)
		for _, body := range []string{g.text, g.page} {
			require.Contains(t, body, p.total(id), "their own total")
			require.Contains(t, body, "Ahead of the meeting.")
			require.Contains(t, body, "https://uzzel.example/reports/")
			require.Contains(t, body, "https://uzzel.example/leave#")
		}
		require.Contains(t, g.text, " from ", "against the period before")
		require.Equal(t, "\x89PNG", string(g.pictures["picture1.png"][:4]))
		require.Contains(t, g.page, `src="cid:picture1.png"`)
		require.Len(t, g.files, 2)
		for name, data := range g.files {
			require.Contains(t, []string{"%PDF", "PK\x03\x04"}, string(data[:4]), name)
		}
		require.Equal(t, "List-Unsubscribe=One-Click", g.head.Get("List-Unsubscribe-Post"))
	}
	// Nobody of another team is named in what the reader got, nor their numbers.
	b, err := brief.Decode([]byte(byOwner))
	require.NoError(t, err)
	all, err := p.view(2).Ask(ctx, b)
	require.NoError(t, err)
	theirs, err := reader.Ask(ctx, b)
	require.NoError(t, err)
	others := 0
	mine := fmt.Sprint(theirs.Result.Summary().Rows)
	for _, row := range all.Result.Summary().Rows {
		name := row[0]
		if name == "" || strings.Contains(mine, name) {
			continue
		}
		others++
		require.NotContains(t, byPerson[3].text+byPerson[3].page, name)
		require.Contains(t, byPerson[2].text, name)
	}
	require.Positive(t, others)

	p.tick(time.Minute)
	require.Empty(t, p.mails(), "once")
	p.tick(week)
	require.Len(t, p.mails(), 2, "and again a week later")
	told, err := p.store.ToldTo(ctx, 3)
	require.NoError(t, err)
	require.Len(t, told, 2, "told in the application, too")
}

// A program that ends in the middle sends nothing twice: what is written is not written again, and what was being handed
// over is marked as such, not sent again by itself; who looks after it may have it sent again.
func TestNothingTwice(t *testing.T) {
	p := open(t)
	ctx := context.Background()
	d := p.send(2, "Daily", deliveries.Terms{When: deliveries.When{Every: deliveries.EveryDay, At: "08:00"}, People: []int64{2, 3, 4}, Mail: true})
	due := time.Unix(d.Next, 0)
	p.now = due.Add(time.Second)
	// It ended after the first letters were written: the occasion is still due.
	occasion := "at:" + due.UTC().Format(time.RFC3339)
	_, err := p.store.PutMail(ctx, &store.OutMail{Delivery: d.ID, Recipient: 3, Occasion: occasion, State: store.MailSent})
	require.NoError(t, err)
	p.tick(0)
	require.Len(t, p.mails(), 2, "the others alone")
	require.NoError(t, p.store.WentOut(ctx, d.ID, map[string]any{"next": due.Unix()}))
	p.tick(0)
	require.Empty(t, p.mails(), "the same occasion again")

	// It ended while a mail was handed over.
	mails, err := p.app.Sends.Outbox(ctx, p.view(2), d.ID)
	require.NoError(t, err)
	require.NoError(t, p.store.MarkMail(ctx, mails[0].ID, map[string]any{"state": store.MailSending}))
	again, stop := context.WithTimeout(ctx, 300*time.Millisecond)
	require.NoError(t, p.app.Sends.Run(again))
	stop()
	require.Empty(t, p.mails())
	mails, err = p.app.Sends.Outbox(ctx, p.view(2), d.ID)
	require.NoError(t, err)
	require.Equal(t, store.MailUnsure, mails[0].State)
	require.NoError(t, p.app.Sends.Again(ctx, p.view(2), mails[0].ID))
	p.tick(0)
	require.Len(t, p.mails(), 1)
	require.True(t, fault.Is(p.app.Sends.Again(ctx, p.view(2), mails[0].ID), fault.Invalid), "it went")
}

// What was missed is sent once when the program runs again, and says that it is late.
func TestLate(t *testing.T) {
	p := open(t)
	p.send(2, "Daily", deliveries.Terms{When: deliveries.When{Every: deliveries.EveryDay, At: "08:00"}, People: []int64{2}, Mail: true})
	p.tick(4*24*time.Hour + 5*time.Hour)
	list := p.mails()
	require.Len(t, list, 1)
	require.Contains(t, list[0].text, "meant for 18 May 2026, 08:00 and comes late")
	p.tick(24 * time.Hour)
	require.Len(t, p.mails(), 1)
}

// Where the server for mail does not answer, a mail waits longer each time, then is given up and its sender told; after
// some in a row the delivery is paused. When the server is back, what waits is sent.
func TestTheServerIsDown(t *testing.T) {
	p := open(t)
	ctx := context.Background()
	d := p.send(2, "Daily", deliveries.Terms{When: deliveries.When{Every: deliveries.EveryDay, At: "08:00"}, People: []int64{3}, Mail: true})
	p.stop()
	p.tick(2 * time.Hour)
	of := func() store.OutMail {
		mails, err := p.app.Sends.Outbox(ctx, p.view(2), d.ID)
		require.NoError(t, err)
		return mails[0]
	}
	m := of()
	require.Equal(t, store.MailWaiting, m.State)
	require.Equal(t, 1, m.Tries)
	require.NotEmpty(t, m.Reason)
	require.Equal(t, time.Minute, time.Unix(m.Due, 0).Sub(p.now))
	p.tick(time.Minute)
	require.Equal(t, 5*time.Minute, time.Unix(of().Due, 0).Sub(p.now))
	p.serve()
	p.tick(5 * time.Minute)
	require.Len(t, p.mails(), 1)
	require.Equal(t, store.MailSent, of().State)

	p.stop()
	for range 200 {
		p.tick(2 * time.Hour)
	}
	require.Equal(t, store.MailFailed, of().State)
	open, err := p.app.Sends.Open(ctx, p.view(2), d.ID)
	require.NoError(t, err)
	require.True(t, open.Paused)
	told, err := p.store.ToldTo(ctx, 2)
	require.NoError(t, err)
	paused := 0
	for _, one := range told {
		if strings.Contains(one.Text, "is paused: it could not be sent 5 times in a row") && one.Kind == deliveries.ToldTrouble {
			paused++
		}
	}
	require.Equal(t, 1, paused)
	p.serve()
	require.NoError(t, p.app.Sends.Pause(ctx, p.view(2), d.ID, false))
	p.tick(24 * time.Hour)
	require.NotEmpty(t, p.mails(), "it goes on")
}

// A record that comes into a result is told once, to each who sees it; one that leaves, and a number that passes a line,
// when they do and not before.
func TestWhenSomethingHappens(t *testing.T) {
	p := open(t)
	ctx := context.Background()
	p.report = p.kept("Large", `{"version":1,"start":"deals","filter":{"all":[{"field":"value","is":"over","values":["2000000"]}]},"columns":[{"field":"name"},{"field":"value"}],"summaries":[{"key":"t","fn":"sum","of":"value"}]}`)
	to := func(w deliveries.When) deliveries.Terms {
		return deliveries.Terms{When: w, People: []int64{2, 4}, Mail: true}
	}
	p.send(2, "New large ones", to(deliveries.When{If: deliveries.IfComes}))
	p.send(2, "Gone", to(deliveries.When{If: deliveries.IfLeaves}))
	p.send(2, "Much", to(deliveries.When{If: deliveries.IfOver, Line: "5000000"}))
	tick := func() []string {
		p.tick(2 * time.Minute)
		var out []string
		for _, g := range p.mails() {
			require.Contains(t, g.text, "Large")
			out = append(out, g.subject)
		}
		sort.Strings(out)
		return out
	}
	require.Empty(t, tick(), "what is there is not news")
	ids, err := p.app.Records.Create(ctx, p.view(2), "deals", []records.Values{{"name": "Grand pier", "value": "3000000"}})
	require.NoError(t, err)
	twice := func(text string) []string { return []string{text, text} }
	require.Equal(t, twice("New large ones: Grand pier came into it"), tick())
	require.Empty(t, tick(), "told once")
	_, err = p.app.Records.Change(ctx, p.view(2), "deals", []records.Edit{{ID: ids[0], Values: records.Values{"value": "6000000"}}})
	require.NoError(t, err)
	require.Equal(t, twice("Much: Sum of value is €6,000,000.00, over 5,000,000"), tick())
	require.Empty(t, tick())
	_, err = p.app.Records.Change(ctx, p.view(2), "deals", []records.Edit{{ID: ids[0], Values: records.Values{"value": "1"}}})
	require.NoError(t, err)
	require.Equal(t, twice("Gone: Grand pier left it"), tick())
	_, err = p.app.Records.Change(ctx, p.view(2), "deals", []records.Edit{{ID: ids[0], Values: records.Values{"value": "7000000"}}})
	require.NoError(t, err)
	require.Equal(t, append(twice("Much: Sum of value is €7,000,000.00, over 5,000,000"), twice("New large ones: Grand pier came into it")...), tick())
}

// A target is at risk where less of it is reached than of its days are gone.
func TestTargetAtRisk(t *testing.T) {
	p := open(t)
	risky := func(target string) []got {
		p.report = p.kept("Target "+target, `{"version":1,"start":"deals","period":{"field":"created","within":"this_year"},"summaries":[{"key":"n","fn":"count"}],"target":"`+target+`","chart":{"kind":"progress"}}`)
		d := p.send(2, "Risk", deliveries.Terms{When: deliveries.When{If: deliveries.IfAtRisk}, People: []int64{2}, Mail: true})
		require.NoError(t, p.store.SetKnown(context.Background(), d.ID, 2, []string{"~begun"}))
		p.tick(2 * time.Minute)
		return p.mails()
	}
	require.Empty(t, risky("1"), "reached long ago")
	list := risky("1000000")
	require.Len(t, list, 1)
	require.Contains(t, list[0].subject, "The target is at risk: ")
}

// Nobody gets what they may not open, nor after they left it, by its key or on their page; keys of others open nothing.
func TestWhoGetsIt(t *testing.T) {
	p := open(t)
	ctx := context.Background()
	folders, err := p.app.Library.Folders(ctx, p.view(2))
	require.NoError(t, err)
	for _, f := range folders {
		if f.Owner != nil && *f.Owner == 2 {
			p.folder = f.ID
		}
	}
	p.report = p.kept("Private", byOwner)
	d := p.send(2, "Private", deliveries.Terms{When: deliveries.When{Every: deliveries.EveryDay, At: "08:00"}, People: []int64{2, 3}, Mail: true})
	p.tick(2 * time.Hour)
	list := p.mails()
	require.Len(t, list, 1, "the other may not open it")
	mails, err := p.app.Sends.Outbox(ctx, p.view(2), d.ID)
	require.NoError(t, err)
	states := map[int64]string{}
	for _, m := range mails {
		states[m.Recipient] = m.State
	}
	require.Equal(t, map[int64]string{2: store.MailSent, 3: store.MailDropped}, states)
	told, err := p.store.ToldTo(ctx, 3)
	require.NoError(t, err)
	require.Empty(t, told, "nor are they told of it")

	_, key, ok := strings.Cut(list[0].text, "/leave#")
	require.True(t, ok)
	key = strings.Fields(key)[0]
	for _, bad := range []string{"", "x", key + "x", strings.Replace(key, ".2.", ".3.", 1), key[:len(key)-4]} {
		_, err := p.app.Sends.LeaveBy(ctx, bad)
		require.True(t, fault.Is(err, fault.NotFound), bad)
	}
	title, err := p.app.Sends.LeaveBy(ctx, key)
	require.NoError(t, err)
	require.Equal(t, "Private", title)
	p.tick(24 * time.Hour)
	require.Empty(t, p.mails())
	coming, err := p.app.Sends.Coming(ctx, p.view(2))
	require.NoError(t, err)
	require.True(t, coming[0].Left)
	require.NoError(t, p.app.Sends.Leave(ctx, p.view(2), d.ID, false))
	p.tick(24 * time.Hour)
	require.Len(t, p.mails(), 1)
	require.True(t, fault.Is(p.app.Sends.Leave(ctx, p.view(4), d.ID, true), fault.NotFound), "it does not come to them")
}

// Readers send to themselves alone; a delivery is its owner's and administrators'; a letter is read by its recipient and
// administrators, not by who has it sent, for it shows what the recipient may see; others' eyes are looked through by
// administrators alone.
func TestWhoMay(t *testing.T) {
	p := open(t)
	ctx := context.Background()
	daily := deliveries.When{Every: deliveries.EveryDay, At: "08:00"}
	var reader, composer int64
	accounts, err := p.app.People.Accounts(ctx)
	require.NoError(t, err)
	for _, a := range accounts {
		switch a.Role {
		case people.Reader:
			reader = a.ID
		case people.Composer:
			composer = a.ID
		}
	}
	keep := func(who int64, t deliveries.Terms) error {
		_, err := p.app.Sends.Keep(ctx, p.view(who), store.Delivery{Kind: store.KindReport, Item: p.report}, t)
		return err
	}
	require.True(t, fault.Is(keep(reader, deliveries.Terms{When: daily, People: []int64{composer}}), fault.Forbidden))
	require.NoError(t, keep(reader, deliveries.Terms{When: daily, People: []int64{reader}}))
	for _, bad := range []deliveries.Terms{
		{When: daily}, {People: []int64{2}}, {When: daily, People: []int64{999999}}, {When: daily, People: []int64{2}, Since: "soon"},
		{When: deliveries.When{If: deliveries.IfOver, Line: "much"}, People: []int64{2}},
		{When: deliveries.When{If: deliveries.IfOver, Line: "1", Summary: "none"}, People: []int64{2}},
		{When: deliveries.When{If: deliveries.IfAtRisk}, People: []int64{2}},
		{When: daily, People: []int64{2}, Note: strings.Repeat("x", 1001)},
	} {
		require.Error(t, keep(composer, bad), "%+v", bad)
	}
	d := p.send(composer, "Mine", deliveries.Terms{When: daily, People: []int64{2, reader}, Mail: true})
	for _, err := range []error{
		p.app.Sends.Delete(ctx, p.view(reader), d.ID), p.app.Sends.Pause(ctx, p.view(reader), d.ID, true),
	} {
		require.True(t, fault.Is(err, fault.NotFound))
	}
	_, err = p.app.Sends.Outbox(ctx, p.view(reader), d.ID)
	require.True(t, fault.Is(err, fault.NotFound))
	p.tick(2 * time.Hour)
	mails, err := p.app.Sends.Outbox(ctx, p.view(composer), d.ID)
	require.NoError(t, err)
	require.Len(t, mails, 2)
	for _, m := range mails {
		for who, may := range map[int64]bool{composer: false, 2: true, reader: m.Recipient == reader} {
			text, err := p.app.Sends.Letter(ctx, p.view(who), m.ID)
			require.Equal(t, may, err == nil, "%d reads the letter to %d", who, m.Recipient)
			if may {
				require.Contains(t, string(text), "Subject:")
			}
		}
	}
	p.mails()
	for range 3 { // pressed three times
		n, err := p.app.Sends.SendNow(ctx, p.view(composer), d.ID, false)
		require.NoError(t, err)
		require.Equal(t, 2, n)
	}
	p.tick(0)
	require.Len(t, p.mails(), 2, "once a minute to each")
	_, err = p.app.Sends.SendNow(ctx, p.view(reader), d.ID, false)
	require.True(t, fault.Is(err, fault.NotFound))
	row := store.Delivery{Kind: store.KindReport, Item: p.report}
	terms := deliveries.Terms{When: daily, People: []int64{reader}, Picture: true, PDF: true}
	_, _, _, err = p.app.Sends.Preview(ctx, p.view(composer), row, terms, reader)
	require.True(t, fault.Is(err, fault.Forbidden))
	subject, page, files, err := p.app.Sends.Preview(ctx, p.view(2), row, terms, reader)
	require.NoError(t, err)
	require.Contains(t, subject, "By owner")
	require.Contains(t, page, "data:image/png;base64,")
	require.Contains(t, page, p.total(reader))
	require.Len(t, files, 1)
}

// What somebody has sent goes on in the name of who takes over their reports; else it pauses.
func TestWhoSendsLeaves(t *testing.T) {
	p := open(t)
	ctx := context.Background()
	d := p.send(7, "Mine", deliveries.Terms{When: monday, People: []int64{2}, Mail: true})
	require.NoError(t, p.app.Roster.Leave(ctx, p.view(2), 7, map[string]int64{roster.Reports: 2, roster.Boards: 2}))
	row, err := p.store.Delivery(ctx, d.ID)
	require.NoError(t, err)
	require.Equal(t, int64(2), row.Owner)
	require.False(t, row.Paused)
}

// Where letters could not all be written it is tried again for the same occasion: whoever has theirs gets no second one,
// and the schedule stays as it is. A program that is stopped meanwhile has not failed.
func TestFailedHalfway(t *testing.T) {
	p := open(t)
	ctx := context.Background()
	d := p.send(2, "Daily", deliveries.Terms{When: deliveries.When{Every: deliveries.EveryDay, At: "08:00"}, People: []int64{2, 3}, Mail: true})
	due := time.Unix(d.Next, 0)
	_, err := p.store.PutMail(ctx, &store.OutMail{
		Delivery: d.ID, Recipient: 3, Occasion: "at:" + due.UTC().Format(time.RFC3339), State: store.MailSent,
	})
	require.NoError(t, err)
	was, version, err := p.store.Preference(ctx, "mail")
	require.NoError(t, err)
	require.NoError(t, p.store.SetPreference(ctx, "mail", "{", version))
	p.now = due.Add(time.Second)
	stopped, stop := context.WithCancel(ctx)
	stop()
	require.Error(t, p.app.Sends.Tick(stopped))
	row, err := p.store.Delivery(ctx, d.ID)
	require.NoError(t, err)
	require.Zero(t, row.Failures, "it was stopped")
	require.NoError(t, p.app.Sends.Tick(ctx))
	row, err = p.store.Delivery(ctx, d.ID)
	require.NoError(t, err)
	require.Equal(t, 1, row.Failures)
	require.Equal(t, due.Unix(), row.Next, "it is still due")
	require.NoError(t, p.store.SetPreference(ctx, "mail", was, version+1))
	p.tick(time.Minute)
	require.Empty(t, p.mails(), "it waits a while")
	p.tick(10 * time.Minute)
	list := p.mails()
	require.Len(t, list, 1)
	require.Contains(t, list[0].to, "p2@")
	row, err = p.store.Delivery(ctx, d.ID)
	require.NoError(t, err)
	require.Equal(t, due.Add(24*time.Hour).Unix(), row.Next)
}
