package engine

import (
	"context"

	"uzzel/core/brief"
	"uzzel/core/column"
)

// Details is the first few rows of each innermost group of rows.
type Details struct {
	*Records
	// Of lists by row node the places of its rows in Records; More is how many rows it has besides.
	Of   map[int][]int
	More map[int]int
}

// RunWithDetails works out a brief of one part with the first few rows of each innermost group, in the brief's order.
func RunWithDetails(ctx context.Context, snap *column.Snapshot, b *brief.Bound, opts Options, few int) (*Result, *Details, error) {
	a, err := scanAll(ctx, snap, b, opts, true)
	if err != nil {
		return nil, nil, err
	}
	res, err := a.result()
	if err != nil {
		return nil, nil, err
	}
	at := res.rows.at[res.rows.depth]
	crew := a.now[0].captured
	for i := range crew {
		crew[i].keep(a.alive)
	}
	r := newRun(ctx, snap, opts)
	if err := r.plan(b.Parts[0], a.spans[0].Now); err != nil {
		return nil, nil, err
	}
	list, err := r.list(b, crew, nil)
	if err != nil {
		return nil, nil, err
	}
	d := &Details{Records: list, Of: map[int][]int{}, More: map[int]int{}}
	var places []int32
	for i, leaf := range list.leaf {
		n := int(at[leaf])
		if len(d.Of[n]) < few {
			d.Of[n] = append(d.Of[n], len(places))
			places = append(places, int32(i))
		} else {
			d.More[n]++
		}
	}
	list.pick(places)
	return res, d, nil
}
