// Package mail sends what people are told outside the application, through a server for outgoing mail (SMTP) that an
// administrator names. A stand-in that keeps mails as files ships with the application (Box).
package mail

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net"
	"net/mail"
	"net/url"
	"strconv"
	"strings"
	"time"

	gomail "github.com/wneessen/go-mail"

	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/store"
)

// How a connection is kept from being read by others.
const (
	Plain    = "plain"    // it is not: for a server on this machine
	StartTLS = "starttls" // begun in the open, then sealed
	TLS      = "tls"      // sealed from the first byte
)

// wait is how long a server for mail is waited for.
const wait = 20 * time.Second

// setting is the preference that holds the settings, and secret what holds the password, which no other place has.
const (
	setting = "mail"
	secret  = "mail password"
)

// Settings name the server for outgoing mail. Without a host nothing is mailed.
type Settings struct {
	Host     string `json:"host"`
	Port     int    `json:"port"`
	Security string `json:"security"`
	User     string `json:"user"` // "" where the server asks for none
	From     string `json:"from"` // the address that mails are from
	// Address is where people reach this application: https://uzzel.example.
	Address string `json:"address"`
	// Version counts changes.
	Version int `json:"-"`
}

// Letter is one mail.
type Letter struct {
	To, Subject, Text string
	HTML              string // the same as a page; "" for none
	Pictures          []File // which the page shows by their names: cid:NAME
	Files             []File
	ID                string // tells it from all other mails, so that servers know one that comes twice; "" for one of its own
	Date              int64  // when it was written, in seconds since 1970; 0 for now
	Leave             string // the address at which its recipient gets no more of them; "" for none
}

// File is what goes with a mail.
type File struct {
	Name, Type string
	Data       []byte
}

// Mail sends mails.
type Mail struct{ store *store.Store }

// New sends mails as a store's settings say.
func New(s *store.Store) *Mail { return &Mail{s} }

// Settings are those in force.
func (m *Mail) Settings(ctx context.Context) (Settings, error) {
	var s Settings
	text, version, err := m.store.Preference(ctx, setting)
	if err == nil && text != "" {
		err = json.Unmarshal([]byte(text), &s)
	}
	s.Version = version
	return s, err
}

// Set names the server for mail, once it has taken a mail to who sets it. A password of "" leaves the one that there is;
// a host of "" has nothing mailed any more.
func (m *Mail) Set(ctx context.Context, v *answers.View, s Settings, password, to string) error {
	if !v.Who.Administers() {
		return fault.New(fault.Forbidden, "", "Only administrators say how mail is sent.")
	}
	was, err := m.password(ctx)
	if err != nil {
		return err
	}
	if password == "" {
		password = was
	}
	if s.Host == "" {
		s = Settings{Version: s.Version}
		password = ""
	} else {
		if s, err = checked(s); err != nil {
			return err
		}
		text := "This is how mail from " + s.Address + " reaches you.\n"
		if err := s.send(ctx, password, []Letter{{To: to, Subject: "Mail from Uzzel works", Text: text}}); err != nil {
			return fault.New(fault.Invalid, "/host", "The server did not take a mail to %s: %s.", to, Short(err))
		}
	}
	text, err := json.Marshal(s)
	if err != nil {
		return err
	}
	if err := m.store.SetPreference(ctx, setting, string(text), s.Version); err != nil {
		return fault.FromStore(err, "setting")
	}
	return m.store.PutSecret(ctx, secret, password)
}

func (m *Mail) password(ctx context.Context) (string, error) {
	return m.store.ReadSecret(ctx, secret)
}

// checked is settings that can be tried, or what is wrong with them.
func checked(s Settings) (Settings, error) {
	s.Host, s.User = strings.TrimSpace(s.Host), strings.TrimSpace(s.User)
	from, err := mail.ParseAddress(s.From)
	at, badAddress := url.Parse(s.Address)
	switch {
	case strings.ContainsAny(s.Host, " /@:"):
		return s, fault.New(fault.Invalid, "/host", "Name the server, as mail.example.org.")
	case s.Port < 1 || s.Port > 65535:
		return s, fault.New(fault.Invalid, "/port", "A port is from 1 to 65535; most servers have 587 or 465.")
	case s.Security != Plain && s.Security != StartTLS && s.Security != TLS:
		return s, fault.New(fault.Invalid, "/security", "Choose how the connection is sealed.")
	case s.Security == Plain && s.User != "" && !local(s.Host):
		return s, fault.New(fault.Invalid, "/security", "A password is not sent in the open to another machine.")
	case err != nil:
		return s, fault.New(fault.Invalid, "/from", "“%s” is no e-mail address.", s.From)
	case badAddress != nil || (at.Scheme != "http" && at.Scheme != "https") || at.Host == "":
		return s, fault.New(fault.Invalid, "/address", "Say where people reach this, as https://uzzel.example.org.")
	}
	s.From, s.Address = from.String(), at.Scheme+"://"+at.Host
	return s, nil
}

