package deliveries

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"time"

	"uzzel/internal/mail"
	"uzzel/internal/packed"
	"uzzel/internal/store"
)

// waits are how long a mail that the server did not take waits before it is tried again; after the last it is given up.
var waits = []time.Duration{
	time.Minute, 5 * time.Minute, 15 * time.Minute, time.Hour, 3 * time.Hour, 6 * time.Hour, 12 * time.Hour,
}

// atOnce is how many mails are sent before it is looked again what is due.
const atOnce = 100

// post sends mails that are due, each once: it is marked before it is handed over, so that a program that ends meanwhile
// does not send it again.
func (d *Deliveries) post(ctx context.Context) error {
	list, err := d.store.DueMails(ctx, d.store.Now().Unix(), atOnce)
	if err != nil {
		return err
	}
	left, err := d.store.Left(ctx)
	if err != nil {
		return err
	}
	for _, m := range list {
		if ctx.Err() != nil {
			return ctx.Err()
		}
		if why := d.unwanted(ctx, m, left); why != "" {
			if err := d.store.MarkMail(ctx, m.ID, map[string]any{"state": store.MailDropped, "reason": why}); err != nil {
				return err
			}
			continue
		}
		taken, err := d.store.TakeMail(ctx, m.ID)
		if err != nil {
			return err
		}
		if !taken {
			continue
		}
		err = d.hand(ctx, m)
		if err := d.mark(context.WithoutCancel(ctx), m, err); err != nil {
			return err
		}
	}
	return nil
}

// unwanted says why a mail that waits is not sent after all, "" where it is.
func (d *Deliveries) unwanted(ctx context.Context, m store.OutMail, left map[int64][]int64) string {
	if slices.Contains(left[m.Delivery], m.Recipient) {
		return "Its recipient does not want it any more."
	}
	if _, err := d.people.AccountOf(ctx, m.Recipient); errors.Is(err, store.ErrNotFound) {
		return "Its recipient can no longer sign in."
	}
	return ""
}

func (d *Deliveries) hand(ctx context.Context, m store.OutMail) error {
	var l mail.Letter
	if err := packed.Unpack(m.Letter, packedBytes, &l); err != nil {
		return err
	}
	return d.mail.Send(ctx, []mail.Letter{l})
}

// mark notes what became of a mail that was handed over.
func (d *Deliveries) mark(ctx context.Context, m store.OutMail, err error) error {
	now := d.store.Now()
	switch {
	case err == nil:
		return errors.Join(
			d.store.MarkMail(
				ctx,
				m.ID,
				map[string]any{"state": store.MailSent, "sent": now.Unix(), "reason": "", "tries": m.Tries + 1},
			),
			d.store.WentOut(ctx, m.Delivery, map[string]any{"failures": 0, "why": ""}),
		)
	case errors.Is(err, mail.ErrNone):
		return d.store.MarkMail(ctx, m.ID, map[string]any{
			"state": store.MailWaiting, "due": now.Add(10 * time.Minute).Unix(),
			"reason": "No server for mail is named. An administrator does so under Settings; then it is sent.",
		})
	}
	why := mail.Short(err)
	if m.Tries < len(waits) {
		return d.store.MarkMail(ctx, m.ID, map[string]any{
			"state": store.MailWaiting, "tries": m.Tries + 1, "reason": why, "due": now.Add(waits[m.Tries]).Unix(),
		})
	}
	marked := d.store.MarkMail(ctx, m.ID, map[string]any{"state": store.MailFailed, "tries": m.Tries + 1, "reason": why})
	row, err := d.store.Delivery(ctx, m.Delivery)
	if errors.Is(err, store.ErrNotFound) {
		return marked
	}
	if err == nil {
		d.trouble(ctx, row, fmt.Sprintf("the mail to %s was given up after %d tries: %s.", m.Address, m.Tries+1, why))
	}
	return errors.Join(marked, err)
}
