// Package app puts the use cases together over one store: who may sign in, what is answered, what is kept, what is set
// up.
package app

import (
	"context"
	"errors"
	"log/slog"
	"time"

	"uzzel/core/period"
	"uzzel/internal/admin"
	"uzzel/internal/aims"
	"uzzel/internal/answers"
	"uzzel/internal/boards"
	"uzzel/internal/bringin"
	"uzzel/internal/deliveries"
	"uzzel/internal/diary"
	"uzzel/internal/fault"
	"uzzel/internal/feed"
	"uzzel/internal/finding"
	"uzzel/internal/inbox"
	"uzzel/internal/inforce"
	"uzzel/internal/kept"
	"uzzel/internal/library"
	"uzzel/internal/lists"
	"uzzel/internal/mail"
	"uzzel/internal/people"
	"uzzel/internal/printing"
	"uzzel/internal/records"
	"uzzel/internal/roster"
	"uzzel/internal/setup"
	"uzzel/internal/shape"
	"uzzel/internal/store"
	"uzzel/internal/styles"
	"uzzel/internal/targets"
	"uzzel/internal/twins"
)

// App is the application without a way in: what the HTTP interface, the command and tests use.
type App struct {
	People  *people.People
	Answers *answers.Answers
	Library *library.Library
	Finder  *finding.Finder
	Boards  *boards.Boards
	Targets *targets.Targets
	Styles  *styles.Styles
	Admin   *admin.Admin
	Roster  *roster.Roster
	SetUp   *setup.SetUp
	Records *records.Records
	Lists   *lists.Lists
	Kept    *kept.Results
	Printer *printing.Printer
	Sends   *deliveries.Deliveries
	Inbox   *inbox.Inbox
	Diary   *diary.Diary
	Twins   *twins.Twins
	BringIn *bringin.BringIn
	Shape   *shape.Shape
	Mail    *mail.Mail
	Feed    *feed.Hub

	store    *store.Store
	settings *inforce.Settings
	today    func() int32
	log      *slog.Logger
}

// New puts the application together over a store. today is the organisation's day; log is written to, nowhere where it
// is nil.
func New(s *store.Store, today func() int32, log *slog.Logger) (*App, error) {
	if log == nil {
		log = slog.New(slog.DiscardHandler)
	}
	in := answers.InForce{
		Sees:    inforce.New(func(ctx context.Context) (*answers.Sees, error) { return answers.ReadSees(ctx, s) }),
		Looks:   inforce.New(func(ctx context.Context) (*styles.Looks, error) { return styles.Read(ctx, s) }),
		Aims:    inforce.New(func(ctx context.Context) (*aims.Set, error) { return aims.Read(ctx, s) }),
		Policy:  inforce.New(func(ctx context.Context) (*people.Policy, error) { return people.ReadPolicy(ctx, s) }),
		Words:   inforce.New(func(ctx context.Context) (*answers.Words, error) { return answers.ReadWords(ctx, s) }),
		Figures: inforce.New(func(ctx context.Context) (*answers.Figures, error) { return answers.ReadFigures(ctx, s) }),
	}
	hub, who := &feed.Hub{}, people.New(s)
	settings := inforce.NewSettings(
		log, in.Sees, in.Looks, in.Aims, in.Policy, in.Words, in.Figures, who.Grants(),
	)
	lib := library.New(s, who, hub, log)
	a := &App{
		People:  who,
		Answers: answers.New(s, today, log, in),
		Library: lib,
		Finder:  finding.New(s, lib),
		Boards:  boards.New(s, who, lib),
		Lists:   lists.New(s, lib),
		Kept:    kept.New(s, lib),
		Twins:   twins.New(s),
		Targets: targets.New(s, hub, settings, in.Aims),
		Styles: styles.New(
			s,
			hub,
			settings,
			in.Looks,
		),
		Admin:    admin.New(s, hub, settings, in),
		Roster:   roster.New(s, who, hub, settings),
		Records:  records.New(s, hub, today),
		Shape:    shape.New(s, hub, settings),
		Mail:     mail.New(s),
		Feed:     hub,
		store:    s,
		settings: settings,
		today:    today,
		log:      log,
	}
	a.BringIn = bringin.New(s, a.Records)
	a.Printer = printing.New(lib, a.Boards)
	a.Sends = deliveries.New(s, who, a.Answers, lib, a.Printer, a.Mail, hub, log)
	a.Diary = diary.New(s, a.Records)
	a.Inbox = inbox.New(s, a.Diary, a.Boards)
	a.SetUp = setup.New(s, who, a.Reread)
	return a, settings.Reread(context.Background())
}

// View takes the view of a person: what everything that answers one request answers from.
func (a *App) View(who people.Person) *answers.View { return a.Answers.View(who) }

// Today is the organisation's day.
func (a *App) Today() int32 { return a.today() }

// Organisation is the organisation's name.
func (a *App) Organisation(ctx context.Context) (string, error) { return a.store.Organisation(ctx) }

// LastBackup says when the data file was copied last; the zero value where it never was.
func (a *App) LastBackup(v *answers.View) (store.Copied, error) {
	if !v.Who.Administers() {
		return store.Copied{}, fault.New(fault.Forbidden, "", "Only administrators look after the data file.")
	}
	c, err := a.store.LastBackup()
	if errors.Is(err, store.ErrNotFound) {
		err = nil
	}
	return c, err
}

// Ready says whether the data file can be read and written now, and otherwise in words why not.
func (a *App) Ready(ctx context.Context) error { return a.InWords(a.store.Ready(ctx)) }

// InWords turns an error that is about the data file into words for people, and writes it down; others it leaves as
// they are.
func (a *App) InWords(err error) error {
	told, ok := fault.OfFile(err)
	if ok && a != nil {
		a.log.Error("data file", "error", err)
	}
	return told
}

// Reread reads all settings anew, as another program may have changed them, and has every open window ask anew.
func (a *App) Reread(ctx context.Context) error {
	err := a.settings.Reread(ctx)
	if err == nil {
		a.Feed.Tell(feed.Event{Kind: feed.Settings})
	}
	return err
}

// Watch tells those who listen when records have changed or another day has begun, looking once in a while, until the
// context ends. Settings that could not be read are read again.
func (a *App) Watch(ctx context.Context, every time.Duration) {
	tick := time.NewTicker(every)
	defer tick.Stop()
	known, day := a.store.Snapshot(), a.today()
	for {
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		}
		if !a.settings.Settled() {
			if err := a.Reread(ctx); err != nil && ctx.Err() == nil {
				a.log.ErrorContext(ctx, "reading settings", "error", err)
			}
		}
		if now := a.store.Snapshot(); now != known {
			known = now
			a.Feed.Tell(feed.Event{Kind: feed.Records})
		}
		if now := a.today(); now != day {
			day = now
			a.Feed.Tell(feed.Event{Kind: feed.Day})
		}
	}
}

// Clock gives the day of now in the organisation's zone as it is then, or a fixed day where one is set.
func Clock(s *store.Store, fixed string) (func() int32, error) {
	if fixed == "" {
		return func() int32 { return s.Snapshot().Cal.Today(time.Now()) }, nil
	}
	day, err := period.ParseDay(fixed)
	if err != nil {
		return nil, err
	}
	return func() int32 { return day }, nil
}
