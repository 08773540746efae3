package engine

import (
	"sort"

	"uzzel/core/brief"
	"uzzel/core/column"
)

// ordering is what rows are put in order by, the most telling first.
type ordering []orderedBy

type orderedBy struct {
	node *node
	rank []int64 // of texts, by their codes: where they are in order
	desc bool
}

// ordering plans a brief's order.
func (r *run) ordering(b *brief.Bound) (ordering, error) {
	out := make(ordering, len(b.Order))
	for i, v := range b.Order {
		n, err := r.value(v)
		if err != nil {
			return nil, err
		}
		out[i] = orderedBy{node: n, desc: b.Brief.Order[i].Desc}
		if n.dict != nil {
			out[i].rank = n.dict.ranks()
		}
	}
	return out, nil
}

// eval writes the values of rows as numbers that sort as the values do.
func (o *orderedBy) eval(b *batch, out []int64) {
	o.node.eval(b, out)
	if o.rank == nil {
		return
	}
	for i, v := range out {
		if v != column.Null {
			out[i] = o.rank[v]
		}
	}
}

// sortKey is the value of each row by which a list is sorted, as a number that sorts as the value does.
type sortKey struct {
	vals []int64
	desc bool
}

// keys are those of all rows of a list.
func (r *run) keys(o ordering, rows [3][]int32, n int) []sortKey {
	out := make([]sortKey, len(o))
	for k := range o {
		vals := make([]int64, n)
		parallel(n, func(from, to int) {
			p := &pool{}
			for ; from < to; from += batchSize {
				r.poll()
				b := stretch(rows, from, min(from+batchSize, to), p)
				o[k].eval(b, vals[from:from+b.n])
			}
		})
		out[k] = sortKey{vals, o[k].desc}
	}
	return out
}

// less orders indices by keys, then by their records' ids.
func less(keys []sortKey, list [3][]int32) func(a, b int32) bool {
	return func(a, b int32) bool {
		for _, k := range keys {
			x, y := k.vals[a], k.vals[b]
			if x == y {
				continue
			}
			if x == column.Null || y == column.Null {
				return y == column.Null
			}
			return (x < y) != k.desc
		}
		for _, rows := range list {
			if len(rows) > 0 && rows[a] != rows[b] {
				// A row kept without a brought record comes last among its record's rows.
				return uint32(rows[a]) < uint32(rows[b])
			}
		}
		return false
	}
}

// ranks gives each code its index in order: a set order first, then text by case folding. Texts that fold to the
// same have the same index.
func (d *dict) ranks() []int64 {
	folded := d.folded()
	perm := make([]int32, len(d.values))
	for i := range perm {
		perm[i] = int32(i)
	}
	ordered := d.ordered
	if ordered < 0 {
		ordered = len(d.values)
	}
	less := func(a, b int32) bool {
		if x, y := int(a) < ordered, int(b) < ordered; x || y {
			if x && y {
				return a < b
			}
			return x
		}
		return folded[a] < folded[b]
	}
	sort.Slice(perm, func(i, j int) bool { return less(perm[i], perm[j]) })
	rank := make([]int64, len(perm))
	at := int64(0)
	for i, p := range perm {
		if i > 0 && less(perm[i-1], p) {
			at++
		}
		rank[p] = at
	}
	return rank
}
