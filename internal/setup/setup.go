// Package setup brings an empty data file into use: the organisation, its first administrator, what it begins with and
// what it calls its things. Until there is an administrator, who has the one-time key of the set-up may do the first two.
package setup

import (
	"context"
	"errors"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"uzzel/core/brief"
	"uzzel/core/figures"
	"uzzel/core/schema"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/naming"
	"uzzel/internal/people"
	"uzzel/internal/roster"
	"uzzel/internal/store"
)

// Steps of the set-up, in their order.
const (
	Organisation  = "organisation"
	Administrator = "administrator"
	Begin         = "begin"
	Words         = "words"
	Done          = ""
)

// setting is the preference that holds the step that comes next, once there is an administrator.
const setting = "setup"

// FirstPerson is the number of the first administrator. Lower ones are left for people who come with records that are
// brought in.
const FirstPerson = 101

// SetUp brings a data file into use.
type SetUp struct {
	// Demo fills the file with the demo company's records; nil where the server has none.
	Demo func(context.Context) error

	store  *store.Store
	people *people.People
	reread func(context.Context) error
	mu     sync.Mutex // one step at a time
}

// New sets up a store. reread has settings that were written be in force.
func New(s *store.Store, p *people.People, reread func(context.Context) error) *SetUp {
	return &SetUp{store: s, people: p, reread: reread}
}

// Step is the step that comes next, Done for none.
func (s *SetUp) Step(ctx context.Context) (string, error) {
	accounts, err := s.store.Accounts(ctx)
	if err != nil {
		return "", err
	}
	if len(accounts) > 0 {
		step, _, err := s.store.Preference(ctx, setting)
		return step, err
	}
	name, err := s.store.Organisation(ctx)
	if err != nil || name == "" {
		return Organisation, err
	}
	return Administrator, nil
}

// Key makes the key of the set-up, in place of the one before; "" where there is an administrator already.
func (s *SetUp) Key(ctx context.Context) (string, error) {
	step, err := s.Step(ctx)
	if err != nil || (step != Organisation && step != Administrator) {
		return "", err
	}
	return s.people.NewKey(ctx, people.SetUpKey, 0)
}

// Company is what the first step asks.
type Company struct {
	Name        string
	Timezone    string
	WeekStart   string
	FiscalMonth int
	Currency    string // of ISO 4217
	Figures     string // one of figures.Tags
	Days        string // one of figures.Days
}

// Settled is what was said of the company so far; what an empty one begins with where nothing was.
func (s *SetUp) Settled(ctx context.Context, key string) (Company, error) {
	if _, err := s.opens(ctx, key); err != nil {
		return Company{}, err
	}
	name, err := s.store.Organisation(ctx)
	if err != nil {
		return Company{}, err
	}
	f, err := answers.ReadFigures(ctx, s.store)
	if err != nil {
		return Company{}, err
	}
	set := s.store.Schema().Settings
	return Company{name, set.Timezone, set.WeekStart, set.FiscalMonth, set.Currency, f.Tag, f.Form.Way()}, nil
}

// opens finds the key of the set-up, which is not over.
func (s *SetUp) opens(ctx context.Context, key string) (k store.DoorKey, err error) {
	if k, err = s.people.Key(ctx, key); err == nil && k.Kind != people.SetUpKey {
		err = fault.New(fault.NotFound, "", "This address is an invitation, and sets nothing up.")
	}
	return k, err
}

// Organise sets the organisation up. It can be done again until there is an administrator.
func (s *SetUp) Organise(ctx context.Context, key string, c Company) error {
	s.mu.Lock()
	defer s.mu.Unlock()
	if _, err := s.opens(ctx, key); err != nil {
		return err
	}
	name, err := naming.Title(c.Name, "/name")
	if err != nil {
		return err
	}
	form, err := figures.Of(c.Figures)
	if err != nil {
		return fault.New(fault.Invalid, "/figures", "%s.", brief.Capital(err.Error()))
	}
	if form, err = form.WithDays(c.Days); err != nil {
		return fault.New(fault.Invalid, "/days", "%s.", brief.Capital(err.Error()))
	}
	_, zone := time.LoadLocation(c.Timezone)
	switch {
	case zone != nil || c.Timezone == "" || c.Timezone == "Local":
		return fault.New(fault.Invalid, "/timezone", "“%s” is no time zone; write it like Europe/Lisbon.", c.Timezone)
	case !slices.Contains(WeekStarts, c.WeekStart):
		return fault.New(fault.Invalid, "/weekStart", "Choose the day that a week begins on.")
	case c.FiscalMonth < 1 || c.FiscalMonth > 12:
		return fault.New(fault.Invalid, "/fiscalMonth", "Choose the month that the fiscal year begins in.")
	case !naming.Currency(c.Currency):
		return fault.New(fault.Invalid, "/currency", "“%s” is no currency; write it in three letters, like EUR.", c.Currency)
	}
	set := s.store.Schema().Settings
	set.Timezone, set.WeekStart, set.FiscalMonth, set.Currency = c.Timezone, c.WeekStart, c.FiscalMonth, c.Currency
	if len(set.Stages) == 0 {
		set.Stages, set.Choices = beginning.Stages, beginning.Choices
	}
	if err := s.store.SetUp(ctx, name, set); err != nil {
		return err
	}
	if err := s.store.SetPreference(ctx, answers.FiguresSetting, c.Figures+" "+form.Way(), store.Unchecked); err != nil {
		return err
	}
	return s.reread(ctx)
}

