package engine

import (
	"math"
	"sort"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/exact"
	"uzzel/core/schema"
)

// cond is a planned condition: it marks the rows of a batch that meet it.
type cond struct {
	mark  func(b *batch, out []bool)
	cost  int
	level int // the farthest record of a row that it reads
	// hidden marks the rows of which it reads something that the reader may not see; nil where there are none.
	hidden func(b *batch, out []bool)
	// unrated marks the rows of which it cannot be told whether they meet it, for want of an exchange rate, and which mark
	// leaves unmarked; nil where there are none.
	unrated func(b *batch, out []bool)
}

// cond plans a node of a filter.
func (r *run) cond(c *brief.Cond) (*cond, error) {
	switch c.Op {
	case brief.OnField:
		return r.onField(c)
	case brief.OnLink:
		return r.onLink(c)
	}
	kids := make([]*cond, len(c.Kids))
	out := &cond{}
	for i, k := range c.Kids {
		kid, err := r.cond(k)
		if err != nil {
			return nil, err
		}
		kids[i] = kid
		out.cost += kid.cost
		out.level = max(out.level, kid.level)
		out.hidden = either(out.hidden, kid.hidden)
	}
	switch {
	case c.Op == brief.Not:
		out.mark = func(b *batch, marks []bool) {
			kids[0].mark(b, marks)
			for i := range marks[:b.n] {
				marks[i] = !marks[i]
			}
		}
	case len(kids) == 0:
		out.mark = func(b *batch, marks []bool) { setAll(marks[:b.n], true) }
	default:
		out.mark = joined(kids, c.Op == brief.Any)
	}
	out.unsure(kids, c.Op)
	return out, nil
}

// joined marks what meets any of some conditions, or all of them.
func joined(kids []*cond, any bool) func(b *batch, marks []bool) {
	return func(b *batch, marks []bool) {
		kids[0].mark(b, marks)
		more := take(&b.pool.marks, b.n)
		for _, k := range kids[1:] {
			k.mark(b, more)
			for i, m := range more {
				if m == any {
					marks[i] = any
				}
			}
		}
		give(&b.pool.marks, more)
	}
}

func setAll(marks []bool, v bool) {
	for i := range marks {
		marks[i] = v
	}
}

func (r *run) onField(c *brief.Cond) (*cond, error) {
	out, err := r.fieldTest(c)
	if err == nil && out.unrated != nil {
		out.mark = unmarked(out.mark, out.unrated)
	}
	return out, err
}

func (r *run) fieldTest(c *brief.Cond) (*cond, error) {
	n, err := r.value(c.Value)
	if err != nil {
		return nil, err
	}
	out := &cond{level: n.level, cost: 1 + 2*len(c.Value.Hops), hidden: n.hidden, unrated: n.unrated}
	if c.Value.Own != nil || c.Value.Worked != nil {
		out.cost = 20
	}
	switch {
	case c.Is == "empty":
		out.mark = unmarked(test(n, func(v int64) bool { return v == column.Null }), n.hidden)
	case c.Is == "filled":
		out.mark = either(test(n, func(v int64) bool { return v != column.Null }), n.link)
	case c.Other != nil:
		return out, r.otherField(c, n, out)
	case c.Within != nil:
		span := r.cal.Resolve(*c.Within, r.today)
		lo, hi := int64(math.MinInt32), int64(math.MaxInt32)
		if span.HasFrom {
			lo = int64(span.From)
		}
		if span.HasTo {
			hi = int64(span.To)
		}
		out.mark = between(r.asDays(n), lo, hi)
	case n.kind.Coded():
		out.mark = codeTest(n, textTest(c, n.dict))
	case n.kind == schema.Link || n.kind == schema.ID:
		if out.mark, err = r.recordTest(c, n); err != nil {
			return nil, err
		}
	case n.kind.Numeric():
		out.mark = numberTest(c, n)
	default:
		out.mark = innerTest(c, n)
	}
	return out, nil
}

// unmarked takes out of what is marked what is hidden, which may be nil.
func unmarked(mark, hidden func(b *batch, out []bool)) func(b *batch, out []bool) {
	if hidden == nil {
		return mark
	}
	return func(b *batch, out []bool) {
		mark(b, out)
		b.marked(hidden, func(i int) { out[i] = false })
	}
}

// runs says that the node's values in a batch can be read as they are kept, one after the other.
func (n *node) runs(b *batch) bool { return n.col != nil && n.level == 0 && b.run && b.n > 0 }

func test(n *node, ok func(v int64) bool) func(b *batch, out []bool) {
	return func(b *batch, out []bool) {
		vals := take(&b.pool.ints, b.n)
		n.eval(b, vals)
		for i, v := range vals {
			out[i] = ok(v)
		}
		give(&b.pool.ints, vals)
	}
}

