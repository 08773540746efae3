// Package deliveries sends reports, dashboards and what moved to people: by the clock, or when something happens in them,
// seen through each recipient's own eyes. What goes waits in an outbox, from which it is sent once.
package deliveries

import (
	"context"
	"encoding/json"
	"errors"
	"log/slog"
	"slices"
	"time"
	"unicode/utf8"

	"uzzel/core/brief"
	"uzzel/core/exact"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/feed"
	"uzzel/internal/library"
	"uzzel/internal/mail"
	"uzzel/internal/naming"
	"uzzel/internal/packed"
	"uzzel/internal/people"
	"uzzel/internal/printing"
	"uzzel/internal/store"
)

// Limits of deliveries.
const (
	MaxDeliveries = 100 // of a person
	MaxTo         = 200 // people and teams that one names
	MaxNote       = 1000
	maxPeople     = 1000 // that one goes to, with the members of teams
)

// Terms say when something is sent, to whom, and with what.
type Terms struct {
	When    When    `json:"when"`
	People  []int64 `json:"people,omitempty"`
	Teams   []int64 `json:"teams,omitempty" doc:"Whoever is in them when it is sent"`
	Since   string  `json:"since,omitempty" doc:"Has what moved in a report since a day sent, in place of its answer: 2026-05-08 or last_week"`
	Note    string  `json:"note,omitempty" doc:"A word of the sender's"`
	Mail    bool    `json:"mail,omitempty" doc:"Whether it goes by mail; it is told in the application in any case"`
	Picture bool    `json:"picture,omitempty"`
	PDF     bool    `json:"pdf,omitempty"`
	XLSX    bool    `json:"xlsx,omitempty" doc:"Of a report"`
}

// Delivery is one, as its owner or an administrator has it.
type Delivery struct {
	store.Delivery
	Terms     Terms
	OwnerName string
	Of        string // the title of what is sent, "" where it is not open to who asks
	Words     string // when, in words
	Left      []int64
}

// Deliveries are those of an organisation.
type Deliveries struct {
	store   *store.Store
	people  *people.People
	answers *answers.Answers
	lib     *library.Library
	printer *printing.Printer
	mail    *mail.Mail
	hub     *feed.Hub
	log     *slog.Logger
}

// New gives the deliveries of a store.
func New(
	s *store.Store, p *people.People, a *answers.Answers, lib *library.Library, printer *printing.Printer, m *mail.Mail,
	hub *feed.Hub, log *slog.Logger,
) *Deliveries {
	return &Deliveries{s, p, a, lib, printer, m, hub, log}
}

// Of lists a person's own deliveries; all of them where an administrator asks for all.
func (d *Deliveries) Of(ctx context.Context, v *answers.View, all bool) ([]Delivery, error) {
	owner := v.Who.ID
	if all {
		if !v.Who.Administers() {
			return nil, fault.New(fault.Forbidden, "", "Only administrators see everyone’s deliveries.")
		}
		owner = 0
	}
	rows, err := d.store.Deliveries(ctx, owner)
	if err != nil {
		return nil, err
	}
	left, err := d.store.Left(ctx)
	list := []Delivery{}
	for _, row := range rows {
		list = append(list, d.shown(ctx, v, row, left[row.ID]))
	}
	return list, err
}

func (d *Deliveries) shown(ctx context.Context, v *answers.View, row store.Delivery, left []int64) Delivery {
	out := Delivery{Delivery: row, OwnerName: people.Name(v.Snap, row.Owner), Left: left}
	var err error
	if out.Terms, err = termsOf(row); err != nil {
		d.log.ErrorContext(ctx, "the terms of a delivery cannot be read", "delivery", row.ID, "error", err)
	}
	title, b, err := d.item(ctx, v, row.Kind, row.Item)
	if err == nil {
		out.Of = title
	}
	out.Words = out.Terms.When.Words(d.number(v, b, out.Terms.When.Summary))
	return out
}

// termsOf reads the terms of a delivery.
func termsOf(row store.Delivery) (t Terms, err error) {
	return t, json.Unmarshal([]byte(row.Terms), &t)
}

// number is what the number that passes a line is called.
func (d *Deliveries) number(v *answers.View, b *brief.Brief, key string) string {
	if b == nil {
		return "its number"
	}
	bound, err := v.Bind(b)
	if err != nil || len(bound.Summaries) == 0 {
		return "its number"
	}
	for _, s := range bound.Summaries {
		if s.Source.Key == key {
			return brief.Small(brief.SummaryLabel(bound, s))
		}
	}
	return brief.Small(brief.SummaryLabel(bound, bound.Summaries[0]))
}

