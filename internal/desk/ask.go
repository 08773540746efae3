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

// Answer is what a brief comes to, with its sentence.
type Answer struct {
	numbers
	Bound    *brief.Bound
	Sentence brief.Sentence
	Drawing  *chart.Drawing
	Writer   chart.Writer
	Unseen   string // what the reader does not see of what it reads, in words
}

// Bind checks a brief; what is wrong comes back as brief.Problems.
func (d *Desk) Bind(b *brief.Brief) (*brief.Bound, error) { return brief.Bind(b, d.Snapshot().Schema) }

// Writer writes values for people.
func (d *Desk) Writer() chart.Writer {
	return writer(d.Snapshot(), d.looks.now())
}

func writer(snap *column.Snapshot, l *looks) chart.Writer {
	return chart.Writer{Style: &l.house, Styles: l.byKey, Currency: snap.Schema.Settings.Currency, Cal: snap.Cal}
}

// writer writes for the view's person: records by their names as that person sees them.
func (v view) writer() chart.Writer {
	w := writer(v.snap, v.looks)
	w.NameOf = v.names()
	return w
}

// Say is the sentence of a bound brief for a person: records that the person may not see are said by their number.
func (d *Desk) Say(who Person, b *brief.Bound) brief.Sentence { return d.view(who).say(b) }

func (v view) say(b *brief.Bound) brief.Sentence {
	return brief.SayTo(b, v.day, v.names(), brief.Listener{Limited: v.sight.Limited, Reads: !v.who.MayCompose()})
}

// Ask answers a brief.
func (d *Desk) Ask(ctx context.Context, who Person, b *brief.Brief) (*Answer, error) {
	v := d.view(who)
	return d.ask(ctx, v, b)
}

