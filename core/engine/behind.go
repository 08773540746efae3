package engine

import (
	"context"
	"errors"
	"fmt"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/result"
)

// ErrMark says that a mark is none of a result.
var ErrMark = errors.New("this is no mark of the report")

// Behind lists the rows behind some cells of a result, in the brief's order. part says which of several parts' rows.
func Behind(
	ctx context.Context,
	snap *column.Snapshot,
	b *brief.Bound,
	opts Options,
	part int,
	marks []result.Mark,
) (l *Records, err error) {
	defer whole(&err)
	if snap, opts, err = asOf(snap, b, opts); err != nil {
		return nil, err
	}
	a, err := scanAll(ctx, snap, b, opts, true)
	if err != nil {
		return nil, err
	}
	rows, cols := a.axis(0, b.Rows), a.axis(b.Rows, len(b.Groups))
	pick := make([]bool, len(a.leaves))
	for _, m := range marks {
		rn, err := a.find(rows, m.Rows)
		if err != nil {
			return nil, err
		}
		cn, err := a.find(cols, m.Across)
		if err != nil {
			return nil, err
		}
		if rn < 0 || cn < 0 {
			continue
		}
		a.poll()
		for leaf := range a.leaves {
			if rows.at[len(m.Rows)][leaf] == int32(rn) && cols.at[len(m.Across)][leaf] == int32(cn) {
				pick[leaf] = true
			}
		}
	}
	crew := a.now[part].captured
	for i := range crew {
		crew[i].keep(pick)
	}
	r := newRun(ctx, snap, opts)
	if err := r.plan(b.Parts[part], a.spans[part].Now); err != nil {
		return nil, err
	}
	return r.list(b, crew, nil)
}

// find is the node that keys lead to, −1 where no such group has rows.
func (a *answer) find(x *axis, keys []string) (int, error) {
	if len(keys) > x.depth {
		return 0, fmt.Errorf("%w: it names %d groups where there are %d", ErrMark, len(keys), x.depth)
	}
	at, names := 0, a.names()
	for _, key := range keys {
		next := -1
		for _, k := range x.nodes[at].Children {
			if names.Key(x.first+x.nodes[k].Depth-1, x.nodes[k].Member) == key {
				next = k
			}
		}
		if next < 0 {
			return -1, nil
		}
		at = next
	}
	return at, nil
}

// keep drops the rows whose leaf is not picked.
func (c *captured) keep(pick []bool) {
	n := 0
	for i, leaf := range c.leaf {
		if !pick[leaf] {
			continue
		}
		for l := range c.rows {
			if len(c.rows[l]) > 0 {
				c.rows[l][n] = c.rows[l][i]
			}
		}
		c.leaf[n] = leaf
		n++
	}
	for l := range c.rows {
		if len(c.rows[l]) > 0 {
			c.rows[l] = c.rows[l][:n]
		}
	}
	c.leaf = c.leaf[:n]
}
