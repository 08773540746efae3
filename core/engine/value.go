package engine

import (
	"errors"
	"sort"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/exact"
	"uzzel/core/schema"
)

// node is a value of each row, worked out a batch at a time in its inner form (see column.Column); column.Null is
// empty.
type node struct {
	kind  schema.Kind
	to    string
	scale int64
	level int
	dict  *dict
	// days is set on fields that are times, which can be read as days without working them out again.
	days *node
	// col is set on fields of the starting record, which conditions can be tried on as they are kept.
	col *column.Column
	// over is set on fields of the record that a link of the starting record leads to, where all that it leads to may be
	// seen: the link; far is the field's column there.
	over, far *column.Column
	eval      func(b *batch, out []int64)
	// hidden marks the rows whose value lies on or behind a link to a record that the reader may not see, where it reads
	// as empty; nil where there are none. link marks those of them whose own link leads there, of links alone.
	hidden func(b *batch, out []bool)
	link   func(b *batch, out []bool)
	// unrated marks the rows whose value needs an exchange rate that there is not; nil where there are none.
	unrated func(b *batch, out []bool)
}

// dict is the texts behind the codes of a node.
type dict struct {
	values  []string
	dict    *column.Dict
	ordered int // so many of the first values are in a set order; −1 all
}

func (d *dict) folded() []string { return d.dict.Folded() }

func (r *run) column(typ, field string) (*column.Column, error) { return r.snap.Column(typ, field) }

// value plans a bound value.
func (r *run) value(v *brief.Value) (*node, error) {
	if n := r.nodes[v]; n != nil {
		return n, nil
	}
	var n *node
	var err error
	switch {
	case v.Worked != nil:
		n, err = r.formula(v, v.Worked)
	case v.Own == nil:
		n, err = r.field(v)
	case v.Own.Formula != nil:
		n, err = r.formula(v, v.Own)
	case v.Own.Linked != nil:
		n, err = r.ownLinked(v)
	case v.Own.Bands != nil:
		n, err = r.bands(v)
	default:
		n, err = r.merge(v)
	}
	if err != nil {
		return nil, err
	}
	n.kind, n.to, n.scale, n.level = v.Kind, v.To, v.Scale, v.Level
	if v.Own != nil || v.Worked != nil {
		n.once()
	}
	r.nodes[v] = n
	return n, nil
}

// once has the values of an own field worked out once for the rows of a batch, however many others read them.
func (n *node) once() {
	work := n.eval
	n.eval = func(b *batch, out []int64) {
		if vals, ok := b.known[n]; ok {
			copy(out[:b.n], vals)
			return
		}
		work(b, out)
		if b.known == nil {
			b.known = map[*node][]int64{}
		}
		b.known[n] = append([]int64(nil), out[:b.n]...)
	}
}

func (r *run) field(v *brief.Value) (*node, error) {
	f := v.Field
	if column.TodayDependent(f) {
		return r.daysToToday(v)
	}
	if v.Rated != nil {
		return r.amount(v)
	}
	col, err := r.column(v.Type.Key, f.Key)
	if err != nil {
		return nil, err
	}
	n, err := r.read(v, col)
	if err != nil {
		return nil, err
	}
	if f.Kind == schema.Link {
		if err := r.hideLinks(v, n); err != nil {
			return nil, err
		}
	}
	if col.Dict != nil {
		n.dict = dictOf(col.Dict, 0)
		if f.Ordered {
			n.dict.ordered = len(f.Choices)
		}
	}
	if f.Currencies {
		return n, r.ownCurrency(v, n, col)
	}
	if f.Kind == schema.Time {
		if n.days, err = r.read(v, col.Days()); err != nil {
			return nil, err
		}
	}
	return n, nil
}

// closed stands for a link to a record that the reader may not see.
const closed = column.Null + 1

// follow plans going over a link of a type: the row that each of some rows leads to, Null where it leads nowhere, and
// closed where the reader may not see what it leads to. hides says whether there may be such rows.
func (r *run) follow(from *schema.Type, f *schema.Field) (gather way, hides bool, err error) {
	seen, err := r.seen(f.To)
	if err != nil {
		return nil, false, err
	}
	if seen != nil && f.Worked != nil && f.Worked.As == "topmost" {
		tops, err := r.sight.topmost(from, f)
		return func(rows []int32, out []int64) {
			for i, row := range rows {
				out[i] = column.Null
				if row >= 0 {
					out[i] = tops[row]
				}
			}
		}, true, err
	}
	c, err := r.column(from.Key, f.Key)
	if err != nil || seen == nil {
		return func(rows []int32, out []int64) { c.Gather(rows, out) }, false, err
	}
	return func(rows []int32, out []int64) {
		c.Gather(rows, out)
		for i, v := range out[:len(rows)] {
			if v != column.Null && !seen[v] {
				out[i] = closed
			}
		}
	}, true, nil
}

