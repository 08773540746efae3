package engine

import (
	"math/bits"
	"slices"
	"sort"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/exact"
)

// tally is a summary being worked out over the rows of one side (the current or the earlier period) of one part.
//
// Where each row brings its own record, sums and counts simply add up, leaf by leaf (adds). Where records repeat but
// the rows of one stand together (brought rows), and no group is left out afterwards, each level of groups and across
// adds up by itself, taking a record once in each cell (levels). Otherwise (links to one, medians, distinct values, top)
// the rows are noted and each record is counted once in each cell afterwards (notes).
type tally struct {
	sum   *brief.BoundSummary
	fn    string
	of    *node // nil for counts of records
	owner func(b *batch, out []int32)
	where []*cond
	once  bool // records can repeat
	notes bool // rows are noted, not added up
	level bool // rows are added up on every level
	// close says that the rows of one record come one after the other.
	close   bool
	written func(int64) int64
}

// tally plans a summary. settled says that no top and no blank will leave groups out after the scan.
func (r *run) tally(s *brief.BoundSummary, settled bool) (*tally, error) {
	t := &tally{sum: s, fn: s.Source.Fn}
	where, err := r.all(s.Where)
	if err != nil {
		return nil, err
	}
	t.where = cheapestFirst(where)
	last := len(r.part.Levels) - 1
	level := 0
	var hops []brief.Hop
	if s.Of != nil {
		level, hops = s.Of.Level, s.Of.Hops
		if !s.Of.Brought {
			if t.of, err = r.value(s.Of); err != nil {
				return nil, err
			}
		}
	}
	t.owner = func(b *batch, out []int32) { copy(out, b.rows[level][:b.n]) }
	t.close = true
	if len(hops) > 0 {
		if t.owner, err = r.hops(level, hops); err != nil {
			return nil, err
		}
		t.close = false
	}
	t.once = level < last || len(hops) > 0
	switch t.fn {
	case "min", "max":
		t.once = false
	case "distinct":
		t.notes, t.once, t.close = true, true, false
		t.written = t.of.written()
	case "median":
		t.notes = true
	}
	t.level = t.once && t.close && !t.notes && settled
	t.notes = t.notes || (t.once && !t.level)
	return t, nil
}

// adds are sums and counts by leaf: the filled records, the 128-bit sum of their values, the least and the greatest.
type adds struct {
	count []int64
	hi    []int64
	lo    []uint64
	ext   []int64
}

func (a *adds) grow(n int) {
	more := n - len(a.count)
	if more <= 0 {
		return
	}
	a.count, a.hi, a.lo = append(a.count, make([]int64, more)...), append(a.hi, make([]int64, more)...), append(a.lo, make([]uint64, more)...)
	a.ext = append(a.ext, make([]int64, more)...)
	fill(a.ext[n-more:], column.Null)
}

func (a *adds) add(leaf int32, v int64) {
	a.count[leaf]++
	lo, carry := bits.Add64(a.lo[leaf], uint64(v), 0)
	a.lo[leaf] = lo
	a.hi[leaf] += v>>63 + int64(carry)
}

func (a *adds) extreme(leaf int32, v int64, least bool) {
	a.count[leaf]++
	if was := a.ext[leaf]; was == column.Null || (least && v < was) || (!least && v > was) {
		a.ext[leaf] = v
	}
}

// merge adds a leaf of another into one of this.
func (a *adds) merge(to int32, b *adds, from int, least bool) {
	a.count[to] += b.count[from]
	lo, carry := bits.Add64(a.lo[to], b.lo[from], 0)
	a.lo[to] = lo
	a.hi[to] += b.hi[from] + int64(carry)
	if v := b.ext[from]; v != column.Null {
		if was := a.ext[to]; was == column.Null || (least && v < was) || (!least && v > was) {
			a.ext[to] = v
		}
	}
}

// notes are rows noted for one summary: their leaf, the record (or distinct value) they count once by, their value.
type notes struct {
	leaf []int32
	key  []int64
	val  []int64
}

// take works one batch into a worker's adds or notes. leaf is the leaf of each row.
func (t *tally) take(b *batch, leaf []int32, levels []*levelCells, f *found) {
	a, n := &f.adds, &f.notes
	marks := take(&b.pool.marks, b.n)
	setAll(marks, true)
	if len(t.where) > 0 {
		more := take(&b.pool.marks, b.n)
		for _, c := range t.where {
			c.mark(b, more)
			for i, m := range more {
				marks[i] = marks[i] && m
			}
		}
		give(&b.pool.marks, more)
	}
	owners := take(&b.pool.rows, b.n)
	t.owner(b, owners)
	vals := take(&b.pool.ints, b.n)
	if t.of != nil {
		t.of.eval(b, vals)
	} else {
		fill(vals, 1)
	}
	switch {
	case t.notes:
		t.note(marks, owners, vals, leaf, n)
	case t.level:
		for l, cells := range levels {
			f.levels[l].take(t.fn, cells, marks, owners, vals, leaf)
		}
	case t.fn == "min" || t.fn == "max":
		for i, ok := range marks {
			if ok && owners[i] >= 0 && vals[i] != column.Null {
				a.extreme(leaf[i], vals[i], t.fn == "min")
			}
		}
	case t.fn == "count" || t.fn == "filled":
		for i, ok := range marks {
			if ok && owners[i] >= 0 && vals[i] != column.Null {
				a.count[leaf[i]]++
			}
		}
	default:
		for i, ok := range marks {
			if ok && owners[i] >= 0 && vals[i] != column.Null {
				a.add(leaf[i], vals[i])
			}
		}
	}
	give(&b.pool.ints, vals)
	give(&b.pool.rows, owners)
	give(&b.pool.marks, marks)
}

