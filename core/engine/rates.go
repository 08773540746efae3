package engine

import (
	"math/bits"
	"sync/atomic"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/schema"
)

// lastLevel comes after every record of a row: what is of this level is applied last.
const lastLevel = 1 << 20

// rateDay is the last day whose rates are known to what is asked.
func (r *run) rateDay() int32 {
	if r.opts.stateDay != 0 {
		return r.opts.stateDay
	}
	return r.today
}

func (r *run) conversion(v *brief.Value) column.Conversion {
	return column.Conversion{Type: v.Type.Key, Field: v.Field.Key, Dates: v.Rated.Dates, Day: r.rateDay()}
}

// amount plans reading an amount in the organisation's currency (docs/brief.md, "Several currencies").
func (r *run) amount(v *brief.Value) (*node, error) {
	c, err := r.snap.Convert(r.conversion(v))
	if err != nil {
		return nil, err
	}
	n, err := r.read(v, c.Column)
	if err != nil {
		return nil, err
	}
	// What the reader may not see does not even tell that a rate is missing.
	seen, err := r.seen(v.Type.Key)
	if err != nil || !c.Lacks(seen) {
		return n, err
	}
	at, err := r.hops(v.Level, v.Hops)
	if err != nil {
		return nil, err
	}
	n.unrated = func(b *batch, out []bool) {
		rows := take(&b.pool.rows, b.n)
		at(b, rows)
		for i, row := range rows {
			out[i] = c.Unrated(row)
		}
		give(&b.pool.rows, rows)
	}
	return n, nil
}

// ownCurrency has a record that says no currency read as one in the organisation's.
func (r *run) ownCurrency(v *brief.Value, n *node, c *column.Column) error {
	if v.Type.Currency != v.Field.Key || r.snap.Schema.Settings.Currency == "" {
		return nil
	}
	at, err := r.hops(v.Level, v.Hops)
	if err != nil {
		return err
	}
	own, read := int64(c.Dict.Code(r.snap.Schema.Settings.Currency)), n.eval
	n.col, n.over = nil, nil
	n.eval = func(b *batch, out []int64) {
		read(b, out)
		rows := take(&b.pool.rows, b.n)
		at(b, rows)
		for i, row := range rows {
			if out[i] == column.Null && row >= 0 {
				out[i] = own
			}
		}
		give(&b.pool.rows, rows)
	}
	return nil
}

// or is a condition that lets pass what cannot be told for want of a rate.
func (c *cond) orUnrated() *cond {
	if c.unrated == nil {
		return c
	}
	loose := *c
	loose.mark = either(c.mark, c.unrated)
	return &loose
}

// unsure gives a condition of others what it cannot tell: where it is not met, and would be if what cannot be told were so.
func (c *cond) unsure(kids []*cond, op brief.Op) {
	some := false
	for _, k := range kids {
		some = some || k.unrated != nil
	}
	if !some {
		return
	}
	met := c.mark
	if op == brief.Not {
		c.unrated = kids[0].unrated
		c.mark = unmarked(met, c.unrated)
		return
	}
	loose := make([]*cond, len(kids))
	for i, k := range kids {
		loose[i] = k.orUnrated()
	}
	could := joined(loose, op == brief.Any)
	c.unrated = func(b *batch, out []bool) {
		could(b, out)
		b.marked(met, func(i int) { out[i] = false })
	}
}

// loose is an expansion to the linked records that meet its conditions or may, for want of a rate; nil where it can be
// told of all.
func (e *expansion) loose() *expansion {
	for _, c := range e.where {
		if c.unrated != nil {
			out := *e
			out.where = make([]*cond, len(e.where))
			for i, c := range e.where {
				out.where[i] = c.orUnrated()
			}
			return &out
		}
	}
	return nil
}

// count counts the linked records of each row.
func (e *expansion) count(b *batch, out []int64) {
	fill(out[:b.n], 0)
	e.each(b, func(parents, _ []int32) {
		for _, p := range parents {
			out[p]++
		}
	})
}

