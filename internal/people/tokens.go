package people

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"errors"
	"slices"
	"strings"
	"time"

	"uzzel/internal/fault"
	"uzzel/internal/naming"
	"uzzel/internal/store"
)

// Scopes of tokens: what a program may do for its person, who must be allowed to do it as well.
const (
	ReadReports  = "read-reports"
	ReadRecords  = "read-records"
	WriteRecords = "write-records"
	Administer   = "administer"
	// Calendar reads one's planned activities at an address that a calendar asks (/feeds), and nothing else.
	Calendar = "calendar"
)

// Scopes lists them.
var Scopes = []string{ReadReports, ReadRecords, WriteRecords, Administer, Calendar}

// Limits of tokens.
const (
	maxTokens    = 50 // of a person
	maxTokenDays = 366
	tokenPrefix  = "uzzel_" // by which those that were put somewhere by mistake are found
	usedEvery    = 60       // seconds between two times that the use of a token is written down
)

// NewToken makes a token for programs of a person. Its text is given here once.
func (p *People) NewToken(
	ctx context.Context,
	who Person,
	name string,
	scopes []string,
	days int,
) (string, store.Token, error) {
	name = naming.Tidy(name)
	list, err := p.store.Tokens(ctx, who.ID)
	if err != nil {
		return "", store.Token{}, err
	}
	refuse := func(pointer, format string, args ...any) (string, store.Token, error) {
		return "", store.Token{}, fault.New(fault.Invalid, pointer, format, args...)
	}
	switch {
	case name == "" || len(name) > 100:
		return refuse("/name", "Say in at most 100 characters what the token is for.")
	case len(scopes) == 0:
		return refuse("/scopes", "Choose what the token may do.")
	case days < 1 || days > maxTokenDays:
		return refuse("/days", "A token holds for 1 to %d days.", maxTokenDays)
	case len(list) >= maxTokens:
		return refuse("", "You have %d tokens, which is as many as there can be. Take one away first.", len(list))
	}
	for _, s := range scopes {
		if !slices.Contains(Scopes, s) {
			return refuse("/scopes", "“%s” is nothing that a token can be for.", s)
		}
		if s == Administer && !who.Administers() {
			return refuse("/scopes", "Only administrators' tokens administer.")
		}
	}
	text, now := tokenPrefix+rand.Text(), p.store.Now()
	sum := sha256.Sum256([]byte(text))
	t := store.Token{
		Person:  who.ID,
		Hash:    sum[:],
		Name:    name,
		Scopes:  strings.Join(scopes, " "),
		Made:    now.Unix(),
		Expires: now.Add(time.Duration(days) * 24 * time.Hour).Unix(),
	}
	return text, t, p.store.AddToken(ctx, &t)
}

// Tokens lists the tokens of a person.
func (p *People) Tokens(ctx context.Context, who Person) ([]store.Token, error) {
	return p.store.Tokens(ctx, who.ID)
}

// DropToken takes a token of a person away: it opens nothing from then on.
func (p *People) DropToken(ctx context.Context, who Person, id int64) error {
	return fault.FromStore(p.store.DropToken(ctx, who.ID, id), "token")
}

// Bearer is whom a program with a token acts for, and within which scopes.
func (p *People) Bearer(ctx context.Context, text string) (Person, []string, error) {
	unknown := fault.New(fault.SignedOut, "", "This token is not known, or has expired.")
	if !strings.HasPrefix(text, tokenPrefix) {
		return Person{}, nil, unknown
	}
	sum, now := sha256.Sum256([]byte(text)), p.store.Now().Unix()
	t, err := p.store.TokenOf(ctx, sum[:], now)
	if errors.Is(err, store.ErrNotFound) {
		return Person{}, nil, unknown
	}
	if err != nil {
		return Person{}, nil, err
	}
	who, err := p.Who(ctx, t.Person)
	if err != nil {
		return Person{}, nil, err
	}
	if t.Used == nil || now-*t.Used >= usedEvery {
		if err := p.store.UseToken(ctx, t.ID, now); err != nil {
			return Person{}, nil, err
		}
	}
	return who, strings.Fields(t.Scopes), nil
}
