package engine

import (
	"context"
	"fmt"
	"slices"
	"sync"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/exact"
	"uzzel/core/period"
	"uzzel/core/schema"
)

// Result is what a brief comes to: the groups over rows and across as trees, and a cell for each pair of their nodes.
type Result struct {
	Bound   *brief.Bound
	Rows    []Node // node 0 is the total
	Cols    []Node
	Records int64 // starting records left, over all parts
	Of      int64 // starting records there are
	// Overlap says by level of groups, then across, that its groups share records, so that they add up to more than
	// their total.
	Overlap  []bool
	Span     []Span
	Progress *Progress
	// Hidden is how many starting records, over all parts, have something that the brief reads and the reader may not see:
	// a link, or what lies behind it. Partly are the record types of many over which a link goes of which the reader sees
	// only some.
	Hidden int64
	Partly []string

	compared bool
	place    []int32 // by row node: where it stands among its siblings
	mu       sync.Mutex
	running  map[siblings][]exact.Num
	a        *answer
	rows     *axis
	cols     *axis
	index    map[[2]int32]int32
	plain    [][]Value // by summary, by cell
	prior    [][]Value
	empty    []Value // what a cell without rows has
}

// Compared says whether cells are set against an earlier period.
func (r *Result) Compared() bool { return r.compared }

// siblings are the groups in one group, in one column of one summary.
type siblings struct{ parent, col, summary int }

// Span is the resolved period of a part and the one it is compared with.
type Span struct {
	Now, Before *period.Span
}

// Progress is how far the first summary's grand total has come towards the target.
type Progress struct {
	Target  exact.Num
	Value   Value
	Share   Value // a ratio
	Missing Value
}

// Cell is one cell: values as they are shown, as they are, and against the earlier period.
type Cell struct {
	Shown, Plain, Before, Change, ChangePercent []Value
}

// MaxAcrossColumns is how many columns a cross-tab may have.
const MaxAcrossColumns = 1000

// Run works out a brief.
func Run(ctx context.Context, snap *column.Snapshot, b *brief.Bound, opts Options) (r *Result, err error) {
	defer whole(&err)
	a, err := scanAll(ctx, snap, b, opts, false)
	if err != nil {
		return nil, err
	}
	if r, err = a.result(); err == nil {
		r.release()
	}
	return r, err
}

// release lets go of what was needed to work the result out, so that a result that is kept holds its cells alone.
func (r *Result) release() {
	for _, sides := range [][]*side{r.a.now, r.a.before} {
		for _, s := range sides {
			for _, d := range s.data {
				if d != nil {
					d.noted.release()
				}
			}
		}
	}
	r.a.now, r.a.before, r.a.leaves, r.a.alive, r.a.guard = nil, nil, nil, nil, guard{}
	r.rows.at, r.rows.find, r.cols.at, r.cols.find = nil, nil, nil, nil
	r.a.s.leaves, r.a.s.index, r.a.s.single = nil, nil, nil
	for _, f := range r.a.s.fields {
		f.byKey, f.byText, f.small, f.codes = nil, nil, nil, nil
	}
}

// Bytes is about how much memory the result takes.
func (r *Result) Bytes() int64 {
	n := int64(len(r.index)) * 24
	for s := range r.plain {
		n += int64(len(r.plain[s])+len(r.prior[s])) * 40
	}
	for _, nodes := range [][]Node{r.Rows, r.Cols} {
		n += int64(len(nodes)) * 160
	}
	return n + 4096
}

func scanAll(ctx context.Context, snap *column.Snapshot, b *brief.Bound, opts Options, capture bool) (*answer, error) {
	if opts.Budget == nil {
		opts.Budget = &Budget{}
	}
	if opts.Sight == nil || opts.Sight.snap != snap {
		opts.Sight = NewSight(snap, opts.Reader, opts.Sees)
	}
	a := &answer{guard: newGuard(ctx, opts.Budget), b: b, s: newSpace(b, snap), today: opts.Today}
	for i, p := range b.Parts {
		span := spanOf(snap.Cal, p, opts.Today, b.Brief.Compare)
		now, err := a.s.collect(ctx, b, i, span.Now, noShift, opts, capture)
		if err != nil {
			return nil, err
		}
		a.now, a.spans = append(a.now, now), append(a.spans, span)
		if span.Before != nil {
			before, err := a.s.collect(ctx, b, i, span.Before, int64(span.Before.From), opts, false)
			if err != nil {
				return nil, err
			}
			a.before = append(a.before, before)
		}
	}
	a.settle()
	return a, nil
}

