package desk

import (
	"encoding/json"
	"fmt"
	"strconv"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/chart"
	"uzzel/core/column"
	"uzzel/core/engine"
	"uzzel/core/exact"
	"uzzel/core/period"
	"uzzel/core/target"
)

// tree says who is in which scope, as of now.
func (d *Desk) tree() target.Tree {
	within := map[target.Scope][]target.Scope{}
	tree := func(s target.Scope) []target.Scope { return within[s] }
	snap := d.Snapshot()
	readers := snap.Schema.Readers()
	people, err := snap.Table(readers.Key)
	if err != nil {
		return tree
	}
	link, err := snap.Column(readers.Key, readers.Team)
	if err != nil {
		return tree
	}
	teams, err := snap.Table(link.To)
	if err != nil {
		return tree
	}
	all := target.Scope{}
	for row := range int32(teams.N) {
		within[all] = append(within[all], target.Scope{Kind: target.Team, ID: teams.IDs.At(row)})
	}
	for row := range int32(people.N) {
		in := all // who has no team stands beside the teams
		if team := link.At(row); team != column.Null {
			in = target.Scope{Kind: target.Team, ID: teams.IDs.At(int32(team))}
		}
		within[in] = append(within[in], target.Scope{Kind: target.Person, ID: people.IDs.At(row)})
	}
	return tree
}

// teamID is the id of a person's team, "" for none.
func (d *Desk) teamID(person string) string {
	id, err := strconv.ParseInt(person, 10, 64)
	if team := d.teamOf(id); err == nil && team != 0 {
		return strconv.FormatInt(team, 10)
	}
	return ""
}

// scopes are whose targets a brief is held against: those of its whose, as far as the reader sees their records.
func (d *Desk) scopes(who Person, typ string, w *brief.Whose) []target.Scope {
	me, mine := target.Scope{Kind: target.Person, ID: who.id()}, target.Scope{Kind: target.Team, ID: strconv.FormatInt(who.TeamID, 10)}
	asked := []target.Scope{{}}
	switch {
	case w == nil || w.Word == "everyone":
	case w.Word == "mine":
		asked = []target.Scope{me}
	case w.Word == "team" && who.TeamID == 0:
		asked = []target.Scope{me}
	case w.Word == "team":
		asked = []target.Scope{mine}
	default:
		asked = nil
		chosen := map[string]bool{}
		for _, id := range w.Teams {
			chosen[id] = true
			asked = append(asked, target.Scope{Kind: target.Team, ID: id})
		}
		for _, id := range w.People {
			if !chosen[d.teamID(id)] {
				asked = append(asked, target.Scope{Kind: target.Person, ID: id})
			}
		}
	}
	how := d.Sees()[typ]
	if how == engine.SeesAll {
		return asked
	}
	var seen []target.Scope
	for _, s := range asked {
		switch {
		case s == me:
			seen = append(seen, me)
		case how == engine.SeesTeam && who.TeamID != 0 && (s.Kind == "" || s == mine):
			seen = append(seen, mine)
		case how == engine.SeesTeam && s.Kind == target.Person && who.TeamID != 0 && d.teamID(s.ID) == mine.ID:
			seen = append(seen, s)
		case s.Kind == "" || s == mine:
			seen = append(seen, me)
		}
	}
	return seen
}

// aimed looks up the target of a bound brief that names a measure. words say what it is for; missing says for which
// part of it nothing is set.
func (d *Desk) aimed(v view, b *brief.Bound) (words, missing string) {
	t, who := v.targets, v.who
	m := t.measure(b.Brief.TargetOf)
	if m == nil {
		return "", fmt.Sprintf("There is no measure “%s” that targets are set for.", b.Brief.TargetOf)
	}
	if other := d.measuresOther(who, m, b); other != "" {
		missing = other
	}
	part := b.Parts[0]
	span := b.Cal.Resolve(part.Period.Within, v.day)
	scopes := d.scopes(who, part.Start().Key, part.Part.Whose)
	sum := t.book.Sum(m.Key, scopes, d.tree(), span)
	whom := d.scopeWords(scopes)
	words = fmt.Sprintf("%s · %s · %s", m.Name, whom, brief.SpanWords(span))
	if !sum.Set {
		return words, strings.TrimSpace(missing + fmt.Sprintf(" No target for %s is set for %s in %s.", m.Name, whom, brief.SpanWords(span)))
	}
	b.Target = &sum.Amount
	if sum.ByDays {
		words += ", by days"
	}
	if len(sum.Open) > 0 {
		var months []string
		for _, o := range sum.Open {
			months = append(months, brief.MonthWords(o.Span().From))
		}
		missing = strings.TrimSpace(missing + fmt.Sprintf(" No target for %s is set for %s in %s, so that it counts as nothing there.", m.Name, whom, andList(months)))
	}
	return words, missing
}

