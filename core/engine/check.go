package engine

import (
	"context"
	"fmt"
	"sort"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/result"
	"uzzel/core/schema"
)

// Verdict says whether a record is in a result, in which groups, or what takes it out.
type Verdict struct {
	Known  bool       // whether there is such a record
	In     bool       // whether it is in the result
	Groups [][]string // the groups that it is in, each as labels over rows, then across
	Out    []Failing  // the conditions that take it out, each alone
}

// Failing is a condition that a record does not meet.
type Failing struct {
	What   string // whose, period, filter, fixed, bring, blank, top
	At     string // JSON pointer
	Values []Own  // what the record itself has
}

// Own is a value of the record itself that a condition reads.
type Own struct {
	Path string
	Text string // in CSV form, links by name; for a link to many, how many linked records meet its where
	Kind schema.Kind
}

// Check says of one starting record whether it is in the result of a part, and why not.
func Check(
	ctx context.Context,
	snap *column.Snapshot,
	b *brief.Bound,
	opts Options,
	part int,
	id string,
) (v *Verdict, err error) {
	defer whole(&err)
	if snap, opts, err = asOf(snap, b, opts); err != nil {
		return nil, err
	}
	p := b.Parts[part]
	t, err := snap.Table(p.Start().Key)
	if err != nil {
		return nil, err
	}
	row := t.IDs.Row(id)
	if row < 0 {
		return &Verdict{}, nil
	}
	v = &Verdict{Known: true}
	r := newRun(ctx, snap, opts)
	span := spanOf(snap.Cal, p, opts.Today, "")
	if err := r.plan(p, span.Now); err != nil {
		return nil, err
	}
	if r.shown != nil && !r.shown[row] {
		return &Verdict{}, nil // to this reader there is no such record
	}
	list, err := r.narrowings(p, span.Now)
	if err != nil {
		return nil, err
	}
	sources := narrowingConds(p)
	r.before, r.after = nil, nil
	met := make([]bool, len(list))
	rows := 0
	err = r.one(row, func(b *batch) error {
		rows += b.n
		marks := make([]bool, b.n)
		for i, s := range list {
			s.cond.mark(b, marks)
			for _, m := range marks {
				met[i] = met[i] || m
			}
		}
		return nil
	})
	if err != nil {
		return nil, err
	}
	if rows == 0 {
		v.Out = append(v.Out, Failing{What: "bring", At: "/bring"})
	}
	for i, s := range list {
		if met[i] || rows == 0 {
			continue
		}
		f := Failing{What: s.what, At: s.at}
		if f.Values, err = r.ownValues(row, p, s.what, sources[i]); err != nil {
			return nil, err
		}
		v.Out = append(v.Out, f)
	}
	if len(v.Out) > 0 {
		return v, nil
	}
	return v, v.place(ctx, snap, b, opts, part, row)
}

// one hands the rows of one starting record to use.
func (r *run) one(row int32, use func(b *batch) error) error {
	var failed error
	b := &batch{n: 1, pool: &pool{}}
	b.rows[0] = []int32{row}
	r.bring(b, 0, func(b *batch) {
		if failed == nil {
			failed = use(b)
		}
	})
	return failed
}

// narrowingConds lists the bound conditions behind the narrowings of a part, nil for whose, period and rates.
func narrowingConds(p *brief.BoundPart) []*brief.Cond {
	var list []*brief.Cond
	if p.Whose != nil && p.Whose.Word != "everyone" {
		list = append(list, nil)
	}
	if p.Period != nil {
		list = append(list, nil)
	}
	switch f := p.Filter; {
	case f == nil:
	case f.Op == brief.All:
		list = append(list, f.Kids...)
	default:
		list = append(list, f)
	}
	if p.Fixed != nil {
		list = append(list, nil) // what it asks for is not the reader's to know
	}
	if p.Converts {
		list = append(list, nil) // the rates
	}
	return list
}