// unsure marks the rows of which it cannot be told which linked records count, or what of is of one that does; nil where
// it can be told of all.
func (e *expansion) unsure(of *node) func(b *batch, out []bool) {
	var marks func(b *batch, out []bool)
	if loose := e.loose(); loose != nil {
		marks = func(b *batch, out []bool) {
			known, all := take(&b.pool.ints, b.n), take(&b.pool.ints, b.n)
			e.count(b, known)
			loose.count(b, all)
			for i := range known {
				out[i] = known[i] != all[i]
			}
			give(&b.pool.ints, known)
			give(&b.pool.ints, all)
		}
	}
	if of == nil || of.unrated == nil {
		return marks
	}
	return either(marks, func(b *batch, out []bool) {
		setAll(out[:b.n], false)
		e.each(b, func(parents, linked []int32) {
			b.inner(linked).marked(of.unrated, func(i int) { out[parents[i]] = true })
		})
	})
}

// unratedRows is the condition that takes out the rows for which a number or a condition of the part needs a rate that
// there is not; nil where there are none.
func (r *run) unratedRows(p *brief.BoundPart, conds []*cond) (*cond, error) {
	var lacks func(b *batch, out []bool)
	for _, c := range conds {
		lacks = either(lacks, c.unrated)
	}
	for _, v := range p.Amounts {
		n, err := r.value(v)
		if err != nil {
			return nil, err
		}
		lacks = either(lacks, n.unrated)
	}
	for _, w := range p.Where {
		c, err := r.cond(w)
		if err != nil {
			return nil, err
		}
		lacks = either(lacks, c.unrated)
	}
	for i, l := range p.Levels[1:] {
		list, err := r.both(l.Where, l.Fixed)
		if err != nil {
			return nil, err
		}
		for _, c := range list {
			if c.unrated != nil {
				lacks = either(lacks, func(b *batch, out []bool) { c.unrated(b.inner(b.rows[i+1][:b.n]), out) })
			}
		}
	}
	if lacks == nil {
		return nil, nil
	}
	if r.unrated == nil {
		r.unrated = make([]uint64, (r.n+63)/64)
	}
	left := r.unrated
	return &cond{cost: 100, level: lastLevel, mark: func(b *batch, out []bool) {
		lacks(b, out)
		for i, row := range b.rows[0][:b.n] {
			if out[i] = !out[i]; !out[i] {
				atomic.OrUint64(&left[row>>6], 1<<(row&63))
			}
		}
	}}, nil
}

// leftOut is how many starting records were left out, or one of their rows, for want of a rate.
func (r *run) leftOut() int64 {
	n := 0
	for _, word := range r.unrated {
		n += bits.OnesCount64(word)
	}
	return int64(n)
}

// recordedAs reads amounts as they are recorded, with their currency.
type recordedAs struct{ amounts, currencies *node }

// foreign plans reading what is recorded of an amount; nil of what is no amount, or always in the organisation's currency.
func (r *run) foreign(v *brief.Value) (*recordedAs, error) {
	if v == nil || v.Kind != schema.Money || (v.Rated == nil && v.Recorded == nil) {
		return nil, nil
	}
	own := v
	if v.Rated != nil {
		raw, err := r.column(v.Type.Key, v.Field.Key)
		if err != nil {
			return nil, err
		}
		c, err := r.snap.Convert(r.conversion(v))
		if err != nil || c.Column == raw {
			return nil, err
		}
		own = v.AsRecorded()
	}
	amounts, err := r.value(own)
	if err != nil {
		return nil, err
	}
	currencies, err := r.value(brief.CurrencyOf(r.snap.Schema, own))
	return &recordedAs{amounts, currencies}, err
}

// texts are the amounts of a batch that are in another currency than the organisation's.
func (a *recordedAs) texts(r *run, b *batch) []Foreign {
	amounts, currencies := take(&b.pool.ints, b.n), take(&b.pool.ints, b.n)
	a.amounts.eval(b, amounts)
	a.currencies.eval(b, currencies)
	out, own := make([]Foreign, b.n), column.Fold(r.snap.Schema.Settings.Currency)
	for i, c := range currencies {
		if c == column.Null || amounts[i] == column.Null || a.currencies.dict.folded()[c] == own {
			continue
		}
		out[i] = Foreign{a.currencies.dict.values[c], r.text(a.amounts, amounts[i])}
	}
	give(&b.pool.ints, amounts)
	give(&b.pool.ints, currencies)
	return out
}