// aims gives what is aimed at in each group of a bound brief that names a measure: by the period's own date, by owner,
// or by the owner's team; nil where groups have no targets of their own.
func (d *Desk) aims(v view, b *brief.Bound) chart.Aims {
	t, who := v.targets, v.who
	m := t.measure(b.Brief.TargetOf)
	if m == nil || len(b.Groups) == 0 {
		return nil
	}
	part, snap := b.Parts[0], v.snap
	typ, readers := part.Start(), snap.Schema.Readers()
	span := b.Cal.Resolve(part.Period.Within, v.day)
	tree := d.tree()
	sum := func(scopes []target.Scope, s period.Span) (exact.Num, bool) {
		got := t.book.Sum(m.Key, scopes, tree, s)
		return got.Amount, got.Set
	}
	of := func(typ string, row int64) string {
		table, err := snap.Table(typ)
		if err != nil {
			return ""
		}
		return table.IDs.At(int32(row))
	}
	g := b.Groups[0]
	var aim chart.Aims
	switch v := g.Values[0]; {
	case v.Text == part.Period.Value.Text && g.Group.By != "" && g.Group.By != period.ByHour && g.Group.By != period.ByWeekday && g.Group.By != period.ByMonthOfYear:
		scopes := d.scopes(who, typ.Key, part.Part.Whose)
		aim = func(m engine.Member) (exact.Num, bool) {
			s := period.Span{From: max(span.From, b.Cal.First(g.Group.By, int(m.Key))), To: min(span.To, b.Cal.Last(g.Group.By, int(m.Key))), HasFrom: true, HasTo: true}
			return sum(scopes, s)
		}
	case v.Text == typ.Owner:
		aim = func(m engine.Member) (exact.Num, bool) {
			return sum(d.scopes(who, typ.Key, &brief.Whose{People: []string{of(readers.Key, m.Key)}}), span)
		}
	case v.Text == typ.Owner+"."+readers.Team:
		aim = func(m engine.Member) (exact.Num, bool) {
			return sum(d.scopes(who, typ.Key, &brief.Whose{Teams: []string{of(v.To, m.Key)}}), span)
		}
	default:
		return nil
	}
	return func(m engine.Member) (exact.Num, bool) {
		if !m.Value() {
			return exact.Num{}, false
		}
		return aim(m)
	}
}

// measuresOther says where a report counts something else than the measure does that it is held against.
func (d *Desk) measuresOther(who Person, m *Measure, b *brief.Bound) string {
	of, err := d.Bind(m.Brief)
	if err != nil {
		return ""
	}
	same := func(b *brief.Bound) [4]string {
		first := b.Summaries[0].Source
		return [4]string{b.Parts[0].Start().Key, b.Parts[0].Part.Period.Field, first.Fn, first.Of + first.Formula}
	}
	words := func(b *brief.Bound) string {
		return fmt.Sprintf("“%s, by %s”", brief.SummaryLabel(b, b.Summaries[0]), brief.ValueWords(b.Parts[0].Period.Value))
	}
	if same(of) != same(b) {
		return fmt.Sprintf("The target for %s is of %s; this report shows %s.", m.Name, words(of), words(b))
	}
	has := map[string]bool{}
	for _, c := range conditions(b.Parts[0].Part.Filter) {
		has[c] = true
	}
	for _, c := range conditions(m.Brief.Filter) {
		if !has[c] {
			return fmt.Sprintf("The target for %s is only of those that its own conditions leave: %s", m.Name, d.MeasureWords(who, m))
		}
	}
	return ""
}

// conditions are the conditions that hold together in a filter, each as text.
func conditions(t *brief.Tree) []string {
	if t == nil {
		return nil
	}
	list := t.All
	if list == nil {
		list = []brief.Tree{*t}
	}
	var out []string
	for _, c := range list {
		c.Ask, c.Fixed = false, false
		text, err := json.Marshal(c)
		if err == nil {
			out = append(out, string(text))
		}
	}
	return out
}

// MeasureWords says what a measure counts: "Deals, where status is won, showing sum of value, by closed."
func (d *Desk) MeasureWords(who Person, m *Measure) string {
	b, err := d.Bind(m.Brief)
	if err != nil {
		return ""
	}
	var text strings.Builder
	for _, c := range d.Say(who, b) {
		if c.Key != "whose" && c.Key != "period" {
			text.WriteString(c.Lead + c.Text)
		}
	}
	return text.String() + ", by " + brief.ValueWords(b.Parts[0].Period.Value) + "."
}

func andList(list []string) string {
	if len(list) < 2 {
		return strings.Join(list, "")
	}
	if len(list) > 4 {
		return fmt.Sprintf("%s, %s and %d more", list[0], list[1], len(list)-2)
	}
	return strings.Join(list[:len(list)-1], ", ") + " and " + list[len(list)-1]
}

// scopeWords names scopes.
func (d *Desk) scopeWords(list []target.Scope) string {
	var names []string
	for _, s := range list {
		names = append(names, d.scopeName(s))
	}
	if len(names) == 0 {
		return "nobody"
	}
	return andList(names)
}

func (d *Desk) scopeName(s target.Scope) string {
	readers := d.Snapshot().Schema.Readers()
	switch s.Kind {
	case target.Team:
		return d.Snapshot().NameOf(readers.Field(readers.Team).To, s.ID, nil)
	case target.Person:
		return d.Snapshot().NameOf(readers.Key, s.ID, nil)
	}
	return "everyone"
}
