package engine

import (
	"context"
	"errors"
	"fmt"

	"uzzel/core/brief"
	"uzzel/core/column"
)

// Sifted is how many starting records one condition left, and how many it took out.
type Sifted struct {
	What string // all, whose, period, filter, fixed, rates
	At   string // JSON pointer of the condition
	Left int64
	Out  int64
}

// Sift counts the starting records left after each condition of a part, in the brief's order. The first is all.
func Sift(
	ctx context.Context,
	snap *column.Snapshot,
	b *brief.Bound,
	opts Options,
	part int,
) (out []Sifted, err error) {
	defer whole(&err)
	if snap, opts, err = asOf(snap, b, opts); err != nil {
		return nil, err
	}
	r := newRun(ctx, snap, opts)
	p := b.Parts[part]
	span := spanOf(snap.Cal, p, opts.Today, "")
	if err := r.plan(p, span.Now); err != nil {
		return nil, err
	}
	list, err := r.narrowings(p, span.Now)
	if err != nil {
		return nil, err
	}
	// Rows of one record are adjacent, in one worker's batches; its last record tells whether the next is new.
	type seen struct{ left, last []int64 }
	crew := make([]seen, workers())
	for w := range crew {
		crew[w] = seen{make([]int64, len(list)), make([]int64, len(list))}
		for i := range list {
			crew[w].last[i] = -1
		}
	}
	// Every row is looked at with all conditions in their order, whatever record of the row they read.
	r.before, r.after = nil, nil
	err = r.scan(func(w int, b *batch) {
		for i, s := range list {
			if b.n == 0 {
				return
			}
			b.apply(s.cond)
			for _, row := range b.rows[0][:b.n] {
				if int64(row) != crew[w].last[i] {
					crew[w].last[i] = int64(row)
					crew[w].left[i]++
				}
			}
		}
	})
	if err != nil {
		return nil, err
	}
	all := int64(r.total())
	out = []Sifted{{What: "all", Left: all}}
	for i, s := range list {
		n := int64(0)
		for _, c := range crew {
			n += c.left[i]
		}
		out = append(out, Sifted{What: s.what, At: s.at, Left: n, Out: out[i].Left - n})
	}
	return out, nil
}

// ErrStep says that a report has no condition of a number.
var ErrStep = errors.New("the report has no such condition")

// Dropped lists the starting records that one step of the sift took out: those that the steps before it left and that
// it did not. step counts from 0, without the first line of Sift.
func Dropped(
	ctx context.Context,
	snap *column.Snapshot,
	b *brief.Bound,
	opts Options,
	part, step int,
) (l *Records, err error) {
	defer whole(&err)
	if snap, opts, err = asOf(snap, b, opts); err != nil {
		return nil, err
	}
	r := newRun(ctx, snap, opts)
	p := b.Parts[part]
	span := spanOf(snap.Cal, p, opts.Today, "")
	if err := r.plan(p, span.Now); err != nil {
		return nil, err
	}
	list, err := r.narrowings(p, span.Now)
	if err != nil {
		return nil, err
	}
	if step < 0 || step >= len(list) {
		return nil, fmt.Errorf("%w: number %d", ErrStep, step)
	}
	r.before, r.after = nil, nil
	left := make([]bool, r.n)    // by starting record: a row of it meets the steps before
	through := make([]bool, r.n) // … and this one
	err = r.scan(func(_ int, b *batch) {
		for _, s := range list[:step] {
			if b.n > 0 {
				b.apply(s.cond)
			}
		}
		for _, row := range b.rows[0][:b.n] {
			left[row] = true
		}
		if b.n > 0 {
			b.apply(list[step].cond)
		}
		for _, row := range b.rows[0][:b.n] {
			through[row] = true
		}
	})
	if err != nil {
		return nil, err
	}
	var out captured
	r.takeBytes(8*len(left), "", "the list of records")
	for row := range left {
		if left[row] && !through[row] {
			out.rows[0] = append(out.rows[0], int32(row))
			for l := range r.levels { // whatever the report brings, none of it is theirs
				out.rows[l+1] = append(out.rows[l+1], -1)
			}
		}
	}
	return r.list(b, []captured{out}, nil)
}
