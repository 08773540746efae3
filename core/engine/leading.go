package engine

import (
	"math"
	"slices"
	"sort"
	"sync"

	"uzzel/core/column"
)

// leading are the first rows of those that came by, in an order, and some that may yet be among them.
type leading struct {
	want   int
	keys   []sortKey
	rows   [3][]int32
	places []int32
	// worst is the last of as many as are wanted: only what comes before it is taken. Nothing until there are so many.
	worst *leading
	vals  [][]int64 // of a batch, by key
}

func newLeading(o ordering, want int) *leading {
	f := &leading{want: want, keys: make([]sortKey, len(o)), vals: make([][]int64, len(o))}
	for k := range o {
		f.keys[k].desc, f.vals[k] = o[k].desc, make([]int64, batchSize)
	}
	return f
}

// look takes the rows of a batch that may be among the first; place is that of its first row.
func (f *leading) look(o ordering, b *batch, place int) {
	for k := range o {
		o[k].eval(b, f.vals[k][:b.n])
	}
	for i := range b.n {
		if f.worst != nil && !f.worst.after(f.vals, b, i) {
			continue
		}
		for k := range f.keys {
			f.keys[k].vals = append(f.keys[k].vals, f.vals[k][i])
		}
		for l, rows := range b.rows {
			if rows != nil {
				f.rows[l] = append(f.rows[l], rows[i])
			}
		}
		f.places = append(f.places, int32(place+i))
		if len(f.places) == 2*f.want+1024 {
			f.cut()
		}
	}
}

// after says whether the one that is the worst comes after a row of a batch, as less does.
func (f *leading) after(vals [][]int64, b *batch, i int) bool {
	for k := range f.keys {
		x, y := vals[k][i], f.keys[k].vals[0]
		if x == y {
			continue
		}
		if x == column.Null || y == column.Null {
			return y == column.Null
		}
		return (x < y) != f.keys[k].desc
	}
	for l, rows := range b.rows {
		if rows != nil && rows[i] != f.rows[l][0] {
			return uint32(rows[i]) < uint32(f.rows[l][0])
		}
	}
	return false
}

// cut puts what there is in order, and drops what is more than wanted.
func (f *leading) cut() {
	perm := make([]int32, len(f.places))
	for i := range perm {
		perm[i] = int32(i)
	}
	before := less(f.keys, f.rows)
	sort.Slice(perm, func(i, j int) bool { return before(perm[i], perm[j]) })
	*f = *f.picked(perm[:min(len(perm), f.want)])
	if n := len(f.places); n == f.want && n > 0 {
		f.worst = f.picked([]int32{int32(n - 1)})
	}
}

// picked are those at indices, in their order.
func (f *leading) picked(perm []int32) *leading {
	out := &leading{want: f.want, vals: f.vals, worst: f.worst, rows: picked(f.rows, perm), keys: slices.Clone(f.keys)}
	for k := range out.keys {
		out.keys[k].vals = make([]int64, len(perm))
		for i, p := range perm {
			out.keys[k].vals[i] = f.keys[k].vals[p]
		}
	}
	out.places = picked([3][]int32{f.places}, perm)[0]
	return out
}

// join takes others' first rows in.
func (f *leading) join(g *leading) {
	for k := range f.keys {
		f.keys[k].vals = append(f.keys[k].vals, g.keys[k].vals...)
	}
	for l := range f.rows {
		f.rows[l] = append(f.rows[l], g.rows[l]...)
	}
	f.places = append(f.places, g.places...)
}

// firstOf gives the places of the first rows of a list in an order, as many as are wanted, sorted.
func (r *run) firstOf(o ordering, rows [3][]int32, n, want int) []int32 {
	var mu sync.Mutex
	all := newLeading(o, want)
	parallel(n, func(from, to int) {
		f := newLeading(o, want)
		p := &pool{}
		// Records are often in the order that is asked for, or in its opposite. Looked at here and there, few have to be taken.
		batches := (to - from + batchSize - 1) / batchSize
		step := scattering(batches)
		for k := range batches {
			r.poll()
			at := from + k*step%batches*batchSize
			f.look(o, stretch(rows, at, min(at+batchSize, to), p), at)
		}
		mu.Lock()
		defer mu.Unlock()
		all.join(f)
	})
	all.cut()
	return all.places
}

// scattering is a step that leads through n places, each once, so that those near each other are met far from each other.
func scattering(n int) int {
	step := max(1, int(math.Round(float64(n)*0.618)))
	for gcd(step, n) > 1 {
		step++
	}
	return step
}

func gcd(a, b int) int {
	for b != 0 {
		a, b = b, a%b
	}
	return a
}