// hideLinks has links to records that the reader may not see read as empty, and marks them.
func (r *run) hideLinks(v *brief.Value, n *node) error {
	gather, hides, err := r.follow(v.Type, v.Field)
	if err != nil || !hides {
		return err
	}
	at, err := r.hops(v.Level, v.Hops)
	if err != nil {
		return err
	}
	onTheWay := n.hidden
	read := func(b *batch, out []int64) {
		rows := take(&b.pool.rows, b.n)
		at(b, rows)
		gather(rows, out)
		give(&b.pool.rows, rows)
	}
	n.col, n.over = nil, nil
	n.eval = func(b *batch, out []int64) {
		read(b, out)
		for i, v := range out[:b.n] {
			if v == closed {
				out[i] = column.Null
			}
		}
	}
	n.link = func(b *batch, out []bool) {
		vals := take(&b.pool.ints, b.n)
		read(b, vals)
		for i, v := range vals {
			out[i] = v == closed
		}
		give(&b.pool.ints, vals)
	}
	n.hidden = either(n.link, onTheWay)
	return nil
}

// either marks what one of two marks, each of which may be nil.
func either(x, y func(b *batch, out []bool)) func(b *batch, out []bool) {
	if x == nil || y == nil {
		if x == nil {
			return y
		}
		return x
	}
	return func(b *batch, out []bool) {
		x(b, out)
		b.marked(y, func(i int) { out[i] = true })
	}
}

// ways plans going over links to one, one after the other. hides says whether on any of them may be what the reader may
// not see.
func (r *run) ways(hops []brief.Hop) (ways []way, hides bool, err error) {
	ways = make([]way, len(hops))
	for i, h := range hops {
		gather, closes, err := r.follow(h.From, h.Field)
		if err != nil {
			return nil, false, err
		}
		ways[i], hides = gather, hides || closes
	}
	return ways, hides, nil
}

// way gives the rows that some rows lead to over a link to one, as follow has it.
type way func(rows []int32, out []int64)

// onward goes over the link: rows become those that they lead to, −1 where they lead nowhere or to what the reader may
// not see; vals are what the link has.
func (w way) onward(rows []int32, vals []int64) {
	w(rows, vals)
	for i, v := range vals {
		rows[i] = int32(v)
		if v == column.Null || v == closed {
			rows[i] = -1
		}
	}
}

// behindHidden marks the rows on whose way over links to one there is a record that the reader may not see; nil where
// there is none.
func (r *run) behindHidden(level int, hops []brief.Hop) (func(b *batch, out []bool), error) {
	ways, hides, err := r.ways(hops)
	if err != nil || !hides {
		return nil, err
	}
	return func(b *batch, out []bool) {
		rows, vals := take(&b.pool.rows, b.n), take(&b.pool.ints, b.n)
		copy(rows, b.rows[level][:b.n])
		setAll(out[:b.n], false)
		for _, w := range ways {
			w.onward(rows, vals)
			for i, v := range vals {
				out[i] = out[i] || v == closed
			}
		}
		give(&b.pool.rows, rows)
		give(&b.pool.ints, vals)
	}, nil
}

// read plans reading a column of the record that a value's path leads to.
func (r *run) read(v *brief.Value, col *column.Column) (*node, error) {
	level := v.Level
	if len(v.Hops) == 0 {
		return &node{col: col, level: level, eval: func(b *batch, out []int64) {
			if b.run && level == 0 && b.n > 0 {
				col.Run(b.rows[0][0], out[:b.n])
				return
			}
			col.Gather(b.rows[level], out[:b.n])
		}}, nil
	}
	at, err := r.hops(level, v.Hops)
	if err != nil {
		return nil, err
	}
	hidden, err := r.behindHidden(level, v.Hops)
	if err != nil {
		return nil, err
	}
	n := &node{level: level, hidden: hidden, eval: func(b *batch, out []int64) {
		rows := take(&b.pool.rows, b.n)
		at(b, rows)
		col.Gather(rows, out[:b.n])
		give(&b.pool.rows, rows)
	}}
	if level == 0 && len(v.Hops) == 1 && hidden == nil {
		if n.over, err = r.column(v.Hops[0].From.Key, v.Hops[0].Field.Key); err != nil {
			return nil, err
		}
		n.far = col
	}
	return n, nil
}

