package engine

import (
	"cmp"
	"math/bits"
	"slices"
	"sort"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/exact"
	"uzzel/core/result"
)

// tally is a summary being worked out over the rows of one side (the current or the earlier period) of one part.
//
// Where each row brings its own record, sums and counts simply add up, leaf by leaf (adds). Where records repeat but
// the rows of one are adjacent (brought rows), and no group is left out afterwards, each level of groups and across
// adds up by itself, taking a record once in each cell (levels). Otherwise (links to one, medians, distinct values,
// top) the rows are noted and each record is counted once in each cell afterwards (notes).
type tally struct {
	sum *brief.BoundSummary
	fn  string
	of  *node // nil for counts of records
	// The record that a row counts for: of one level of the rows, or behind links to one from there.
	ownerLevel int
	owner      func(b *batch, out []int32)
	sure       bool // every row has an owner
	where      []*cond
	once       bool // records can repeat
	notes      bool // rows are noted, not added up
	level      bool // rows are added up on every level
	plain      bool // a median of rows that each bring their own record: values are noted, and put in order (medians.go)
	// close says that the rows of one record come one after the other.
	close   bool
	written func(int64) int64
}

// tally plans a summary. settled says that no top and no blank will leave groups out after the scan.
func (r *run) tally(s *brief.BoundSummary, settled bool) (*tally, error) {
	t := &tally{sum: s, fn: s.Source.Fn}
	where, err := r.both(s.Where, s.Fixed)
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
			if t.fn == "filled" {
				t.of = t.of.holding()
			}
		}
	}
	t.ownerLevel, t.sure, t.close = level, level == 0 && len(hops) == 0, true
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
	t.plain = t.fn == "median" && !t.once
	return t, nil
}

// adds are sums and counts by leaf.
type adds []sum

// manyLeaves is from how many leaves on room is made for as many as there can be.
const manyLeaves = 4096

// sum is the number of filled records, the 128-bit sum of their values, and the least or the greatest of them.
type sum struct {
	count int64
	hi    int64
	lo    uint64
	ext   int64
}

// grow makes room for n leaves. most is how many there can be, where that is known: once there are many, room is made
// for all of them, so that none is moved again.
func (a *adds) grow(n, most int) {
	have := len(*a)
	if n <= have {
		return
	}
	if n > cap(*a) {
		room := max(n, 2*have, 64)
		if n > manyLeaves {
			room = max(room, most)
		}
		more := make(adds, have, room)
		copy(more, *a)
		*a = more
	}
	*a = (*a)[:n]
	for i := have; i < n; i++ {
		(*a)[i] = sum{ext: column.Null}
	}
}

func (s *sum) add(v int64) {
	s.count++
	lo, carry := bits.Add64(s.lo, uint64(v), 0)
	s.lo = lo
	s.hi += v>>63 + int64(carry)
}

func (s *sum) extreme(v int64, least bool) {
	s.count++
	if was := s.ext; was == column.Null || (least && v < was) || (!least && v > was) {
		s.ext = v
	}
}

// merge adds another into this.
func (s *sum) merge(o *sum, least bool) {
	s.count += o.count
	lo, carry := bits.Add64(s.lo, o.lo, 0)
	s.lo = lo
	s.hi += o.hi + int64(carry)
	if v := o.ext; v != column.Null {
		if was := s.ext; was == column.Null || (least && v < was) || (!least && v > was) {
			s.ext = v
		}
	}
}

// notes are rows noted for one summary: their leaf, the record (or distinct value) they count once by where one can
// come again, their value.
type notes struct {
	leaf []int32
	key  []int64
	val  []int64
}

// take works one batch into a worker's adds or notes. leaf is the leaf of each row.
func (t *tally) take(b *batch, leaf []int32, levels []*levelCells, f *found) {
	marks := t.marks(b)
	owners := b.rows[t.ownerLevel][:b.n]
	if t.owner != nil {
		owners = take(&b.pool.rows, b.n)
		t.owner(b, owners)
		defer give(&b.pool.rows, owners)
	}
	var vals []int64
	if t.of != nil {
		vals = take(&b.pool.ints, b.n)
		t.of.eval(b, vals)
		defer give(&b.pool.ints, vals)
	}
	switch {
	case t.plain:
		f.noted.add(marks, owners, t.sure, vals, leaf)
	case t.notes:
		t.note(marks, owners, vals, leaf, &f.notes)
	case t.level:
		f.take(t, levels, marks, owners, vals, leaf)
	default:
		t.add(marks, owners, vals, leaf, f.adds)
	}
	if marks != nil {
		give(&b.pool.marks, marks)
	}
}

