package engine

import (
	"math/bits"
	"slices"
	"sort"
	"sync"

	"uzzel/core/column"
	"uzzel/core/exact"
	"uzzel/core/result"
)

// Medians of rows that each bring their own record: values are noted with their leaf as they are found, then put in
// order leaf by leaf once. A cell's median is found in the ordered values of its leaves, on every level of groups.

// blockSize is how many values are noted in one stretch of memory.
const blockSize = 1 << 15

// block are values noted one after the other, with their leaves.
type block struct {
	leaf []int32
	val  []int64
}

var spare = sync.Pool{New: func() any {
	return &block{make([]int32, 0, blockSize), make([]int64, 0, blockSize)}
}}

// noted are all values of a median.
type noted struct{ blocks []*block }

// add notes the values of a batch.
func (n *noted) add(marks []bool, owners []int32, sure bool, vals []int64, leaf []int32) {
	if k := len(n.blocks); k == 0 || len(n.blocks[k-1].val)+len(vals) > blockSize {
		n.blocks = append(n.blocks, spare.Get().(*block))
	}
	b := n.blocks[len(n.blocks)-1]
	at := len(b.val)
	to, of := b.val[at:at+len(vals)], b.leaf[at:at+len(vals)]
	k := 0
	for i, v := range vals {
		to[k], of[k] = v, leaf[i]
		if v != column.Null && (marks == nil || marks[i]) && (sure || owners[i] >= 0) {
			k++
		}
	}
	b.val, b.leaf = b.val[:at+k], b.leaf[:at+k]
}

// move gives values other leaves.
func (n *noted) move(to []int32) {
	for _, b := range n.blocks {
		for i, leaf := range b.leaf {
			b.leaf[i] = to[leaf]
		}
	}
}

// release gives the memory back.
func (n *noted) release() {
	for _, b := range n.blocks {
		b.leaf, b.val = b.leaf[:0], b.val[:0]
		spare.Put(b)
	}
	n.blocks = nil
}

// ordered are the values of each leaf, the smallest first.
type ordered struct {
	vals []int64
	from []int // where those of a leaf begin; one more at the end
}

func (o *ordered) of(leaf int) []int64 { return o.vals[o.from[leaf]:o.from[leaf+1]] }

// byLeaf puts noted values in order for so many leaves.
func (n *noted) byLeaf(g guard, leaves int) *ordered {
	total := 0
	starts := make([]int, len(n.blocks)+1)
	for i, b := range n.blocks {
		total += len(b.val)
		starts[i+1] = total
	}
	if total == 0 {
		return &ordered{from: make([]int, leaves+1)}
	}
	// each goes over the values from one index up to another, a block at a time.
	each := func(from, to int, use func(leaf []int32, val []int64)) {
		for i, b := range n.blocks {
			lo, hi := max(from, starts[i]), min(to, starts[i+1])
			if lo < hi {
				g.poll()
				use(b.leaf[lo-starts[i]:hi-starts[i]], b.val[lo-starts[i]:hi-starts[i]])
			}
		}
	}
	w := workers()
	part := func(from int) int { return (from*w + total - 1) / total }
	at := make([][]int, w) // by part of the values: where the next of each leaf goes
	parallel(total, func(from, to int) {
		counts := make([]int, leaves)
		each(from, to, func(leaf []int32, _ []int64) {
			for _, l := range leaf {
				counts[l]++
			}
		})
		at[part(from)] = counts
	})
	o := &ordered{vals: make([]int64, total), from: make([]int, leaves+1)}
	next := 0
	for leaf := range leaves {
		o.from[leaf] = next
		for _, counts := range at {
			if counts != nil {
				n := counts[leaf]
				counts[leaf] = next
				next += n
			}
		}
	}
	o.from[leaves] = next
	parallel(total, func(from, to int) {
		next := at[part(from)]
		each(from, to, func(leaf []int32, val []int64) {
			for i, l := range leaf {
				o.vals[next[l]] = val[i]
				next[l]++
			}
		})
	})
	parallel(total, func(from, to int) {
		var room []int64
		for leaf := sort.SearchInts(o.from[:leaves], from); leaf < leaves && o.from[leaf] < to; leaf++ {
			g.every(leaf)
			room = order(o.of(leaf), room)
		}
	})
	return o
}

// order puts values in order, the smallest first: by their digits where they are many and lie close together. room is
// memory to work in, which is given back for the next time.
func order(list, room []int64) []int64 {
	if len(list) < 512 {
		slices.Sort(list)
		return room
	}
	low, high := slices.Min(list), slices.Max(list)
	span := uint64(high) - uint64(low)
	if span == 0 {
		return room
	}
	const digit = 11
	if bits.Len64(span) > 3*digit {
		slices.Sort(list)
		return room
	}
	if cap(room) < len(list) {
		room = make([]int64, len(list))
	}
	a, b := list, room[:len(list)]
	for shift := 0; span>>shift > 0; shift += digit {
		var at [1<<digit + 1]int
		for _, v := range a {
			at[(uint64(v)-uint64(low))>>shift&(1<<digit-1)+1]++
		}
		for i := range at[1:] {
			at[i+1] += at[i]
		}
		for _, v := range a {
			d := (uint64(v) - uint64(low)) >> shift & (1<<digit - 1)
			b[at[d]] = v
			at[d]++
		}
		a, b = b, a
	}
	if &a[0] != &list[0] {
		copy(list, a)
	}
	return room
}

// medians gives the median of each cell, and how many values there are in all cells together.
func (d *data) medians(g guard, cellOf []int32, n int) ([]result.Value, int64) {
	if d.ordered == nil || len(d.ordered.from) != len(cellOf)+1 {
		d.ordered = d.noted.byLeaf(g, len(cellOf))
	}
	lists := make([][][]int64, n)
	counted := int64(0)
	for leaf, cell := range cellOf {
		if list := d.ordered.of(leaf); cell >= 0 && len(list) > 0 {
			lists[cell] = append(lists[cell], list)
			counted += int64(len(list))
		}
	}
	out := make([]result.Value, n)
	for i, of := range lists {
		g.every(i)
		if len(of) > 0 {
			out[i] = result.Value{Set: true, Num: middleOf(g, of, d.sum.Scale)}
		}
	}
	return out, counted
}

// middleOf is the median of lists that are in order: of an even number of values, the mean of the middle two.
func middleOf(g guard, lists [][]int64, scale int64) exact.Num {
	n := 0
	for _, l := range lists {
		n += len(l)
	}
	if len(lists) > 1 && n < 400*len(lists) { // short lists are put together sooner than searched one by one
		all := make([]int64, 0, n)
		for _, l := range lists {
			all = append(all, l...)
		}
		g.poll()
		return middle(all, scale)
	}
	high := exact.Frac(place(lists, n/2), scale)
	if n%2 == 1 {
		return high
	}
	return high.Add(exact.Frac(place(lists, n/2-1), scale)).Mul(exact.Frac(1, 2))
}

// place is the value at an index, counted from 0, among all of some lists that are in order.
func place(lists [][]int64, k int) int64 {
	if len(lists) == 1 {
		return lists[0][k]
	}
	low, high := lists[0][0], lists[0][len(lists[0])-1]
	for _, l := range lists[1:] {
		low, high = min(low, l[0]), max(high, l[len(l)-1])
	}
	for low < high {
		mid := low + int64((uint64(high)-uint64(low))/2)
		upTo := 0
		for _, l := range lists {
			upTo += sort.Search(len(l), func(i int) bool { return l[i] > mid })
		}
		if upTo > k {
			high = mid
		} else {
			low = mid + 1
		}
	}
	return low
}
