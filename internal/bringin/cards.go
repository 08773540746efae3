package bringin

import (
	"bytes"
	"errors"
	"io"
	"strconv"
	"time"

	"github.com/emersion/go-ical"
	"github.com/emersion/go-vcard"

	"uzzel/internal/fault"
)

// Encodings of files that are no tables.
const (
	Cards    = "cards"
	Calendar = "calendar"
)

// cards reads business cards (RFC 6350, and the versions before), one a line.
func (s *Sheet) cards(data []byte) error {
	s.Encoding = Cards
	s.Header = []string{"Name", "E-mail", "Phone", "Company", "Job"}
	in := vcard.NewDecoder(bytes.NewReader(data))
	for n := 1; ; n++ {
		card, err := in.Decode()
		if errors.Is(err, io.EOF) {
			return nil
		}
		if err != nil {
			return fault.New(fault.Invalid, "/file", "Card %d cannot be read: %s.", n, err)
		}
		name := card.PreferredValue(vcard.FieldFormattedName)
		if name == "" && card.Name() != nil {
			name = card.Name().GivenName + " " + card.Name().FamilyName
		}
		row := []string{name, card.PreferredValue(vcard.FieldEmail), card.PreferredValue(vcard.FieldTelephone),
			card.PreferredValue(vcard.FieldOrganization), card.PreferredValue(vcard.FieldTitle)}
		if err := s.take(row, n); err != nil {
			return err
		}
	}
}

// calendar reads the events and to-dos of a calendar (RFC 5545), one a line.
func (s *Sheet) calendar(data []byte) error {
	s.Encoding = Calendar
	s.Header = []string{"Subject", "Happens", "Minutes", "Done", "Notes"}
	in := ical.NewDecoder(bytes.NewReader(data))
	n := 0
	for {
		cal, err := in.Decode()
		if errors.Is(err, io.EOF) {
			return nil
		}
		if err != nil {
			return fault.New(fault.Invalid, "/file", "The calendar cannot be read: %s.", err)
		}
		for _, c := range cal.Children {
			if c.Name != ical.CompEvent && c.Name != ical.CompToDo {
				continue
			}
			n++
			if err := s.take(entryOf(c), n); err != nil {
				return err
			}
		}
	}
}

// entryOf is an event or a to-do as a line.
func entryOf(c *ical.Component) []string {
	text := func(name string) string {
		t, err := c.Props.Text(name)
		if err != nil {
			return ""
		}
		return t
	}
	moment := func(name string) (time.Time, bool) {
		at, err := c.Props.DateTime(name, time.UTC)
		return at, err == nil && !at.IsZero()
	}
	happens, minutes := "", ""
	start, ok := moment(ical.PropDateTimeStart)
	if !ok {
		start, ok = moment(ical.PropDue)
	}
	if ok {
		happens = start.UTC().Format("2006-01-02T15:04:05Z")
		if end, ok := moment(ical.PropDateTimeEnd); ok && end.After(start) {
			minutes = strconv.Itoa(int(end.Sub(start) / time.Minute))
		}
	}
	done := strconv.FormatBool(text(ical.PropStatus) == "COMPLETED")
	return []string{text(ical.PropSummary), happens, minutes, done, text(ical.PropDescription)}
}