// marks says which rows of a batch meet the summary's own condition; nil for all.
func (t *tally) marks(b *batch) []bool {
	if len(t.where) == 0 {
		return nil
	}
	marks, more := take(&b.pool.marks, b.n), take(&b.pool.marks, b.n)
	t.where[0].mark(b, marks)
	for _, c := range t.where[1:] {
		c.mark(b, more)
		for i, m := range more {
			marks[i] = marks[i] && m
		}
	}
	give(&b.pool.marks, more)
	return marks
}

// add adds rows up by leaf, where every row brings its own record.
func (t *tally) add(marks []bool, owners []int32, vals []int64, leaf []int32, a adds) {
	if !t.sure {
		marks = filled(marks, owners)
	}
	ok := func(i int) bool { return marks == nil || marks[i] }
	switch {
	case t.fn == "min" || t.fn == "max":
		least := t.fn == "min"
		for i, v := range vals {
			if v != column.Null && ok(i) {
				a[leaf[i]].extreme(v, least)
			}
		}
	case vals == nil && marks == nil:
		for _, l := range leaf {
			a[l].count++
		}
	case vals == nil:
		for i, l := range leaf {
			if marks[i] {
				a[l].count++
			}
		}
	case t.fn == "count" || t.fn == "filled":
		for i, v := range vals {
			if v != column.Null && ok(i) {
				a[leaf[i]].count++
			}
		}
	case marks == nil:
		for i, v := range vals {
			if v != column.Null {
				a[leaf[i]].add(v)
			}
		}
	default:
		for i, v := range vals {
			if v != column.Null && marks[i] {
				a[leaf[i]].add(v)
			}
		}
	}
}

// filled narrows marks, which it changes or makes, to rows that have an owner.
func filled(marks []bool, owners []int32) []bool {
	if marks == nil {
		marks = make([]bool, len(owners), max(len(owners), batchSize))
		setAll(marks, true)
	}
	for i, o := range owners {
		marks[i] = marks[i] && o >= 0
	}
	return marks
}

func (t *tally) note(marks []bool, owners []int32, vals []int64, leaf []int32, n *notes) {
	for i, owner := range owners {
		if owner < 0 || (marks != nil && !marks[i]) || (vals != nil && vals[i] == column.Null) {
			continue
		}
		key := int64(owner)
		if t.fn == "distinct" {
			key = vals[i]
			if t.written != nil {
				key = t.written(key)
			}
		}
		n.leaf = append(n.leaf, leaf[i])
		if t.once || t.fn == "distinct" {
			n.key = append(n.key, key)
		}
		if t.fn != "distinct" && t.fn != "count" && t.fn != "filled" {
			n.val = append(n.val, vals[i])
		}
	}
}

