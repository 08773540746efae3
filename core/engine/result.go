package engine

import (
	"context"
	"fmt"
	"slices"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/period"
	"uzzel/core/result"
)

// Run works out a brief.
func Run(ctx context.Context, snap *column.Snapshot, b *brief.Bound, opts Options) (r *result.Result, err error) {
	defer whole(&err)
	if snap, opts, err = asOf(snap, b, opts); err != nil {
		return nil, err
	}
	a, err := scanAll(ctx, snap, b, opts, false)
	if err != nil {
		return nil, err
	}
	r, _, err = a.result()
	return r, err
}

func scanAll(ctx context.Context, snap *column.Snapshot, b *brief.Bound, opts Options, capture bool) (*answer, error) {
	if opts.Budget == nil {
		opts.Budget = &Budget{}
	}
	if opts.Sight == nil || opts.Sight.snap != snap {
		opts.Sight = NewSight(snap, opts.Reader, opts.Sees)
	}
	a := &answer{guard: newGuard(ctx, opts.Budget), b: b, s: newSpace(b, snap), today: opts.Today}
	for i, p := range b.Parts {
		span := spanOf(snap.Cal, p, opts.Today, b.Brief.Compare)
		now, err := a.s.collect(ctx, b, i, span.Now, noShift, opts, capture)
		if err != nil {
			return nil, err
		}
		a.now, a.spans = append(a.now, now), append(a.spans, span)
		if span.Before != nil {
			before, err := a.s.collect(ctx, b, i, span.Before, int64(span.Before.From), opts, false)
			if err != nil {
				return nil, err
			}
			a.before = append(a.before, before)
		}
	}
	a.settle()
	return a, nil
}

func spanOf(cal *period.Calendar, p *brief.BoundPart, today int32, compare string) result.Span {
	var s result.Span
	if p.Period != nil {
		now := cal.Resolve(p.Period.Within, today)
		s.Now = &now
		if compare != "" {
			before := cal.Earlier(p.Period.Within, today, compare)
			s.Before = &before
		}
	}
	return s
}

// result works out all cells of the answer and puts its groups in order. It gives the groups over the rows too, with the
// leaves that are in each.
func (a *answer) result() (*result.Result, *axis, error) {
	r := &result.Result{Bound: a.b, Span: a.spans}
	for _, s := range a.now {
		r.Records += s.records
		r.Of += int64(s.n)
		r.Hidden += s.hidden
		r.Unrated += s.unrated
		r.Partly = append(r.Partly, s.partly...)
	}
	slices.Sort(r.Partly)
	r.Partly = slices.Compact(r.Partly)
	c := &cells{answer: a, rows: a.axis(0, a.b.Rows), cols: a.axis(a.b.Rows, len(a.b.Groups))}
	if n := c.cols.leaves(); n > result.MaxAcrossColumns {
		last := a.b.Groups[len(a.b.Groups)-1]
		text := "%s gives %d columns, and a report goes across at most %d"
		return nil, nil, brief.Problems{{
			Pointer: last.At,
			Message: fmt.Sprintf(text, last.Values[0].Text, n, result.MaxAcrossColumns),
		}}
	}
	c.out = result.Cells{At: map[[2]int32]int32{}, Now: make([][]result.Value, len(a.b.Summaries))}
	if a.before != nil {
		c.out.Prior = make([][]result.Value, len(a.b.Summaries))
	}
	none := a.evaluate(a.now, nil, 1)
	none.cellOf = make([]int32, len(a.leaves))
	for i := range none.cellOf {
		none.cellOf[i] = -1
	}
	for i := range a.b.Summaries {
		c.out.Empty = append(c.out.Empty, none.of(i)[0])
	}
	r.Overlap = make([]bool, len(a.b.Groups))
	counted := map[[2]int]int64{}
	for i := range c.rows.at {
		for j := range c.cols.at {
			counted[[2]int{i, j}] = c.evaluate(i, j)
		}
	}
	for i := 1; i < len(c.rows.at); i++ {
		r.Overlap[i-1] = counted[[2]int{i, 0}] > counted[[2]int{i - 1, 0}]
	}
	for j := 1; j < len(c.cols.at); j++ {
		r.Overlap[a.b.Rows+j-1] = counted[[2]int{0, j}] > counted[[2]int{0, j - 1}]
	}
	a.order(c.rows, func(n, s int) result.Value { return c.out.Value(n, 0, s) })
	a.order(c.cols, func(n, s int) result.Value { return c.out.Value(0, n, s) })
	r.Rows, r.Cols = c.rows.nodes, c.cols.nodes
	r.Finish(c.out, a.names(), a.s.snap.Cal)
	return r, c.rows, nil
}

// names are the ids of the records that the groups which are links lead to.
func (a *answer) names() result.Names {
	names := make(result.Names, len(a.b.Groups))
	for i, g := range a.b.Groups {
		if to := g.Values[0].To; to != "" {
			if t, err := a.s.snap.Table(to); err == nil {
				names[i] = t.IDs
			}
		}
	}
	return names
}

// leaves is the number of innermost nodes.
func (x *axis) leaves() int {
	n := 0
	for _, node := range x.nodes {
		if node.Depth == x.depth {
			n++
		}
	}
	return n
}

// cells are worked out one level of rows with one of across at a time.
type cells struct {
	*answer
	rows, cols *axis
	out        result.Cells
}

// evaluate works out all cells of one level of rows with one of across, and says how many records they count.
func (c *cells) evaluate(i, j int) int64 {
	at := c.out.At
	base := int32(len(at))
	cellOf := make([]int32, len(c.leaves))
	for leaf := range c.leaves {
		c.every(leaf)
		rn, cn := c.rows.at[i][leaf], c.cols.at[j][leaf]
		if rn < 0 || cn < 0 {
			cellOf[leaf] = -1
			continue
		}
		key := [2]int32{rn, cn}
		cell, ok := at[key]
		if !ok {
			cell = int32(len(at))
			at[key] = cell
		}
		cellOf[leaf] = cell - base
	}
	n := len(at) - int(base)
	level := i*len(c.cols.at) + j
	now := c.answer.evaluate(c.now, cellOf, n)
	now.level = level
	for s := range c.b.Summaries {
		c.out.Now[s] = append(c.out.Now[s], c.within(s, i, j, now.of(s))...)
	}
	if c.before != nil {
		before := c.answer.evaluate(c.before, cellOf, n)
		before.level = level
		for s := range c.b.Summaries {
			c.out.Prior[s] = append(c.out.Prior[s], c.within(s, i, j, before.of(s))...)
		}
	}
	return now.counted
}

// within empties the values of a summary on levels on which it would put several currencies together.
func (c *cells) within(s, i, j int, vals []result.Value) []result.Value {
	for _, g := range c.b.Summaries[s].Within {
		if g < c.b.Rows && i <= g || g >= c.b.Rows && j <= g-c.b.Rows {
			return make([]result.Value, len(vals))
		}
	}
	return vals
}
