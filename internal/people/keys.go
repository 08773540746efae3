package people

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"errors"
	"strings"
	"time"

	"uzzel/internal/fault"
	"uzzel/internal/store"
)

// Kinds of keys, and how long each opens the door.
const (
	SetUpKey  = "setup"
	InviteKey = "invite"
	ResetKey  = "reset"
)

var keyTimes = map[string]time.Duration{
	SetUpKey:  7 * 24 * time.Hour,
	InviteKey: 14 * 24 * time.Hour,
	ResetKey:  24 * time.Hour,
}

// NewKey makes a key that opens the door once, in place of the one of its kind that the person had; person is 0 for the
// set-up. Only who is given the text has it.
func (p *People) NewKey(ctx context.Context, kind string, person int64) (string, error) {
	text, now := rand.Text(), p.store.Now()
	k := store.DoorKey{Hash: hashed(text), Kind: kind, Made: now.Unix(), Expires: now.Add(keyTimes[kind]).Unix()}
	if person != 0 {
		k.Person = &person
	}
	return text, p.store.PutDoorKey(ctx, k)
}

func hashed(key string) []byte {
	sum := sha256.Sum256([]byte(strings.ToUpper(strings.TrimSpace(key))))
	return sum[:]
}

// Key finds what a key is for.
func (p *People) Key(ctx context.Context, key string) (store.DoorKey, error) {
	k, err := p.store.DoorKey(ctx, hashed(key), p.store.Now().Unix())
	if errors.Is(err, store.ErrNotFound) {
		return k, fault.New(
			fault.NotFound,
			"",
			"This address has been used, or is too old. Ask an administrator for another; for the set-up, start the server again.",
		)
	}
	return k, err
}

// Opened is whom a key is for.
type Opened struct {
	Kind, Name, Email string
}

// Look says whom an invitation or a reset is for.
func (p *People) Look(ctx context.Context, key string) (Opened, error) {
	k, err := p.Key(ctx, key)
	if err != nil || k.Person == nil {
		return Opened{Kind: k.Kind}, err
	}
	a, err := p.AccountOf(ctx, *k.Person)
	return Opened{Kind: k.Kind, Name: a.Name, Email: a.Email}, err
}

// Take uses an invitation or a reset: the person has the password from then on, and is signed in.
func (p *People) Take(ctx context.Context, key, password string) (Person, error) {
	k, err := p.Key(ctx, key)
	if err != nil {
		return Person{}, err
	}
	if k.Person == nil {
		return Person{}, fault.New(fault.Invalid, "", "This address sets Uzzel up; it is no invitation.")
	}
	who, err := p.AccountOf(ctx, *k.Person)
	if err != nil {
		return Person{}, err
	}
	hash, err := NewPassword(password, who.Name, who.Email)
	if err != nil {
		return Person{}, err
	}
	err = p.store.Together(ctx, func(ctx context.Context) error {
		if err := p.store.UseDoorKey(ctx, k.Hash); err != nil {
			return err
		}
		return p.setPassword(ctx, *k.Person, hash)
	})
	if errors.Is(err, store.ErrNotFound) {
		return Person{}, fault.New(fault.NotFound, "", "This address was used already.")
	}
	if err != nil {
		return Person{}, err
	}
	return p.Who(ctx, *k.Person)
}

// ChangePassword gives a person another password; the one they have must be right.
func (p *People) ChangePassword(ctx context.Context, who Person, was, password string) error {
	acc, err := p.AccountOf(ctx, who.ID)
	if err != nil {
		return err
	}
	if _, err := p.password(ctx, acc.Email, was); err != nil {
		if fault.Is(err, fault.SignedOut) {
			return fault.New(fault.Invalid, "/was", "This is not the password that you have now.")
		}
		return err
	}
	hash, err := NewPassword(password, who.Name, acc.Email)
	if err != nil {
		return err
	}
	return p.setPassword(ctx, who.ID, hash)
}

func (p *People) setPassword(ctx context.Context, person int64, hash string) error {
	a, err := p.store.Account(ctx, person)
	if err != nil {
		return err
	}
	a.Password = hash
	return p.store.PutAccount(ctx, a)
}
