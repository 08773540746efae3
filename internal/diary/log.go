package diary

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"uzzel/core/jot"
	"uzzel/core/period"
	"uzzel/core/schema"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/lookup"
	"uzzel/internal/records"
)

// Understood is one thing that a line says, as it would be kept: in words, and what is missing to keep it.
type Understood struct {
	Said    string
	Lacks   string
	Planned bool
	Values  records.Values
}

// morning is when what is planned for a day without a time is, in minutes.
const morning = 9 * 60

// maxLine is how long a line is at most, in bytes.
const maxLine = 1000

// Understand says what a line about a record would be kept as.
func (d *Diary) Understand(ctx context.Context, v *answers.View, about Ref, text string) ([]Understood, error) {
	t, err := diaryType(v)
	if err != nil {
		return nil, err
	}
	if len(text) > maxLine {
		return nil, fault.New(fault.Invalid, "/text", "A line is of %d characters at most.", maxLine)
	}
	links, err := linksTo(v, t, about)
	if err != nil {
		return nil, err
	}
	w := jot.Words{Kinds: choices(t, t.Diary.Kind), Outcomes: choices(t, t.Diary.Outcome)}
	var list []Understood
	for _, l := range jot.Read(text, w, v.Day) {
		u, err := d.understand(ctx, v, t, l, links)
		if err != nil {
			return nil, err
		}
		list = append(list, u)
	}
	return list, nil
}

func choices(t *schema.Type, field string) []string {
	if f := t.Field(field); f != nil {
		return f.Choices
	}
	return nil
}

func (d *Diary) understand(
	ctx context.Context, v *answers.View, t *schema.Type, l jot.Line, links records.Values,
) (Understood, error) {
	now := d.now(v)
	at := now
	switch {
	case l.HasDay && !l.HasTime && l.Day == v.Day && !l.Planned:
	case l.HasDay && !l.HasTime:
		at = atMinute(v, l.Day, morning)
	case l.HasDay:
		at = atMinute(v, l.Day, l.Time)
	case l.HasTime:
		at = atMinute(v, v.Day, l.Time)
	case l.Planned:
		at = atMinute(v, v.Day+1, morning)
	}
	u := Understood{Planned: l.Planned || at > now, Values: records.Values{}}
	words := []string{l.Kind}
	if u.Planned {
		words = append(words, "planned for "+when(v, at))
	} else {
		words = append(words, "done "+when(v, at))
	}
	put := func(key, text string) {
		if f := t.Field(key); f != nil && text != "" {
			u.Values[key] = text
		}
	}
	for key, id := range links {
		put(key, id)
	}
	if l.With != "" {
		id, name, err := d.with(ctx, v, t, l.With, u.Values)
		if err != nil {
			return u, err
		}
		if id != "" {
			put(t.Diary.With, id)
			words = append(words, "with "+name)
		} else {
			l.About = strings.TrimSpace("with " + l.With + " " + l.About)
		}
	}
	if l.Minutes > 0 {
		words = append(words, fmt.Sprintf("%d minutes", l.Minutes))
		put(t.Diary.Minutes, strconv.Itoa(l.Minutes))
	}
	if l.Outcome != "" {
		words = append(words, strings.ToLower(l.Outcome))
	}
	if l.About != "" {
		words = append(words, "“"+l.About+"”")
	}
	put(t.Diary.Kind, l.Kind)
	put(t.Diary.Outcome, l.Outcome)
	put(t.Diary.About, cmp.Or(l.About, l.Kind))
	put(t.Diary.When, v.Snap.Cal.FormatInstant(at))
	put(t.Diary.Done, strconv.FormatBool(!u.Planned))
	u.Said = strings.Join(words, ", ")
	if l.Kind == "" {
		u.Lacks = "Begin with what it is: " + strings.ToLower(strings.Join(choices(t, t.Diary.Kind), ", ")) + "."
	}
	return u, nil
}

// atMinute is the moment at which the clocks show a minute of a day.
func atMinute(v *answers.View, day int32, minute int) int64 {
	y, m, d := period.Civil(day)
	return time.Date(y, m, d, 0, minute, 0, 0, v.Snap.Cal.Zone).Unix()
}

