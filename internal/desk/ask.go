package desk

import (
	"context"
	"encoding/json"
	"errors"
	"sort"
	"strconv"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/chart"
	"uzzel/core/column"
	"uzzel/core/engine"
	"uzzel/core/schema"
	"uzzel/internal/store"
)

// question is what a result depends on; two questions that are equal have the same answer.
type question struct {
	brief  string
	snap   *column.Snapshot
	day    int32
	reader int64
	sees   *map[string]engine.Sees
	looks  *looks
	aims   *targets
	more   string
}

// Answer is what a brief comes to, with its sentence.
type Answer struct {
	Bound    *brief.Bound
	Sentence brief.Sentence
	Result   *engine.Result
	Details  *engine.Details // nil where only totals are asked for
	Drawing  *chart.Drawing
	Writer   chart.Writer
}

// fewDetails is how many records each group shows at once.
const fewDetails = 3

func (d *Desk) opts(who Person) engine.Options {
	return engine.Options{Today: d.today(), Reader: who.id(), Sees: *d.sees.Load()}
}

func (d *Desk) question(who Person, b *brief.Brief, more string) (question, error) {
	text, err := json.Marshal(b)
	return question{string(text), d.Snapshot(), d.today(), who.ID, d.sees.Load(), d.looks.Load(), d.targets.Load(), more}, err
}

// Bind checks a brief; what is wrong comes back as brief.Problems.
func (d *Desk) Bind(b *brief.Brief) (*brief.Bound, error) { return brief.Bind(b, d.Snapshot().Schema) }

// Writer writes values for people.
func (d *Desk) Writer() chart.Writer {
	snap := d.Snapshot()
	l := d.looks.Load()
	return chart.Writer{Style: &l.house, Styles: l.byKey, Currency: snap.Schema.Settings.Currency, Cal: snap.Cal}
}

// Say is the sentence of a bound brief for a person: records that the person may not see are said by their number.
func (d *Desk) Say(who Person, b *brief.Bound) brief.Sentence {
	return brief.Say(b, d.today(), d.names(who))
}

// Ask answers a brief.
func (d *Desk) Ask(ctx context.Context, who Person, b *brief.Brief) (*Answer, error) {
	q, err := d.question(who, b, "")
	if err != nil {
		return nil, err
	}
	if a, ok := d.answers.Get(q); ok {
		return a, nil
	}
	bound, err := d.Bind(b)
	if err != nil {
		return nil, err
	}
	a := &Answer{Bound: bound, Sentence: d.Say(who, bound), Writer: d.Writer()}
	aim, missing := "", ""
	if b.TargetOf != "" {
		aim, missing = d.aimed(who, bound)
		a.Writer.Aims = d.aims(who, bound)
	}
	if a.Result, a.Details, err = d.result(ctx, who, bound); err != nil {
		return nil, err
	}
	if c := b.Chart; c != nil && c.Steps && c.Kind == "funnel" {
		if a.Writer.Steps, err = d.steps(ctx, who, bound); err != nil {
			return nil, err
		}
	}
	a.Drawing = chart.Draw(a.Result, b.Chart, a.Writer)
	if a.Drawing.Progress != nil {
		a.Drawing.Progress.Of = aim
	}
	if missing != "" {
		a.Drawing.Notes = append(a.Drawing.Notes, missing)
	}
	d.answers.Add(q, a)
	return a, nil
}

// numbers is what a brief comes to before it is drawn.
type numbers struct {
	result  *engine.Result
	details *engine.Details // nil where they were not asked for yet
}

// bare is the question that a brief's numbers answer: they hang neither on its chart, nor on the house style, nor on
// whether records are shown.
func (d *Desk) bare(who Person, bound *brief.Bound) (question, error) {
	b := *bound.Brief
	b.Chart, b.TotalsOnly = nil, false
	q, err := d.question(who, &b, "")
	q.looks = nil
	return q, err
}

// steps works out how many of a brief's records went on from each stage.
func (d *Desk) steps(ctx context.Context, who Person, bound *brief.Bound) (map[string]engine.Step, error) {
	q, err := d.bare(who, bound)
	if err != nil {
		return nil, err
	}
	if steps, ok := d.stepsOf.Get(q); ok {
		return steps, nil
	}
	steps, err := engine.Steps(ctx, q.snap, bound, d.opts(who))
	if err != nil {
		return nil, d.runError(err)
	}
	d.stepsOf.Add(q, steps)
	return steps, nil
}

// result works out what a bound brief comes to; not again where one was answered that differs in its looks alone.
func (d *Desk) result(ctx context.Context, who Person, bound *brief.Bound) (*engine.Result, *engine.Details, error) {
	b := bound.Brief
	detailed := !b.TotalsOnly && len(b.Parts) == 0 && len(b.Groups) > 0
	q, err := d.bare(who, bound)
	if err != nil {
		return nil, nil, err
	}
	n, ok := d.results.Get(q)
	switch {
	case ok && !detailed:
		return n.result, nil, nil
	case ok && n.details != nil:
		return n.result, n.details, nil
	case detailed:
		n.result, n.details, err = engine.RunWithDetails(ctx, q.snap, withName(bound), d.opts(who), fewDetails)
	default:
		n.result, err = engine.Run(ctx, q.snap, bound, d.opts(who))
	}
	if err != nil {
		return nil, nil, d.runError(err)
	}
	d.results.Add(q, n)
	return n.result, n.details, nil
}

func (d *Desk) runError(err error) error {
	if errors.Is(err, engine.ErrReader) {
		return fail(Invalid, "/whose", "%s", err)
	}
	return err
}

// List is a list of records that pages are read from.
type List struct {
	*engine.Records
	Bound    *brief.Bound
	Sentence brief.Sentence
	Writer   chart.Writer
}