// ownValues reads what the record itself has of what a condition asks for.
func (r *run) ownValues(row int32, p *brief.BoundPart, what string, c *brief.Cond) ([]Own, error) {
	switch what {
	case "whose":
		col, err := r.column(p.Start().Key, p.Start().Owner)
		if err != nil {
			return nil, err
		}
		name := ""
		if v := col.At(row); v != column.Null {
			name = r.snap.Name(col.To, int32(v))
		}
		return []Own{{p.Start().Owner, name, schema.Link}}, nil
	case "period":
		return r.read1(row, p.Period.Value)
	}
	if c == nil {
		return nil, nil
	}
	var out []Own
	for _, k := range c.Kids {
		more, err := r.ownValues(row, p, what, k)
		if err != nil {
			return nil, err
		}
		out = append(out, more...)
	}
	switch c.Op {
	case brief.OnField:
		one, err := r.read1(row, c.Value)
		if err != nil {
			return nil, err
		}
		out = append(out, one...)
		if c.Other != nil {
			more, err := r.read1(row, c.Other)
			if err != nil {
				return nil, err
			}
			out = append(out, more...)
		}
	case brief.OnLink:
		n, err := r.linkCount(row, c)
		if err != nil {
			return nil, err
		}
		out = append(out, Own{c.Source.Link, fmt.Sprint(n), schema.Number})
	}
	return out, nil
}

func (r *run) linkCount(row int32, c *brief.Cond) (int, error) {
	e, err := r.expand(c.Hops, c.From, c.Back, c.Where, nil)
	if err != nil {
		return 0, err
	}
	n := 0
	b := &batch{n: 1, pool: &pool{}}
	b.rows[0] = []int32{row}
	e.each(b, func(parents, _ []int32) { n += len(parents) })
	return n, nil
}

// read1 reads a value of each row of a record, different ones once.
func (r *run) read1(row int32, v *brief.Value) ([]Own, error) {
	n, err := r.value(v)
	if err != nil {
		return nil, err
	}
	seen := map[string]bool{}
	err = r.one(row, func(b *batch) error {
		vals := make([]int64, b.n)
		n.eval(b, vals)
		shut := n.closed(b)
		for i, x := range vals {
			text := r.text(n, x)
			switch {
			case shut != nil && shut[i]:
				text = result.HiddenLabel
			case v.To != "" && x != column.Null:
				text = r.snap.Name(v.To, int32(x))
			}
			seen[text] = true
		}
		return nil
	})
	var out []Own
	for text := range seen {
		out = append(out, Own{v.Text, text, v.Kind})
	}
	sort.Slice(out, func(i, j int) bool { return out[i].Text < out[j].Text })
	return out, err
}

// place finds the groups that a record's rows lie in, or what settled them out.
func (v *Verdict) place(
	ctx context.Context,
	snap *column.Snapshot,
	b *brief.Bound,
	opts Options,
	part int,
	row int32,
) error {
	a, err := scanAll(ctx, snap, b, opts, true)
	if err != nil {
		return err
	}
	seen := map[leafKey]bool{}
	dropped, rows := -1, 0
	for _, c := range a.now[part].captured {
		for i, r := range c.rows[0] {
			if r != row {
				continue
			}
			rows++
			leaf := c.leaf[i]
			if !a.alive[leaf] {
				dropped = int(leaf)
				continue
			}
			seen[a.leaves[leaf]] = true
		}
	}
	for key := range seen {
		labels := make([]string, len(a.b.Groups))
		for d := range a.b.Groups {
			labels[d] = a.s.fields[d].at(key[d]).Label
		}
		v.Groups = append(v.Groups, labels)
	}
	sort.Slice(v.Groups, func(i, j int) bool { return fmt.Sprint(v.Groups[i]) < fmt.Sprint(v.Groups[j]) })
	switch {
	case len(seen) > 0:
		v.In = true
	case rows == 0:
		// Its rows meet every condition, but no one row meets them all.
		v.Out = append(v.Out, Failing{What: "filter", At: "/filter"})
	default:
		v.Out = append(v.Out, a.settledBy(dropped))
	}
	return nil
}

// settledBy says whether (blank) or a top took a leaf out.
func (a *answer) settledBy(leaf int) Failing {
	for d, g := range a.b.Groups {
		if a.b.Brief.Blank != nil && !*a.b.Brief.Blank && a.leaves[leaf][d] == blankMember {
			return Failing{What: "blank", At: g.At}
		}
	}
	for _, g := range a.b.Groups {
		if g.Group.Top != nil && g.Group.Top.Rest == "drop" {
			return Failing{What: "top", At: g.At + "/top"}
		}
	}
	return Failing{What: "top"}
}
