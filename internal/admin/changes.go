package admin

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/period"
	"uzzel/core/schema"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/feed"
	"uzzel/internal/people"
	"uzzel/internal/shape"
	"uzzel/internal/store"
)

// Changed is a change of the settings, in words.
type Changed struct {
	ID     int64
	At     int64
	By     string
	What   string
	Points []Point
	// Back says whether it can be taken back as things are; Why why not.
	Back bool
	Why  string
}

// Point is one thing that a change set, as it was and as it was then.
type Point struct{ What, Before, After string }

// mostPoints is how many points of a change are listed.
const mostPoints = 20

// Changes lists the latest changes of settings that have words in them; more says that there are others before.
func (a *Admin) Changes(
	ctx context.Context,
	v *answers.View,
	search string,
	before int64,
	most int,
) (list []Changed, more bool, err error) {
	if !v.Who.Administers() {
		return nil, false, fault.New(fault.Forbidden, "", "Only administrators see what was changed in the settings.")
	}
	words := strings.Fields(column.Fold(search))
	for {
		some, err := a.store.SettingChanges(ctx, before, 200)
		if err != nil {
			return nil, false, err
		}
		for _, c := range some {
			x := said(v, c)
			text := column.Fold(x.What + " " + x.By)
			for _, p := range x.Points {
				text += " " + column.Fold(p.What+" "+p.Before+" "+p.After)
			}
			if slices.ContainsFunc(words, func(w string) bool { return !strings.Contains(text, w) }) {
				continue
			}
			if len(list) == most {
				return list, true, nil
			}
			err := a.mayTakeBack(ctx, v, c)
			if x.Back = err == nil; err != nil {
				x.Why = err.Error()
			}
			list = append(list, x)
		}
		if len(some) < 200 {
			return list, false, nil
		}
		before = some[len(some)-1].ID
	}
}

// said says a change in words.
func said(v *answers.View, c store.SettingChange) Changed {
	x := Changed{ID: c.ID, At: c.At, By: people.Name(v.Snap, c.Person), What: titleOf(v, c.Name)}
	name, ofSight := strings.CutPrefix(c.Name, store.SettingSees)
	switch {
	case ofSight && name != "":
		x.Points = []Point{{"", sights[c.Before], sights[c.After]}}
	case c.Name == store.SettingPreference+people.RightsSetting:
		x.Points = granted(v, c)
	case strings.HasPrefix(c.Name, store.SettingTargets):
		x.What, x.Points = aimed(v, c, x.What)
	case strings.HasPrefix(c.Name, store.SettingPoint):
		x.Points = points(pointSaid(v, c.Before), pointSaid(v, c.After))
	default:
		x.Points = points(c.Before, c.After)
	}
	return x
}

// granted says whose rights were changed, by their names.
func granted(v *answers.View, c store.SettingChange) []Point {
	list := points(c.Before, c.After)
	for i := range list {
		kind, number, _ := strings.Cut(list[i].What, " › ")
		a := store.Access{Kind: store.ForPerson}
		if kind == "teams" {
			a.Kind = store.ForTeam
		}
		a.Subject, _ = strconv.ParseInt(number, 10, 64)
		list[i].What = people.SubjectName(v.Snap, a)
		list[i].Before, list[i].After = inWords(list[i].Before), inWords(list[i].After)
	}
	return list
}

// inWords are rights, told by their keys, in words.
func inWords(keys string) string {
	rights, err := people.RightsOf(strings.FieldsFunc(keys, func(r rune) bool { return r == ',' || r == ' ' }))
	if err != nil {
		return keys // there was such a right once
	}
	var words []string
	for _, e := range people.Each {
		if rights.Has(e.Right) {
			words = append(words, e.Words)
		}
	}
	return strings.Join(words, "; ")
}

// aimed says which targets were set, whose and of which month, and what became of their measure, which what names where
// it is there still.
func aimed(v *answers.View, c store.SettingChange, what string) (string, []Point) {
	said := func(text string) string {
		var st store.MeasureState
		if json.Unmarshal([]byte(text), &st) != nil {
			return text
		}
		by := map[string]string{}
		if m := st.Measure; m != nil {
			what = "Targets of " + m.Name
			by["Name"], by["What it counts"] = m.Name, sentenceOf(v, m.Brief)
		}
		for _, t := range st.Targets {
			whose := cmp.Or(people.SubjectName(v.Snap, store.Access{Kind: t.Kind, Subject: t.Subject}), "Everyone")
			by[whose+", "+v.Snap.Cal.Label(period.ByMonth, t.Month)] = t.Amount
		}
		out, err := json.Marshal(by)
		if err != nil {
			return text
		}
		return string(out)
	}
	before, after := said(c.Before), said(c.After)
	return what, points(before, after)
}

