package engine

import (
	"context"
	"math"
	"slices"
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
	first [3][]int32   // rows in order
	by    *brief.Bound // whose order is to be that of all rows; nil once these are in it
}

// Of a list of more rows than longList, so many first ones are put in order at once, and the others once they are asked for.
const (
	longList  = 64 << 10
	firstRows = 1000
)

// upTo are the list's rows, of which those before a place are in order.
func (l *Records) upTo(r *run, to int) ([3][]int32, error) {
	if l.rest == nil {
		return l.rows, nil
	}
	if to <= firstRows {
		return l.rest.first, nil
	}
	l.rest.mu.Lock()
	defer l.rest.mu.Unlock()
	if l.rest.by != nil {
		o, err := r.ordering(l.rest.by)
		if err != nil {
			return l.rows, err
		}
		l.rows = picked(l.rows, putInOrder(r.guard, l.n, r.keys(o, l.rows, l.n), l.rows[:]))
		l.rest.by = nil
	}
	return l.rows, nil
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
	return int64(l.n)*16 + 4096
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
	crew := make([][3][][]int32, workers()) // a piece for each batch: one that grew would be copied again and again
	err = r.scan(func(w int, batch *batch) {
		r.takeBytes(4*batch.n*len(batch.rows), "", "the list of records")
		for l, rows := range batch.rows {
			if rows != nil {
				crew[w][l] = append(crew[w][l], slices.Clone(rows[:batch.n]))
			}
		}
	})
	if err != nil {
		return nil, err
	}
	all := captured{}
	for l := range all.rows {
		var pieces [][]int32
		for _, c := range crew {
			pieces = append(pieces, c[l]...)
		}
		all.rows[l] = slices.Concat(pieces...)
	}
	if l, err = r.list(b, []captured{all}, b.Brief.Limit); err != nil {
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
	l, err := r.unsorted(b, crew)
	if err != nil {
		return nil, err
	}
	o, err := r.ordering(b)
	if err != nil {
		return nil, err
	}
	want := l.n
	if limit != nil {
		want = min(want, *limit)
	}
	switch {
	case limit == nil && l.n > longList:
		l.rest = &rest{first: picked(l.rows, r.firstOf(o, l.rows, l.n, firstRows)), by: b}
	case want > l.n/few:
		l.pick(putInOrder(r.guard, l.n, r.keys(o, l.rows, l.n), l.rows[:])[:want])
	default:
		l.pick(r.firstOf(o, l.rows, l.n, want))
	}
	l.run, l.nodes = nil, nil
	return l, nil
}

// few is of how many rows one is wanted where the first ones are looked for, and not all put in order.
const few = 16

// unsorted is captured rows as a list that is in no order yet.
func (r *run) unsorted(b *brief.Bound, crew []captured) (*Records, error) {
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
	if len(crew) == 1 {
		l.rows, l.leaf = crew[0].rows, crew[0].leaf
		return l, l.columns(b)
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
	return l, l.columns(b)
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

func stretch(list [3][]int32, from, to int, p *pool) *batch {
	b := &batch{n: to - from, pool: p}
	for i, rows := range list {
		if len(rows) > 0 {
			b.rows[i] = rows[from:to]
		}
	}
	return b
}

// pick keeps the rows at indices, in their order.
func (l *Records) pick(places []int32) {
	l.rows = picked(l.rows, places)
	if len(l.leaf) > 0 {
		l.leaf = picked([3][]int32{l.leaf}, places)[0]
	}
	l.n = len(places)
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
	list, err := l.upTo(r, to)
	if err != nil {
		return nil, err
	}
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
