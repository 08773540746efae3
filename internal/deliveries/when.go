package deliveries

import (
	"fmt"
	"slices"
	"time"

	"uzzel/internal/fault"
)

// When says on which occasions something is sent: by the clock, or when something happens in it.
type When struct {
	Every string `json:"every,omitempty" enum:"day,workday,week,month,first_workday" doc:"By the clock; empty where it is sent when something happens"`
	On    int    `json:"on,omitempty" doc:"Of a week its day, 1 for Monday to 7; of a month its day, 1 to 31, or its last where it has fewer"`
	At    string `json:"at,omitempty" doc:"The time, 08:00"`
	Zone  string `json:"zone,omitempty" doc:"In whose time; the organisation's where it is empty"`

	If      string `json:"if,omitempty" enum:"over,under,comes,leaves,at_risk" doc:"When something happens: a number comes over or under a line, a record comes into the result or leaves it, a target is at risk"`
	Summary string `json:"summary,omitempty" doc:"Which number, by the key of its summary; the first where it is empty"`
	Line    string `json:"line,omitempty" doc:"The line that it passes, as a brief writes numbers"`
}

// Words of schedules and occasions.
const (
	EveryDay     = "day"
	EveryWorkday = "workday"
	EveryWeek    = "week"
	EveryMonth   = "month"
	FirstWorkday = "first_workday"

	IfOver   = "over"
	IfUnder  = "under"
	IfComes  = "comes"
	IfLeaves = "leaves"
	IfAtRisk = "at_risk"
)

// Clocked says whether it goes by the clock.
func (w When) Clocked() bool { return w.Every != "" }

// check says what is wrong with it.
func (w When) check() error {
	if (w.Every == "") == (w.If == "") {
		return fault.New(fault.Invalid, "/terms/when", "Say when it is sent: by the clock, or when something happens.")
	}
	if !w.Clocked() {
		if !slices.Contains([]string{IfOver, IfUnder, IfComes, IfLeaves, IfAtRisk}, w.If) {
			return fault.New(fault.Invalid, "/terms/when/if", "Nothing of the kind is looked for.")
		}
		return nil
	}
	if _, err := w.clock(); err != nil {
		return fault.New(fault.Invalid, "/terms/when/at", "A time is written 08:00.")
	}
	if _, err := w.zone(time.UTC); err != nil {
		return fault.New(fault.Invalid, "/terms/when/zone", "There is no zone “%s”; one is called as Europe/Lisbon.", w.Zone)
	}
	switch w.Every {
	case EveryDay, EveryWorkday, FirstWorkday:
		return nil
	case EveryWeek:
		if w.On < 1 || w.On > 7 {
			return fault.New(fault.Invalid, "/terms/when/on", "Choose a day of the week.")
		}
		return nil
	case EveryMonth:
		if w.On < 1 || w.On > 31 {
			return fault.New(fault.Invalid, "/terms/when/on", "Choose a day of the month.")
		}
		return nil
	}
	return fault.New(
		fault.Invalid,
		"/terms/when/every",
		"It is sent every day, workday, week or month, or on a month’s first workday.",
	)
}

func (w When) clock() (time.Time, error) { return time.Parse("15:04", w.At) }

func (w When) zone(organisation *time.Location) (*time.Location, error) {
	if w.Zone == "" {
		return organisation, nil
	}
	return time.LoadLocation(w.Zone)
}

// Next is the first occasion after a moment. Where a day lacks the hour, as clocks go forward, it is the hour after.
func (w When) Next(after time.Time, organisation *time.Location) (time.Time, error) {
	at, err := w.clock()
	if err != nil {
		return time.Time{}, err
	}
	zone, err := w.zone(organisation)
	if err != nil {
		return time.Time{}, err
	}
	y, m, d := after.In(zone).Date()
	for i := range 70 {
		day := time.Date(y, m, d+i, 0, 0, 0, 0, time.UTC)
		if !w.has(day) {
			continue
		}
		if due := time.Date(day.Year(), day.Month(), day.Day(), at.Hour(), at.Minute(), 0, 0, zone); due.After(after) {
			return due, nil
		}
	}
	return time.Time{}, fmt.Errorf("no day fits %+v", w)
}

// has says whether there is an occasion on a day.
func (w When) has(day time.Time) bool {
	switch w.Every {
	case EveryDay:
		return true
	case EveryWorkday:
		return workday(day)
	case EveryWeek:
		return (int(day.Weekday())+6)%7+1 == w.On
	case EveryMonth:
		last := time.Date(day.Year(), day.Month()+1, 0, 0, 0, 0, 0, time.UTC).Day()
		return day.Day() == min(w.On, last)
	case FirstWorkday:
		first := time.Date(day.Year(), day.Month(), 1, 0, 0, 0, 0, time.UTC)
		for !workday(first) {
			first = first.AddDate(0, 0, 1)
		}
		return day.Equal(first)
	}
	return false
}

func workday(day time.Time) bool {
	return day.Weekday() != time.Saturday && day.Weekday() != time.Sunday
}

var weekdays = []string{"Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"}

// Words says when it is sent; number names the number that passes a line.
func (w When) Words(number string) string {
	if !w.Clocked() {
		return map[string]string{
			IfOver:   "when " + number + " comes over " + w.Line,
			IfUnder:  "when " + number + " comes under " + w.Line,
			IfComes:  "when a record comes into the result",
			IfLeaves: "when a record leaves the result",
			IfAtRisk: "when the target is at risk",
		}[w.If]
	}
	at := " at " + w.At
	if w.Zone != "" {
		at += " (" + w.Zone + ")"
	}
	switch w.Every {
	case EveryDay:
		return "every day" + at
	case EveryWorkday:
		return "every workday" + at
	case EveryWeek:
		return "every " + weekdays[(w.On+6)%7] + at
	case FirstWorkday:
		return "on the first workday of each month" + at
	}
	if w.On > 28 {
		return fmt.Sprintf("on day %d of each month, or its last,%s", w.On, at)
	}
	return fmt.Sprintf("on day %d of each month%s", w.On, at)
}
