package mail_test

import (
	"context"
	"net"
	netmail "net/mail"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/internal/demo/demotest"
	"uzzel/internal/fault"
	"uzzel/internal/mail"
	"uzzel/internal/roster"
)

// box is the stand-in, and where it keeps mails.
func box(t *testing.T) (port int, letters func() []*netmail.Message) {
	t.Helper()
	dir := t.TempDir()
	s := mail.Box(dir)
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	go func() { _ = s.Serve(l) }()
	t.Cleanup(func() { _ = s.Close() })
	return l.Addr().(*net.TCPAddr).Port, func() []*netmail.Message {
		files, err := filepath.Glob(filepath.Join(dir, "*.eml"))
		require.NoError(t, err)
		var list []*netmail.Message
		for _, f := range files {
			data, err := os.ReadFile(f)
			require.NoError(t, err)
			m, err := netmail.ReadMessage(strings.NewReader(string(data)))
			require.NoError(t, err)
			list = append(list, m)
		}
		return list
	}
}

// A server for mail is in force once it has taken a mail; invitations go out through it, each with its own address.
func TestMail(t *testing.T) {
	a, s := demotest.App(t)
	ctx := context.Background()
	who, err := a.People.Who(ctx, 2)
	require.NoError(t, err)
	v := a.View(who)
	port, letters := box(t)
	set := mail.Settings{Host: "127.0.0.1", Port: port, Security: mail.Plain, From: "uzzel@brinehaven.example", Address: "https://uzzel.example/any"}
	require.ErrorIs(t, a.Mail.Send(ctx, []mail.Letter{{To: "x@y.example"}}), mail.ErrNone)
	reader, err := a.People.Who(ctx, 3)
	require.NoError(t, err)
	require.True(t, fault.Is(a.Mail.Set(ctx, a.View(reader), set, "", "x@y.example"), fault.Forbidden))
	for pointer, change := range map[string]func(s *mail.Settings){
		"/host":     func(s *mail.Settings) { s.Port = closed(t) },
		"/port":     func(s *mail.Settings) { s.Port = 0 },
		"/security": func(s *mail.Settings) { s.Host, s.User = "mail.example", "me" },
		"/from":     func(s *mail.Settings) { s.From = "me\r\nBcc: all@x.example" },
		"/address":  func(s *mail.Settings) { s.Address = "javascript:alert(1)" },
	} {
		bad := set
		change(&bad)
		err := a.Mail.Set(ctx, v, bad, "", "p2@brinehaven.example")
		var f *fault.Error
		require.ErrorAs(t, err, &f, pointer)
		require.Equal(t, pointer, f.Pointer)
	}
	now, err := a.Mail.Settings(ctx)
	require.NoError(t, err)
	require.Empty(t, now.Host, "what did not work is not in force")

	require.NoError(t, a.Mail.Set(ctx, v, set, "s3cret", "p2@brinehaven.example"))
	require.Len(t, letters(), 1)
	text, _, err := s.Preference(ctx, "mail")
	require.NoError(t, err)
	require.NotContains(t, text, "s3cret", "what was changed in the settings is listed")
	made, err := a.Roster.Invite(ctx, v, []roster.Details{{Name: "Wila Ness", Email: "wila@brinehaven.example", Role: "reader"}, {Name: "Rui Corvel", Email: "rui@brinehaven.example", Role: "reader"}})
	require.NoError(t, err)
	require.NoError(t, a.Mail.Hand(ctx, v, a.People, []string{made[0].Key, made[1].Key}))
	require.Len(t, letters(), 3)
	said := map[string]string{}
	for _, m := range letters() {
		body := make([]byte, 2000)
		n, _ := m.Body.Read(body)
		said[m.Header.Get("To")] = string(body[:n])
		require.Contains(t, m.Header.Get("From"), "uzzel@brinehaven.example")
	}
	require.Contains(t, said["<wila@brinehaven.example>"], "https://uzzel.example/key#"+made[0].Key)
	require.NotContains(t, said["<rui@brinehaven.example>"], made[0].Key)
	require.True(t, fault.Is(a.Mail.Hand(ctx, v, a.People, []string{"NONE"}), fault.NotFound))

	now, err = a.Mail.Settings(ctx)
	require.NoError(t, err)
	require.NoError(t, a.Mail.Set(ctx, v, mail.Settings{Version: now.Version}, "", ""))
	require.ErrorContains(t, a.Mail.Hand(ctx, v, a.People, []string{made[0].Key}), "No server for mail")
}

// closed is a port that nothing listens on.
func closed(t *testing.T) int {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	defer func() { require.NoError(t, l.Close()) }()
	return l.Addr().(*net.TCPAddr).Port
}