// between marks values from lo to hi; empties are below every lo.
func between(n *node, lo, hi int64) func(b *batch, out []bool) {
	return func(b *batch, out []bool) {
		if n.runs(b) && n.col.Within(b.rows[0][0], lo, hi, out[:b.n]) {
			return
		}
		vals := take(&b.pool.ints, b.n)
		n.eval(b, vals)
		out = out[:len(vals)]
		for i, v := range vals {
			out[i] = v >= lo && v <= hi
		}
		give(&b.pool.ints, vals)
	}
}

// codeTest marks the rows whose code is one of ok; ok's last index stands for empty.
func codeTest(n *node, ok []bool) func(b *batch, out []bool) {
	last := int64(len(ok) - 1)
	var codes *column.Ints
	var kept []bool
	switch {
	case n.col != nil:
		codes, kept = n.col.Codes(ok)
	case n.over != nil:
		codes, kept = n.over.Codes(n.far.Among(ok))
	}
	return func(b *batch, out []bool) {
		if codes != nil && n.level == 0 && b.run && b.n > 0 && codes.Among(b.rows[0][0], kept, out[:b.n]) {
			return
		}
		vals := take(&b.pool.ints, b.n)
		n.eval(b, vals)
		out = out[:len(vals)]
		for i, v := range vals {
			if v == column.Null {
				v = last
			}
			out[i] = ok[v]
		}
		give(&b.pool.ints, vals)
	}
}

// textTest says for each code of a dictionary, and last for empty, whether a condition on text holds.
func textTest(c *brief.Cond, d *dict) []bool {
	folded := d.folded()
	ok := make([]bool, len(d.values)+1)
	negative := c.Is == "none_of" || c.Is == "not_contains"
	match := map[string]bool{}
	for _, t := range c.Texts {
		match[t] = true
	}
	ok[len(d.values)] = negative
	if c.Is == "contains" || c.Is == "not_contains" {
		for _, t := range c.Texts {
			d.dict.Mark(t, len(d.values), ok, parallel)
		}
		for code := range d.values {
			ok[code] = ok[code] != negative
		}
		return ok
	}
	parallel(len(d.values), func(from, to int) {
		for code := from; code < to; code++ {
			text := folded[code]
			hit := false
			switch c.Is {
			case "any_of", "none_of":
				hit = match[text]
			case "starts_with":
				for _, t := range c.Texts {
					hit = hit || strings.HasPrefix(text, t)
				}
			}
			ok[code] = hit != negative
		}
	})
	return ok
}

func (r *run) recordTest(c *brief.Cond, n *node) (func(b *batch, out []bool), error) {
	t, err := r.snap.Table(n.to)
	if err != nil {
		return nil, err
	}
	in := map[int64]bool{}
	for _, id := range c.Texts {
		if row := t.IDs.Row(id); row >= 0 {
			in[int64(row)] = true
		}
	}
	negative := c.Is == "none_of"
	if len(in) > 8 {
		ok := make([]bool, t.N+1)
		for i := range ok {
			ok[i] = in[int64(i)] != negative
		}
		ok[t.N] = negative
		return codeTest(n, ok), nil
	}
	return test(n, func(v int64) bool { return in[v] != negative }), nil
}

func numberTest(c *brief.Cond, n *node) func(b *batch, out []bool) {
	// The smallest inner value at or above a number, and the smallest above it.
	atLeast := func(x exact.Num) int64 { return least(x, n.scale) }
	above := func(x exact.Num) int64 {
		w := atLeast(x)
		if exact.Frac(w, n.scale).Cmp(x) == 0 {
			w++
		}
		return w
	}
	const lowest, highest = column.Null + 1, math.MaxInt64
	x := c.Nums[0]
	switch c.Is {
	case "under":
		return between(n, lowest, atLeast(x)-1)
	case "at_most":
		return between(n, lowest, above(x)-1)
	case "over":
		return between(n, above(x), highest)
	case "at_least":
		return between(n, atLeast(x), highest)
	case "between":
		return between(n, atLeast(x), above(c.Nums[1])-1)
	}
	in := map[int64]bool{}
	for _, x := range c.Nums {
		if w := atLeast(x); exact.Frac(w, n.scale).Cmp(x) == 0 {
			in[w] = true
		}
	}
	return memberTest(n, in, c.Is == "none_of")
}

func memberTest(n *node, in map[int64]bool, negative bool) func(b *batch, out []bool) {
	if negative {
		return test(n, func(v int64) bool { return !in[v] })
	}
	return test(n, func(v int64) bool { return in[v] })
}

