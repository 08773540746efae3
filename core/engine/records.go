package engine

import (
	"context"
	"math"
	"slices"
	"sort"
	"sync"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/result"
	"uzzel/core/schema"
)

// Records is a list of rows in order, whose lines are written out only where they are looked at.
type Records struct {
	Columns []*brief.Value
	Labels  []string
	part    *brief.BoundPart
	snap    *column.Snapshot
	opts    Options
	run     *run    // until the list is in order
	nodes   []*node // likewise
	rows    [3][]int32
	leaf    []int32 // of rows that were captured with their leaf
	n       int
	rest    *rest // of a long list whose first rows alone are in order yet
	// Hidden is how many starting records have something that the brief reads and the reader may not see; Partly are the
	// record types of many of which the reader sees only some.
	Hidden int64
	Partly []string
	// Unrated is how many starting records are left out for want of an exchange rate.
	Unrated int64
}

// rest is a long list that is put in order as a whole once somebody looks past its first rows.
type rest struct {
	mu    sync.Mutex
	first [3][]int32 // rows in order
	keys  []sortKey  // of all rows; nil once these are in order
}

// Of a list of more rows than longList, so many first ones are put in order at once, and the others once they are asked for.
const (
	longList  = 64 << 10
	firstRows = 1000
)

// upTo are the list's rows, of which those before a place are in order.
func (l *Records) upTo(g guard, to int) [3][]int32 {
	if l.rest == nil {
		return l.rows
	}
	if to <= firstRows {
		return l.rest.first
	}
	l.rest.mu.Lock()
	defer l.rest.mu.Unlock()
	if l.rest.keys != nil {
		l.rows = picked(l.rows, putInOrder(g, l.n, l.rest.keys, l.rows[:]))
		l.rest.keys = nil
	}
	return l.rows
}

// picked are the rows at places, in their order.
func picked(rows [3][]int32, places []int32) (out [3][]int32) {
	for i, list := range rows {
		if len(list) > 0 {
			out[i] = make([]int32, len(places))
			for k, p := range places {
				out[i][k] = list[p]
			}
		}
	}
	return out
}

// Bytes is about how much memory the list takes.
func (l *Records) Bytes() int64 {
	n := int64(l.n)*16 + 4096
	if l.rest != nil {
		n += int64(l.n) * 8
	}
	return n
}

// Len is how many rows the list has.
func (l *Records) Len() int { return l.n }

// List works out the list of records of a brief: its rows in order, as many as its limit says.
func List(ctx context.Context, snap *column.Snapshot, b *brief.Bound, opts Options) (l *Records, err error) {
	defer whole(&err)
	if snap, opts, err = asOf(snap, b, opts); err != nil {
		return nil, err
	}
	r := newRun(ctx, snap, opts)
	span := spanOf(snap.Cal, b.Parts[0], opts.Today, "")
	if err := r.plan(b.Parts[0], span.Now); err != nil {
		return nil, err
	}
	r.cheapest()
	crew := make([]captured, workers())
	err = r.scan(func(w int, batch *batch) {
		r.takeBytes(4*batch.n*len(batch.rows), "", "the list of records")
		for l, rows := range batch.rows {
			if rows != nil {
				crew[w].rows[l] = append(crew[w].rows[l], rows[:batch.n]...)
			}
		}
	})
	if err != nil {
		return nil, err
	}
	if l, err = r.list(b, crew, b.Brief.Limit); err != nil {
		return nil, err
	}
	// What a column or a condition reads that the reader may not see.
	found := side{}
	err = r.countHidden(nil, nil, &found)
	l.Hidden, l.Partly, l.Unrated = found.hidden, found.partly, r.leftOut()
	return l, err
}

// list puts captured rows in the brief's order.
func (r *run) list(b *brief.Bound, crew []captured, limit *int) (*Records, error) {
	l, keys, err := r.unsorted(b, crew)
	if err != nil {
		return nil, err
	}
	want := l.n
	if limit != nil {
		want = min(want, *limit)
	}
	switch {
	case limit == nil && l.n > longList:
		first := firstOf(r.guard, l.n, firstRows, l.less(keys))
		l.rest = &rest{first: picked(l.rows, first), keys: keys}
	case want > l.n/few:
		l.pick(putInOrder(r.guard, l.n, keys, l.rows[:])[:want])
	default:
		l.pick(firstOf(r.guard, l.n, want, l.less(keys)))
	}
	l.run, l.nodes = nil, nil
	return l, nil
}

// few is of how many rows one is wanted where the first ones are looked for, and not all put in order.
const few = 16

