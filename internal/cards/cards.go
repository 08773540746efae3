// Package cards writes contacts as business cards (vCard 4, RFC 6350) and planned activities as a calendar (iCalendar, RFC
// 5545), as a person sees them.
package cards

import (
	"io"
	"strconv"
	"time"

	"github.com/emersion/go-ical"
	"github.com/emersion/go-vcard"

	"uzzel/core/column"
	"uzzel/core/schema"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
)

// table reads the records of a type that a person sees, a field at a time.
type table struct {
	v    *answers.View
	typ  *schema.Type
	rows *column.Table
	cols map[string]*column.Column
}

func tableOf(v *answers.View, typ string, fields ...string) (*table, error) {
	t := v.Snap.Schema.Type(typ)
	if t == nil {
		return nil, fault.New(fault.NotFound, "", "There are no records of this kind.")
	}
	rows, err := v.Snap.Table(typ)
	out := &table{v, t, rows, map[string]*column.Column{}}
	for _, f := range fields {
		if err == nil && t.Field(f) != nil {
			out.cols[f], err = v.Snap.Column(typ, f)
		}
	}
	return out, err
}

// text is a field of a record; a link is the name of the record that it leads to, where the person sees that.
func (t *table) text(field string, row int32) string {
	c := t.cols[field]
	if c == nil || c.At(row) == column.Null {
		return ""
	}
	if f := t.typ.Field(field); f.Kind == schema.Link {
		return t.v.Names()(f.To, t.v.Snap.Text(c, c.At(row), t.rows))
	}
	return t.v.Snap.Text(c, c.At(row), t.rows)
}

// Contacts writes the contacts that a person sees as cards.
func Contacts(w io.Writer, v *answers.View) error {
	t, err := tableOf(v, "contacts", "name", "email", "phone", "job", "customer", "changed")
	if err != nil {
		return err
	}
	out := vcard.NewEncoder(w)
	for row := range int32(t.rows.N) {
		if !v.Sight.Sees("contacts", row) {
			continue
		}
		card := vcard.Card{}
		card.SetValue(vcard.FieldVersion, "4.0")
		card.SetValue(vcard.FieldUID, "contact-"+t.rows.IDs.At(row))
		for field, key := range map[string]string{
			vcard.FieldFormattedName: "name", vcard.FieldEmail: "email", vcard.FieldTelephone: "phone", vcard.FieldTitle: "job",
			vcard.FieldOrganization: "customer",
		} {
			if text := t.text(key, row); text != "" {
				card.SetValue(field, text)
			}
		}
		if card.Value(vcard.FieldFormattedName) == "" {
			continue // a card is of somebody
		}
		if err := out.Encode(card); err != nil {
			return err
		}
	}
	return nil
}

// Around today, planned work is in the calendar: what is long past is no plan any more.
const (
	daysBack  = 60
	daysAhead = 730
)

// usual is how long an activity takes of which nothing is said.
const usual = 30 * time.Minute

// Planned writes the activities that a person is to do as a calendar.
func Planned(w io.Writer, v *answers.View) error {
	t, err := tableOf(v, "activities", "subject", "notes", "kind", "happens", "minutes", "done", "owner", "customer")
	if err != nil {
		return err
	}
	cal := ical.NewCalendar()
	cal.Props.SetText(ical.PropVersion, "2.0")
	cal.Props.SetText(ical.PropProductID, "-//Uzzel//EN")
	owner, happens, done := t.cols["owner"], t.cols["happens"], t.cols["done"]
	stamp := time.Unix(int64(v.Day)*86_400, 0).UTC()
	for row := range int32(t.rows.N) {
		at := happens.At(row)
		if at == column.Null || done.At(row) == 1 || !v.Sight.Sees("activities", row) ||
			owner.At(row) == column.Null || v.Snap.Text(owner, owner.At(row), t.rows) != v.Who.Key() {
			continue
		}
		day := v.Snap.Cal.DayOf(at)
		if day < v.Day-daysBack || day > v.Day+daysAhead {
			continue
		}
		start := time.Unix(at, 0).UTC()
		event := ical.NewEvent()
		event.Props.SetText(ical.PropUID, "activity-"+t.rows.IDs.At(row)+"@uzzel")
		event.Props.SetDateTime(ical.PropDateTimeStamp, stamp)
		event.Props.SetDateTime(ical.PropDateTimeStart, start)
		long := usual
		if n, err := strconv.ParseFloat(t.text("minutes", row), 64); err == nil && n > 0 {
			long = time.Duration(n * float64(time.Minute))
		}
		event.Props.SetDateTime(ical.PropDateTimeEnd, start.Add(long))
		title := t.text("subject", row)
		for _, more := range []string{t.text("kind", row), t.text("customer", row)} {
			if more == "" {
				continue
			}
			if title != "" {
				title += " · "
			}
			title += more
		}
		event.Props.SetText(ical.PropSummary, title)
		if notes := t.text("notes", row); notes != "" {
			event.Props.SetText(ical.PropDescription, notes)
		}
		cal.Children = append(cal.Children, event.Component)
	}
	if len(cal.Children) == 0 {
		// A calendar of nothing is no calendar of the standard's; readers take it all the same.
		_, err := io.WriteString(w, "BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//Uzzel//EN\r\nEND:VCALENDAR\r\n")
		return err
	}
	return ical.NewEncoder(w).Encode(cal)
}
