// Package result is the answer to a brief: its groups as trees, the cells between them as values that are exact, what they
// are marked by, and their lines as texts. It depends on nothing that a brief is worked out with.
package result

import (
	"sync"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/exact"
	"uzzel/core/period"
	"uzzel/core/schema"
)

// Node is one group at one level of rows or across; node 0 is all of them together.
type Node struct {
	Member
	Parent   int
	Depth    int
	Children []int // in result order
}

// Result is the answer to a brief: the groups over rows and across as trees, and a cell for each pair of their nodes. It
// keeps nothing of how it was worked out.
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
	// Unrated is how many starting records, over all parts, are left out for want of an exchange rate.
	Unrated int64

	cells   Cells
	names   Names
	cal     *period.Calendar
	index   []int32 // by row node: its index among its siblings
	mu      sync.Mutex
	running map[siblings][]exact.Num
}

// Names gives the ids of the records that links lead to, by group; nil for groups that are no links.
type Names []*column.IDs

// Key is how a mark names a member of one of the groups: its label behind an equals sign, or, where two members can have
// one label (links), its record's id.
func (names Names) Key(group int, m Member) string {
	switch {
	case m.Blank:
		return BlankKey
	case m.Other:
		return OtherKey
	case m.Hidden:
		return HiddenKey
	case names[group] != nil:
		return "=" + names[group].At(int32(m.Key))
	}
	return "=" + m.Label
}

// Cells are the values of a result, by summary and cell, with what a cell without rows has.
type Cells struct {
	At    map[[2]int32]int32 // the cell of a row node and a column node
	Now   [][]Value          // by summary, by cell
	Prior [][]Value          // the same of the earlier period; nil where nothing is compared
	Empty []Value            // by summary
}

// Value is a summary's plain value of a row node and a column node.
func (c *Cells) Value(row, col, summary int) Value { return c.of(c.Now, row, col, summary) }

func (c *Cells) of(vals [][]Value, row, col, summary int) Value {
	if i, ok := c.At[[2]int32{int32(row), int32(col)}]; ok {
		return vals[summary][i]
	}
	return c.Empty[summary]
}

// Finish completes a result whose exported fields are set, with its cells, what its marks are named by and the calendar
// that its times are written in.
func (r *Result) Finish(cells Cells, names Names, cal *period.Calendar) {
	r.cells, r.names, r.cal, r.running = cells, names, cal, map[siblings][]exact.Num{}
	r.index = make([]int32, len(r.Rows))
	for n := range r.Rows {
		for i, k := range r.Rows[n].Children {
			r.index[k] = int32(i)
		}
	}
	r.progress()
}

// Compared says whether cells are set against an earlier period.
func (r *Result) Compared() bool { return r.cells.Prior != nil }

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

// Bytes is about how much memory the result takes.
func (r *Result) Bytes() int64 {
	n := int64(len(r.cells.At)) * 24
	for _, vals := range [][][]Value{r.cells.Now, r.cells.Prior} {
		for s := range vals {
			n += int64(len(vals[s])) * 40
		}
	}
	for _, nodes := range [][]Node{r.Rows, r.Cols} {
		n += int64(len(nodes)) * 160
	}
	return n + 4096
}

// Has says whether a cell has rows.
func (r *Result) Has(row, col int) bool {
	_, ok := r.cells.At[[2]int32{int32(row), int32(col)}]
	return ok
}

// Cell is the cell of a row node and a column node.
func (r *Result) Cell(row, col int) Cell {
	n := len(r.Bound.Summaries)
	c := Cell{Shown: make([]Value, n), Plain: make([]Value, n)}
	for s := range n {
		c.Plain[s] = r.cells.Value(row, col, s)
		c.Shown[s] = r.shown(row, col, s, c.Plain[s])
	}
	if !r.Compared() {
		return c
	}
	c.Before, c.Change, c.ChangePercent = make([]Value, n), make([]Value, n), make([]Value, n)
	for s, sum := range r.Bound.Summaries {
		now, was := c.Plain[s], r.cells.of(r.cells.Prior, row, col, s)
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
		of := r.cells.Value(ofRow, ofCol, s)
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
			if x := r.cells.Value(n, col, s); x.Set {
				total = total.Add(x.Num)
			}
			totals = append(totals, total)
		}
		r.running[key] = totals
	}
	return Value{true, totals[r.index[row]]}
}

func (r *Result) fromBefore(row, col, s int, v Value) Value {
	at := r.index[row]
	if at == 0 || !v.Set {
		return Value{}
	}
	was := r.cells.Value(r.Rows[r.Rows[row].Parent].Children[at-1], col, s)
	if !was.Set {
		return Value{}
	}
	return Value{true, v.Num.Sub(was.Num)}
}

func (r *Result) progress() {
	if r.Bound.Target == nil {
		return
	}
	p := &Progress{Target: *r.Bound.Target, Value: r.cells.Value(0, 0, 0)}
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
	if sum.Of != nil && sum.Of.Recorded != nil && len(sum.Within) > 0 {
		kind = schema.Money // in the currency of its group
	}
	if show := sum.Source.Show; shown && len(show) > 7 && show[:7] == "percent" {
		kind = schema.Number
	}
	switch kind {
	case schema.Money:
		return v.Num.Fixed(2)
	case schema.Date, schema.Time:
		at, _ := v.Num.Scaled(1)
		return column.Format(kind, at, r.cal)
	}
	return v.Num.String()
}