// unsorted is captured rows as a list that is in no order yet, with the keys of the brief's order.
func (r *run) unsorted(b *brief.Bound, crew []captured) (*Records, []sortKey, error) {
	l := &Records{
		part: r.part,
		run:  r,
		snap: r.snap,
		opts: Options{
			Today: r.today, Sight: r.sight, Reader: r.opts.Reader, Sees: r.opts.Sees, stateDay: r.opts.stateDay,
		},
	}
	for _, c := range crew {
		l.n += len(c.rows[0])
	}
	for i := range l.rows {
		for _, c := range crew {
			if len(c.rows[i]) > 0 {
				l.rows[i] = append(slices.Grow(l.rows[i], l.n-len(l.rows[i])), c.rows[i]...)
			}
		}
	}
	for _, c := range crew {
		l.leaf = append(l.leaf, c.leaf...)
	}
	if err := l.columns(b); err != nil {
		return nil, nil, err
	}
	keys := make([]sortKey, len(b.Order))
	for i, v := range b.Order {
		n, err := r.value(v)
		if err != nil {
			return nil, nil, err
		}
		keys[i] = l.sortKey(n, b.Brief.Order[i].Desc)
	}
	return l, keys, nil
}

// columns binds the brief's columns, or the id and the name of the starting record where it has none.
func (l *Records) columns(b *brief.Bound) error {
	l.Columns = b.Columns
	for _, c := range b.Brief.Columns {
		l.Labels = append(l.Labels, c.Label)
	}
	if len(l.Columns) == 0 {
		t := l.part.Start()
		keys := []string{"id"}
		if t.Name != "" {
			keys = append(keys, t.Name)
		}
		for _, k := range keys {
			f := t.Field(k)
			v := &brief.Value{Text: k, Label: f.Label, Kind: f.Kind, Type: t, Field: f}
			if f.Kind == schema.ID {
				v.To = t.Key
			}
			l.Columns, l.Labels = append(l.Columns, v), append(l.Labels, "")
		}
	}
	for i, v := range l.Columns {
		n, err := l.run.value(v)
		if err != nil {
			return err
		}
		l.nodes, l.run.hides = append(l.nodes, n), append(l.run.hides, n.hidden)
		if l.Labels[i] == "" {
			l.Labels[i] = v.Text
			if v.Own != nil && v.Own.Source.Label != "" {
				l.Labels[i] = v.Own.Source.Label
			}
		}
	}
	return nil
}

// sortKey is the value of each row by which a list is sorted, as a number that sorts as the value does.
type sortKey struct {
	vals []int64
	desc bool
}

func (l *Records) sortKey(n *node, desc bool) sortKey {
	vals := l.values(n)
	if n.dict != nil {
		rank := n.dict.ranks()
		for i, v := range vals {
			if v != column.Null {
				vals[i] = rank[v]
			}
		}
	}
	return sortKey{vals, desc}
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

// values evaluates a node for all rows, in parallel.
func (l *Records) values(n *node) []int64 {
	out := make([]int64, l.n)
	parallel(l.n, func(from, to int) {
		p := &pool{}
		for ; from < to; from += batchSize {
			l.run.poll()
			b := l.batch(from, min(from+batchSize, to), p)
			n.eval(b, out[from:from+b.n])
		}
	})
	return out
}

func (l *Records) batch(from, to int, p *pool) *batch { return stretch(l.rows, from, to, p) }

func stretch(list [3][]int32, from, to int, p *pool) *batch {
	b := &batch{n: to - from, pool: p}
	for i, rows := range list {
		if len(rows) > 0 {
			b.rows[i] = rows[from:to]
		}
	}
	return b
}

// less orders indices by keys, then by their records' ids.
func (l *Records) less(keys []sortKey) func(a, b int32) bool {
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
		for _, rows := range l.rows {
			if len(rows) > 0 && rows[a] != rows[b] {
				// A row kept without a brought record comes last among its record's rows.
				return uint32(rows[a]) < uint32(rows[b])
			}
		}
		return false
	}
}

// pick keeps the rows at indices, in their order.
func (l *Records) pick(places []int32) {
	l.rows = picked(l.rows, places)
	if len(l.leaf) > 0 {
		l.leaf = picked([3][]int32{l.leaf}, places)[0]
	}
	l.n = len(places)
}

// firstOf gives the first want of n indices in the order of less, sorted.
func firstOf(g guard, n, want int, before func(a, b int32) bool) []int32 {
	var mu sync.Mutex
	var perm []int32
	polled := func() func(a, b int32) bool {
		compared := 0
		return func(a, b int32) bool {
			compared++
			g.every(compared)
			return before(a, b)
		}
	}
	parallel(n, func(from, to int) {
		less := polled()
		// The best so far and some that may yet be among them; once in a while they are sorted and cut.
		room := 2*want + 1024
		part := make([]int32, 0, min(to-from, room))
		worst := int32(-1) // no index at or after it can be among the first
		for i := int32(from); i < int32(to); i++ {
			if worst >= 0 && !less(i, worst) {
				continue
			}
			part = append(part, i)
			if len(part) == room {
				sort.Slice(part, func(i, j int) bool { return less(part[i], part[j]) })
				part = part[:want]
				if want > 0 {
					worst = part[want-1]
				}
			}
		}
		mu.Lock()
		perm = append(perm, part...)
		mu.Unlock()
	})
	less := polled()
	sort.Slice(perm, func(i, j int) bool { return less(perm[i], perm[j]) })
	return perm[:min(len(perm), want)]
}