// item is what is sent, as a person may open it: its title, and its brief where it is a report.
func (d *Deliveries) item(ctx context.Context, v *answers.View, kind string, id int64) (string, *brief.Brief, error) {
	if kind == store.KindBoard {
		b, err := d.lib.Board(ctx, v, id)
		return b.Title, nil, err
	}
	r, err := d.lib.Report(ctx, v, id)
	if err != nil {
		return "", nil, err
	}
	return r.Title, r.Brief.Brief(), nil
}

// Keep keeps a delivery: a new one where its ID is 0.
func (d *Deliveries) Keep(ctx context.Context, v *answers.View, row store.Delivery, terms Terms) (Delivery, error) {
	if v.Who.SeenBy != 0 {
		return Delivery{}, fault.New(fault.Forbidden, "", "Nothing is sent in somebody else’s name.")
	}
	if row.ID != 0 {
		was, err := d.own(ctx, v, row.ID)
		if err != nil {
			return Delivery{}, err
		}
		row.Owner, row.Kind, row.Item = was.Owner, was.Kind, was.Item
	} else {
		row.Owner = v.Who.ID
		mine, err := d.store.Deliveries(ctx, row.Owner)
		if err != nil {
			return Delivery{}, err
		}
		if len(mine) >= MaxDeliveries {
			return Delivery{}, fault.New(
				fault.TooLarge,
				"",
				"You have %d deliveries, which is the most. Take one away first.",
				MaxDeliveries,
			)
		}
	}
	if err := d.check(ctx, v, &row, terms); err != nil {
		return Delivery{}, err
	}
	text, err := json.Marshal(terms)
	if err != nil {
		return Delivery{}, err
	}
	row.Terms, row.Paused, row.Why, row.Failures = string(text), false, "", 0
	now := d.store.Now()
	row.Next = now.Unix()
	if terms.When.Clocked() {
		next, err := terms.When.Next(now, v.Snap.Cal.Zone)
		if err != nil {
			return Delivery{}, err
		}
		row.Next = next.Unix()
	}
	if row.ID == 0 {
		err = d.store.AddDelivery(ctx, &row)
	} else {
		err = d.store.ChangeDelivery(ctx, &row)
	}
	if err != nil {
		return Delivery{}, fault.FromStore(err, "delivery")
	}
	if !terms.When.Clocked() {
		// What is there already is known: told is what happens from now on.
		if err := d.baseline(ctx, row, terms); err != nil {
			return Delivery{}, err
		}
	}
	return d.shown(ctx, v, row, nil), nil
}

func (d *Deliveries) check(ctx context.Context, v *answers.View, row *store.Delivery, t Terms) error {
	if row.Kind != store.KindReport && row.Kind != store.KindBoard {
		return fault.New(fault.Invalid, "/kind", "A report or a dashboard is sent.")
	}
	title, b, err := d.item(ctx, v, row.Kind, row.Item)
	if err != nil {
		return err
	}
	if b != nil {
		if _, err := d.lib.MayTake(ctx, v, row.Item, b); err != nil {
			return err
		}
	}
	if row.Title == "" {
		row.Title = title
	}
	if row.Title, err = naming.Title(row.Title, "/title"); err != nil {
		return err
	}
	if err := t.When.check(); err != nil {
		return err
	}
	if err := checkWhat(v, b, t); err != nil {
		return err
	}
	others := len(t.Teams) > 0 || slices.ContainsFunc(t.People, func(id int64) bool { return id != row.Owner })
	switch {
	case len(t.People)+len(t.Teams) == 0:
		return fault.New(fault.Invalid, "/terms/people", "Choose to whom it is sent.")
	case len(t.People)+len(t.Teams) > MaxTo:
		return fault.New(fault.Invalid, "/terms/people", "It is sent to %d people and teams at most.", MaxTo)
	case others && !v.Who.MayCompose():
		return fault.New(
			fault.Forbidden,
			"/terms/people",
			"Readers have things sent to themselves. Ask a composer to send it to others.",
		)
	case utf8.RuneCountInString(t.Note) > MaxNote:
		return fault.New(fault.Invalid, "/terms/note", "A word of yours is %d characters at most.", MaxNote)
	}
	for _, id := range t.People {
		if _, err := d.people.AccountOf(ctx, id); err != nil {
			return fault.New(fault.Invalid, "/terms/people", "Choose people who can sign in.")
		}
	}
	return nil
}

