// Package engine plans and runs a checked brief over a snapshot of the records and gives its result: groups, cells,
// totals, lists of records, what each condition took out. It follows docs/brief.md to the letter and reads no clock.
package engine

import (
	"uzzel/core/exact"
)

// batchSize is how many rows are worked on at once: few enough that their values stay in the processor's cache.
const batchSize = 2048

// morsel is how many starting records a worker takes at a time.
const morsel = 16384

// batch is some rows of a report: for each level of a row (the starting record, brought ones) its row number in that
// level's table, −1 where a record was kept without any brought one.
type batch struct {
	n    int
	rows [3][]int32
	run  bool // rows[0] are numbers that follow each other
	pool *pool
	// known are the values of own fields that were worked out for these rows.
	known map[*node][]int64
}

// inner is a batch over one table alone, for conditions and values on linked records.
func (b *batch) inner(rows []int32) *batch {
	in := &batch{n: len(rows), pool: b.pool}
	in.rows[0] = rows
	return in
}

// marked calls use for each row that mark marks.
func (b *batch) marked(mark func(b *batch, out []bool), use func(i int)) {
	marks := take(&b.pool.marks, b.n)
	mark(b, marks)
	for i, m := range marks {
		if m {
			use(i)
		}
	}
	give(&b.pool.marks, marks)
}

// keep drops the rows whose mark is false.
func (b *batch) keep(marks []bool) {
	n := 0
	b.known = nil
	for l := range b.rows {
		rows := b.rows[l]
		if rows == nil {
			continue
		}
		n = 0
		for i, ok := range marks[:b.n] {
			rows[n] = rows[i]
			if ok {
				n++
			}
		}
		b.rows[l] = rows[:n]
	}
	if n < b.n {
		b.run = false
	}
	b.n = n
}

// pool hands out and takes back the working space of one worker, so that a run allocates next to nothing.
type pool struct {
	ints  [][]int64
	rows  [][]int32
	marks [][]bool
	nums  [][]maybe
	pairs []*pairs
}

func (p *pool) pair() *pairs {
	if k := len(p.pairs); k > 0 {
		last := p.pairs[k-1]
		p.pairs = p.pairs[:k-1]
		return last
	}
	return &pairs{}
}

func (p *pool) unpair(done *pairs) { p.pairs = append(p.pairs, done) }

// maybe is a number or no number.
type maybe struct {
	num exact.Num
	ok  bool
}

func take[T any](list *[][]T, n int) []T {
	if k := len(*list); k > 0 && n <= batchSize {
		s := (*list)[k-1]
		*list = (*list)[:k-1]
		return s[:n]
	}
	return make([]T, n, max(n, batchSize))
}

func give[T any](list *[][]T, s []T) {
	if cap(s) >= batchSize && len(*list) < 64 {
		*list = append(*list, s[:batchSize])
	}
}
