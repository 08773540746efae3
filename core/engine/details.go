package engine

import (
	"context"
	"slices"
	"sort"

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
func RunWithDetails(ctx context.Context, snap *column.Snapshot, b *brief.Bound, opts Options, few int) (res *Result, d *Details, err error) {
	defer whole(&err)
	a, err := scanAll(ctx, snap, b, opts, true)
	if err != nil {
		return nil, nil, err
	}
	if res, err = a.result(); err != nil {
		return nil, nil, err
	}
	defer res.release()
	at := res.rows.at[res.rows.depth]
	crew := a.now[0].captured
	for i := range crew {
		crew[i].keep(a.alive)
	}
	r := newRun(ctx, snap, opts)
	if err := r.plan(b.Parts[0], a.spans[0].Now); err != nil {
		return nil, nil, err
	}
	list, less, err := r.unsorted(b, crew)
	if err != nil {
		return nil, nil, err
	}
	d = &Details{Records: list, Of: map[int][]int{}, More: map[int]int{}}
	firsts, count := make([][]int32, len(res.Rows)), make([]int, len(res.Rows))
	for i, leaf := range list.leaf {
		r.every(i)
		n := at[leaf]
		count[n]++
		firsts[n] = among(firsts[n], int32(i), few, less)
	}
	var places []int32
	for n, first := range firsts {
		for range first {
			d.Of[n] = append(d.Of[n], len(places)+len(d.Of[n]))
		}
		places = append(places, first...)
		if more := count[n] - len(first); more > 0 {
			d.More[n] = more
		}
	}
	list.pick(places)
	list.run, list.nodes = nil, nil
	return res, d, nil
}

// among puts a place into a list of at most few in the order of less, if it comes before the last of them.
func among(list []int32, place int32, few int, less func(a, b int32) bool) []int32 {
	if len(list) == few && (few == 0 || !less(place, list[few-1])) {
		return list
	}
	at := sort.Search(len(list), func(i int) bool { return less(place, list[i]) })
	list = slices.Insert(list, at, place)
	return list[:min(len(list), few)]
}