// Administer makes the first administrator, which ends what the key opens.
func (s *SetUp) Administer(ctx context.Context, key, name, email, password string) (people.Person, error) {
	s.mu.Lock()
	defer s.mu.Unlock()
	k, err := s.opens(ctx, key)
	if err != nil {
		return people.Person{}, err
	}
	step, err := s.Step(ctx)
	if err != nil {
		return people.Person{}, err
	}
	if step != Administrator {
		return people.Person{}, fault.New(fault.Invalid, "", "Say first what the organisation is called.")
	}
	d, err := roster.Checked(roster.Details{Name: name, Email: email, Role: people.Administrator}, "")
	if err != nil {
		return people.Person{}, err
	}
	hash, err := people.NewPassword(password, d.Name, d.Email)
	if err != nil {
		return people.Person{}, err
	}
	err = s.store.Write(ctx, func(w *store.Writer) error {
		who := store.Record{"id": strconv.Itoa(FirstPerson), "name": d.Name, "email": d.Email, "active": "true"}
		if err := w.Add("people", []store.Record{who}); err != nil {
			return err
		}
		ctx := w.Together(ctx)
		if err := s.store.PutAccount(
			ctx,
			store.Account{Person: FirstPerson, Role: people.Administrator, Password: hash},
		); err != nil {
			return err
		}
		if err := s.store.SetPreference(ctx, setting, Begin, store.Unchecked); err != nil {
			return err
		}
		return s.store.UseDoorKey(ctx, k.Hash)
	})
	if err != nil {
		return people.Person{}, err
	}
	return s.people.Who(ctx, FirstPerson)
}

// What can be begun with.
const (
	WithFiles = "files"
	WithDemo  = "demo"
	WithNone  = "nothing"
)

// BeginWith does the third step: nothing, files (which are brought in afterwards), or the demo company to look around in.
func (s *SetUp) BeginWith(ctx context.Context, v *answers.View, with string) error {
	s.mu.Lock()
	defer s.mu.Unlock()
	if err := s.at(ctx, v, Begin); err != nil {
		return err
	}
	switch with {
	case WithFiles, WithNone:
		everyone := []store.Access{{Kind: store.ForEveryone, MayChange: true}}
		err := s.store.AddFolder(ctx, &store.Folder{Name: "Company", Access: everyone})
		if err != nil && !errors.Is(err, store.ErrTaken) {
			return err
		}
	case WithDemo:
		if s.Demo == nil {
			return fault.New(fault.Invalid, "/with", "This server has no demo company.")
		}
		if err := s.Demo(ctx); err != nil {
			return err
		}
	default:
		return fault.New(fault.Invalid, "/with", "Begin with files, the demo company or nothing.")
	}
	if err := s.store.SetPreference(ctx, setting, Words, store.Unchecked); err != nil {
		return err
	}
	return s.reread(ctx)
}

// Word is what the trade calls a record type: of several, and of one.
type Word struct{ Type, Label, One string }

// Name does the fourth step: what the trade calls its things, everywhere from then on.
func (s *SetUp) Name(ctx context.Context, v *answers.View, words []Word) error {
	s.mu.Lock()
	defer s.mu.Unlock()
	if err := s.at(ctx, v, Words); err != nil {
		return err
	}
	name, err := s.store.Organisation(ctx)
	if err != nil {
		return err
	}
	set := s.store.Schema().Settings
	types, said := map[string]schema.Addition{}, map[string]bool{}
	for key, t := range set.Types {
		types[key] = t
	}
	for _, w := range words {
		t := s.store.Schema().Type(w.Type)
		w.Label, w.One = strings.TrimSpace(w.Label), strings.TrimSpace(w.One)
		switch {
		case t == nil || t.History || t.Readers:
			return fault.New(fault.Invalid, "/words", "There is no record type “%s” that can be named.", w.Type)
		case w.Label == "" || w.One == "" || len(w.Label) > 60 || len(w.One) > 60:
			return fault.New(
				fault.Invalid,
				"/words",
				"Name %s in at most 60 characters: several, and one.",
				strings.ToLower(t.Label),
			)
		}
		if said[strings.ToLower(w.Label)] || said[strings.ToLower(w.One)] {
			return fault.New(fault.Invalid, "/words", "“%s” is said of two things; give each a word of its own.", w.Label)
		}
		said[strings.ToLower(w.Label)], said[strings.ToLower(w.One)] = true, true
		a := types[w.Type]
		a.Label, a.One = brief.Capital(w.Label), strings.ToLower(w.One)
		types[w.Type] = a
	}
	set.Types = types
	if err := s.store.SetUp(ctx, name, set); err != nil {
		return fault.New(fault.Invalid, "/words", "%s.", brief.Capital(err.Error()))
	}
	if err := s.store.SetPreference(ctx, setting, Done, store.Unchecked); err != nil {
		return err
	}
	return s.reread(ctx)
}

func (s *SetUp) at(ctx context.Context, v *answers.View, step string) error {
	if !v.Who.Administers() {
		return fault.New(fault.Forbidden, "", "Only administrators set Uzzel up.")
	}
	now, err := s.Step(ctx)
	if err == nil && now != step {
		err = fault.New(fault.Stale, "", "This step is done. Go on with what comes next.")
	}
	return err
}
