package desk

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/exact"
	"uzzel/core/period"
	"uzzel/core/target"
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
	b.Period = &brief.MainPeriod{Field: m.Brief.Period.Field, Within: brief.Period{Period: period.Period{Word: "this_quarter"}}}
	return b
}

// targets are all measures and their amounts.
type targets struct {
	measures []Measure
	book     *target.Book
	versions map[string]int
}

func (t *targets) measure(key string) *Measure {
	for i := range t.measures {
		if t.measures[i].Key == key {
			return &t.measures[i]
		}
	}
	return nil
}

func (d *Desk) readTargets(ctx context.Context) (*targets, error) {
	rows, err := d.store.Measures(ctx)
	if err != nil {
		return nil, err
	}
	out := &targets{}
	if out.versions, err = d.store.SettingVersions(ctx, store.SettingTargets); err != nil {
		return nil, err
	}
	for _, r := range rows {
		b, err := brief.Decode([]byte(r.Brief))
		if err != nil {
			return nil, fmt.Errorf("measure %s: %w", r.Key, err)
		}
		out.measures = append(out.measures, Measure{Key: r.Key, Name: r.Name, Brief: brief.Unfixed(b), Version: out.versions[r.Key]})
	}
	list, err := d.store.Targets(ctx)
	if err != nil {
		return nil, err
	}
	entries := make([]target.Entry, 0, len(list))
	for _, r := range list {
		n, ok := exact.Parse(r.Amount)
		if !ok {
			return nil, fmt.Errorf("target of %s: %q is no amount", r.Measure, r.Amount)
		}
		entries = append(entries, target.Entry{Measure: r.Measure, Scope: scopeOf(r.Kind, r.Subject), Month: target.Month(r.Month), Amount: n})
	}
	out.book = target.NewBook(entries)
	return out, nil
}

func scopeOf(kind string, id int64) target.Scope {
	if kind == "" {
		return target.Scope{}
	}
	return target.Scope{Kind: kind, ID: strconv.FormatInt(id, 10)}
}

// Measures lists the measures by name.
func (d *Desk) Measures() []Measure { return d.targets.now().measures }

// names names the records that the person may see for sentences, and measures.
func (v view) names() brief.Names {
	return func(typ, id string) string {
		if typ == brief.Targets {
			if m := v.targets.measure(id); m != nil {
				return m.Name
			}
			return ""
		}
		return v.name(typ, id)
	}
}

// name is the name of a record that the person may see, told from others of that name that the person may see; "" where
// there is none.
func (v view) name(typ, id string) string {
	return v.snap.NameOf(typ, id, func(row int32) bool { return v.sight.Sees(typ, row) })
}

// Named finds records that a person may see by name for typed sentences, and measures.
func (d *Desk) Named(who Person, typ, name string) []string {
	if typ != brief.Targets {
		v := d.view(who)
		return slices.DeleteFunc(v.snap.Named(typ, name), func(id string) bool { return v.name(typ, id) == "" })
	}
	for _, m := range d.targets.now().measures {
		if column.Fold(m.Name) == column.Fold(strings.TrimSpace(name)) {
			return []string{m.Key}
		}
	}
	return nil
}

func maySetTargets(who Person) error {
	if who.Role != Administrator {
		return fail(Forbidden, "", "Only administrators set targets.")
	}
	return nil
}

// MaxMeasures is how many measures there are at most.
const MaxMeasures = 100

// KeepMeasure makes a measure (no key), or gives one another name and, where there is one, another brief. Of the brief
// only what is measured is kept: which records, which conditions, by which date, the first summary.
func (d *Desk) KeepMeasure(ctx context.Context, who Person, m Measure) (string, error) {
	if err := maySetTargets(who); err != nil {
		return "", err
	}
	known := d.targets.now()
	m.Name = strings.TrimSpace(m.Name)
	switch {
	case m.Name == "" || utf8.RuneCountInString(m.Name) > 60:
		return "", fail(Invalid, "/name", "A measure needs a name of at most 60 characters.")
	case strings.ContainsAny(m.Name, "“”\"\n"):
		return "", fail(Invalid, "/name", "A measure's name has no quotation marks.")
	case m.Key != "" && known.measure(m.Key) == nil:
		return "", fail(NotFound, "", "There is no such measure.")
	case m.Key == "" && m.Brief == nil:
		return "", fail(Invalid, "/brief", "Say what is to be measured: a report over records with a period.")
	case m.Key == "" && len(known.measures) >= MaxMeasures:
		return "", fail(Invalid, "", "There are %d measures, which is as many as there may be.", MaxMeasures)
	}
	if m.Brief == nil && m.Key != "" {
		m.Brief = known.measure(m.Key).Brief
	}
	b, err := d.measured(m.Brief)
	if err != nil {
		return "", err
	}
	if m.Key == "" {
		m.Key = freeKey(m.Name, func(key string) bool { return known.measure(key) != nil })
	}
	text, err := json.Marshal(b)
	if err != nil {
		return "", err
	}
	err = d.store.KeepMeasure(ctx, store.Measure{Key: m.Key, Name: m.Name, Brief: string(text)}, m.Version)
	if errors.Is(err, store.ErrTaken) {
		return "", fail(Taken, "/name", "There is a measure “%s” already.", m.Name)
	}
	if err != nil {
		return "", mapStore(err, "measure")
	}
	d.targetsChanged(ctx)
	return m.Key, nil
}

// measured keeps of a brief what a measure needs, and checks that it is there.
func (d *Desk) measured(b *brief.Brief) (*brief.Brief, error) {
	bound, err := d.Bind(b)
	if err != nil {
		return nil, err
	}
	switch {
	case len(bound.Parts) != 1:
		return nil, fail(Invalid, "/brief", "A measure is of one record type; this has several side by side.")
	case b.Period == nil:
		return nil, fail(Invalid, "/brief", "A measure needs a date field that it goes by: say a period, such as “closed this year”.")
	case bound.Parts[0].Start().Owner == "":
		return nil, fail(Invalid, "/brief", "%s have no owner, so that there is nobody to set a target for.", bound.Parts[0].Start().Label)
	case b.Bring != nil || (len(b.Summaries) > 0 && b.Summaries[0].Formula != ""):
		return nil, fail(Invalid, "/brief", "A measure is a count, a sum or the like of the records themselves, without brought records and formulas.")
	case bound.Summaries[0].Kind.Dated():
		return nil, fail(Invalid, "/brief", "A measure is a number; this gives a date.")
	}
	out := brief.Unfixed(&brief.Brief{Version: brief.Version, Part: b.Part}) // everyone reads what a measure counts
	out.Whose, out.Period = nil, &brief.MainPeriod{Field: b.Period.Field, Within: brief.Period{Period: period.Period{Word: "this_year"}}}
	if len(b.Summaries) > 0 {
		first := b.Summaries[0]
		first.Show = ""
		out.Summaries = []brief.Summary{first}
	}
	return out, nil
}

// DropMeasure takes a measure away with its targets. Reports that go by it say that it is gone.
func (d *Desk) DropMeasure(ctx context.Context, who Person, key string) error {
	if err := maySetTargets(who); err != nil {
		return err
	}
	if err := d.store.DropMeasure(ctx, key); err != nil {
		if errors.Is(err, store.ErrNotFound) {
			return fail(NotFound, "", "There is no such measure.")
		}
		return err
	}
	d.targetsChanged(ctx)
	return nil
}

func (d *Desk) targetsChanged(ctx context.Context) {
	d.settled(ctx, d.targets.refresh)
	d.tell(Event{Kind: KindRecords})
	d.tell(Event{Kind: "targets"})
}
