package mail

import (
	"context"
	"errors"
	"fmt"

	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/people"
)

// mostLetters is how many one-time addresses are mailed at once.
const mostLetters = 500

// Hand mails one-time addresses to those whom they are for, as keys that an administrator has just been given.
func (m *Mail) Hand(ctx context.Context, v *answers.View, p *people.People, keys []string) error {
	if !v.Who.May(people.LookAfter) {
		return fault.New(fault.Forbidden, "", "Only administrators invite people.")
	}
	if len(keys) == 0 || len(keys) > mostLetters {
		return fault.New(fault.Invalid, "/keys", "One to %d addresses are mailed at a time.", mostLetters)
	}
	s, err := m.Settings(ctx)
	if err != nil {
		return err
	}
	organisation, err := m.store.Organisation(ctx)
	if err != nil {
		return err
	}
	var letters []Letter
	for _, key := range keys {
		k, err := p.Look(ctx, key)
		if err != nil {
			return err
		}
		at := s.Address + "/key#" + key
		subject, text := "An invitation to "+organisation, fmt.Sprintf(
			"%s,\n\n%s invites you to Uzzel, where %s keeps its reports. Choose a password here; the address opens once:\n\n%s\n",
			k.Name,
			v.Who.Name,
			organisation,
			at,
		)
		if k.Kind == people.ResetKey {
			subject, text = "Another password", fmt.Sprintf(
				"%s,\n\nchoose another password for Uzzel here; the address opens once:\n\n%s\n", k.Name, at)
		}
		letters = append(letters, Letter{To: k.Email, Subject: subject, Text: text})
	}
	err = m.Send(ctx, letters)
	switch {
	case errors.Is(err, ErrNone):
		return fault.New(fault.Invalid, "", "No server for mail is named. An administrator does so under Settings.")
	case err != nil:
		return fault.New(
			fault.Busy,
			"",
			"The server for mail did not take it: %s. Hand the addresses on yourself, or try again.",
			Short(err),
		)
	}
	return nil
}
