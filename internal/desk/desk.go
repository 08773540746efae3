// Package desk is what a signed-in person may do: ask, keep reports, lay out boards, read records. It checks who may,
// and knows neither HTTP nor SQL.
package desk

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"runtime"
	"strconv"
	"sync"
	"sync/atomic"
	"time"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/engine"
	"uzzel/core/period"
	"uzzel/internal/store"
	"uzzel/internal/turns"
)

// Roles of accounts.
const (
	Administrator = "administrator"
	Composer      = "composer"
	Reader        = "reader"
)

// Person is someone who has signed in.
type Person struct {
	ID     int64
	Name   string
	Team   string
	TeamID int64 // 0 for none
	Role   string
}

func (p Person) viewer() store.Viewer {
	return store.Viewer{Person: p.ID, Team: p.TeamID, Administrator: p.Role == Administrator}
}

// MayCompose says whether a person may keep reports and lay out boards.
func (p Person) MayCompose() bool { return p.Role == Administrator || p.Role == Composer }

func (p Person) id() string { return strconv.FormatInt(p.ID, 10) }

// Reason is why something cannot be done.
type Reason int

// The reasons.
const (
	NotFound Reason = iota
	Forbidden
	Invalid
	Taken
	Stale
	SignedOut
	TooLarge    // a report that cannot be worked out within what it may take
	TooMany     // tries, of someone who is to wait
	Busy        // the server has too much to do just now
	Unavailable // the data file cannot be read or written
)

// Error is a thing that cannot be done, in words for the person who asked. Pointer names the member at fault.
type Error struct {
	Reason  Reason
	Pointer string
	Message string
}

func (e *Error) Error() string { return e.Message }

func fail(r Reason, pointer, format string, args ...any) error {
	return &Error{r, pointer, fmt.Sprintf(format, args...)}
}

// Desk serves everyone who is signed in.
type Desk struct {
	store *store.Store
	today func() int32
	log   *slog.Logger
	// Ran is told of each run's outcome and how long it took; it may be nil.
	Ran func(outcome string, took time.Duration)

	answers   *answers
	gate      *turns.Gate
	sights    sights
	sees      inForce[map[string]engine.Sees]
	looks     inForce[looks]
	targets   inForce[targets]
	unsettled atomic.Bool // settings could not be read anew since they were changed
	hub       hub
	doors     doors
	// changing is held while a preference is read, changed and kept.
	changing sync.Mutex
}

// New makes a desk over a store. today is the organisation's day; log is written to, nowhere where it is nil.
func New(s *store.Store, today func() int32, log *slog.Logger) (*Desk, error) {
	if log == nil {
		log = slog.New(slog.DiscardHandler)
	}
	d := &Desk{store: s, today: today, log: log, answers: newAnswers(cacheBytes), gate: turns.New(runtime.GOMAXPROCS(0)), doors: newDoors(s.Now)}
	d.sees.read, d.looks.read, d.targets.read = d.readSees, d.readLooks, d.readTargets
	return d, d.Reread(context.Background())
}

// Today is the day that questions are answered on.
func (d *Desk) Today() int32 { return d.today() }

// CurrencySign is what amounts of the organisation are written with.
func (d *Desk) CurrencySign() string { return brief.Currency(d.Snapshot().Schema.Settings.Currency) }

// Snapshot is the records as they are now.
func (d *Desk) Snapshot() *column.Snapshot { return d.store.Snapshot() }

// Organisation is the organisation's name.
func (d *Desk) Organisation(ctx context.Context) (string, error) { return d.store.Organisation(ctx) }

// Clock gives the day of now in the organisation's zone, or a fixed day where one is set.
func Clock(cal *period.Calendar, fixed string) (func() int32, error) {
	if fixed == "" {
		return func() int32 { return cal.Today(time.Now()) }, nil
	}
	day, err := period.ParseDay(fixed)
	if err != nil {
		return nil, err
	}
	return func() int32 { return day }, nil
}

// Who is the person behind an id; SignedOut where they no longer may sign in.
func (d *Desk) Who(ctx context.Context, id int64) (Person, error) {
	t, err := d.Snapshot().Table(d.Snapshot().Schema.Readers().Key)
	if err != nil {
		return Person{}, err
	}
	p, err := d.person(ctx, t.IDs.Row(strconv.FormatInt(id, 10)))
	if errors.Is(err, store.ErrNotFound) {
		return Person{}, fail(SignedOut, "", "Sign in again.")
	}
	return p.Person, err
}

type withPassword struct {
	Person
	password string
}

func (d *Desk) person(ctx context.Context, row int32) (withPassword, error) {
	if row < 0 {
		return withPassword{}, store.ErrNotFound
	}
	snap := d.Snapshot()
	readers := snap.Schema.Readers()
	t, err := snap.Table(readers.Key)
	if err != nil {
		return withPassword{}, err
	}
	id, err := strconv.ParseInt(t.IDs.At(row), 10, 64)
	if err != nil {
		return withPassword{}, err
	}
	a, err := d.store.Account(ctx, id)
	if err != nil {
		return withPassword{}, err
	}
	p := Person{ID: id, Name: snap.Name(readers.Key, row), Role: a.Role}
	if team, err := snap.Column(readers.Key, readers.Team); err == nil {
		if v := team.At(row); v != column.Null {
			p.Team = snap.Name(team.To, int32(v))
			if teams, err := snap.Table(team.To); err == nil {
				p.TeamID, _ = strconv.ParseInt(teams.IDs.At(int32(v)), 10, 64)
			}
		}
	}
	return withPassword{p, a.Password}, nil
}

// find is the row of the reader whose text field has a value, case aside; −1 for none.
func (d *Desk) find(field, value string) int32 {
	snap := d.Snapshot()
	readers := snap.Schema.Readers().Key
	t, err := snap.Table(readers)
	if err != nil || value == "" {
		return -1
	}
	c, err := snap.Column(readers, field)
	if err != nil {
		return -1
	}
	folded, want := c.Dict.Folded(), column.Fold(value)
	for row := range int32(t.N) {
		if v := c.At(row); v != column.Null && folded[v] == want {
			return row
		}
	}
	return -1
}

// Account is one account with what the sign-in page of the demo says of it.
type Account struct {
	Person
	Email string
}

// Accounts lists who can sign in. It is for the sign-in page of the demo alone.
func (d *Desk) Accounts(ctx context.Context) ([]Account, error) {
	list, err := d.store.Accounts(ctx)
	if err != nil {
		return nil, err
	}
	snap := d.Snapshot()
	readers := snap.Schema.Readers().Key
	t, err := snap.Table(readers)
	if err != nil {
		return nil, err
	}
	email, err := snap.Column(readers, "email")
	if err != nil {
		return nil, err
	}
	var out []Account
	for _, a := range list {
		row := t.IDs.Row(strconv.FormatInt(a.Person, 10))
		p, err := d.person(ctx, row)
		if err != nil {
			continue
		}
		out = append(out, Account{p.Person, snap.Text(email, email.At(row), t)})
	}
	return out, nil
}