// pointSaid is a starting point as points of its changes say it.
func pointSaid(v *answers.View, text string) string {
	var p store.StartingPoint
	if text == "" || json.Unmarshal([]byte(text), &p) != nil {
		return "{}"
	}
	by := map[string]string{"Name": p.Name, "What it is for": p.Description, "What it begins with": sentenceOf(v, p.Brief)}
	var teams []int64
	var questions []struct{ Title string }
	if json.Unmarshal([]byte(p.Teams), &teams) == nil && json.Unmarshal([]byte(p.Questions), &questions) == nil {
		names := make([]string, len(teams))
		for i, t := range teams {
			names[i] = people.SubjectName(v.Snap, store.Access{Kind: store.ForTeam, Subject: t})
		}
		titles := make([]string, len(questions))
		for i, q := range questions {
			titles[i] = q.Title
		}
		by["Who sees it"], by["First questions"] = strings.Join(names, ", "), strings.Join(titles, "; ")
	}
	out, err := json.Marshal(by)
	if err != nil {
		return "{}"
	}
	return string(out)
}

// sentenceOf is a report that is kept, as a sentence; as it is kept where it is right no more.
func sentenceOf(v *answers.View, text string) string {
	b, err := brief.Decode([]byte(text))
	if err != nil {
		return text
	}
	bound, err := v.Bind(b)
	if err != nil {
		return text
	}
	return v.Say(bound).String()
}

var sights = map[string]string{"": "everyone’s", "team": "their team’s", "own": "their own"}

// titles are what preferences are about.
var titles = map[string]string{
	people.PolicySetting:   "What people may do, and how they sign in",
	answers.FiguresSetting: "How figures and days are written",
	answers.WordsSetting:   "Words of our own",
	people.RightsSetting:   "Who may do what besides their role",
	homeBoards:             "Where people begin",
	answers.SightSetting:   "Who sees other records than people in general",
	"mail":                 "How mail is sent",
}

func titleOf(v *answers.View, name string) string {
	if typ, ok := strings.CutPrefix(name, store.SettingSees); ok {
		label := typ
		if t := v.Snap.Schema.Type(typ); t != nil {
			label = strings.ToLower(t.Label)
		}
		return "Which " + label + " people may see"
	}
	if key, ok := strings.CutPrefix(name, store.SettingTargets); ok {
		if m := v.Aims.Measure(key); m != nil {
			return "Targets of " + m.Name
		}
		return "Targets"
	}
	if strings.HasPrefix(name, store.SettingPoint) {
		return "A starting point"
	}
	if name == store.SettingShape {
		return "Records, fields, choices and stages"
	}
	pref := strings.TrimPrefix(name, store.SettingPreference)
	if t := titles[pref]; t != "" {
		return t
	}
	if typ, ok := strings.CutPrefix(pref, pageLayouts); ok {
		typ, team, _ := strings.Cut(typ, " team ")
		if t := v.Snap.Schema.Type(typ); t != nil {
			typ = t.One
		}
		if team != "" {
			readers := v.Snap.Schema.Readers()
			team = ", for " + v.Snap.NameOf(readers.Field(readers.Team).To, team, nil)
		}
		return "The page of a " + typ + team
	}
	if strings.Contains(pref, "style") {
		return "How charts look"
	}
	return pref
}

// members are what members of settings are called.
var members = map[string]string{
	"readersKeep":  "Readers may keep reports of their own",
	"secondFactor": "Everyone signs in with a code",
}

// points are where two texts of JSON differ; texts that are none differ as a whole.
func points(before, after string) []Point {
	was, is := map[string]string{}, map[string]string{}
	flatten("", decoded(before), was)
	flatten("", decoded(after), is)
	keys := map[string]bool{}
	for k := range was {
		keys[k] = true
	}
	for k := range is {
		keys[k] = true
	}
	var list []Point
	for _, k := range slices.Sorted(maps.Keys(keys)) {
		if was[k] == is[k] {
			continue
		}
		name := k
		if said := members[k]; said != "" {
			name = said
		}
		if list = append(list, Point{name, was[k], is[k]}); len(list) == mostPoints {
			break
		}
	}
	return list
}

func decoded(text string) any {
	var v any
	if json.Unmarshal([]byte(text), &v) != nil {
		return text
	}
	return v
}

// flatten puts the leaves of a value under their paths. A list of texts is one leaf; a list of named things goes by name.
func flatten(at string, v any, out map[string]string) {
	under := func(key string) string {
		if at == "" {
			return key
		}
		return at + " › " + key
	}
	switch v := v.(type) {
	case map[string]any:
		for k, x := range v {
			flatten(under(k), x, out)
		}
	case []any:
		var texts []string
		for i, x := range v {
			switch x := x.(type) {
			case string:
				texts = append(texts, x)
			case map[string]any:
				name, _ := x["name"].(string)
				if name == "" {
					name = fmt.Sprint(i + 1)
				}
				flatten(under(name), x, out)
			default:
				texts = append(texts, fmt.Sprint(x))
			}
		}
		if len(texts) > 0 {
			out[at] = strings.Join(texts, ", ")
		}
	case nil:
	case string:
		if v != "" {
			out[at] = v
		}
	default:
		out[at] = fmt.Sprint(v)
	}
}