// mostOfName is how many records of a name are looked through for the one of the same record.
const mostOfName = 1000

// with finds the one whom a name is of: among those of the same record first.
func (d *Diary) with(
	ctx context.Context, v *answers.View, t *schema.Type, name string, links records.Values,
) (id, called string, err error) {
	f := t.Field(t.Diary.With)
	if f == nil {
		return "", "", nil
	}
	found, err := lookup.Find(ctx, v, lookup.Sought{Types: []string{f.To}, Words: name, Most: mostOfName})
	if err != nil {
		return "", "", err
	}
	to := v.Snap.Schema.Type(f.To)
	var near []lookup.NamedRecord
	for _, r := range found {
		for _, other := range linksOf(t) {
			if up := linkTo(to, other.To); up != nil && links[other.Key] != "" && other.To != f.To {
				if text, err := linked(v, to, up, r.ID); err == nil && text == links[other.Key] {
					near = append(near, r)
				}
			}
		}
	}
	if len(near) == 1 || (len(near) > 0 && len(found) > 1) {
		found = near
	}
	if len(found) != 1 {
		return "", "", nil
	}
	return found[0].ID, found[0].Name, nil
}

// linksOf are the links that a record of what people do has to what it is about.
func linksOf(t *schema.Type) []*schema.Field {
	return slices.DeleteFunc(t.Links(), func(f *schema.Field) bool { return f.Key == t.Owner })
}

// Logged says whether what people do can be about records of a type: it has a link to them that people set.
func Logged(s *schema.Schema, t *schema.Type) bool {
	d := s.Diary()
	return d != nil && d != t && linkTo(d, t.Key) != nil
}

// linkTo is the first link of a type to another.
func linkTo(t *schema.Type, to string) *schema.Field {
	for _, f := range linksOf(t) {
		if f.To == to {
			return f
		}
	}
	return nil
}

// linked is what a record links to by a field, where the person sees that; "" for nothing.
func linked(v *answers.View, t *schema.Type, f *schema.Field, id string) (string, error) {
	_, table, row, err := lookup.Seen(v, t.Key, id)
	if err != nil {
		return "", err
	}
	c, err := v.Snap.Column(t.Key, f.Key)
	if err != nil {
		return "", err
	}
	value := c.At(row)
	if value < 0 || !v.Sight.Sees(f.To, int32(value)) {
		return "", nil
	}
	return v.Snap.Text(c, value, table), nil
}

// linksTo are the links of what is done about a record: to it, and to what it belongs to.
func linksTo(v *answers.View, t *schema.Type, about Ref) (records.Values, error) {
	id := strconv.FormatInt(about.ID, 10)
	of, _, _, err := lookup.Seen(v, about.Type, id)
	if err != nil {
		return nil, err
	}
	out, found := records.Values{}, false
	for _, f := range linksOf(t) {
		if f.To == of.Key && !found {
			out[f.Key], found = id, true
			continue
		}
		if up := linkTo(of, f.To); up != nil && f.To != of.Key {
			if out[f.Key], err = linked(v, of, up, id); err != nil {
				return nil, err
			}
		}
	}
	if !found {
		return nil, fault.New(fault.Invalid, "/about", "%s are not linked to %s.", t.Label, strings.ToLower(of.Label))
	}
	return out, nil
}

// Log keeps what a line says about records, of each of them, and gives the numbers of what was made.
func (d *Diary) Log(ctx context.Context, v *answers.View, about []Ref, text string) ([]int64, error) {
	t, err := diaryType(v)
	if err != nil {
		return nil, err
	}
	var list []records.Values
	for _, ref := range about {
		things, err := d.Understand(ctx, v, ref, text)
		if err != nil {
			return nil, err
		}
		if len(things) == 0 {
			return nil, fault.New(fault.Invalid, "/text", "Say what was done, or is planned.")
		}
		for _, u := range things {
			if u.Lacks != "" {
				return nil, fault.New(fault.Invalid, "/text", "%s", u.Lacks)
			}
			list = append(list, u.Values)
		}
	}
	return d.records.Create(ctx, v, t.Key, list)
}