// checkWhat says what is wrong with what is looked for, and with what goes along.
func checkWhat(v *answers.View, b *brief.Brief, t Terms) error {
	if b == nil && (t.Since != "" || t.XLSX || !t.When.Clocked()) {
		return fault.New(
			fault.Invalid,
			"/terms",
			"That goes with a report: a dashboard is sent by the clock, as picture and PDF.",
		)
	}
	if t.Since != "" {
		day, err := brief.ParseMoment(t.Since)
		if err != nil {
			return fault.New(
				fault.Invalid,
				"/terms/since",
				"What moved is told since a day, or since the end of a week, a month, a quarter or a year.",
			)
		}
		since := *b
		since.Since = &day
		if _, err := v.Bind(&since); err != nil {
			return err
		}
	}
	switch t.When.If {
	case IfOver, IfUnder:
		if _, ok := exact.Parse(t.When.Line); !ok {
			return fault.New(fault.Invalid, "/terms/when/line", "Write the number that it passes, as 100000.")
		}
		bound, err := v.Bind(b)
		if err != nil {
			return err
		}
		if t.When.Summary != "" && summaryOf(bound, t.When.Summary) < 0 {
			return fault.New(fault.Invalid, "/terms/when/summary", "The report has no number of that name.")
		}
	case IfComes, IfLeaves:
		if len(b.Parts) > 0 {
			return fault.New(fault.Invalid, "/terms/when/if", "Records come into a report of one record type.")
		}
	case IfAtRisk:
		if b.Target == "" && b.TargetOf == "" {
			return fault.New(fault.Invalid, "/terms/when/if", "The report has no target.")
		}
		if b.Period == nil {
			return fault.New(fault.Invalid, "/terms/when/if", "A target is at risk over a period: give the report one.")
		}
	}
	return nil
}

// summaryOf is the place of a summary by its key, the first where it is "", −1 where there is none.
func summaryOf(b *brief.Bound, key string) int {
	if key == "" {
		return 0
	}
	return slices.IndexFunc(b.Summaries, func(s *brief.BoundSummary) bool { return s.Source.Key == key })
}

// own opens a delivery that a person looks after: their own; any, where an administrator does.
func (d *Deliveries) own(ctx context.Context, v *answers.View, id int64) (store.Delivery, error) {
	row, err := d.store.Delivery(ctx, id)
	if err == nil && row.Owner != v.Who.ID && !v.Who.Administers() {
		err = store.ErrNotFound
	}
	return row, fault.FromStore(err, "delivery")
}

// Open opens a delivery that a person looks after.
func (d *Deliveries) Open(ctx context.Context, v *answers.View, id int64) (Delivery, error) {
	row, err := d.own(ctx, v, id)
	if err != nil {
		return Delivery{}, err
	}
	left, err := d.store.Left(ctx)
	return d.shown(ctx, v, row, left[id]), err
}

// Delete takes a delivery away.
func (d *Deliveries) Delete(ctx context.Context, v *answers.View, id int64) error {
	if _, err := d.own(ctx, v, id); err != nil {
		return err
	}
	return d.store.DeleteDelivery(ctx, id)
}

// Pause pauses a delivery, or has it go on: with the next occasion, not those meanwhile.
func (d *Deliveries) Pause(ctx context.Context, v *answers.View, id int64, on bool) error {
	row, err := d.own(ctx, v, id)
	if err != nil {
		return err
	}
	set := map[string]any{"paused": on, "why": "", "failures": 0, "retry": 0}
	if on {
		set["why"] = "Paused by " + v.Who.Name + "."
	} else {
		t, err := termsOf(row)
		if err != nil {
			return err
		}
		next := d.store.Now()
		if t.When.Clocked() {
			if next, err = t.When.Next(next, v.Snap.Cal.Zone); err != nil {
				return err
			}
		} else if err := d.baseline(ctx, row, t); err != nil {
			return err
		}
		set["next"] = next.Unix()
	}
	return d.store.WentOut(ctx, id, set)
}

// Coming is a delivery that comes to a person.
type Coming struct {
	ID    int64
	Title string
	From  string // who sends it
	Words string
	Mail  bool
	Left  bool
}

// Coming lists what is sent to a person, whether they left it or not.
func (d *Deliveries) Coming(ctx context.Context, v *answers.View) ([]Coming, error) {
	rows, err := d.store.Deliveries(ctx, 0)
	if err != nil {
		return nil, err
	}
	left, err := d.store.Left(ctx)
	if err != nil {
		return nil, err
	}
	list := []Coming{}
	for _, row := range rows {
		if t, err := termsOf(row); err != nil || !t.names(v.Who) {
			continue
		}
		one := d.shown(ctx, v, row, left[row.ID])
		list = append(list, Coming{
			row.ID, row.Title, one.OwnerName, one.Words, one.Terms.Mail, slices.Contains(one.Left, v.Who.ID),
		})
	}
	return list, nil
}

