package mail

import (
	"crypto/rand"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"time"

	"github.com/emersion/go-smtp"
)

// Limits of the stand-in.
const (
	maxLetter     = 25 << 20
	maxRecipients = 500
)

// Box is a stand-in for a server for mail: it keeps what it is sent as files (RFC 5322, .eml) and passes nothing on.
func Box(dir string) *smtp.Server {
	s := smtp.NewServer(box(dir))
	s.Domain = "localhost"
	s.MaxMessageBytes, s.MaxRecipients = maxLetter, maxRecipients
	s.ReadTimeout, s.WriteTimeout = time.Minute, time.Minute
	return s
}

type box string

func (b box) NewSession(*smtp.Conn) (smtp.Session, error) { return &letter{dir: string(b)}, nil }

// letter is one connection, which brings letters one after the other.
type letter struct{ dir string }

func (l *letter) Mail(string, *smtp.MailOptions) error { return nil }
func (l *letter) Rcpt(string, *smtp.RcptOptions) error { return nil }
func (l *letter) Reset()                               {}
func (l *letter) Logout() error                        { return nil }

// Data keeps a letter, which has its name once it is written.
func (l *letter) Data(r io.Reader) error {
	name := filepath.Join(l.dir, fmt.Sprintf("%s-%s.eml", time.Now().UTC().Format("20060102-150405.000"), rand.Text()[:8]))
	data, err := io.ReadAll(r)
	if err != nil {
		return err
	}
	if err := os.WriteFile(name+".part", data, 0o600); err != nil {
		return err
	}
	return os.Rename(name+".part", name)
}
