package engine

import (
	"context"
	"errors"
	"fmt"

	"uzzel/core/brief"
	"uzzel/core/column"
)

// Mark names one cell of a result by the keys of its groups, over rows and across; a mark that names fewer groups
// than there are is a subtotal, one that names none the grand total.
type Mark struct {
	Rows   []string `json:"rows"`
	Across []string `json:"across"`
}

// Keys of the groups that are no value.
const (
	BlankKey  = "~blank"
	OtherKey  = "~other"
	HiddenKey = "~hidden"
)

// KeyOf is how a mark names a group: its label behind an equals sign, or, where two groups can have one label (links),
// its record's id.
func (r *Result) KeyOf(row bool, n int) string {
	x := r.cols
	if row {
		x = r.rows
	}
	return r.a.keyOf(x, &x.nodes[n])
}

// Keys is how a mark names a node: the keys of its groups, from the outermost in; none for the total.
func (r *Result) Keys(row bool, n int) []string {
	nodes := r.Cols
	if row {
		nodes = r.Rows
	}
	list := make([]string, nodes[n].Depth)
	for ; n > 0; n = nodes[n].Parent {
		list[nodes[n].Depth-1] = r.KeyOf(row, n)
	}
	return list
}

func (a *answer) keyOf(x *axis, n *Node) string {
	switch {
	case n.Blank:
		return BlankKey
	case n.Other:
		return OtherKey
	case n.Hidden:
		return HiddenKey
	}
	v := a.b.Groups[x.first+n.Depth-1].Values[0]
	if v.To != "" {
		if t, err := a.s.snap.Table(v.To); err == nil {
			return "=" + t.IDs.At(int32(n.Key))
		}
	}
	return "=" + n.Label
}

// ErrMark says that a mark is none of a result.
var ErrMark = errors.New("this is no mark of the report")

// Behind lists the rows behind some cells of a result, in the brief's order. part says which of several parts' rows.
func Behind(
	ctx context.Context,
	snap *column.Snapshot,
	b *brief.Bound,
	opts Options,
	part int,
	marks []Mark,
) (l *Records, err error) {
	defer whole(&err)
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
	at := 0
	for _, key := range keys {
		next := -1
		for _, k := range x.nodes[at].Children {
			if a.keyOf(x, &x.nodes[k]) == key {
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
