package bringin

import (
	"cmp"
	"slices"
	"strings"

	"uzzel/core/period"
	"uzzel/core/schema"
	"uzzel/internal/records"
)

// A column can be a day in the history of a record's stages: that it came to the stage where it is, by the field that the
// program works out from its history, or that it came to one stage, by the field of stages and its name after cameTo.
const cameTo = "="

// fieldOf is what a column of a file is: a field, or a day in the history of stages, which is a date; nil where a type
// has no such thing.
func fieldOf(t *schema.Type, key string) *schema.Field {
	if f := t.Field(key); f != nil && f.Worked == nil {
		return f
	}
	staged := t.Staged()
	if staged == nil || !staged.Written() {
		return nil
	}
	if since := sinceOf(t); since != nil && since.Key == key {
		return &schema.Field{Key: key, Label: since.Label, Kind: schema.Date}
	}
	stage, ok := strings.CutPrefix(key, staged.Key+cameTo)
	if !ok || !slices.Contains(staged.Choices, stage) {
		return nil
	}
	return &schema.Field{Key: key, Label: "Came to " + stage, Kind: schema.Date}
}

// sinceOf is the field that says since when a record is in its stage, nil for a type without.
func sinceOf(t *schema.Type) *schema.Field {
	for i := range t.Fields {
		f := &t.Fields[i]
		if staged := t.Staged(); staged != nil && f.Worked != nil && f.Worked.As == "since" && f.Worked.Of[0] == staged.Key {
			return f
		}
	}
	return nil
}

// pastWords stand beside the name of a stage in the name of a column that says when a record came there.
var pastWords = []string{
	"date",
	"day",
	"on",
	"at",
	"since",
	"from",
	"entered",
	"reached",
	"came",
	"to",
	"stage",
	"in",
	"moved",
}

// pastColumns takes columns whose name is that of a stage, and that hold days, for days in the history.
func pastColumns(t *schema.Type, s *Sheet, columns []Column, taken map[string]bool) {
	staged := t.Staged()
	if staged == nil || !staged.Written() {
		return
	}
	for i, h := range s.Header {
		if columns[i].Field != "" || !areDays(sample(s, i)) {
			continue
		}
		words := slices.DeleteFunc(strings.Fields(plain(h)), func(w string) bool { return slices.Contains(pastWords, w) })
		bare := strings.Join(words, " ")
		key := ""
		if since := sinceOf(t); since != nil && (plain(h) == plain(since.Label) || plain(h) == "stage date") {
			key = since.Key
		}
		for _, stage := range staged.Choices {
			if plain(stage) == bare || plain(stage) == plain(h) {
				key = staged.Key + cameTo + stage
			}
		}
		if key != "" && !taken[key] {
			columns[i].Field, taken[key] = key, true
		}
	}
}

// areDays says whether most cells are days in one of the forms.
func areDays(cells []string) bool {
	f := &schema.Field{Kind: schema.Date}
	return slices.ContainsFunc([]string{Year, Day, Month, Words}, func(form string) bool {
		n := 0
		for _, c := range cells {
			if reads(f, form, c) {
				n++
			}
		}
		return 2*n > len(cells)
	})
}

// step is a day on which a record came to a stage; col is the column that says so.
type step struct {
	day   int32
	stage string
	col   int
}

// steps reads the days in the history that a line gives, "" standing for the stage where the record is now. ok is false
// where the line was refused.
func (tr *trial) steps(i int) (list []step, ok bool) {
	staged := tr.t.Staged()
	for col, c := range tr.p.Columns {
		f := fieldOf(tr.t, c.Field)
		cell := strings.TrimSpace(tr.sheet.Rows[i][col])
		if f == nil || f == tr.t.Field(c.Field) || cell == "" {
			continue
		}
		text := written(f, c.Form, cell)
		day, err := period.ParseDay(text)
		switch {
		case err != nil:
			tr.refuse(i, col, "“%s” is no day", cell)
			return nil, false
		case day > tr.v.Day:
			tr.refuse(i, col, "it is still to come")
			return nil, false
		}
		stage, _ := strings.CutPrefix(c.Field, staged.Key+cameTo)
		if stage == c.Field {
			stage = ""
		}
		list = append(list, step{day, stage, col})
	}
	order := func(stage string) int {
		if stage == "" {
			return len(staged.Choices)
		}
		return slices.Index(staged.Choices, stage)
	}
	slices.SortFunc(list, func(a, b step) int {
		return cmp.Or(cmp.Compare(a.day, b.day), cmp.Compare(order(a.stage), order(b.stage)))
	})
	return list, true
}

// past is the history of stages of a new record whose values were checked, which begins no earlier than the record. Where
// the file does not say when it was made, that is the first day of its history. ok is false where the line was refused.
func (tr *trial) past(i int, steps []step, values records.Values) (list []records.Past, ok bool) {
	staged := tr.t.Staged()
	if len(steps) == 0 {
		return nil, true
	}
	cal, now := tr.v.Snap.Cal, values[staged.Key]
	for k := range steps {
		steps[k].stage = cmp.Or(steps[k].stage, now)
	}
	// Where it is now, it came to last: on the day it was closed, as far as that is what it came to.
	if last := steps[len(steps)-1]; last.stage != now {
		day := tr.v.Day
		for k := range tr.t.Fields {
			f := &tr.t.Fields[k]
			if closed, err := period.ParseDay(values[f.Key]); f.Closes == staged.Key && err == nil && closed >= last.day {
				day = closed
			}
		}
		steps = append(steps, step{day, now, last.col})
	}
	// Where the file does not say when it was closed, it was as it came to the stage that it ended in.
	for k := range tr.t.Fields {
		f := &tr.t.Fields[k]
		if f.Closes == staged.Key && values[f.Key] == "" && !tr.t.Open(now) {
			values[f.Key] = period.FormatDay(steps[len(steps)-1].day)
		}
	}
	begins := cal.StartOf(steps[0].day)
	if text := values["created"]; text != "" {
		at, err := cal.ParseInstant(text)
		if err != nil {
			return nil, false
		}
		if cal.DayOf(at) > steps[0].day {
			tr.refuse(i, steps[0].col, "it was made later, on %s", period.FormatDay(cal.DayOf(at)))
			return nil, false
		}
		begins = at
	} else {
		values["created"] = cal.FormatInstant(begins)
	}
	from, at := "", begins
	if cal.DayOf(begins) == steps[0].day { // it began there
		from, steps = steps[0].stage, steps[1:]
	}
	for _, s := range steps {
		if s.stage == from {
			continue
		}
		// Of one day, one after the other.
		at = max(cal.StartOf(s.day), at+1)
		list = append(list, records.Past{Field: staged.Key, From: from, To: s.stage, At: at})
		from = s.stage
	}
	return list, true
}
