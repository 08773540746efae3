// Package jot reads a line in which somebody says what was done or is planned: "call tomorrow 10 about the survey", "site
// visit today reached 45 min, then email in 3 days: offer". It knows words and days, and no records.
package jot

import (
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode"

	"uzzel/core/column"
	"uzzel/core/period"
)

// Words are what an organisation calls what people do, and what came of it.
type Words struct {
	Kinds, Outcomes []string
}

// Line is one thing that was done or is planned. Day is in days since 1970, Time in minutes since midnight, Minutes how
// long it takes, 0 where nothing is said.
type Line struct {
	Kind, Outcome string
	Day           int32
	HasDay        bool
	Time          int
	HasTime       bool
	Minutes       int
	With          string // whom with, as it was typed
	About         string
	Planned       bool // it says that it is still to be done
}

// Most is how many things a line says at most.
const Most = 4

// Read reads what a line says. ", then " and ";" begin another thing, which is planned where it names no other day.
func Read(text string, w Words, today int32) []Line {
	var list []Line
	for _, part := range split(text) {
		l := read(part, w, today)
		l.Planned = l.Planned || len(list) > 0
		list = append(list, l)
	}
	return list[:min(len(list), Most)]
}

func split(text string) []string {
	for _, sep := range []string{", then ", ". Then ", " then ", "\n"} {
		text = strings.ReplaceAll(text, sep, ";")
	}
	var list []string
	for part := range strings.SplitSeq(text, ";") {
		if part = strings.TrimSpace(part); part != "" {
			list = append(list, part)
		}
	}
	return list
}

type reader struct {
	words []string // as typed
	plain []string // folded, without marks at their end
	at    int
	dayTo int // where what follows the day begins
	today int32
	line  Line
	about []string
}

func read(text string, w Words, today int32) Line {
	r := &reader{words: strings.Fields(text), today: today}
	for _, word := range r.words {
		r.plain = append(r.plain, column.Fold(strings.TrimRightFunc(word, unicode.IsPunct)))
	}
	for r.at < len(r.words) {
		switch {
		case r.kind(w.Kinds), r.day(), r.time(), r.length(), r.outcome(w.Outcomes), r.planned(), r.with():
		case len(r.about) == 0 && slices.Contains([]string{"about", "on", "re"}, r.plain[r.at]) && r.at+1 < len(r.words):
			r.at++
			r.rest()
		case strings.HasPrefix(r.words[r.at], ":"):
			r.words[r.at] = strings.TrimPrefix(r.words[r.at], ":")
			r.rest()
		default:
			colon := strings.HasSuffix(r.words[r.at], ":") && len(r.about) == 0
			r.about = append(r.about, strings.TrimSuffix(r.words[r.at], ":"))
			r.at++
			if colon {
				r.rest()
			}
		}
		// "call:" ends what it is; all that follows is what it was about.
		if r.at > 0 && r.at < len(r.words) && strings.HasSuffix(r.words[r.at-1], ":") {
			r.rest()
		}
	}
	r.line.About = strings.TrimRight(strings.Join(r.about, " "), " ,;")
	return r.line
}

// rest takes all that follows as what it was about, but for a day and what comes after it at the end.
func (r *reader) rest() {
	for r.at < len(r.words) {
		if !r.line.HasDay && r.day() {
			r.time()
			continue
		}
		if r.words[r.at] != "" {
			r.about = append(r.about, r.words[r.at])
		}
		r.at++
	}
}

// phrase finds which of some phrases stands here, the longest; where the line has no words yet, its beginning is enough,
// and one word of a phrase that no other has.
func (r *reader) phrase(list []string, short bool) (found string, n int) {
	for _, p := range list {
		words := strings.Fields(column.Fold(p))
		if len(words) > n && r.at+len(words) <= len(r.plain) && slices.Equal(words, r.plain[r.at:r.at+len(words)]) {
			found, n = p, len(words)
		}
	}
	if n > 0 || !short {
		return found, n
	}
	word := r.plain[r.at]
	var only []string
	for _, p := range list {
		folded := strings.Fields(column.Fold(p))
		if slices.Contains(folded, word) || slices.Contains(folded, strings.TrimSuffix(word, "ed")) ||
			(len(word) >= 3 && strings.HasPrefix(folded[0], word)) {
			only = append(only, p)
		}
	}
	if len(only) == 1 {
		return only[0], 1
	}
	return "", 0
}