// innerTest is for dates, times and yes/no, whose values are read in their inner form.
func innerTest(c *brief.Cond, n *node) func(b *batch, out []bool) {
	const lowest, highest = column.Null + 1, math.MaxInt64
	x := c.Inner[0]
	switch c.Is {
	case "under":
		return between(n, lowest, x-1)
	case "at_most":
		return between(n, lowest, x)
	case "over":
		return between(n, x+1, highest)
	case "at_least":
		return between(n, x, highest)
	case "between":
		return between(n, x, c.Inner[1])
	}
	in := map[int64]bool{}
	for _, x := range c.Inner {
		in[x] = true
	}
	return memberTest(n, in, c.Is == "none_of")
}

func (r *run) otherField(c *brief.Cond, n *node, out *cond) error {
	o, err := r.value(c.Other)
	if err != nil {
		return err
	}
	out.level, out.cost, out.hidden = max(n.level, o.level), out.cost+2, either(n.hidden, o.hidden)
	out.unrated = either(n.unrated, o.unrated)
	if n.kind.Dated() && n.kind != o.kind {
		n, o = r.asDays(n), r.asDays(o)
	}
	same := compareValues(n, o)
	is := c.Is
	out.mark = func(b *batch, marks []bool) {
		x, y := take(&b.pool.ints, b.n), take(&b.pool.ints, b.n)
		n.eval(b, x)
		o.eval(b, y)
		for i := range x {
			if x[i] == column.Null || y[i] == column.Null {
				marks[i] = is == "none_of"
				continue
			}
			k := same(x[i], y[i])
			switch is {
			case "any_of":
				marks[i] = k == 0
			case "none_of":
				marks[i] = k != 0
			case "under":
				marks[i] = k < 0
			case "at_most":
				marks[i] = k <= 0
			case "over":
				marks[i] = k > 0
			default:
				marks[i] = k >= 0
			}
		}
		give(&b.pool.ints, x)
		give(&b.pool.ints, y)
	}
	return nil
}

// compareValues compares filled values of two nodes; text by whether it is the same.
func compareValues(n, o *node) func(x, y int64) int {
	switch {
	case n.kind.Coded():
		a, b := n.dict.folded(), o.dict.folded()
		return func(x, y int64) int { return strings.Compare(a[x], b[y]) }
	case n.kind.Numeric() && n.scale != o.scale:
		return func(x, y int64) int { return exact.Frac(x, n.scale).Cmp(exact.Frac(y, o.scale)) }
	}
	return func(x, y int64) int {
		switch {
		case x < y:
			return -1
		case x > y:
			return 1
		}
		return 0
	}
}

// onLink plans a condition on a link to many: how many linked records of each row meet it is what decides.
func (r *run) onLink(c *brief.Cond) (*cond, error) {
	e, err := r.expand(c.Hops, c.From, c.Back, c.Where, nil)
	if err != nil {
		return nil, err
	}
	need, none := int64(c.AtLeast), c.None
	linked := func(e *expansion) func(b *batch, out []bool) {
		return func(b *batch, out []bool) {
			counts := take(&b.pool.ints, b.n)
			e.count(b, counts)
			for i, k := range counts {
				out[i] = (k >= need) != none
			}
			give(&b.pool.ints, counts)
		}
	}
	out := &cond{cost: 100, hidden: e.hidden, mark: linked(e)}
	if loose := e.loose(); loose != nil {
		// What is so whether those of which it cannot be told are counted or not is known.
		known, could := linked(e), linked(loose)
		out.unrated = func(b *batch, out []bool) {
			known(b, out)
			other := take(&b.pool.marks, b.n)
			could(b, other)
			for i := range other {
				out[i] = out[i] != other[i]
			}
			give(&b.pool.marks, other)
		}
		out.mark = unmarked(out.mark, out.unrated)
	}
	return out, nil
}

// all splits a filter into the conditions that must all hold, cheapest first.
func (r *run) all(c *brief.Cond) ([]*cond, error) {
	if c == nil {
		return nil, nil
	}
	list := []*brief.Cond{c}
	if c.Op == brief.All {
		list = c.Kids
	}
	out := make([]*cond, len(list))
	for i, k := range list {
		p, err := r.cond(k)
		if err != nil {
			return nil, err
		}
		out[i] = p
	}
	return out, nil
}

// both splits two filters that must hold together.
func (r *run) both(where, fixed *brief.Cond) ([]*cond, error) {
	list, err := r.all(where)
	if err != nil || fixed == nil {
		return list, err
	}
	more, err := r.all(fixed)
	return append(list, more...), err
}

func cheapestFirst(list []*cond) []*cond {
	sorted := append([]*cond{}, list...)
	sort.SliceStable(sorted, func(i, j int) bool { return sorted[i].cost < sorted[j].cost })
	return sorted
}