func spanOf(cal *period.Calendar, p *brief.BoundPart, today int32, compare string) Span {
	var s Span
	if p.Period != nil {
		now := cal.Resolve(p.Period.Within, today)
		s.Now = &now
		if compare != "" {
			before := cal.Earlier(p.Period.Within, today, compare)
			s.Before = &before
		}
	}
	return s
}

func (a *answer) result() (*Result, error) {
	r := &Result{
		Bound:    a.b,
		a:        a,
		index:    map[[2]int32]int32{},
		Span:     a.spans,
		compared: a.before != nil,
		running:  map[siblings][]exact.Num{},
	}
	for _, s := range a.now {
		r.Records += s.records
		r.Of += int64(s.n)
		r.Hidden += s.hidden
		r.Partly = append(r.Partly, s.partly...)
	}
	slices.Sort(r.Partly)
	r.Partly = slices.Compact(r.Partly)
	r.rows, r.cols = a.axis(0, a.b.Rows), a.axis(a.b.Rows, len(a.b.Groups))
	if n := r.cols.leaves(); n > MaxAcrossColumns {
		last := a.b.Groups[len(a.b.Groups)-1]
		return nil, brief.Problems{
			{
				Pointer: last.At,
				Message: fmt.Sprintf(
					"%s gives %d columns, and a report goes across at most %d",
					last.Values[0].Text,
					n,
					MaxAcrossColumns,
				),
			},
		}
	}
	r.plain, r.prior = make([][]Value, len(a.b.Summaries)), make([][]Value, len(a.b.Summaries))
	none := a.evaluate(a.now, nil, 1)
	none.cellOf = make([]int32, len(a.leaves))
	for i := range none.cellOf {
		none.cellOf[i] = -1
	}
	for i := range a.b.Summaries {
		r.empty = append(r.empty, none.of(i)[0])
	}
	r.Overlap = make([]bool, len(a.b.Groups))
	counted := map[[2]int]int64{}
	for i := range r.rows.at {
		for j := range r.cols.at {
			counted[[2]int{i, j}] = r.evaluateSet(i, j)
		}
	}
	for i := 1; i < len(r.rows.at); i++ {
		r.Overlap[i-1] = counted[[2]int{i, 0}] > counted[[2]int{i - 1, 0}]
	}
	for j := 1; j < len(r.cols.at); j++ {
		r.Overlap[a.b.Rows+j-1] = counted[[2]int{0, j}] > counted[[2]int{0, j - 1}]
	}
	a.order(r.rows, func(n, s int) Value { return r.value(r.plain, n, 0, s) })
	a.order(r.cols, func(n, s int) Value { return r.value(r.plain, 0, n, s) })
	r.Rows, r.Cols = r.rows.nodes, r.cols.nodes
	r.place = make([]int32, len(r.Rows))
	for n := range r.Rows {
		for i, k := range r.Rows[n].Children {
			r.place[k] = int32(i)
		}
	}
	r.progress()
	return r, nil
}

// leaves is the number of innermost nodes.
func (x *axis) leaves() int {
	n := 0
	for _, node := range x.nodes {
		if node.Depth == x.depth {
			n++
		}
	}
	return n
}

// evaluateSet works out all cells of one level of rows with one of across.
func (r *Result) evaluateSet(i, j int) int64 {
	a := r.a
	base := int32(len(r.index))
	cellOf := make([]int32, len(a.leaves))
	for leaf := range a.leaves {
		a.every(leaf)
		rn, cn := r.rows.at[i][leaf], r.cols.at[j][leaf]
		if rn < 0 || cn < 0 {
			cellOf[leaf] = -1
			continue
		}
		key := [2]int32{rn, cn}
		c, ok := r.index[key]
		if !ok {
			c = int32(len(r.index))
			r.index[key] = c
		}
		cellOf[leaf] = c - base
	}
	n := len(r.index) - int(base)
	level := i*len(r.cols.at) + j
	now := a.evaluate(a.now, cellOf, n)
	now.level = level
	for s := range a.b.Summaries {
		r.plain[s] = append(r.plain[s], now.of(s)...)
	}
	if a.before != nil {
		before := a.evaluate(a.before, cellOf, n)
		before.level = level
		for s := range a.b.Summaries {
			r.prior[s] = append(r.prior[s], before.of(s)...)
		}
	}
	return now.counted
}

