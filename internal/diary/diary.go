// Package diary is what people did and plan to do about records: it writes it down from a typed line, and tells it as the
// time line of a record, together with how the record was changed.
package diary

import (
	"strings"
	"time"

	"uzzel/core/period"
	"uzzel/core/schema"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/records"
	"uzzel/internal/store"
)

// Diary writes and tells what people do.
type Diary struct {
	store   *store.Store
	records *records.Records
}

// New gives the diary of a store.
func New(s *store.Store, r *records.Records) *Diary { return &Diary{s, r} }

// Ref names a record.
type Ref struct {
	Type string `json:"type"`
	ID   int64  `json:"id"`
}

// now is the moment at which the organisation is: the day of the view, at the time that it is.
func (d *Diary) now(v *answers.View) int64 {
	at, cal := d.store.Now().Unix(), v.Snap.Cal
	return cal.StartOf(v.Day) + at - cal.StartOf(cal.DayOf(at))
}

func diaryType(v *answers.View) (*schema.Type, error) {
	if t := v.Snap.Schema.Diary(); t != nil {
		return t, nil
	}
	return nil, fault.New(fault.NotFound, "", "Nothing is kept of what people do.")
}

// when says a moment for people.
func when(v *answers.View, at int64) string {
	day := v.Figures.Form.Day(v.Snap.Cal.DayOf(at))
	t := time.Unix(at, 0).In(v.Snap.Cal.Zone)
	switch v.Snap.Cal.DayOf(at) - v.Day {
	case 0:
		day = "today"
	case 1:
		day = "tomorrow"
	case -1:
		day = "yesterday"
	default:
		if y, _, _ := period.Civil(v.Day); y == t.Year() { // of this year, it goes without saying
			day = t.Format("Mon ") + strings.TrimSuffix(day, t.Format(" 2006"))
		}
	}
	return day + t.Format(" 15:04")
}