// Page is some rows of a list, written out.
type Page struct {
	Texts [][]string // by row, by column: each value in its CSV form, links as ids
	Names [][]string // by column, by row: what links lead to by name; nil for other columns
	IDs   []string   // by row: of the starting record
	// Hidden says by column, by row, what the reader may not see; nil for columns in which there is nothing of the kind.
	Hidden [][]bool
	// Foreign says by column, by row, what is recorded of amounts in another currency than the organisation's; nil for
	// columns in which there are none.
	Foreign [][]Foreign
}

// Foreign is an amount in another currency than the organisation's, in its CSV form; the zero value stands for none.
type Foreign struct{ Currency, Text string }

// ForeignAt is what is recorded of an amount in another currency.
func (p *Page) ForeignAt(row, col int) Foreign {
	if p.Foreign[col] == nil {
		return Foreign{}
	}
	return p.Foreign[col][row]
}

// HiddenAt says whether a value of the page is one that the reader may not see.
func (p *Page) HiddenAt(row, col int) bool { return p.Hidden[col] != nil && p.Hidden[col][row] }

// NameAt is the name of what a value links to, "" where it links to nothing.
func (p *Page) NameAt(row, col int) string {
	if p.Names[col] == nil {
		return ""
	}
	return p.Names[col][row]
}

// Read writes the rows from one index up to another.
func (l *Records) Read(ctx context.Context, budget *Budget, from, to int) (page *Page, err error) {
	defer whole(&err)
	from, to = max(from, 0), min(to, l.n)
	page = &Page{
		Names: make(
			[][]string,
			len(l.Columns),
		),
		Hidden:  make([][]bool, len(l.Columns)),
		Foreign: make([][]Foreign, len(l.Columns)),
	}
	if from >= to {
		return page, nil
	}
	opts := l.opts
	opts.Budget = budget
	r := newRun(ctx, l.snap, opts)
	r.part = l.part
	nodes := make([]*node, len(l.Columns))
	amounts := make([]*recordedAs, len(l.Columns))
	for c, v := range l.Columns {
		if nodes[c], err = r.value(v); err != nil {
			return nil, err
		}
		if amounts[c], err = r.foreign(v); err != nil {
			return nil, err
		}
	}
	t, err := l.snap.Table(l.part.Start().Key)
	if err != nil {
		return nil, err
	}
	page.Texts, page.IDs = make([][]string, 0, to-from), make([]string, 0, to-from)
	list := l.upTo(r.guard, to)
	p := &pool{}
	vals := make([]int64, batchSize)
	for ; from < to; from += batchSize {
		r.poll()
		b := stretch(list, from, min(from+batchSize, to), p)
		start := len(page.Texts)
		cells := make([]string, b.n*len(nodes))
		for i, row := range b.rows[0][:b.n] {
			page.Texts = append(page.Texts, cells[i*len(nodes):(i+1)*len(nodes)])
			page.IDs = append(page.IDs, t.IDs.At(row))
		}
		for c, n := range nodes {
			n.eval(b, vals[:b.n])
			r.write(page, c, n, start, vals[:b.n], n.closed(b))
			if amounts[c] != nil {
				page.Foreign[c] = append(page.Foreign[c], amounts[c].texts(r, b)...)
			}
		}
	}
	return page, nil
}

// write writes the values of a column into a page, from a row on.
func (r *run) write(page *Page, c int, n *node, start int, vals []int64, shut []bool) {
	if shut != nil {
		page.Hidden[c] = append(page.Hidden[c], shut...)
	}
	for i, v := range vals {
		text, name := r.text(n, v), ""
		switch {
		case shut != nil && shut[i]:
			text, name = result.HiddenLabel, result.HiddenLabel
		case n.kind == schema.Link && v != column.Null:
			name = r.snap.Name(n.to, int32(v))
		}
		page.Texts[start+i][c] = text
		if n.kind == schema.Link {
			page.Names[c] = append(page.Names[c], name)
		}
	}
}

// closed says of the rows of a batch which values the reader may not see; nil where all may be seen.
func (n *node) closed(b *batch) []bool {
	if n.hidden == nil {
		return nil
	}
	out := make([]bool, b.n)
	n.hidden(b, out)
	return out
}

// text writes a value of a node in its CSV form, links as ids.
func (r *run) text(n *node, v int64) string {
	switch {
	case v == column.Null:
		return ""
	case n.dict != nil:
		return n.dict.values[v]
	case n.kind == schema.ID || n.kind == schema.Link:
		t, err := r.snap.Table(n.to)
		if err != nil {
			return ""
		}
		return t.IDs.At(int32(v))
	case n.kind.Numeric() && n.scale != column.Scale(n.kind):
		return column.Format(n.kind, n.written()(v), r.cal)
	}
	return column.Format(n.kind, v, r.cal)
}

// Lines is the whole list as a table, links as ids.
func (l *Records) Lines(ctx context.Context) (result.Lines, error) {
	page, err := l.Read(ctx, nil, 0, math.MaxInt)
	if err != nil {
		return result.Lines{}, err
	}
	return result.Lines{Header: l.Labels, Rows: page.Texts}, nil
}
