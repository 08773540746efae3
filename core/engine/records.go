package engine

import (
	"context"
	"math"
	"slices"
	"sort"
	"sync"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/schema"
)

// Records is a list of rows in order, whose lines are written out only where they are looked at.
type Records struct {
	Columns []*brief.Value
	Labels  []string
	part    *brief.BoundPart
	run     *run
	nodes   []*node
	rows    [3][]int32
	leaf    []int32 // of rows that were captured with their leaf
	n       int
}

// Len is how many rows the list has.
func (l *Records) Len() int { return l.n }

// List works out the list of records of a brief: its rows in order, as many as its limit says.
func List(ctx context.Context, snap *column.Snapshot, b *brief.Bound, opts Options) (*Records, error) {
	r := newRun(ctx, snap, opts)
	span := spanOf(snap.Cal, b.Parts[0], opts.Today, "")
	if err := r.plan(b.Parts[0], span.Now); err != nil {
		return nil, err
	}
	r.cheapest()
	crew := make([]captured, workers())
	err := r.scan(func(w int, batch *batch) {
		for l, rows := range batch.rows {
			if rows != nil {
				crew[w].rows[l] = append(crew[w].rows[l], rows[:batch.n]...)
			}
		}
	})
	if err != nil {
		return nil, err
	}
	return r.list(b, crew, b.Brief.Limit)
}

// list puts captured rows in the brief's order.
func (r *run) list(b *brief.Bound, crew []captured, limit *int) (*Records, error) {
	l, less, err := r.unsorted(b, crew)
	if err != nil {
		return nil, err
	}
	want := l.n
	if limit != nil {
		want = min(want, *limit)
	}
	l.pick(firstOf(l.n, want, less))
	return l, nil
}

// unsorted is captured rows as a list that is in no order yet, with the brief's order of its places.
func (r *run) unsorted(b *brief.Bound, crew []captured) (*Records, func(a, b int32) bool, error) {
	l := &Records{part: r.part, run: r}
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
	return l, l.less(keys), nil
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
		l.nodes = append(l.nodes, n)
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

// ranks gives each code its place in order: a set order first, then text by case folding. Texts that fold to the
// same have the same place.
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
			b := l.batch(from, min(from+batchSize, to), p)
			n.eval(b, out[from:from+b.n])
		}
	})
	return out
}

func (l *Records) batch(from, to int, p *pool) *batch {
	b := &batch{n: to - from, pool: p}
	for i, rows := range l.rows {
		if len(rows) > 0 {
			b.rows[i] = rows[from:to]
		}
	}
	return b
}

// less orders places by keys, then by their records' ids.
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

// pick keeps the rows at places, in their order.
func (l *Records) pick(places []int32) {
	for _, rows := range []*[]int32{&l.rows[0], &l.rows[1], &l.rows[2], &l.leaf} {
		if len(*rows) > 0 {
			picked := make([]int32, len(places))
			for k, p := range places {
				picked[k] = (*rows)[p]
			}
			*rows = picked
		}
	}
	l.n = len(places)
}

// firstOf gives the first want of n places in the order of less, sorted.
func firstOf(n, want int, less func(a, b int32) bool) []int32 {
	var mu sync.Mutex
	var perm []int32
	parallel(n, func(from, to int) {
		// The best so far and some that may yet be among them; once in a while they are sorted and cut.
		room := 2*want + 1024
		part := make([]int32, 0, min(to-from, room))
		worst := int32(-1) // no place at or after it can be among the first
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
	sort.Slice(perm, func(i, j int) bool { return less(perm[i], perm[j]) })
	return perm[:min(len(perm), want)]
}

// Line writes row i: each column in its CSV form.
func (l *Records) Line(i int) []string { return l.Page(i, i+1)[0] }

// Page writes the rows from one place up to another.
func (l *Records) Page(from, to int) [][]string {
	from, to = max(from, 0), min(to, l.n)
	out := make([][]string, 0, max(to-from, 0))
	p := &pool{}
	for ; from < to; from += batchSize {
		b := l.batch(from, min(from+batchSize, to), p)
		start := len(out)
		for range b.n {
			out = append(out, make([]string, len(l.nodes)))
		}
		vals := make([]int64, b.n)
		for c, n := range l.nodes {
			n.eval(b, vals)
			for i, v := range vals {
				out[start+i][c] = l.run.text(n, v)
			}
		}
	}
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

// Names writes the names behind the links of the rows of a page, by column; nil for other columns.
func (l *Records) Names(from, to int) [][]string {
	from, to = max(from, 0), min(to, l.n)
	out := make([][]string, len(l.nodes))
	p := &pool{}
	for c, n := range l.nodes {
		if n.kind != schema.Link || from >= to {
			continue
		}
		vals := make([]int64, to-from)
		for at := from; at < to; at += batchSize {
			b := l.batch(at, min(at+batchSize, to), p)
			n.eval(b, vals[at-from:at-from+b.n])
		}
		for _, v := range vals {
			name := ""
			if v != column.Null {
				name = l.run.snap.Name(n.to, int32(v))
			}
			out[c] = append(out[c], name)
		}
	}
	return out
}

// IDs lists the starting records' ids of the rows of a page.
func (l *Records) IDs(from, to int) []string {
	t, err := l.run.snap.Table(l.part.Start().Key)
	if err != nil {
		return nil
	}
	var ids []string
	for _, row := range l.rows[0][max(from, 0):min(to, l.n)] {
		ids = append(ids, t.IDs.At(row))
	}
	return ids
}

// Lines is the whole list as a table, links as ids.
func (l *Records) Lines() Lines { return Lines{Header: l.Labels, Rows: l.Page(0, math.MaxInt)} }

// Named is the whole list as a table for people: links by name, and every column headed by its words.
func (l *Records) Named() Lines {
	out := Lines{Rows: l.Page(0, math.MaxInt)}
	for c, names := range l.Names(0, math.MaxInt) {
		v, label := l.Columns[c], l.Labels[c]
		if label == "" || label == v.Text {
			label = v.Label
		}
		kind := v.Kind
		if names != nil {
			kind = schema.Text
		}
		for i, name := range names {
			out.Rows[i][c] = name
		}
		out.Header, out.Kinds = append(out.Header, label), append(out.Kinds, kind)
	}
	return out
}