// List gives the list of records of a brief.
func (d *Desk) List(ctx context.Context, who Person, b *brief.Brief) (*List, error) {
	return d.list(who, b, "list", func(bound *brief.Bound, snap *column.Snapshot) (*engine.Records, error) {
		return engine.List(ctx, snap, bound, d.opts(who))
	})
}

// Behind gives the records behind marks of a brief's result.
func (d *Desk) Behind(ctx context.Context, who Person, b *brief.Brief, part int, marks []engine.Mark) (*List, error) {
	text, err := json.Marshal(marks)
	if err != nil {
		return nil, err
	}
	if part < 0 || part >= max(1, len(b.Parts)) {
		return nil, fail(Invalid, "/part", "there is no part %d", part)
	}
	return d.list(who, b, strconv.Itoa(part)+string(text), func(bound *brief.Bound, snap *column.Snapshot) (*engine.Records, error) {
		l, err := engine.Behind(ctx, snap, bound, d.opts(who), part, marks)
		if err != nil && ctx.Err() == nil {
			var p brief.Problems
			if !errors.As(err, &p) {
				err = fail(Invalid, "/marks", "%s", err)
			}
		}
		return l, err
	})
}

func (d *Desk) list(who Person, b *brief.Brief, more string, work func(*brief.Bound, *column.Snapshot) (*engine.Records, error)) (*List, error) {
	q, err := d.question(who, b, more)
	if err != nil {
		return nil, err
	}
	if l, ok := d.lists.Get(q); ok {
		return l, nil
	}
	bound, err := d.Bind(b)
	if err != nil {
		return nil, err
	}
	records, err := work(withName(bound), q.snap)
	if err != nil {
		return nil, d.runError(err)
	}
	l := &List{records, bound, d.Say(who, bound), d.Writer()}
	d.lists.Add(q, l)
	return l, nil
}

// withName gives a brief without columns the ones that the interface shows by default: those of the record type that
// say most.
func withName(b *brief.Bound) *brief.Bound {
	if len(b.Columns) > 0 || len(b.Parts) > 1 {
		return b
	}
	c := *b.Brief
	c.Columns = DefaultColumns(b.Parts[0].Start())
	if bound, err := brief.Bind(&c, b.Schema); err == nil {
		return bound
	}
	return b
}

// DefaultColumns are the columns of a list of which nothing else is said: the name, then its links, choices, amounts
// and dates, six in all.
func DefaultColumns(t *schema.Type) []brief.Column {
	var list []brief.Column
	add := func(ok func(f *schema.Field) bool, most int) {
		for i := range t.Fields {
			f := &t.Fields[i]
			if len(list) < 6 && most > 0 && ok(f) && !f.Added && !strings.HasPrefix(f.Key, "created_") && !strings.HasPrefix(f.Key, "changed") {
				list, most = append(list, brief.Column{Field: f.Key}), most-1
			}
		}
	}
	add(func(f *schema.Field) bool { return f.Key == t.Name || (t.Name == "" && f.Kind == schema.ID) }, 1)
	add(func(f *schema.Field) bool { return f.Kind == schema.Link && f.Worked == nil }, 2)
	add(func(f *schema.Field) bool { return f.Ordered && f.Worked == nil }, 1)
	add(func(f *schema.Field) bool { return f.Kind == schema.Money && f.Worked == nil }, 1)
	add(func(f *schema.Field) bool { return f.Kind.Dated() && f.Worked == nil }, 1)
	add(func(f *schema.Field) bool { return f.Kind == schema.Choice && !f.Ordered }, 6)
	return list
}

// FoundValue is a value that a field has, and in how many records.
type FoundValue struct {
	Value string
	Label string
	Count int64
}

// Values lists the values that a path has among all records of a type: the most frequent first, or in set order.
func (d *Desk) Values(ctx context.Context, who Person, start, path, search string) ([]FoundValue, error) {
	b := &brief.Brief{Version: brief.Version, Part: brief.Part{Start: start}, Groups: []brief.Group{{Field: path}}, TotalsOnly: true}
	bound, err := d.Bind(b)
	if err != nil {
		return nil, err
	}
	v := bound.Groups[0].Values[0]
	res, err := engine.Run(ctx, d.Snapshot(), bound, d.opts(who))
	if err != nil {
		return nil, err
	}
	listed := map[string]bool{}
	out := []FoundValue{}
	want := column.Fold(strings.TrimSpace(search))
	for _, n := range res.Rows[0].Children {
		m := res.Rows[n]
		if m.Blank || (want != "" && !strings.Contains(column.Fold(m.Label), want)) {
			continue
		}
		count, _ := res.Cell(n, 0).Plain[0].Num.Scaled(1)
		listed[m.Label] = true
		out = append(out, FoundValue{strings.TrimPrefix(res.KeyOf(true, n), "="), m.Label, count})
	}
	if v.Field != nil {
		for _, c := range v.Field.Choices {
			if !listed[c] && (want == "" || strings.Contains(column.Fold(c), want)) {
				out = append(out, FoundValue{c, c, 0})
			}
		}
	}
	if v.Kind == schema.Text || v.Kind == schema.Link {
		sort.SliceStable(out, func(i, j int) bool { return out[i].Count > out[j].Count })
	}
	return out[:min(len(out), 200)], nil
}

func mapStore(err error, what string) error {
	switch {
	case errors.Is(err, store.ErrNotFound):
		return fail(NotFound, "", "There is no such %s, or you may not open it.", what)
	case errors.Is(err, store.ErrStale):
		return fail(Stale, "", "This %s was changed by someone else meanwhile. Open it again to see what it is now; your change is not lost while this page is open.", what)
	}
	return err
}
