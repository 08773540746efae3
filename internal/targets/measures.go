// Package targets is where administrators set what is aimed at: measures, and their targets for everyone, teams and
// people month by month.
package targets

import (
	"context"
	"encoding/json"
	"errors"
	"strings"
	"unicode/utf8"

	"uzzel/core/brief"
	"uzzel/core/period"
	"uzzel/internal/aims"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/feed"
	"uzzel/internal/inforce"
	"uzzel/internal/naming"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

// Targets keeps measures and targets.
type Targets struct {
	store    *store.Store
	feed     *feed.Hub
	settings *inforce.Settings
	aims     *inforce.Value[aims.Set]
}

// New keeps targets in a store; set is what is in force, feed is told of changes.
func New(s *store.Store, f *feed.Hub, settings *inforce.Settings, set *inforce.Value[aims.Set]) *Targets {
	return &Targets{store: s, feed: f, settings: settings, aims: set}
}

func maySet(v *answers.View) error {
	if !v.Who.May(people.Aim) {
		return fault.New(fault.Forbidden, "", "Only administrators set targets.")
	}
	return nil
}

// MaxMeasures is how many measures there are at most.
const MaxMeasures = 100

// KeepMeasure makes a measure (no key), or gives one another name and, where there is one, another brief. Of the brief
// only what is measured is kept: which records, which conditions, by which date, the first summary.
func (t *Targets) KeepMeasure(ctx context.Context, v *answers.View, m aims.Measure) (string, error) {
	if err := maySet(v); err != nil {
		return "", err
	}
	m.Name = strings.TrimSpace(m.Name)
	switch {
	case m.Name == "" || utf8.RuneCountInString(m.Name) > 60:
		return "", fault.New(fault.Invalid, "/name", "A measure needs a name of at most 60 characters.")
	case strings.ContainsAny(m.Name, "“”\"\n"):
		return "", fault.New(fault.Invalid, "/name", "A measure's name has no quotation marks.")
	case m.Key != "" && v.Aims.Measure(m.Key) == nil:
		return "", fault.New(fault.NotFound, "", "There is no such measure.")
	case m.Key == "" && m.Brief == nil:
		return "", fault.New(fault.Invalid, "/brief", "Say what is to be measured: a report over records with a period.")
	case m.Key == "" && len(v.Aims.Measures) >= MaxMeasures:
		return "", fault.New(fault.Invalid, "", "There are %d measures, which is as many as there may be.", MaxMeasures)
	}
	if m.Brief == nil && m.Key != "" {
		m.Brief = v.Aims.Measure(m.Key).Brief
	}
	b, err := measured(v, m.Brief)
	if err != nil {
		return "", err
	}
	if m.Key == "" {
		m.Key = naming.FreeKey(m.Name, func(key string) bool { return v.Aims.Measure(key) != nil })
	}
	text, err := json.Marshal(b)
	if err != nil {
		return "", err
	}
	err = t.store.KeepMeasure(ctx, store.Measure{Key: m.Key, Name: m.Name, Brief: string(text)}, m.Version)
	if errors.Is(err, store.ErrTaken) {
		return "", fault.New(fault.Taken, "/name", "There is a measure “%s” already.", m.Name)
	}
	if err != nil {
		return "", fault.FromStore(err, "measure")
	}
	t.changed(ctx)
	return m.Key, nil
}

// measured keeps of a brief what a measure needs, and checks that it is there.
func measured(v *answers.View, b *brief.Brief) (*brief.Brief, error) {
	bound, err := v.Bind(b)
	if err != nil {
		return nil, err
	}
	switch {
	case len(bound.Parts) != 1:
		return nil, fault.New(fault.Invalid, "/brief", "A measure is of one record type; this has several side by side.")
	case b.Period == nil:
		return nil, fault.New(
			fault.Invalid,
			"/brief",
			"A measure needs a date field that it goes by: say a period, such as “closed this year”.",
		)
	case bound.Parts[0].Start().Owner == "":
		return nil, fault.New(
			fault.Invalid,
			"/brief",
			"%s have no owner, so that there is nobody to set a target for.",
			bound.Parts[0].Start().Label,
		)
	case b.Bring != nil || (len(b.Summaries) > 0 && b.Summaries[0].Formula != ""):
		return nil, fault.New(
			fault.Invalid,
			"/brief",
			"A measure is a count, a sum or the like of the records themselves, without brought records and formulas.",
		)
	case bound.Summaries[0].Kind.Dated():
		return nil, fault.New(fault.Invalid, "/brief", "A measure is a number; this gives a date.")
	}
	out := brief.Unfixed(&brief.Brief{Version: brief.Version, Part: b.Part}) // everyone reads what a measure counts
	out.Whose, out.Period = nil, &brief.MainPeriod{
		Field:  b.Period.Field,
		Within: brief.Period{Period: period.Period{Word: "this_year"}},
	}
	if len(b.Summaries) > 0 {
		first := b.Summaries[0]
		first.Show = ""
		out.Summaries = []brief.Summary{first}
	}
	return out, nil
}

// DropMeasure takes a measure away with its targets. Reports that go by it say that it is gone.
func (t *Targets) DropMeasure(ctx context.Context, v *answers.View, key string) error {
	if err := maySet(v); err != nil {
		return err
	}
	if err := t.store.DropMeasure(ctx, key); err != nil {
		if errors.Is(err, store.ErrNotFound) {
			return fault.New(fault.NotFound, "", "There is no such measure.")
		}
		return err
	}
	t.changed(ctx)
	return nil
}

func (t *Targets) changed(ctx context.Context) {
	t.settings.Changed(ctx, t.aims)
	t.feed.Tell(feed.Event{Kind: feed.Records})
	t.feed.Tell(feed.Event{Kind: feed.Targets})
}