// hops plans following links to one from a level of the rows; it gives row numbers, −1 where a link is empty, or leads
// to what the reader may not see.
func (r *run) hops(level int, hops []brief.Hop) (func(b *batch, out []int32), error) {
	ways, _, err := r.ways(hops)
	if err != nil {
		return nil, err
	}
	return func(b *batch, out []int32) {
		out = out[:b.n]
		copy(out, b.rows[level][:b.n])
		vals := take(&b.pool.ints, b.n)
		for _, w := range ways {
			w.onward(out, vals)
		}
		give(&b.pool.ints, vals)
	}, nil
}

func (r *run) daysToToday(v *brief.Value) (*node, error) {
	from, err := r.column(v.Type.Key, v.Field.Worked.Of[0])
	if err != nil {
		return nil, err
	}
	n, err := r.read(v, from.Days())
	if err != nil {
		return nil, err
	}
	day, today := n.eval, int64(r.today)
	if r.opts.stateDay != 0 {
		today = int64(r.opts.stateDay)
	}
	n.col, n.over = nil, nil
	n.eval = func(b *batch, out []int64) {
		day(b, out)
		for i, d := range out[:b.n] {
			if d != column.Null {
				out[i] = (today - d) * column.Micro
			}
		}
	}
	return n, nil
}

// asDays is a node's local day, for dates and times.
func (r *run) asDays(n *node) *node {
	if n.kind != schema.Time {
		return n
	}
	if n.days != nil {
		return n.days
	}
	cal := r.cal
	return &node{kind: schema.Date, level: n.level, hidden: n.hidden, eval: func(b *batch, out []int64) {
		n.eval(b, out)
		for i, v := range out[:b.n] {
			if v != column.Null {
				out[i] = int64(cal.DayOf(v))
			}
		}
	}}
}

// least is the smallest inner value that is at least edge.
func least(edge exact.Num, scale int64) int64 {
	scaled := edge.Mul(exact.Int(scale))
	w, ok := scaled.Scaled(1)
	if !ok {
		if edge.Sign() < 0 {
			return column.Null + 1
		}
		return 1<<63 - 1
	}
	if exact.Int(w).Cmp(scaled) < 0 {
		w++
	}
	return w
}

func (r *run) bands(v *brief.Value) (*node, error) {
	of, err := r.value(v.Own.Bands.Of)
	if err != nil {
		return nil, err
	}
	edges := make([]int64, len(v.Own.Bands.Edges))
	for i, e := range v.Own.Bands.Edges {
		edges[i] = least(e, of.scale)
	}
	labels := v.Own.Bands.Labels
	return &node{
		dict:    dictOf(column.NewDict(labels...), -1),
		hidden:  of.hidden,
		unrated: of.unrated,
		eval: func(b *batch, out []int64) {
			of.eval(b, out)
			for i, x := range out[:b.n] {
				if x != column.Null {
					out[i] = int64(sort.Search(len(edges), func(k int) bool { return edges[k] > x }))
				}
			}
		},
	}, nil
}

func dictOf(d *column.Dict, ordered int) *dict {
	return &dict{values: d.Values(), dict: d, ordered: ordered}
}

func (r *run) merge(v *brief.Value) (*node, error) {
	m := v.Own.Merge
	of, err := r.value(m.Of)
	if err != nil {
		return nil, err
	}
	labels := column.NewDict(m.Labels...)
	folded := of.dict.folded()
	table := make([]int64, len(of.dict.values))
	for code, text := range of.dict.values {
		set, ok := m.Sets[folded[code]]
		switch {
		case ok:
			table[code] = int64(set)
		case m.Rest >= 0:
			table[code] = int64(m.Rest)
		default:
			table[code] = int64(labels.Code(text))
		}
	}
	return &node{dict: dictOf(labels, 0), hidden: of.hidden, unrated: of.unrated, eval: func(b *batch, out []int64) {
		of.eval(b, out)
		for i, x := range out[:b.n] {
			if x != column.Null {
				out[i] = table[x]
			}
		}
	}}, nil
}

// written rounds a value to what is written of it, by which values group and count as distinct.
func (n *node) written() func(v int64) int64 {
	if !n.kind.Numeric() || n.scale <= column.Scale(n.kind) {
		return nil
	}
	from, to := n.scale, column.Scale(n.kind)
	return func(v int64) int64 {
		w, _ := exact.Frac(v, from).Scaled(to)
		return w
	}
}

// num is an inner value of a numeric node as a number: money in whole units, a percent of 10 as 0.1.
func (n *node) num(v int64) exact.Num {
	if n.kind == schema.Percent {
		return exact.Frac(v, n.scale*100)
	}
	return exact.Frac(v, n.scale)
}

// ErrReader says that a report asks for the reader's own records and its reader is not known.
var ErrReader = errors.New("this report asks for the reader's own records, and its reader is not known")