func (r *reader) kind(list []string) bool {
	if r.line.Kind != "" || len(r.about) > 2 {
		return false
	}
	found, n := r.phrase(list, true)
	if n == 0 {
		return false
	}
	r.line.Kind = found
	r.at += n
	return true
}

func (r *reader) outcome(list []string) bool {
	if r.line.Outcome != "" {
		return false
	}
	found, n := r.phrase(list, false)
	if n == 0 {
		return false
	}
	r.line.Outcome = found
	r.at += n
	return true
}

func (r *reader) planned() bool {
	switch r.plain[r.at] {
	case "planned", "plan", "todo":
		r.line.Planned = true
		r.at++
		return true
	}
	return false
}

// with takes names: words in capitals after "with".
func (r *reader) with() bool {
	if r.plain[r.at] != "with" || r.line.With != "" || r.at+1 == len(r.words) {
		return false
	}
	var names []string
	i := r.at + 1
	for ; i < len(r.words) && len(names) < 3; i++ {
		first := []rune(r.words[i])[0]
		if !unicode.IsUpper(first) {
			break
		}
		names = append(names, strings.TrimRightFunc(r.words[i], unicode.IsPunct))
		if strings.HasSuffix(r.words[i], ",") || strings.HasSuffix(r.words[i], ":") {
			i++
			break
		}
	}
	if len(names) == 0 {
		return false
	}
	r.line.With, r.at = strings.Join(names, " "), i
	return true
}

var weekdays = []string{"sunday", "monday", "tuesday", "wednesday", "thursday", "friday", "saturday"}

var months = []string{"jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"}

// word is the plain word some places on, "" past the end.
func (r *reader) word(on int) string {
	if r.at+on >= len(r.plain) {
		return ""
	}
	return r.plain[r.at+on]
}

func (r *reader) set(day int32, n int) bool {
	r.line.Day, r.line.HasDay = day, true
	r.at += n
	r.dayTo = r.at
	return true
}

// day takes a day: a word, a weekday (the next one, today not), "in 3 days", a date.
func (r *reader) day() bool {
	if r.line.HasDay {
		return false
	}
	word, skip := r.word(0), 0
	if word == "on" || word == "next" || word == "last" || word == "this" {
		skip = 1
	}
	switch day := r.word(skip); {
	case word == "today":
		return r.set(r.today, 1)
	case word == "tomorrow":
		return r.set(r.today+1, 1)
	case word == "yesterday":
		return r.set(r.today-1, 1)
	case word == "next" && day == "week":
		return r.set(r.today+7, 2)
	case word == "next" && day == "month":
		y, m, d := period.Civil(r.today)
		last := period.Day(y, m+2, 1) - 1
		return r.set(min(last, period.Day(y, m+1, d)), 2)
	case weekday(day) >= 0:
		if word == "last" {
			return r.set(r.today-1-mod(weekdayOf(r.today-1)-weekday(day)), 2)
		}
		return r.set(r.today+1+mod(weekday(day)-weekdayOf(r.today+1)), 1+skip)
	case word == "in":
		n, err := strconv.Atoi(r.word(1))
		unit := strings.TrimSuffix(r.word(2), "s")
		if err != nil || n < 0 || n > 1000 {
			return false
		}
		switch unit {
		case "day":
			return r.set(r.today+int32(n), 3)
		case "week":
			return r.set(r.today+7*int32(n), 3)
		}
		return false
	}
	return r.date(skip)
}