// names says whether a person is among those whom something is sent to.
func (t Terms) names(who people.Person) bool {
	return slices.Contains(t.People, who.ID) || (who.TeamID != 0 && slices.Contains(t.Teams, who.TeamID))
}

// Leave has a person get a delivery no longer, or again.
func (d *Deliveries) Leave(ctx context.Context, v *answers.View, id int64, left bool) error {
	row, err := d.store.Delivery(ctx, id)
	if err != nil {
		return fault.FromStore(err, "delivery")
	}
	t, err := termsOf(row)
	if err != nil {
		return err
	}
	if !t.names(v.Who) || v.Who.SeenBy != 0 {
		return fault.New(fault.NotFound, "", "Nothing of the kind comes to you.")
	}
	return d.store.SetLeft(ctx, id, v.Who.ID, left)
}

// recipients are those whom something is sent to now: who can sign in and has not left it, by number.
func (d *Deliveries) recipients(ctx context.Context, row store.Delivery, t Terms) ([]people.Account, error) {
	all, err := d.people.Accounts(ctx)
	if err != nil {
		return nil, err
	}
	left, err := d.store.Left(ctx)
	if err != nil {
		return nil, err
	}
	var list []people.Account
	for _, a := range all {
		if t.names(a.Person) && !slices.Contains(left[row.ID], a.ID) {
			list = append(list, a)
		}
	}
	slices.SortFunc(list, func(a, b people.Account) int { return int(a.ID - b.ID) })
	if len(list) > maxPeople {
		return nil, fault.New(fault.TooLarge, "", "It would go to %d people; %d is the most.", len(list), maxPeople)
	}
	return list, nil
}

// Outbox lists mails of a delivery that a person looks after, or of all of theirs where it is 0, without what was in them.
func (d *Deliveries) Outbox(ctx context.Context, v *answers.View, delivery int64) ([]store.OutMail, error) {
	if delivery != 0 {
		if _, err := d.own(ctx, v, delivery); err != nil {
			return nil, err
		}
		return d.store.OutMails(ctx, delivery, 0, mostMails)
	}
	if v.Who.Administers() {
		return d.store.OutMails(ctx, 0, 0, mostMails)
	}
	return d.store.OutMails(ctx, 0, v.Who.ID, mostMails)
}

// mostMails is how many mails an outbox lists.
const mostMails = 500

// Letter is a mail as it went. Its recipient reads it, and administrators: it shows what the recipient may see, which
// may be more than its sender may.
func (d *Deliveries) Letter(ctx context.Context, v *answers.View, id int64) ([]byte, error) {
	m, err := d.store.OutMail(ctx, id)
	if err == nil && m.Recipient != v.Who.ID && !v.Who.Administers() {
		err = store.ErrNotFound
	}
	if err != nil {
		return nil, fault.FromStore(err, "mail")
	}
	if len(m.Letter) == 0 {
		return nil, fault.New(fault.NotFound, "", "No mail was written: %s", m.Reason)
	}
	var l mail.Letter
	if err := packed.Unpack(m.Letter, packedBytes, &l); err != nil {
		return nil, err
	}
	return d.mail.Written(ctx, l)
}

// Again has a mail that failed, or may not have arrived, sent once more.
func (d *Deliveries) Again(ctx context.Context, v *answers.View, id int64) error {
	m, err := d.store.OutMail(ctx, id)
	if err != nil {
		return fault.FromStore(err, "mail")
	}
	if _, err := d.own(ctx, v, m.Delivery); err != nil {
		return err
	}
	if (m.State != store.MailFailed && m.State != store.MailUnsure) || len(m.Letter) == 0 {
		return fault.New(fault.Invalid, "", "This mail is not one to be sent again.")
	}
	return d.store.MarkMail(
		ctx,
		id,
		map[string]any{"state": store.MailWaiting, "due": d.store.Now().Unix(), "tries": 0, "reason": ""},
	)
}

// viewOf is what a person sees now; ErrGone where nobody of that number can sign in.
func (d *Deliveries) viewOf(ctx context.Context, id int64) (*answers.View, error) {
	who, err := d.people.Who(ctx, id)
	if err != nil {
		return nil, errGone
	}
	return d.answers.View(who), nil
}

var errGone = errors.New("nobody of that number can sign in")

// unix writes a moment as part of the name of an occasion.
func unix(t time.Time) string { return t.UTC().Format(time.RFC3339) }