func (r *Result) value(vals [][]Value, row, col, summary int) Value {
	if c, ok := r.index[[2]int32{int32(row), int32(col)}]; ok {
		return vals[summary][c]
	}
	return r.empty[summary]
}

// Has says whether a cell has rows.
func (r *Result) Has(row, col int) bool {
	_, ok := r.index[[2]int32{int32(row), int32(col)}]
	return ok
}

// Cell is the cell of a row node and a column node.
func (r *Result) Cell(row, col int) Cell {
	n := len(r.Bound.Summaries)
	c := Cell{Shown: make([]Value, n), Plain: make([]Value, n)}
	for s := range n {
		c.Plain[s] = r.value(r.plain, row, col, s)
		c.Shown[s] = r.shown(row, col, s, c.Plain[s])
	}
	if !r.compared {
		return c
	}
	c.Before, c.Change, c.ChangePercent = make([]Value, n), make([]Value, n), make([]Value, n)
	for s, sum := range r.Bound.Summaries {
		now, was := c.Plain[s], r.value(r.prior, row, col, s)
		c.Before[s] = was
		if !now.Set || !was.Set || sum.Kind.Dated() {
			continue
		}
		c.Change[s] = Value{true, now.Num.Sub(was.Num)}
		if q, ok := c.Change[s].Num.Quo(was.Num.Abs()); ok {
			c.ChangePercent[s] = Value{true, q}
		}
	}
	return c
}

// shown is a plain value as the summary's show says.
func (r *Result) shown(row, col, s int, v Value) Value {
	share := func(ofRow, ofCol int) Value {
		of := r.value(r.plain, ofRow, ofCol, s)
		if !v.Set || !of.Set {
			return Value{}
		}
		q, ok := v.Num.Quo(of.Num)
		return Value{ok, q}
	}
	switch r.Bound.Summaries[s].Source.Show {
	case "percent_of_total":
		return share(0, 0)
	case "percent_of_parent":
		return share(max(r.Rows[row].Parent, 0), col)
	case "percent_of_row":
		return share(row, 0)
	case "percent_of_column":
		return share(0, col)
	case "running_total":
		return r.upTo(row, col, s)
	case "change":
		return r.fromBefore(row, col, s, v)
	}
	return v
}

// upTo is the total of a summary over the siblings of a row node up to itself, in order. What was added up is kept, so
// that a column of running totals is gone over once.
func (r *Result) upTo(row, col, s int) Value {
	key := siblings{-1, col, s}
	kids := []int{0}
	if row > 0 {
		key.parent = r.Rows[row].Parent
		kids = r.Rows[key.parent].Children
	}
	r.mu.Lock()
	defer r.mu.Unlock()
	totals := r.running[key]
	if totals == nil {
		total := exact.Num{}
		for _, n := range kids {
			if x := r.value(r.plain, n, col, s); x.Set {
				total = total.Add(x.Num)
			}
			totals = append(totals, total)
		}
		r.running[key] = totals
	}
	return Value{true, totals[r.place[row]]}
}

func (r *Result) fromBefore(row, col, s int, v Value) Value {
	at := r.place[row]
	if at == 0 || !v.Set {
		return Value{}
	}
	was := r.value(r.plain, r.Rows[r.Rows[row].Parent].Children[at-1], col, s)
	if !was.Set {
		return Value{}
	}
	return Value{true, v.Num.Sub(was.Num)}
}

func (r *Result) progress() {
	if r.Bound.Target == nil {
		return
	}
	p := &Progress{Target: *r.Bound.Target, Value: r.value(r.plain, 0, 0, 0)}
	if p.Value.Set {
		p.Missing = Value{true, p.Target.Sub(p.Value.Num)}
		q, ok := p.Value.Num.Quo(p.Target)
		p.Share = Value{ok, q}
	}
	r.Progress = p
}

// Text writes a value of a summary in its CSV form. shown says that the summary's show was applied to it.
func (r *Result) Text(s int, v Value, shown bool) string {
	if !v.Set {
		return ""
	}
	sum := r.Bound.Summaries[s]
	kind := sum.Kind
	if show := sum.Source.Show; shown && len(show) > 7 && show[:7] == "percent" {
		kind = schema.Number
	}
	switch kind {
	case schema.Money:
		return v.Num.Fixed(2)
	case schema.Date, schema.Time:
		at, _ := v.Num.Scaled(1)
		return column.Format(kind, at, r.a.s.snap.Cal)
	}
	return v.Num.String()
}
