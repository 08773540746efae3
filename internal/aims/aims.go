// Package aims is what is aimed at: the measures that targets are set for, the targets in force, and what they say of a
// report (docs/brief.md, targets).
package aims

import (
	"context"
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
	"uzzel/core/result"
	"uzzel/core/target"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

// Measure is what targets are set for: a name, and the brief whose first summary gives the value, by its period's date.
type Measure struct {
	Key   string
	Name  string
	Brief *brief.Brief
	// Version is that of its targets, which counts changes of its name too.
	Version int
}

// Progress is a report on how far the measure has come this quarter towards its target.
func (m *Measure) Progress() *brief.Brief {
	b := &brief.Brief{Version: brief.Version, Part: m.Brief.Part, TargetOf: m.Key, Chart: &brief.Chart{Kind: "progress"}}
	b.Period = &brief.MainPeriod{
		Field:  m.Brief.Period.Field,
		Within: brief.Period{Period: period.Period{Word: "this_quarter"}},
	}
	return b
}

// Words say what a measure counts: "Deals, where status is won, showing sum of value, by closed."
func (m *Measure) Words(s Scene) string {
	b, err := brief.Bind(m.Brief, s.Snap.Schema)
	if err != nil {
		return ""
	}
	var text strings.Builder
	for _, c := range s.Say(b) {
		if c.Key != "whose" && c.Key != "period" {
			text.WriteString(c.Lead + c.Text)
		}
	}
	return text.String() + ", by " + brief.ValueWords(b.Parts[0].Period.Value) + "."
}

// Set are all measures and their targets. It is never changed, only replaced.
type Set struct {
	Measures []Measure // by name
	Book     *target.Book
}

// Measure is the measure of a key; nil for none.
func (s *Set) Measure(key string) *Measure {
	for i := range s.Measures {
		if s.Measures[i].Key == key {
			return &s.Measures[i]
		}
	}
	return nil
}

// Named is the measure of a name, case aside; nil for none.
func (s *Set) Named(name string) *Measure {
	for i := range s.Measures {
		if column.Fold(s.Measures[i].Name) == column.Fold(strings.TrimSpace(name)) {
			return &s.Measures[i]
		}
	}
	return nil
}

// Read reads the measures and targets that are in force.
func Read(ctx context.Context, from *store.Store) (*Set, error) {
	rows, err := from.Measures(ctx)
	if err != nil {
		return nil, err
	}
	versions, err := from.SettingVersions(ctx, store.SettingTargets)
	if err != nil {
		return nil, err
	}
	out := &Set{}
	for _, r := range rows {
		b, err := brief.Decode([]byte(r.Brief))
		if err != nil {
			return nil, fmt.Errorf("measure %s: %w", r.Key, err)
		}
		out.Measures = append(
			out.Measures,
			Measure{Key: r.Key, Name: r.Name, Brief: brief.Unfixed(b), Version: versions[r.Key]},
		)
	}
	list, err := from.Targets(ctx)
	if err != nil {
		return nil, err
	}
	entries := make([]target.Entry, 0, len(list))
	for _, r := range list {
		n, ok := exact.Parse(r.Amount)
		if !ok {
			return nil, fmt.Errorf("target of %s: %q is no amount", r.Measure, r.Amount)
		}
		entries = append(
			entries,
			target.Entry{Measure: r.Measure, Scope: scopeOf(r.Kind, r.Subject), Month: target.Month(r.Month), Amount: n},
		)
	}
	out.Book = target.NewBook(entries)
	return out, nil
}

func scopeOf(kind string, id int64) target.Scope {
	if kind == "" {
		return target.Scope{}
	}
	return target.Scope{Kind: kind, ID: strconv.FormatInt(id, 10)}
}

// Scene is who asks, over which records, on which day.
type Scene struct {
	Snap *column.Snapshot
	Who  people.Person
	Sees map[string]engine.Sees
	Day  int32
	Set  *Set
	Say  func(b *brief.Bound) brief.Sentence
}

// Aim is what a report is held against.
type Aim struct {
	Amount  *exact.Num // nil where nothing is set
	Words   string     // what it is for
	Missing string     // for which part of it nothing is set, or that it is of something else; "" for nothing
	Groups  chart.Aims // what is aimed at in each group; nil where groups have no targets of their own
}

// Of looks up what a bound brief that names a measure is held against.
func (s Scene) Of(b *brief.Bound) Aim {
	m := s.Set.Measure(b.Brief.TargetOf)
	if m == nil {
		return Aim{Missing: fmt.Sprintf("There is no measure “%s” that targets are set for.", b.Brief.TargetOf)}
	}
	part := b.Parts[0]
	span := b.Cal.Resolve(part.Period.Within, s.Day)
	scopes := s.scopes(part.Start().Key, part.Part.Whose)
	sum := s.Set.Book.Sum(m.Key, scopes, Tree(s.Snap), span)
	whom := s.scopeWords(scopes)
	aim := Aim{
		Words:   fmt.Sprintf("%s · %s · %s", m.Name, whom, brief.SpanWords(span)),
		Missing: s.other(m, b),
		Groups:  s.groups(m, b),
	}
	if !sum.Set {
		aim.Missing = strings.TrimSpace(
			aim.Missing + fmt.Sprintf(" No target for %s is set for %s in %s.", m.Name, whom, brief.SpanWords(span)),
		)
		return aim
	}
	aim.Amount = &sum.Amount
	if sum.ByDays {
		aim.Words += ", by days"
	}
	if len(sum.Open) > 0 {
		var months []string
		for _, o := range sum.Open {
			months = append(months, brief.MonthWords(o.Span().From))
		}
		aim.Missing = strings.TrimSpace(
			aim.Missing + fmt.Sprintf(
				" No target for %s is set for %s in %s, so that it counts as nothing there.",
				m.Name,
				whom,
				andList(months),
			),
		)
	}
	return aim
}

// groups gives what is aimed at in each group of a bound brief: by the period's own date, by owner, or by the owner's
// team.
func (s Scene) groups(m *Measure, b *brief.Bound) chart.Aims {
	if len(b.Groups) == 0 {
		return nil
	}
	part, snap := b.Parts[0], s.Snap
	typ, readers := part.Start(), snap.Schema.Readers()
	span := b.Cal.Resolve(part.Period.Within, s.Day)
	tree := Tree(snap)
	sum := func(scopes []target.Scope, in period.Span) (exact.Num, bool) {
		got := s.Set.Book.Sum(m.Key, scopes, tree, in)
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
		scopes := s.scopes(typ.Key, part.Part.Whose)
		aim = func(m result.Member) (exact.Num, bool) {
			return sum(
				scopes,
				period.Span{
					From:    max(span.From, b.Cal.First(g.Group.By, int(m.Key))),
					To:      min(span.To, b.Cal.Last(g.Group.By, int(m.Key))),
					HasFrom: true,
					HasTo:   true,
				},
			)
		}
	case v.Text == typ.Owner:
		aim = func(m result.Member) (exact.Num, bool) {
			return sum(s.scopes(typ.Key, &brief.Whose{People: []string{of(readers.Key, m.Key)}}), span)
		}
	case v.Text == typ.Owner+"."+readers.Team:
		aim = func(m result.Member) (exact.Num, bool) {
			return sum(s.scopes(typ.Key, &brief.Whose{Teams: []string{of(v.To, m.Key)}}), span)
		}
	default:
		return nil
	}
	return func(m result.Member) (exact.Num, bool) {
		if !m.Value() {
			return exact.Num{}, false
		}
		return aim(m)
	}
}

// other says where a report counts something else than the measure does that it is held against; "" for nowhere.
func (s Scene) other(m *Measure, b *brief.Bound) string {
	of, err := brief.Bind(m.Brief, s.Snap.Schema)
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
			return fmt.Sprintf("The target for %s is only of those that its own conditions leave: %s", m.Name, m.Words(s))
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