// mayTakeBack says in words why a change cannot be taken back, nil where it can.
func (a *Admin) mayTakeBack(ctx context.Context, v *answers.View, c store.SettingChange) error {
	var now string
	switch {
	case c.Name == store.SettingShape:
		text, err := json.Marshal(a.store.Schema().Settings)
		if err != nil {
			return err
		}
		now = string(text)
		if now == c.After || sameJSON(now, c.After) {
			return a.shapeGoesBack(ctx, v, c)
		}
	case strings.HasPrefix(c.Name, store.SettingTargets) || strings.HasPrefix(c.Name, store.SettingPoint):
		return again(a.takeBackKept(ctx, 0, c, true))
	case strings.HasPrefix(c.Name, store.SettingSees):
		by, err := a.store.Sees(ctx)
		if err != nil {
			return err
		}
		now = by[strings.TrimPrefix(c.Name, store.SettingSees)]
	default:
		text, _, err := a.store.Preference(ctx, strings.TrimPrefix(c.Name, store.SettingPreference))
		if err != nil {
			return err
		}
		now = text
	}
	if now != c.After && !sameJSON(now, c.After) {
		return again(store.ErrStale)
	}
	return nil
}

// again says in words that something was changed again since.
func again(err error) error {
	if errors.Is(err, store.ErrStale) {
		return fault.New(fault.Stale, "", "It was changed again since.")
	}
	return err
}

// takeBackKept takes back a change of targets or of a starting point; dry only says whether it can be.
func (a *Admin) takeBackKept(ctx context.Context, person int64, c store.SettingChange, dry bool) error {
	if key, ok := strings.CutPrefix(c.Name, store.SettingTargets); ok {
		return a.store.TakeBackTargets(ctx, person, key, c.Before, c.After, dry)
	}
	id, err := strconv.ParseInt(strings.TrimPrefix(c.Name, store.SettingPoint), 10, 64)
	if err != nil {
		return err
	}
	return a.store.TakeBackPoint(ctx, id, c.Before, c.After, dry)
}

func sameJSON(a, b string) bool {
	x, y := map[string]string{}, map[string]string{}
	flatten("", decoded(a), x)
	flatten("", decoded(b), y)
	return maps.Equal(x, y)
}

// shapeGoesBack refuses to take back a change of shape that records or reports would lose by.
func (a *Admin) shapeGoesBack(ctx context.Context, v *answers.View, c store.SettingChange) error {
	var before schema.Settings
	if json.Unmarshal([]byte(c.Before), &before) != nil {
		return fault.New(fault.Invalid, "", "It cannot be read.")
	}
	err := a.store.TakeBackShape(ctx, c, true)
	var h *store.Held
	if errors.As(err, &h) {
		return fault.New(fault.Invalid, "", "%s", h.Words)
	}
	if err != nil {
		return err
	}
	return shape.Unused(ctx, a.store, v, before)
}

// TakeBack has a setting be what it was before a change, which is a change too. One that was changed again since is
// refused, and one that takes away what records or reports have.
func (a *Admin) TakeBack(ctx context.Context, v *answers.View, id int64) error {
	if !v.Who.Administers() {
		return fault.New(fault.Forbidden, "", "Only administrators take back what was changed in the settings.")
	}
	a.mu.Lock()
	defer a.mu.Unlock()
	c, err := a.store.SettingChange(ctx, id)
	if err != nil {
		return fault.FromStore(err, "change")
	}
	if err := a.mayTakeBack(ctx, v, c); err != nil {
		return err
	}
	switch {
	case c.Name == store.SettingShape:
		err = a.store.TakeBackShape(store.By(ctx, v.Who.ID), c, false)
	case strings.HasPrefix(c.Name, store.SettingTargets) || strings.HasPrefix(c.Name, store.SettingPoint):
		err = again(a.takeBackKept(ctx, v.Who.ID, c, false))
	case strings.HasPrefix(c.Name, store.SettingSees):
		err = a.store.SetSees(ctx, strings.TrimPrefix(c.Name, store.SettingSees), c.Before, store.Unchecked)
	default:
		err = a.store.SetPreference(ctx, strings.TrimPrefix(c.Name, store.SettingPreference), c.Before, store.Unchecked)
	}
	if err != nil {
		return fault.FromStore(err, "setting")
	}
	if err := a.settings.Reread(ctx); err != nil {
		return err
	}
	a.feed.Tell(feed.Event{Kind: feed.Settings})
	a.feed.Tell(feed.Event{Kind: feed.Records})
	a.feed.Tell(feed.Event{Kind: feed.Targets})
	return nil
}