func (d *Desk) ask(ctx context.Context, v view, b *brief.Brief) (*Answer, error) {
	q, err := v.question(b, "answer")
	if err != nil {
		return nil, err
	}
	return answer(ctx, d, q, func(ctx context.Context) (*Answer, error) {
		bound, err := brief.Bind(b, v.snap.Schema)
		if err != nil {
			return nil, err
		}
		a := &Answer{Bound: bound, Sentence: v.say(bound), Writer: v.writer()}
		aim, missing := "", ""
		if b.TargetOf != "" {
			aim, missing = d.aimed(v, bound)
			a.Writer.Aims = d.aims(v, bound)
		}
		if a.numbers, err = d.result(ctx, v, bound); err != nil {
			return nil, err
		}
		if c := b.Chart; c != nil && c.Steps && c.Kind == "funnel" {
			if a.Writer.Steps, err = d.steps(ctx, v, bound); err != nil {
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
		a.Unseen = unseen(bound, a.Result.Hidden, a.Result.Partly, v)
		return a, nil
	}, func(a *Answer) int64 {
		points := 0
		for _, s := range a.Drawing.Series {
			points += len(s.Points)
		}
		return a.bytes() + int64(points+len(a.Drawing.Categories))*400
	})
}

// unseen says in words what a reader does not see of what a brief reads: "" for nothing.
func unseen(b *brief.Bound, hidden int64, partly []string, v view) string {
	var list []string
	if hidden > 0 {
		what := brief.Counted(&schema.Type{Label: "records", One: "record"}, hidden)
		if len(b.Parts) == 1 {
			what = brief.Counted(b.Parts[0].Start(), hidden)
		}
		verb := "have"
		if hidden == 1 {
			verb = "has"
		}
		list = append(list, what+" "+verb+" something here that is not yours to see")
	}
	for _, typ := range partly {
		if t := v.snap.Schema.Type(typ); t != nil {
			list = append(list, "of the "+strings.ToLower(t.Label)+" it reads only those that you may see")
		}
	}
	return strings.Join(list, "; ")
}

// numbers is what a brief comes to before it is drawn.
type numbers struct {
	Result *engine.Result
}

func (n numbers) bytes() int64 { return n.Result.Bytes() }

// bare is the question that a brief's numbers answer: they hang neither on its chart, nor on the house style, nor on
// whether records are shown.
func (v view) bare(bound *brief.Bound, more string) (question, error) {
	b := *bound.Brief
	b.Chart, b.TotalsOnly = nil, false
	q, err := v.question(&b, more)
	q.looks = nil
	return q, err
}

// steps works out how many of a brief's records went on from each stage.
func (d *Desk) steps(ctx context.Context, v view, bound *brief.Bound) (map[string]engine.Step, error) {
	q, err := v.bare(bound, "steps")
	if err != nil {
		return nil, err
	}
	return answer(ctx, d, q, func(ctx context.Context) (by map[string]engine.Step, err error) {
		return by, d.run(ctx, v, bound, false, func(ctx context.Context, opts engine.Options) error {
			by, err = engine.Steps(ctx, v.snap, bound, opts)
			return err
		})
	}, func(by map[string]engine.Step) int64 { return int64(len(by)) * 60 })
}

// result works out what a bound brief comes to; not again where one was answered that differs in its looks alone.
func (d *Desk) result(ctx context.Context, v view, bound *brief.Bound) (numbers, error) {
	q, err := v.bare(bound, "numbers")
	if err != nil {
		return numbers{}, err
	}
	return answer(ctx, d, q, func(ctx context.Context) (n numbers, err error) {
		return n, d.run(ctx, v, bound, false, func(ctx context.Context, opts engine.Options) error {
			n.Result, err = engine.Run(ctx, v.snap, bound, opts)
			return err
		})
	}, numbers.bytes)
}

// Grouped is the rows of a brief's groups, with where those of each group are.
type Grouped struct {
	*List
	Result *engine.Result
	Runs   []engine.GroupRun
}

// Grouped gives the rows of a brief's innermost groups, one group after the other.
func (d *Desk) Grouped(ctx context.Context, who Person, b *brief.Brief) (*Grouped, error) {
	return d.grouped(ctx, d.view(who), b)
}

func (d *Desk) grouped(ctx context.Context, v view, b *brief.Brief) (*Grouped, error) {
	q, err := v.question(b, "groups and records")
	if err != nil {
		return nil, err
	}
	return answer(ctx, d, q, func(ctx context.Context) (*Grouped, error) {
		bound, err := brief.Bind(b, v.snap.Schema)
		if err != nil {
			return nil, err
		}
		if len(bound.Parts) > 1 || bound.Rows == 0 {
			return nil, fail(Invalid, "/brief/groups", "Records stand under groups of one record type.")
		}
		g := &Grouped{List: &List{Bound: bound, Sentence: v.say(bound), Writer: v.writer(), d: d, v: v}}
		err = d.run(ctx, v, bound, false, func(ctx context.Context, opts engine.Options) error {
			res, rows, err := engine.RunGrouped(ctx, v.snap, withName(bound), opts)
			if err == nil {
				g.Result, g.Records, g.Runs = res, rows.Records, rows.Runs
			}
			return err
		})
		if err != nil {
			return nil, err
		}
		g.Unseen = unseen(bound, g.Result.Hidden, g.Result.Partly, v)
		return g, nil
	}, func(g *Grouped) int64 { return g.Bytes() + g.Result.Bytes() + int64(len(g.Runs))*24 })
}

// List is a list of records that pages are read from.
type List struct {
	*engine.Records
	Bound    *brief.Bound
	Sentence brief.Sentence
	Writer   chart.Writer
	Unseen   string // what the reader does not see of what it reads, in words

	d *Desk
	v view
}

// Page writes the rows from one place up to another.
func (l *List) Page(ctx context.Context, from, to int) (page *engine.Page, err error) {
	err = l.d.run(ctx, l.v, l.Bound, false, func(ctx context.Context, opts engine.Options) error {
		page, err = l.Read(ctx, opts.Budget, from, to)
		return err
	})
	return page, err
}

// List gives the list of records of a brief.
func (d *Desk) List(ctx context.Context, who Person, b *brief.Brief) (*List, error) {
	v := d.view(who)
	return d.list(ctx, v, b, "list", func(ctx context.Context, bound *brief.Bound, opts engine.Options) (*engine.Records, error) {
		return engine.List(ctx, v.snap, bound, opts)
	})
}

// Behind gives the records behind marks of a brief's result.
func (d *Desk) Behind(ctx context.Context, who Person, b *brief.Brief, part int, marks []engine.Mark) (*List, error) {
	if len(marks) > MaxMarks {
		return nil, fail(Invalid, "/marks", "At most %d marks are opened together.", MaxMarks)
	}
	text, err := json.Marshal(marks)
	if err != nil {
		return nil, err
	}
	if part < 0 || part >= max(1, len(b.Parts)) {
		return nil, fail(Invalid, "/part", "there is no part %d", part)
	}
	v := d.view(who)
	return d.list(ctx, v, b, "behind "+strconv.Itoa(part)+string(text), func(ctx context.Context, bound *brief.Bound, opts engine.Options) (*engine.Records, error) {
		l, err := engine.Behind(ctx, v.snap, bound, opts, part, marks)
		if errors.Is(err, engine.ErrMark) {
			err = fail(Invalid, "/marks", "%s", err)
		}
		return l, err
	})
}

// MaxMarks is how many marks are opened together at most.
const MaxMarks = 1000

func (d *Desk) list(ctx context.Context, v view, b *brief.Brief, more string, work func(ctx context.Context, bound *brief.Bound, opts engine.Options) (*engine.Records, error)) (*List, error) {
	q, err := v.question(b, more)
	if err != nil {
		return nil, err
	}
	return answer(ctx, d, q, func(ctx context.Context) (*List, error) {
		bound, err := brief.Bind(b, v.snap.Schema)
		if err != nil {
			return nil, err
		}
		l := &List{Bound: bound, Sentence: v.say(bound), Writer: v.writer(), d: d, v: v}
		err = d.run(ctx, v, bound, false, func(ctx context.Context, opts engine.Options) error {
			l.Records, err = work(ctx, withName(bound), opts)
			return err
		})
		if err != nil {
			return nil, err
		}
		l.Unseen = unseen(bound, l.Hidden, l.Partly, v)
		return l, nil
	}, (*List).Bytes)
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
	return d.values(ctx, d.view(who), start, path, search)
}

func (d *Desk) values(ctx context.Context, v view, start, path, search string) ([]FoundValue, error) {
	of, found, err := d.counts(ctx, v, brief.Part{Start: start}, path)
	if err != nil {
		return nil, err
	}
	listed := map[string]bool{}
	out := []FoundValue{}
	want := column.Fold(strings.TrimSpace(search))
	for _, f := range found {
		if want == "" || strings.Contains(column.Fold(f.Label), want) {
			listed[f.Label] = true
			out = append(out, f)
		}
	}
	if of.Field != nil {
		for _, c := range of.Field.Choices {
			if !listed[c] && (want == "" || strings.Contains(column.Fold(c), want)) {
				out = append(out, FoundValue{c, c, 0})
			}
		}
	}
	if of.Kind == schema.Text || of.Kind == schema.Link {
		sort.SliceStable(out, func(i, j int) bool { return out[i].Count > out[j].Count })
	}
	return out[:min(len(out), 200)], nil
}

// ValuesWithin is Values with how many records of a report each value has: under its whose, period and conditions.
func (d *Desk) ValuesWithin(ctx context.Context, who Person, b *brief.Brief, path, search string) ([]FoundValue, error) {
	v := d.view(who)
	list, err := d.values(ctx, v, b.Start, path, search)
	if err != nil || len(b.Parts) > 0 {
		return list, err
	}
	part := brief.Part{Start: b.Start, Whose: b.Whose, Period: b.Period, Filter: b.Filter, Own: b.Own, Fixed: b.Fixed}
	_, found, err := d.counts(ctx, v, part, path)
	if err != nil {
		return nil, err
	}
	within := map[string]int64{}
	for _, f := range found {
		within[f.Value] = f.Count
	}
	for i := range list {
		list[i].Count = within[list[i].Value]
	}
	return list, nil
}

// counts gives the values that a path has among the records of a part, in their order, with what the path reads.
func (d *Desk) counts(ctx context.Context, v view, part brief.Part, path string) (*brief.Value, []FoundValue, error) {
	bound, err := d.Bind(&brief.Brief{Version: brief.Version, Part: part, Groups: []brief.Group{{Field: path}}, TotalsOnly: true})
	if err != nil {
		return nil, nil, err
	}
	res, err := d.numbersOf(ctx, v, bound)
	if err != nil {
		return nil, nil, err
	}
	var found []FoundValue
	for _, n := range res.Rows[0].Children {
		if m := res.Rows[n]; m.Value() {
			count, _ := res.Cell(n, 0).Plain[0].Num.Scaled(1)
			found = append(found, FoundValue{strings.TrimPrefix(res.KeyOf(true, n), "="), m.Label, count})
		}
	}
	return bound.Groups[0].Values[0], found, nil
}

func mapStore(err error, what string) error {
	switch {
	case errors.Is(err, store.ErrNotFound):
		return fail(NotFound, "", "There is no such %s, or you may not open it.", what)
	case errors.Is(err, store.ErrGone):
		return fail(Invalid, "/folder", "The folder was taken away meanwhile. Choose another; nothing else is lost.")
	case errors.Is(err, store.ErrStale):
		return fail(Stale, "", "This %s was changed by someone else meanwhile. Open it again to see what it is now; your change is not lost while this page is open.", what)
	}
	return err
}

// AsReport gives what is behind marks as a report of its own: the records of the part that it is about, narrowed to what
// the marks show, with the report's columns. What cannot be asked for by conditions is refused in words.
func (d *Desk) AsReport(ctx context.Context, who Person, own, asked *brief.Brief, part int, marks []engine.Mark) (*brief.Brief, error) {
	if part < 0 || part >= max(1, len(asked.Parts)) {
		return nil, fail(Invalid, "/part", "there is no part %d", part)
	}
	v := d.view(who)
	bound, err := brief.Bind(asked, v.snap.Schema)
	if err != nil {
		return nil, err
	}
	var cond *brief.Tree
	err = d.run(ctx, v, bound, false, func(ctx context.Context, opts engine.Options) error {
		cond, err = engine.Conditions(ctx, v.snap, bound, opts, part, marks)
		return err
	})
	switch {
	case errors.Is(err, engine.ErrUnsayable), errors.Is(err, engine.ErrMark):
		return nil, fail(Invalid, "/marks", "%s", strings.ToUpper(err.Error()[:1])+err.Error()[1:]+".")
	case err != nil:
		return nil, err
	}
	out := &brief.Brief{Version: brief.Version, Part: own.Part, Columns: own.Columns, Order: own.Order}
	if len(own.Parts) > 0 {
		out.Part, out.Columns, out.Order = own.Parts[part], nil, nil
		out.Key = ""
	}
	out.Summaries = nil
	filter := brief.Tree{All: []brief.Tree{}}
	if f := out.Filter; f != nil && f.All != nil {
		filter.All = append(filter.All, f.All...)
	} else if f != nil {
		filter.All = append(filter.All, *f)
	}
	if cond.All != nil {
		filter.All = append(filter.All, cond.All...)
	} else {
		filter.All = append(filter.All, *cond)
	}
	out.Filter = &filter
	return out, nil
}