// byKey puts notes in an order in which those of one record come one after the other.
func (n *notes) byKey(g guard) {
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
		compared := 0
		sort.Slice(perm, func(i, j int) bool {
			compared++
			g.every(compared)
			return n.key[perm[i]] < n.key[perm[j]]
		})
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

// found is what one worker has found for one summary.
type found struct {
	adds   adds
	notes  notes
	noted  noted
	levels []levelAdds
	// firsts are the rows that levels take from a batch. Summaries over the same records share them, and the first of
	// these summaries, which leads, picks them out.
	firsts *firsts
	lead   bool
}

// data is what the scan of one side found for one summary.
type data struct {
	*tally
	adds    adds
	notes   notes
	noted   noted
	ordered *ordered // the noted values, once a cell asked for them
	levels  []levelSums
}

// cells works the summary out for the cells of one level: cellOf says for each leaf which cell it belongs to, −1 for
// none. With it
// comes how many records were counted in all cells together, from which overlap is seen.
func (d *data) cells(g guard, cellOf []int32, n, level int) ([]result.Value, int64) {
	if d.level {
		sums := adds{}
		sums.grow(n, 0)
		counted := int64(0)
		if level < len(d.levels) {
			l := &d.levels[level]
			for c, leaf := range l.leaf {
				if cell := cellOf[leaf]; cell >= 0 {
					sums[cell].merge(&l.adds[c], false)
					counted += l.adds[c].count
				}
			}
		}
		return d.values(sums), counted
	}
	if d.plain {
		return d.medians(g, cellOf, n)
	}
	if !d.tally.notes {
		return d.values(d.sums(cellOf, n)), 0
	}
	return d.eachOnce(g, cellOf, n)
}

// sums adds what was added up by leaf up by cell. Where each leaf is a cell of its own, in order, it is what it was.
func (d *data) sums(cellOf []int32, n int) adds {
	if n == len(cellOf) && n == len(d.adds) && inOrder(cellOf) {
		return d.adds
	}
	sums := adds{}
	sums.grow(n, 0)
	for leaf, cell := range cellOf[:min(len(cellOf), len(d.adds))] {
		if cell >= 0 {
			sums[cell].merge(&d.adds[leaf], d.fn == "min")
		}
	}
	return sums
}

// inOrder says whether each of a list's indices holds itself.
func inOrder(list []int32) bool {
	for i, v := range list {
		if v != int32(i) {
			return false
		}
	}
	return true
}

// compares says how sums compare as the values do that are worked out of them: −1 where the first is smaller. It is nil
// for summaries of which that is not so.
func (t *tally) compares() func(x, y *sum) int {
	if t.notes || t.level {
		return nil
	}
	switch t.fn {
	case "count", "filled":
		return func(x, y *sum) int { return cmp.Compare(x.count, y.count) }
	case "sum":
		return func(x, y *sum) int {
			if c := cmp.Compare(x.hi, y.hi); c != 0 {
				return c
			}
			return cmp.Compare(x.lo, y.lo)
		}
	case "min", "max":
		return func(x, y *sum) int { return cmp.Compare(x.ext, y.ext) }
	}
	return nil
}

// ranks orders cells by their sums: −1 where the first comes before the second, the largest first, the smallest first
// where least is set; those without a value come last. It is nil where compares is.
func (t *tally) ranks(sums adds, least bool) func(x, y int32) int {
	compare, counts := t.compares(), t.fn == "count" || t.fn == "filled"
	if compare == nil {
		return nil
	}
	return func(i, j int32) int {
		x, y := &sums[i], &sums[j]
		switch c := compare(x, y); {
		case !counts && x.count == 0 && y.count == 0:
			return 0
		case !counts && x.count == 0:
			return 1
		case !counts && y.count == 0:
			return -1
		case least:
			return c
		default:
			return -c
		}
	}
}

// eachOnce goes over the noted rows and takes each record once in each cell.
func (d *data) eachOnce(g guard, cellOf []int32, n int) ([]result.Value, int64) {
	last := make([]int64, n)
	for i := range last {
		last[i] = column.Null
	}
	sums := adds{}
	sums.grow(n, 0)
	var lists [][]int64
	if d.fn == "median" {
		lists = d.room(cellOf, n)
	}
	counted := int64(0)
	for i, leaf := range d.notes.leaf {
		g.every(i)
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
			sums[cell].add(d.notes.val[i])
		default:
			sums[cell].count++
		}
	}
	if lists == nil {
		return d.values(sums), counted
	}
	out := make([]result.Value, n)
	for i, list := range lists {
		if len(list) > 0 {
			out[i] = result.Value{Set: true, Num: middle(list, d.sum.Scale)}
		}
	}
	return out, counted
}

// room is an empty list for each cell, with room for all the rows that are noted there.
func (d *data) room(cellOf []int32, n int) [][]int64 {
	at := make([]int, n+1)
	for _, leaf := range d.notes.leaf {
		if cell := cellOf[leaf]; cell >= 0 {
			at[cell+1]++
		}
	}
	for i := range n {
		at[i+1] += at[i]
	}
	all := make([]int64, at[n])
	lists := make([][]int64, n)
	for i := range lists {
		lists[i] = all[at[i]:at[i]:at[i+1]]
	}
	return lists
}

func (d *data) values(sums adds) []result.Value {
	out := make([]result.Value, len(sums))
	scale := d.sum.Scale
	for i := range sums {
		s := &sums[i]
		switch {
		case d.fn == "count" || d.fn == "filled" || d.fn == "distinct":
			out[i] = result.Value{Set: true, Num: exact.Int(s.count)}
		case s.count == 0:
		case d.fn == "sum":
			out[i] = result.Value{Set: true, Num: exact.Wide(s.hi, s.lo, scale)}
		case d.fn == "average":
			mean, _ := exact.Wide(s.hi, s.lo, scale).Quo(exact.Int(s.count))
			out[i] = result.Value{Set: true, Num: mean}
		default:
			out[i] = result.Value{Set: true, Num: exact.Frac(s.ext, max(scale, 1))}
		}
	}
	return out
}