// local says whether a host is this machine.
func local(host string) bool {
	ip := net.ParseIP(host)
	return host == "localhost" || (ip != nil && ip.IsLoopback())
}

// Short is an error of a server for mail in one line.
func Short(err error) string {
	text := strings.Join(strings.Fields(err.Error()), " ")
	if r := []rune(text); len(r) > 300 {
		text = string(r[:300]) + "…"
	}
	return strings.TrimSuffix(text, ".")
}

// ErrNone says that no server for mail is named.
var ErrNone = errors.New("no server for mail is named")

// Send sends mails, over one connection. ErrNone says that nothing is mailed here.
func (m *Mail) Send(ctx context.Context, letters []Letter) error {
	s, err := m.Settings(ctx)
	if err != nil {
		return err
	}
	if s.Host == "" {
		return ErrNone
	}
	password, err := m.password(ctx)
	if err != nil {
		return err
	}
	return s.send(ctx, password, letters)
}

func (s Settings) send(ctx context.Context, password string, letters []Letter) error {
	opts := []gomail.Option{gomail.WithPort(s.Port), gomail.WithTimeout(wait)}
	switch s.Security {
	case TLS:
		opts = append(opts, gomail.WithSSL())
	case StartTLS:
		opts = append(opts, gomail.WithTLSPolicy(gomail.TLSMandatory))
	default:
		opts = append(opts, gomail.WithTLSPolicy(gomail.NoTLS))
	}
	if s.User != "" {
		opts = append(opts, gomail.WithSMTPAuth(gomail.SMTPAuthAutoDiscover), gomail.WithUsername(s.User),
			gomail.WithPassword(password))
	}
	client, err := gomail.NewClient(s.Host, opts...)
	if err != nil {
		return err
	}
	var list []*gomail.Msg
	for _, l := range letters {
		msg, err := s.message(l)
		if err != nil {
			return err
		}
		list = append(list, msg)
	}
	ctx, done := context.WithTimeout(ctx, wait+time.Duration(len(list))*time.Second)
	defer done()
	return client.DialAndSendWithContext(ctx, list...)
}

// message is a letter as it is sent.
func (s Settings) message(l Letter) (*gomail.Msg, error) {
	msg := gomail.NewMsg()
	if err := errors.Join(msg.From(s.From), msg.To(l.To)); err != nil {
		return nil, fmt.Errorf("a mail to %s: %w", strconv.Quote(l.To), err)
	}
	msg.Subject(l.Subject)
	if l.Date == 0 {
		msg.SetDate()
	} else {
		msg.SetDateWithValue(time.Unix(l.Date, 0))
	}
	if l.ID == "" {
		msg.SetMessageID()
	} else {
		msg.SetMessageIDWithValue(l.ID)
	}
	if l.Leave != "" {
		msg.SetGenHeader("List-Unsubscribe", "<"+l.Leave+">")
		msg.SetGenHeader("List-Unsubscribe-Post", "List-Unsubscribe=One-Click")
		msg.SetGenHeader("Auto-Submitted", "auto-generated")
	}
	msg.SetBodyString(gomail.TypeTextPlain, l.Text)
	if l.HTML != "" {
		msg.AddAlternativeString(gomail.TypeTextHTML, l.HTML)
	}
	for _, p := range l.Pictures {
		err := msg.EmbedReader(p.Name, bytes.NewReader(p.Data), gomail.WithFileContentID(p.Name),
			gomail.WithFileContentType(gomail.ContentType(p.Type)))
		if err != nil {
			return nil, err
		}
	}
	for _, f := range l.Files {
		err := msg.AttachReader(f.Name, bytes.NewReader(f.Data), gomail.WithFileContentType(gomail.ContentType(f.Type)))
		if err != nil {
			return nil, err
		}
	}
	return msg, nil
}

// Written is a letter as it goes over the wire (RFC 5322).
func (m *Mail) Written(ctx context.Context, l Letter) ([]byte, error) {
	s, err := m.Settings(ctx)
	if err != nil {
		return nil, err
	}
	if s.From == "" {
		s.From = "uzzel@localhost"
	}
	msg, err := s.message(l)
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	_, err = msg.WriteTo(&out)
	return out.Bytes(), err
}
