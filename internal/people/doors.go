package people

import (
	"context"
	"crypto/rand"
	"errors"
	"runtime"
	"sync"
	"time"

	"github.com/alexedwards/argon2id"

	"uzzel/core/column"
	"uzzel/internal/fault"
	"uzzel/internal/store"
)

// Limits of signing in. Checking a password takes 64 MB and a good part of a second, which is what makes guessing slow.
const (
	maxChecks    = 20 // that wait
	accountTries = 10 // of one account …
	accountTime  = 10 * time.Minute
	maxAccounts  = 10_000 // that are remembered
)

// checksAtOnce is how many passwords are checked at a time: two, or one where there are not more processors than that.
var checksAtOnce = min(2, max(1, runtime.GOMAXPROCS(0)/2))

// doors let only so many passwords be checked at a time, and so many be tried for one account.
type doors struct {
	checks  chan struct{} // has room for those that are checked …
	queue   chan struct{} // … and for those that wait besides
	now     func() time.Time
	mu      sync.Mutex
	tries   map[string]tries
	compare func(password, hash string) (bool, error)
}

// tries are the wrong passwords of one account since a moment.
type tries struct {
	n     int
	since time.Time
}

func newDoors(now func() time.Time) doors {
	return doors{
		checks:  make(chan struct{}, checksAtOnce),
		queue:   make(chan struct{}, checksAtOnce+maxChecks),
		now:     now,
		tries:   map[string]tries{},
		compare: argon2id.ComparePasswordAndHash,
	}
}

// closed says whether an account is not to be tried for now.
func (d *doors) closed(account string) bool {
	d.mu.Lock()
	defer d.mu.Unlock()
	t := d.tries[account]
	return t.n >= accountTries && d.now().Sub(t.since) < accountTime
}

func (d *doors) wrong(account string) {
	d.mu.Lock()
	defer d.mu.Unlock()
	if len(d.tries) >= maxAccounts {
		for a, t := range d.tries {
			if d.now().Sub(t.since) >= accountTime {
				delete(d.tries, a)
			}
		}
		if len(d.tries) >= maxAccounts {
			clear(d.tries)
		}
	}
	t := d.tries[account]
	if d.now().Sub(t.since) >= accountTime {
		t = tries{since: d.now()}
	}
	t.n++
	d.tries[account] = t
}

func (d *doors) right(account string) {
	d.mu.Lock()
	defer d.mu.Unlock()
	delete(d.tries, account)
}

// check compares a password with a hash, when it is its turn.
func (d *doors) check(ctx context.Context, password, hash string) (bool, error) {
	select {
	case d.queue <- struct{}{}:
		defer func() { <-d.queue }()
	default:
		return false, fault.New(fault.Busy, "", "Very many people are signing in. Try again in a moment.")
	}
	select {
	case d.checks <- struct{}{}:
		defer func() { <-d.checks }()
	case <-ctx.Done():
		return false, ctx.Err()
	}
	return d.compare(password, hash)
}

// SignIn checks an e-mail address and a password, and a code where the person has a second factor: a refusal at /code says
// that one is needed, or wrong.
func (p *People) SignIn(ctx context.Context, email, password, code string) (Person, error) {
	who, err := p.password(ctx, email, password)
	if err == nil {
		err = p.second(ctx, who, code)
	}
	if err != nil {
		return Person{}, err
	}
	return who, nil
}

// password checks an e-mail address and a password. It takes as long for an address that nobody has.
func (p *People) password(ctx context.Context, email, password string) (Person, error) {
	account := column.Fold(email)
	if len(account) > 320 {
		account = account[:320]
	}
	if p.doors.closed(account) {
		return Person{}, fault.New(
			fault.TooMany,
			"",
			"Too many wrong passwords for this address. Wait ten minutes and try again.",
		)
	}
	hash := nobody()
	var who Person
	snap := p.store.Snapshot()
	if row := byEmail(snap, email); row >= 0 {
		if found, err := p.person(ctx, snap, row); err == nil && found.password != "" {
			who, hash = found.Person, found.password
		}
	}
	ok, err := p.doors.check(ctx, password, hash)
	if err != nil {
		return Person{}, err
	}
	if !ok || who.ID == 0 {
		p.doors.wrong(account)
		return Person{}, fault.New(fault.SignedOut, "", "No account has this e-mail address and this password.")
	}
	p.doors.right(account)
	return who, nil
}

// nobody is the hash of a password that nobody has.
var nobody = sync.OnceValue(func() string {
	hash, err := store.HashPassword(rand.Text())
	if err != nil {
		panic(errors.Join(errors.New("no hash can be made"), err))
	}
	return hash
})
