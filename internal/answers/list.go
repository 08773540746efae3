package answers

import (
	"context"
	"encoding/json"
	"errors"
	"slices"
	"strconv"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/chart"
	"uzzel/core/engine"
	"uzzel/core/result"
	"uzzel/core/schema"
	"uzzel/internal/fault"
)

// Grouped is the rows of a brief's groups, with where those of each group are.
type Grouped struct {
	*List
	Result *result.Result
	Runs   []engine.GroupRun
}

// Grouped gives the rows of a brief's innermost groups, one group after the other.
func (v *View) Grouped(ctx context.Context, b *brief.Brief) (*Grouped, error) {
	q, err := v.question(b, "groups and records")
	if err != nil {
		return nil, err
	}
	return once(ctx, v, q, func(ctx context.Context) (*Grouped, error) {
		bound, err := brief.Bind(b, v.Snap.Schema)
		if err != nil {
			return nil, err
		}
		if len(bound.Parts) > 1 || bound.Rows == 0 {
			return nil, fault.New(fault.Invalid, "/brief/groups", "Records stand under groups of one record type.")
		}
		g := &Grouped{List: &List{Bound: bound, Sentence: v.Say(bound), Writer: v.Writer(), v: v}}
		err = v.run(ctx, bound, false, func(ctx context.Context, opts engine.Options) error {
			res, rows, err := engine.RunGrouped(ctx, v.Snap, withName(bound), opts)
			if err == nil {
				g.Result, g.Records, g.Runs = res, rows.Records, rows.Runs
			}
			return err
		})
		if err != nil {
			return nil, err
		}
		g.Unseen, g.Unrated = unseen(bound, g.Result.Hidden, g.Result.Partly, v), bound.LeftOut(g.Result.Unrated)
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
	Unrated  string // what is left out for want of an exchange rate, in words

	v *View
}

// Page writes the rows from one place up to another.
func (l *List) Page(ctx context.Context, from, to int) (page *engine.Page, err error) {
	err = l.v.run(ctx, l.Bound, false, func(ctx context.Context, opts engine.Options) error {
		page, err = l.Read(ctx, opts.Budget, from, to)
		return err
	})
	return page, err
}

// List gives the list of records of a brief.
func (v *View) List(ctx context.Context, b *brief.Brief) (*List, error) {
	return v.list(
		ctx,
		b,
		"list",
		func(ctx context.Context, bound *brief.Bound, opts engine.Options) (*engine.Records, error) {
			return engine.List(ctx, v.Snap, bound, opts)
		},
	)
}

// Behind gives the records behind marks of a brief's result.
func (v *View) Behind(ctx context.Context, b *brief.Brief, part int, marks []result.Mark) (*List, error) {
	if len(marks) > MaxMarks {
		return nil, fault.New(fault.Invalid, "/marks", "At most %d marks are opened together.", MaxMarks)
	}
	text, err := json.Marshal(marks)
	if err != nil {
		return nil, err
	}
	if part < 0 || part >= max(1, len(b.Parts)) {
		return nil, fault.New(fault.Invalid, "/part", "there is no part %d", part)
	}
	return v.list(
		ctx,
		b,
		"behind "+strconv.Itoa(part)+string(text),
		func(ctx context.Context, bound *brief.Bound, opts engine.Options) (*engine.Records, error) {
			l, err := engine.Behind(ctx, v.Snap, bound, opts, part, marks)
			if errors.Is(err, engine.ErrMark) {
				err = fault.New(fault.Invalid, "/marks", "%s", err)
			}
			return l, err
		},
	)
}

// MaxMarks is how many marks are opened together at most.
const MaxMarks = 1000

func (v *View) list(
	ctx context.Context,
	b *brief.Brief,
	more string,
	work func(ctx context.Context, bound *brief.Bound, opts engine.Options) (*engine.Records, error),
) (*List, error) {
	q, err := v.question(b, more)
	if err != nil {
		return nil, err
	}
	return once(ctx, v, q, func(ctx context.Context) (*List, error) {
		bound, err := brief.Bind(b, v.Snap.Schema)
		if err != nil {
			return nil, err
		}
		l := &List{Bound: bound, Sentence: v.Say(bound), Writer: v.Writer(), v: v}
		err = v.run(ctx, bound, false, func(ctx context.Context, opts engine.Options) error {
			l.Records, err = work(ctx, withName(bound), opts)
			return err
		})
		if err != nil {
			return nil, err
		}
		l.Unseen, l.Unrated = unseen(bound, l.Hidden, l.Partly, v), bound.LeftOut(l.Records.Unrated)
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
	if t.Rates {
		for i := range t.Fields {
			if f := &t.Fields[i]; f.Entered() {
				list = append(list, brief.Column{Field: f.Key})
			}
		}
		return list
	}
	add := func(ok func(f *schema.Field) bool, most int) {
		for i := range t.Fields {
			f := &t.Fields[i]
			if len(list) < 6 && most > 0 && ok(f) && (t.Added || !f.Added) && !strings.HasPrefix(f.Key, "created_") &&
				!strings.HasPrefix(f.Key, "changed") && !f.Currencies && !f.Retired {
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
	if t.Added {
		add(func(f *schema.Field) bool {
			return f.Kind != schema.ID && !slices.ContainsFunc(list, func(c brief.Column) bool { return c.Field == f.Key })
		}, 6)
	}
	return list
}

// AsReport gives what is behind marks as a report of its own: the records of the part that it is about, narrowed to
// what the marks show, with the report's columns. What cannot be asked for by conditions is refused in words.
func (v *View) AsReport(
	ctx context.Context,
	own, asked *brief.Brief,
	part int,
	marks []result.Mark,
) (*brief.Brief, error) {
	if part < 0 || part >= max(1, len(asked.Parts)) {
		return nil, fault.New(fault.Invalid, "/part", "there is no part %d", part)
	}
	bound, err := brief.Bind(asked, v.Snap.Schema)
	if err != nil {
		return nil, err
	}
	var cond *brief.Tree
	err = v.run(ctx, bound, false, func(ctx context.Context, opts engine.Options) error {
		cond, err = engine.Conditions(ctx, v.Snap, bound, opts, part, marks)
		return err
	})
	switch {
	case errors.Is(err, engine.ErrUnsayable), errors.Is(err, engine.ErrMark):
		return nil, fault.New(fault.Invalid, "/marks", "%s", strings.ToUpper(err.Error()[:1])+err.Error()[1:]+".")
	case err != nil:
		return nil, err
	}
	out := &brief.Brief{
		Version: brief.Version, Part: own.Part, Columns: own.Columns, Order: own.Order, Money: own.Money,
		AsOf: asked.AsOf, Periods: asked.Periods,
	}
	if len(own.Parts) > 0 {
		out.Part, out.Columns, out.Order = own.Parts[part], nil, nil
		out.Key = ""
	}
	out.Summaries = nil
	more := cond.All
	if more == nil {
		more = []brief.Tree{*cond}
	}
	out.Filter = out.Filter.And(more...)
	return out, nil
}