func (t *tally) note(marks []bool, owners []int32, vals []int64, leaf []int32, n *notes) {
	for i, ok := range marks {
		if !ok || owners[i] < 0 || vals[i] == column.Null {
			continue
		}
		key := int64(owners[i])
		if t.fn == "distinct" {
			key = vals[i]
			if t.written != nil {
				key = t.written(key)
			}
		}
		n.leaf = append(n.leaf, leaf[i])
		n.key = append(n.key, key)
		if t.fn != "distinct" && t.fn != "count" && t.fn != "filled" {
			n.val = append(n.val, vals[i])
		}
	}
}

// byKey puts notes in an order in which those of one record come one after the other.
func (n *notes) byKey() {
	if len(n.key) == 0 {
		return
	}
	lo, hi := slices.Min(n.key), slices.Max(n.key)
	perm := make([]int32, len(n.key))
	if span := hi - lo; span >= 0 && span < int64(4*len(n.key)+1024) {
		starts := make([]int32, span+2)
		for _, k := range n.key {
			starts[k-lo+1]++
		}
		for i := 1; i < len(starts); i++ {
			starts[i] += starts[i-1]
		}
		for i, k := range n.key {
			perm[starts[k-lo]] = int32(i)
			starts[k-lo]++
		}
	} else {
		for i := range perm {
			perm[i] = int32(i)
		}
		sort.Slice(perm, func(i, j int) bool { return n.key[perm[i]] < n.key[perm[j]] })
	}
	next := notes{leaf: make([]int32, len(perm)), key: make([]int64, len(perm))}
	if n.val != nil {
		next.val = make([]int64, len(perm))
	}
	for i, p := range perm {
		next.leaf[i], next.key[i] = n.leaf[p], n.key[p]
		if n.val != nil {
			next.val[i] = n.val[p]
		}
	}
	*n = next
}

// Value is one number, date or time of a result; Set is false where it is empty. Dates are days, times seconds;
// money is in whole units, percents in percent.
type Value struct {
	Set bool
	Num exact.Num
}

// found is what one worker has found for one summary.
type found struct {
	adds   adds
	notes  notes
	levels []levelAdds
}

// data is what the scan of one side found for one summary.
type data struct {
	*tally
	adds   adds
	notes  notes
	levels []levelSums
}

// cells works the summary out for the cells of one level: cellOf says for each leaf which cell it belongs to, −1 for
// none. With it
// comes how many records were counted in all cells together, from which overlap is seen.
func (d *data) cells(cellOf []int32, n, level int) ([]Value, int64) {
	if d.level {
		sums := &adds{}
		sums.grow(n)
		counted := int64(0)
		if level < len(d.levels) {
			l := &d.levels[level]
			for c, leaf := range l.leaf {
				if cell := cellOf[leaf]; cell >= 0 {
					sums.merge(cell, &l.adds, c, false)
					counted += l.adds.count[c]
				}
			}
		}
		return d.values(sums), counted
	}
	if !d.tally.notes {
		sums := &adds{}
		sums.grow(n)
		for leaf, cell := range cellOf {
			if cell >= 0 && leaf < len(d.adds.count) {
				sums.merge(cell, &d.adds, leaf, d.fn == "min")
			}
		}
		return d.values(sums), 0
	}
	return d.eachOnce(cellOf, n)
}

// eachOnce goes over the noted rows and takes each record once in each cell.
func (d *data) eachOnce(cellOf []int32, n int) ([]Value, int64) {
	last := make([]int64, n)
	for i := range last {
		last[i] = column.Null
	}
	sums := &adds{}
	sums.grow(n)
	var lists [][]int64
	if d.fn == "median" {
		lists = make([][]int64, n)
	}
	counted := int64(0)
	for i, leaf := range d.notes.leaf {
		cell := cellOf[leaf]
		if cell < 0 {
			continue
		}
		if d.once {
			if last[cell] == d.notes.key[i] {
				continue
			}
			last[cell] = d.notes.key[i]
		}
		counted++
		switch {
		case lists != nil:
			lists[cell] = append(lists[cell], d.notes.val[i])
		case d.notes.val != nil:
			sums.add(cell, d.notes.val[i])
		default:
			sums.count[cell]++
		}
	}
	if lists == nil {
		return d.values(sums), counted
	}
	out := make([]Value, n)
	for i, list := range lists {
		if len(list) > 0 {
			out[i] = Value{true, middle(list, d.sum.Scale)}
		}
	}
	return out, counted
}

func (d *data) values(s *adds) []Value {
	out := make([]Value, len(s.count))
	scale := d.sum.Scale
	for i, n := range s.count {
		switch {
		case d.fn == "count" || d.fn == "filled" || d.fn == "distinct":
			out[i] = Value{true, exact.Int(n)}
		case n == 0:
		case d.fn == "sum":
			out[i] = Value{true, exact.Wide(s.hi[i], s.lo[i], scale)}
		case d.fn == "average":
			mean, _ := exact.Wide(s.hi[i], s.lo[i], scale).Quo(exact.Int(n))
			out[i] = Value{true, mean}
		default:
			out[i] = Value{true, exact.Frac(s.ext[i], max(scale, 1))}
		}
	}
	return out
}