// date takes 2026-05-12, 12 May, May 12, 12.5., each with a year or without: then the nearest one.
func (r *reader) date(skip int) bool {
	if skip == 1 && r.word(0) != "on" {
		return false
	}
	a, b := r.word(skip), r.word(skip+1)
	if day, err := period.ParseDay(a); err == nil {
		return r.set(day, skip+1)
	}
	year, n := 0, skip+2
	if y, err := strconv.Atoi(r.word(skip + 2)); err == nil && y > 1900 && y < 2200 {
		year, n = y, skip+3
	}
	if d, m := number(a), month(b); d > 0 && m > 0 {
		return r.near(year, m, d, n)
	}
	if m, d := month(a), number(b); m > 0 && d > 0 {
		return r.near(year, m, d, n)
	}
	if d, m, ok := strings.Cut(a, "."); ok && number(d) > 0 && number(m) > 0 && number(m) <= 12 && !isLength(b) {
		return r.near(0, time.Month(number(m)), number(d), skip+1)
	}
	return false
}

// near sets a day of a month; without a year, the one that is nearest to today.
func (r *reader) near(year int, m time.Month, d, n int) bool {
	years := []int{year}
	if year == 0 {
		y, _, _ := period.Civil(r.today)
		years = []int{y, y + 1, y - 1}
	}
	best, found := int32(0), false
	for _, y := range years {
		day := period.Day(y, m, d)
		if _, is, _ := period.Civil(day); is == m && (!found || abs(day-r.today) < abs(best-r.today)) {
			best, found = day, true
		}
	}
	return found && r.set(best, n)
}

// time takes "at 10", "10:30", "9am"; a number alone where a day stands before it.
func (r *reader) time() bool {
	if r.line.HasTime {
		return false
	}
	i, said := 0, r.line.HasDay && r.at == r.dayTo
	if r.word(0) == "at" {
		i, said = 1, true
	}
	text := r.word(i)
	half := ""
	for _, h := range []string{"am", "pm"} {
		if t, ok := strings.CutSuffix(text, h); ok && number(t[:max(0, strings.IndexByte(t+":", ':'))]) > 0 {
			text, half, said = t, h, true
		}
	}
	hours, minutes, clock := strings.Cut(text, ":")
	h, err := strconv.Atoi(hours)
	if err != nil || h < 0 || h > 23 || (!said && !clock) || isLength(r.word(i+1)) {
		return false
	}
	m := 0
	if clock {
		if m, err = strconv.Atoi(minutes); err != nil || m < 0 || m > 59 || len(minutes) != 2 {
			return false
		}
	}
	switch {
	case half == "pm" && h < 12:
		h += 12
	case half == "am" && h == 12:
		h = 0
	}
	r.line.Time, r.line.HasTime = h*60+m, true
	r.at += i + 1
	return true
}

func isLength(word string) bool {
	return slices.Contains([]string{"min", "mins", "minute", "minutes", "h", "hour", "hours"}, word)
}

// length takes how long it takes: "30 min", "1 h", "45min".
func (r *reader) length() bool {
	if r.line.Minutes > 0 {
		return false
	}
	text, unit, n := r.word(0), r.word(1), 2
	if i := strings.IndexFunc(text, unicode.IsLetter); i > 0 {
		text, unit, n = text[:i], text[i:], 1
	}
	f, err := strconv.ParseFloat(text, 64)
	if err != nil || f <= 0 || f > 1000 || !isLength(unit) {
		return false
	}
	if strings.HasPrefix(unit, "h") {
		f *= 60
	}
	r.line.Minutes = int(f)
	r.at += n
	return true
}

func number(s string) int {
	n, err := strconv.Atoi(strings.TrimRight(s, "stndrh"))
	if err != nil || n > 31 {
		return 0
	}
	return n
}

func month(s string) time.Month {
	for i, m := range months {
		if len(s) >= 3 && strings.HasPrefix(s, m) && len(s) <= 9 {
			return time.Month(i + 1)
		}
	}
	return 0
}

func weekday(s string) int {
	for i, d := range weekdays {
		if s == d || (len(s) >= 3 && len(s) <= 4 && strings.HasPrefix(d, s)) {
			return i
		}
	}
	return -1
}

// weekdayOf is the weekday of a day, Sunday 0; 1970-01-01 was a Thursday.
func weekdayOf(day int32) int { return int(mod(int(day) + 4)) }

func mod(n int) int32 { return int32(((n % 7) + 7) % 7) }

func abs(n int32) int32 { return max(n, -n) }
