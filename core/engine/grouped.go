package engine

import (
	"context"
	"sort"
	"sync"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/result"
)

// Grouped is all rows of a brief of one part, one innermost group of rows after the other in the order of the result,
// those of a group in the brief's order.
type Grouped struct {
	*Records
	Runs []GroupRun
}

// GroupRun is where the rows of a group are among those of all: from First on, so many.
type GroupRun struct {
	Node         int // of the result's rows
	First, Count int
}

// RunGrouped works out a brief with the rows of each innermost group. Its limit does not hold for them.
func RunGrouped(
	ctx context.Context,
	snap *column.Snapshot,
	b *brief.Bound,
	opts Options,
) (res *result.Result, g *Grouped, err error) {
	defer whole(&err)
	if snap, opts, err = asOf(snap, b, opts); err != nil {
		return nil, nil, err
	}
	a, err := scanAll(ctx, snap, b, opts, true)
	if err != nil {
		return nil, nil, err
	}
	res, rows, err := a.result()
	if err != nil {
		return nil, nil, err
	}
	at := rows.at[rows.depth]
	crew := a.now[0].captured
	for i := range crew {
		crew[i].keep(a.alive)
	}
	r := newRun(ctx, snap, opts)
	if err := r.plan(b.Parts[0], a.spans[0].Now); err != nil {
		return nil, nil, err
	}
	list, err := r.unsorted(b, crew)
	if err != nil {
		return nil, nil, err
	}
	o, err := r.ordering(b)
	if err != nil {
		return nil, nil, err
	}
	before := less(r.keys(o, list.rows, list.n), list.rows)
	g = &Grouped{Records: list}
	run := make([]int, len(res.Rows)) // by node
	for i, n := range result.Innermost(res.Rows, rows.depth) {
		run[n], g.Runs = i, append(g.Runs, GroupRun{Node: n})
	}
	for _, leaf := range list.leaf {
		g.Runs[run[at[leaf]]].Count++
	}
	next := make([]int, len(g.Runs))
	for i := range g.Runs {
		if i > 0 {
			g.Runs[i].First = g.Runs[i-1].First + g.Runs[i-1].Count
		}
		next[i] = g.Runs[i].First
	}
	places := make([]int32, list.n)
	for i, leaf := range list.leaf {
		r.every(i)
		n := run[at[leaf]]
		places[next[n]] = int32(i)
		next[n]++
	}
	g.sort(r, places, before)
	list.pick(places)
	list.run, list.nodes = nil, nil
	return res, g, nil
}

// sort puts the rows of each group in order, several groups at once.
func (g *Grouped) sort(r *run, places []int32, before func(a, b int32) bool) {
	var wg sync.WaitGroup
	jobs := make(chan []int32)
	for range workers() {
		wg.Go(func() {
			for part := range jobs {
				sort.Slice(part, func(i, j int) bool { return before(part[i], part[j]) })
			}
		})
	}
	defer wg.Wait()
	defer close(jobs) // also where it is stopped
	for i, run := range g.Runs {
		r.every(i)
		if run.Count > 1 {
			jobs <- places[run.First : run.First+run.Count]
		}
	}
}
