package deliveries

import (
	"context"
	"errors"
	"fmt"
	"runtime"
	"time"

	"github.com/go-co-op/gocron/v2"
	"golang.org/x/sync/errgroup"

	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/feed"
	"uzzel/internal/packed"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

// Times of deliveries.
const (
	// Beat is how often it is looked whether something is due.
	Beat = 20 * time.Second
	// look is how often it is looked whether something has happened that is told.
	look = time.Minute
	// late is how long after its time something comes late.
	late = 10 * time.Minute
	// patience is how often in a row a delivery may fail before it is paused.
	patience = 5
)

// writers is how many letters of a delivery are written at a time: half of the processors are left to those who ask
// meanwhile.
func writers() int { return max(1, runtime.GOMAXPROCS(0)/2) }

// mostTold is how long a line of the inbox is at most, in characters.
const mostTold = 400

// Kinds of what people are told in the application.
const (
	ToldSent    = "sent"    // something was sent to them
	ToldEvent   = "event"   // something happened
	ToldTrouble = "trouble" // something of theirs could not be sent
)

// Run sends what is due until ctx ends. Mails that were being handed over when the program ended last are not sent
// again: they may have arrived.
func (d *Deliveries) Run(ctx context.Context) error {
	if n, err := d.store.UnsureMails(ctx); err != nil {
		return err
	} else if n > 0 {
		d.log.WarnContext(ctx, "mails were being handed over when the program ended", "mails", n)
	}
	s, err := gocron.NewScheduler()
	if err != nil {
		return err
	}
	_, err = s.NewJob(
		gocron.DurationJob(Beat),
		gocron.NewTask(func() {
			if err := d.Tick(ctx); err != nil && ctx.Err() == nil {
				d.log.ErrorContext(ctx, "deliveries", "error", err)
			}
		}),
		gocron.WithSingletonMode(gocron.LimitModeReschedule),
		gocron.WithStartAt(gocron.WithStartImmediately()),
	)
	if err != nil {
		return err
	}
	s.Start()
	<-ctx.Done()
	return s.Shutdown()
}

// Tick writes what is due by now, and sends what waits.
func (d *Deliveries) Tick(ctx context.Context) error {
	list, err := d.store.DueDeliveries(ctx, d.store.Now().Unix())
	if err != nil {
		return err
	}
	for _, row := range list {
		if ctx.Err() != nil {
			return ctx.Err()
		}
		if err := d.due(ctx, row); err != nil {
			if ctx.Err() != nil {
				return ctx.Err() // the program is being stopped, which is no failure
			}
			d.failed(ctx, row, err)
		}
	}
	return d.post(ctx)
}

// due writes the letters of a delivery that is due, and says when it is due next.
func (d *Deliveries) due(ctx context.Context, row store.Delivery) error {
	t, err := termsOf(row)
	if err != nil {
		return err
	}
	owner, err := d.viewOf(ctx, row.Owner)
	if errors.Is(err, errGone) {
		return d.store.WentOut(ctx, row.ID, map[string]any{"paused": true, "why": "Whoever sent it can no longer sign in."})
	}
	if err != nil {
		return err
	}
	now := d.store.Now()
	set := map[string]any{}
	if t.When.Clocked() {
		// Of the occasions that were missed only the last is made up for.
		meant := time.Unix(row.Next, 0)
		next, err := t.When.Next(meant, owner.Snap.Cal.Zone)
		for ; err == nil && !next.After(now); next, err = t.When.Next(meant, owner.Snap.Cal.Zone) {
			meant = next
		}
		if err != nil {
			return err
		}
		e := event{occasion: "at:" + unix(meant)}
		if now.Sub(meant) > late {
			e.late = fmt.Sprintf(
				"This was meant for %s and comes late: Uzzel was not running then.", owner.At(meant.Unix()))
		}
		if err := d.toAll(ctx, row, t, e); err != nil {
			return err
		}
		set["next"], set["last"] = next.Unix(), now.Unix()
	} else {
		told, err := d.happened(ctx, row, t)
		if err != nil {
			return err
		}
		set["next"] = now.Add(look).Unix()
		if told {
			set["last"] = now.Unix()
		}
	}
	if !t.Mail { // of mails it is known that they went when they have been sent
		set["failures"], set["why"] = 0, ""
	}
	return d.store.WentOut(ctx, row.ID, set)
}

// toAll writes a letter to each recipient who has none on this occasion yet.
func (d *Deliveries) toAll(ctx context.Context, row store.Delivery, t Terms, e event) error {
	list, err := d.recipients(ctx, row, t)
	if err != nil {
		return err
	}
	var all errgroup.Group
	all.SetLimit(writers())
	for _, to := range list {
		all.Go(func() error {
			there, err := d.store.HasMail(ctx, row.ID, to.ID, e.occasion)
			if err != nil || there { // written before the program ended
				return err
			}
			return d.to(ctx, row, t, to, e, nil)
		})
	}
	return all.Wait()
}

// to writes a letter to one recipient and puts it into the outbox, with what else is to be kept when it is there.
func (d *Deliveries) to(
	ctx context.Context, row store.Delivery, t Terms, to people.Account, e event, with func(ctx context.Context) error,
) error {
	v, err := d.viewOf(ctx, to.ID)
	if err != nil {
		return err
	}
	m := store.OutMail{
		Delivery: row.ID, Recipient: to.ID, Occasion: e.occasion, Address: to.Email, State: store.MailWaiting,
		Due: d.store.Now().Unix(),
	}
	letter, text, err := d.write(ctx, v, row, t, to, e)
	switch {
	case fault.Is(err, fault.NotFound) || fault.Is(err, fault.Forbidden):
		m.State, m.Reason = store.MailDropped, to.Name+" may not open it, or take it out: "+err.Error()
	case err != nil:
		return err
	case !t.Mail:
		m.State, m.Subject = store.MailTold, letter.Subject
	default:
		letter.ID = fmt.Sprintf("%d.%d.%s@uzzel", row.ID, to.ID, seal(e.occasion, row.Title)[:16])
		m.Subject = letter.Subject
		if m.Letter, err = packed.Pack(letter, packedBytes); err != nil {
			return err
		}
	}
	told := store.Told{
		Person: to.ID,
		Kind:   ToldSent,
		Link:   linkOf(row),
		Key:    fmt.Sprintf("%d %s", row.ID, e.occasion),
		Text:   row.Title + ": " + text,
	}
	if e.said != "" {
		told.Kind, told.Text = ToldEvent, row.Title+": "+e.said
	}
	told.Text = line(told.Text, mostTold)
	err = d.store.Together(ctx, func(ctx context.Context) error {
		fresh, err := d.store.PutMail(ctx, &m)
		if err != nil || !fresh {
			return err
		}
		if m.State != store.MailDropped {
			if err := d.store.Tell(ctx, &told); err != nil {
				return err
			}
		}
		if with != nil {
			return with(ctx)
		}
		return nil
	})
	if err == nil {
		d.hub.Tell(feed.Event{Kind: feed.Inbox, Owners: []int64{to.ID}})
	}
	return err
}

// failed notes that a delivery could not be written, tells its owner, and pauses it after some times in a row.
func (d *Deliveries) failed(ctx context.Context, row store.Delivery, err error) {
	d.log.ErrorContext(ctx, "a delivery failed", "delivery", row.ID, "error", err)
	d.trouble(ctx, row, said(err))
}

// trouble counts a failure of a delivery. It is tried again at its next occasion, or in a while.
func (d *Deliveries) trouble(ctx context.Context, row store.Delivery, why string) {
	now := d.store.Now()
	failures := row.Failures + 1
	text := fmt.Sprintf("“%s” could not be sent: %s", row.Title, why)
	set := map[string]any{"failures": failures, "why": why}
	if row.Next <= now.Unix() { // it stays due, so that whoever has a letter on this occasion gets no second one
		set["retry"] = now.Add(time.Duration(failures) * 10 * time.Minute).Unix()
	}
	if failures >= patience && !row.Paused {
		set["paused"] = true
		text = fmt.Sprintf("“%s” is paused: it could not be sent %d times in a row. %s", row.Title, failures, why)
	}
	err := errors.Join(
		d.store.WentOut(ctx, row.ID, set),
		d.store.Tell(ctx, &store.Told{
			Person: row.Owner,
			Kind:   ToldTrouble,
			Text:   text,
			Link:   "/deliveries",
			Key:    fmt.Sprintf("%d failed %s", row.ID, unix(now)),
		}),
	)
	if err != nil {
		d.log.ErrorContext(ctx, "noting that a delivery failed", "delivery", row.ID, "error", err)
	}
	d.hub.Tell(feed.Event{Kind: feed.Inbox, Owners: []int64{row.Owner}})
}

// SendNow sends a delivery at once, once a minute at most: to everyone it is for, or to the person alone who asks.
func (d *Deliveries) SendNow(ctx context.Context, v *answers.View, id int64, alone bool) (int, error) {
	row, err := d.own(ctx, v, id)
	if err != nil {
		return 0, err
	}
	t, err := termsOf(row)
	if err != nil {
		return 0, err
	}
	if v.Who.SeenBy != 0 {
		return 0, fault.New(fault.Forbidden, "", "Nothing is sent in somebody else’s name.")
	}
	what := "now:"
	if alone {
		t.People, t.Teams, what = []int64{v.Who.ID}, nil, "alone:"
	}
	list, err := d.recipients(ctx, row, t)
	if err != nil {
		return 0, err
	}
	return len(list), d.toAll(ctx, row, t, event{occasion: what + unix(d.store.Now().Truncate(time.Minute))})
}

// Preview is a delivery as a recipient would get it, without being sent. Through others' eyes only administrators look.
func (d *Deliveries) Preview(
	ctx context.Context,
	v *answers.View,
	row store.Delivery,
	t Terms,
	as int64,
) (subject, html string, files []string, err error) {
	if as != v.Who.ID && !v.Who.Administers() {
		return "", "", nil, fault.New(
			fault.Forbidden,
			"/as",
			"Only administrators look through others’ eyes. This is as you would get it: choose yourself.",
		)
	}
	row.Owner = v.Who.ID
	if err := d.check(ctx, v, &row, t); err != nil {
		return "", "", nil, err
	}
	to, err := d.people.AccountOf(ctx, as)
	if err != nil {
		return "", "", nil, fault.New(fault.NotFound, "/as", "Choose someone who can sign in.")
	}
	seen, err := d.viewOf(ctx, as)
	if err != nil {
		return "", "", nil, err
	}
	l, _, err := d.write(ctx, seen, row, t, to, event{})
	if err != nil {
		return "", "", nil, err
	}
	for _, f := range l.Files {
		files = append(files, fmt.Sprintf("%s, %d KB", f.Name, (len(f.Data)+1023)/1024))
	}
	return l.Subject, inlined(l), files, nil
}
