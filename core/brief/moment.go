package brief

import (
	"encoding/json"
	"fmt"
	"reflect"
	"slices"
	"strings"
	"time"

	"uzzel/core/period"
)

// Moment names a day that a state is of (docs/brief.md, "Over time"): a date, a word, or so many units before today.
type Moment struct {
	Date string
	Word string
	Ago  int
	Unit period.Unit
}

// momentWords are the words, but for yesterday the last day of the last whole unit.
var momentWords = []string{
	"yesterday", "last_week", "last_month", "last_quarter", "last_year", "last_fiscal_quarter", "last_fiscal_year",
}

var agoUnits = []period.Unit{period.ByDay, period.ByWeek, period.ByMonth}

// maxAgo is how many units ago a moment can be.
const maxAgo = 10_000

// ParseMoment reads a day that is named by a text: a date or a word.
func ParseMoment(text string) (Moment, error) {
	if _, err := period.ParseDay(text); err == nil {
		return Moment{Date: text}, nil
	}
	if slices.Contains(momentWords, text) {
		return Moment{Word: text}, nil
	}
	return Moment{}, fmt.Errorf("a day is written 2026-05-14 or one of %s, or {\"ago\": 2, \"unit\": \"week\"}, not %q%s",
		strings.Join(momentWords, ", "), text, near(text, momentWords))
}

// MarshalJSON writes the date or the word alone, or how long ago.
func (m Moment) MarshalJSON() ([]byte, error) {
	if m.Unit != "" {
		return json.Marshal(map[string]any{"ago": m.Ago, "unit": m.Unit})
	}
	return json.Marshal(m.Date + m.Word)
}

// moment reads one of its forms.
func (r *reader) moment(node any, m *Moment, at string) {
	if s, ok := node.(string); ok {
		named, err := ParseMoment(s)
		if err != nil {
			r.problems.add(at, "%s", err)
			return
		}
		*m = named
		return
	}
	var o struct {
		Ago  *int        `json:"ago"`
		Unit period.Unit `json:"unit"`
	}
	before := len(r.problems)
	r.object(node, reflect.ValueOf(&o).Elem(), at)
	switch {
	case len(r.problems) > before:
	case o.Ago == nil || !slices.Contains(agoUnits, o.Unit):
		r.problems.add(at, "how long ago is {\"ago\": n, \"unit\": \"day\", \"week\" or \"month\"}")
	case *o.Ago < 0 || *o.Ago > maxAgo:
		r.problems.add(at+"/ago", "it is 0 to %d units ago", maxAgo)
	default:
		m.Ago, m.Unit = *o.Ago, o.Unit
	}
}

// Day is the day that a moment names today.
func (m Moment) Day(cal *period.Calendar, today int32) (int32, error) {
	switch {
	case m.Date != "":
		return period.ParseDay(m.Date)
	case m.Word == "yesterday":
		return today - 1, nil
	case m.Word != "":
		return cal.Resolve(period.Period{Word: m.Word}, today).To, nil
	case m.Unit == period.ByWeek:
		return today - 7*int32(m.Ago), nil
	case m.Unit == period.ByMonth:
		y, mo, d := period.Civil(today)
		first := period.Day(y, mo-time.Month(m.Ago), 1)
		fy, fm, _ := period.Civil(first)
		last := period.Day(fy, fm+1, 1) - 1
		return min(first+int32(d)-1, last), nil
	}
	return today - int32(m.Ago), nil
}

// Then is periods that are those of the state's day.
const Then = "then"

// moments checks what is said of states.
func (c *checker) moments(b *Brief, bound *Bound) {
	if b.Periods != "" && b.Periods != Then {
		c.add("/periods", "relative periods are today's, where nothing is said, or \"then\", not %q", b.Periods)
	}
	if b.Since == nil {
		return
	}
	switch {
	case len(b.Parts) > 0:
		c.add("/since", "what moved is told of one record type; this report has parts")
	case len(bound.Parts) > 0 && len(bound.Parts[0].Levels) > 1:
		c.add("/since", "what moved is told of records by themselves; this report brings others")
	}
}

// Days are the days of the states that a brief asks for: as of which day it is answered, and since when what moved is
// told. None of either is today, which says that records are as they are now.
func (b *Bound) Days(today int32) (asOf, since int32, err error) {
	asOf, since = today, today
	var wrong Problems
	day := func(m *Moment, at string, to *int32) {
		if m == nil {
			return
		}
		d, err := m.Day(b.Cal, today)
		switch {
		case err != nil:
			wrong.add(at, "%s", err)
		case d > today:
			wrong.add(at, "%s is after today, %s; what will be nobody knows", period.FormatDay(d), period.FormatDay(today))
		default:
			*to = d
		}
	}
	day(b.Brief.AsOf, "/asOf", &asOf)
	day(b.Brief.Since, "/since", &since)
	if b.Brief.Since != nil && len(wrong) == 0 && since >= asOf {
		wrong.add(
			"/since",
			"what moved is told from a day before %s; %s is not",
			period.FormatDay(asOf),
			period.FormatDay(since),
		)
	}
	if len(wrong) > 0 {
		return 0, 0, wrong
	}
	return asOf, since, nil
}

// words says a moment: "11 May 2026", "the end of last week", "2 weeks ago"; those that move with the days are said with
// the day that they are.
func (m Moment) words(cal *period.Calendar, today int32) (text, detail string) {
	day, err := m.Day(cal, today)
	if err != nil {
		return m.Date, ""
	}
	said := dayText(period.FormatDay(day))
	switch {
	case m.Word == "yesterday":
		return m.Word, said
	case m.Word != "":
		return "the end of last " + strings.ReplaceAll(strings.TrimPrefix(m.Word, "last_"), "_", " "), said
	case m.Unit != "" && m.Ago == 1:
		return "1 " + string(m.Unit) + " ago", said
	case m.Unit != "":
		return fmt.Sprintf("%d %ss ago", m.Ago, m.Unit), said
	}
	return said, ""
}

// MomentWords says a day that something is as of: "the end of last week (10 May 2026)".
func MomentWords(m Moment, cal *period.Calendar, today int32) string {
	text, detail := m.words(cal, today)
	if detail != "" {
		text += " (" + detail + ")"
	}
	return text
}

// moments says as of which day a brief is answered, and since when what moved is told.
func (s *sayer) moments() {
	b := s.b.Brief
	if b.AsOf != nil {
		text, detail := b.AsOf.words(s.b.Cal, s.real)
		s.out = append(s.out, Clause{Key: "asOf", Lead: ", ", Text: "as of " + text, Detail: detail, At: "/asOf"})
	}
	if b.Since != nil {
		text, detail := b.Since.words(s.b.Cal, s.real)
		s.out = append(
			s.out,
			Clause{Key: "since", Lead: ", ", Text: "what moved since " + text, Detail: detail, At: "/since"},
		)
	}
	if b.Periods == Then {
		s.add("periods", ", ", "periods as of then", "/periods")
	}
}
