package engine

import (
	"math/bits"
	"slices"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/exact"
	"uzzel/core/schema"
)

// expansion goes from the rows of a batch over a link to many to the linked records that meet conditions.
type expansion struct {
	at    func(b *batch, out []int32) // the record that has the link, nil for the starting one
	many  *column.Many
	where []*cond
	// hidden marks the rows behind whose links to one there is a record that the reader may not see; nil where there are
	// none.
	hidden func(b *batch, out []bool)
	guard  guard
	path   string // for people
}

func (r *run) expand(
	hops []brief.Hop,
	from *schema.Type,
	back *schema.Back,
	where, fixed *brief.Cond,
) (*expansion, error) {
	e := &expansion{guard: r.guard, path: back.Key}
	var err error
	if len(hops) > 0 {
		if e.at, err = r.hops(0, hops); err != nil {
			return nil, err
		}
		if e.hidden, err = r.behindHidden(0, hops); err != nil {
			return nil, err
		}
	}
	if e.many, err = r.snap.Many(from.Key, back.Key); err != nil {
		return nil, err
	}
	if e.where, err = r.both(where, fixed); err != nil {
		return nil, err
	}
	e.where = cheapestFirst(e.where)
	seen, err := r.seen(back.Type)
	if seen != nil {
		r.partly[back.Type] = true
		e.where = append([]*cond{{mark: func(b *batch, out []bool) {
			for i, row := range b.rows[0][:b.n] {
				out[i] = seen[row]
			}
		}}}, e.where...)
	}
	return e, err
}

// each hands on the linked records of a batch, some at a time: parents are indices in the batch and rise, linked are
// rows of the linked table.
func (e *expansion) each(b *batch, use func(parents, linked []int32)) {
	from := b.rows[0]
	if e.at != nil {
		from = take(&b.pool.rows, b.n)
		e.at(b, from)
		defer give(&b.pool.rows, from)
	}
	e.over(from[:b.n], b.pool, use)
}

// pairs are the rows that bringing a link makes of a batch: the index in the batch that each came from, and the linked
// record, −1 where there is none.
type pairs struct{ parent, linked []int32 }

// pairs lists the rows that bringing the link makes. keep keeps a record without any linked one.
func (e *expansion) pairs(from []int32, keep bool, p *pool, out *pairs) {
	out.parent, out.linked = out.parent[:0], out.linked[:0]
	if len(e.where) == 0 {
		for i, row := range from {
			var list []int32
			if row >= 0 {
				list = e.many.Of(row)
			}
			if len(list) == 0 && keep {
				out.parent, out.linked = append(out.parent, int32(i)), append(out.linked, -1)
				continue
			}
			for range list {
				out.parent = append(out.parent, int32(i))
			}
			out.linked = append(out.linked, list...)
		}
		return
	}
	next := int32(0) // the first index not yet written
	empties := func(upTo int32) {
		for ; next < upTo && keep; next++ {
			out.parent, out.linked = append(out.parent, next), append(out.linked, -1)
		}
	}
	e.over(from, p, func(parents, linked []int32) {
		for i, parent := range parents {
			empties(parent)
			next = parent + 1
			out.parent, out.linked = append(out.parent, parent), append(out.linked, linked[i])
		}
	})
	empties(int32(len(from)))
}

func (e *expansion) over(from []int32, p *pool, use func(parents, linked []int32)) {
	parents, linked := take(&p.rows, batchSize)[:0], take(&p.rows, batchSize)[:0]
	flush := func() {
		if len(parents) > 0 {
			e.guard.poll()
			e.guard.takeRows(len(parents), "", "going over "+e.path+" again and again")
			ps, ls := e.pass(parents, linked, p)
			if len(ps) > 0 {
				use(ps, ls)
			}
			parents, linked = parents[:0], linked[:0]
		}
	}
	for i, row := range from {
		if row < 0 {
			continue
		}
		for list := e.many.Of(row); len(list) > 0; {
			n := min(len(list), batchSize-len(parents))
			for range n {
				parents = append(parents, int32(i))
			}
			linked = append(linked, list[:n]...)
			list = list[n:]
			if len(parents) == batchSize {
				flush()
			}
		}
	}
	flush()
	give(&p.rows, parents)
	give(&p.rows, linked)
}

// pass keeps the linked records that meet the conditions, in place.
func (e *expansion) pass(parents, linked []int32, p *pool) ([]int32, []int32) {
	for _, c := range e.where {
		in := &batch{n: len(linked), pool: p}
		in.rows[0] = linked
		marks := take(&p.marks, in.n)
		c.mark(in, marks)
		n := 0
		for i, ok := range marks {
			parents[n], linked[n] = parents[i], linked[i]
			if ok {
				n++
			}
		}
		give(&p.marks, marks)
		parents, linked = parents[:n], linked[:n]
		if n == 0 {
			break
		}
	}
	return parents, linked
}

// ownLinked plans an own field that sums up linked records.
func (r *run) ownLinked(v *brief.Value) (*node, error) {
	l := v.Own.Linked
	e, err := r.expand(l.Hops, l.From, l.Back, l.Where, l.Fixed)
	if err != nil {
		return nil, err
	}
	n, err := r.linkedBy(l, e)
	if err == nil {
		n.unrated = either(n.unrated, e.unsure(nil))
		n.hidden = either(n.hidden, e.hidden)
	}
	return n, err
}

func (r *run) linkedBy(l *brief.BoundLinked, e *expansion) (*node, error) {
	if l.Fn == "count" {
		return counted(e), nil
	}
	of, err := r.value(l.Of)
	if err != nil {
		return nil, err
	}
	switch l.Fn {
	case "newest", "oldest":
		by, err := r.value(l.By)
		if err != nil {
			return nil, err
		}
		n := newest(e, of, by, l.Fn == "newest")
		n.dict = of.dict
		return n, nil
	case "filled", "sum", "min", "max":
		n := folded(e, of, l.Fn)
		n.unrated = e.unsure(of)
		return n, nil
	}
	n := collected(e, of, l.Fn)
	n.unrated = e.unsure(of)
	return n, nil
}

func counted(e *expansion) *node {
	return &node{eval: func(b *batch, out []int64) {
		e.count(b, out)
		for i := range out[:b.n] {
			out[i] *= column.Micro
		}
	}}
}

func fill(out []int64, v int64) {
	for i := range out {
		out[i] = v
	}
}

// values calls use with the index and the value of each linked record whose value is filled.
func (e *expansion) values(b *batch, of *node, use func(parent int32, v int64)) {
	e.each(b, func(parents, linked []int32) {
		vals := take(&b.pool.ints, len(linked))
		of.eval(b.inner(linked), vals)
		for i, v := range vals {
			if v != column.Null {
				use(parents[i], v)
			}
		}
		give(&b.pool.ints, vals)
	})
}

func folded(e *expansion, of *node, fn string) *node {
	if fn == "filled" {
		of = of.holding()
	}
	return &node{eval: func(b *batch, out []int64) {
		first := int64(column.Null)
		if fn == "filled" {
			first = 0
		}
		fill(out[:b.n], first)
		e.values(b, of, func(p int32, v int64) {
			switch was := out[p]; {
			case fn == "filled":
				out[p] += column.Micro
			case was == column.Null || (fn == "min" && v < was) || (fn == "max" && v > was):
				out[p] = v
			case fn == "sum":
				out[p] += v
			}
		})
	}}
}

// holding is a link that has a value wherever the record holds one, whether or not the reader may see where it leads.
func (n *node) holding() *node {
	if n.link == nil {
		return n
	}
	held := *n
	held.eval = func(b *batch, out []int64) {
		n.eval(b, out)
		b.marked(n.link, func(i int) { out[i] = 0 })
	}
	return &held
}

func newest(e *expansion, of, by *node, latest bool) *node {
	chosen := func(b *batch, use func(in *batch)) {
		best := take(&b.pool.ints, b.n)
		row := take(&b.pool.rows, b.n)
		fill(best, column.Null)
		for i := range row {
			row[i] = -1
		}
		e.each(b, func(parents, linked []int32) {
			at := take(&b.pool.ints, len(linked))
			by.eval(b.inner(linked), at)
			for i, v := range at {
				p := parents[i]
				// Linked rows rise with their ids, so that of equal ones the later is the larger id.
				if v != column.Null && (best[p] == column.Null || (latest && v >= best[p]) || (!latest && v <= best[p])) {
					best[p], row[p] = v, linked[i]
				}
			}
			give(&b.pool.ints, at)
		})
		use(b.inner(row))
		give(&b.pool.ints, best)
		give(&b.pool.rows, row)
	}
	n := &node{eval: func(b *batch, out []int64) {
		chosen(b, func(in *batch) { of.eval(in, out[:b.n]) })
	}}
	if of.hidden != nil {
		n.hidden = func(b *batch, out []bool) {
			chosen(b, func(in *batch) { of.hidden(in, out[:b.n]) })
		}
	}
	if of.unrated != nil {
		n.unrated = func(b *batch, out []bool) {
			chosen(b, func(in *batch) { of.unrated(in, out[:b.n]) })
		}
	}
	return n
}

// collected is for functions that need all values of a record at once.
func collected(e *expansion, of *node, fn string) *node {
	written := of.written()
	return &node{eval: func(b *batch, out []int64) {
		lists := make([][]int64, b.n)
		e.values(b, of, func(p int32, v int64) {
			if written != nil && fn == "distinct" {
				v = written(v)
			}
			lists[p] = append(lists[p], v)
		})
		for i, list := range lists {
			out[i] = column.Null
			switch {
			case fn == "distinct":
				out[i] = int64(different(list)) * column.Micro
			case len(list) == 0:
			case fn == "average":
				total := exact.Num{}
				for _, v := range list {
					total = total.Add(exact.Frac(v, of.scale))
				}
				mean, _ := total.Quo(exact.Int(int64(len(list))))
				out[i], _ = mean.Scaled(brief.AverageScale)
			default:
				out[i], _ = middle(list, of.scale).Scaled(brief.AverageScale)
			}
		}
	}}
}

func different(list []int64) int {
	slices.Sort(list)
	n := 0
	for i, v := range list {
		if i == 0 || v != list[i-1] {
			n++
		}
	}
	return n
}

// middle is the median of values that are there, which it puts in another order: of an even number, the mean of the
// middle two.
func middle(list []int64, scale int64) exact.Num {
	k := len(list) / 2
	pick(list, k)
	if len(list)%2 == 1 {
		return exact.Frac(list[k], scale)
	}
	two := exact.Frac(slices.Max(list[:k]), scale).Add(exact.Frac(list[k], scale))
	return two.Mul(exact.Frac(1, 2))
}

// pick puts the value that would be at k in order there, with none greater before it and none less after it
// (Hoare's selection; what does not get smaller fast enough is sorted, so that no data makes it slow).
func pick(list []int64, k int) {
	for tries := 2 * bits.Len(uint(len(list))); len(list) > 32; tries-- {
		if tries == 0 {
			break
		}
		n := len(list)
		pivot := median3(list[n/4], list[n/2], list[3*n/4])
		i, j := 0, n-1
		for i <= j {
			for list[i] < pivot {
				i++
			}
			for list[j] > pivot {
				j--
			}
			if i <= j {
				list[i], list[j] = list[j], list[i]
				i++
				j--
			}
		}
		switch {
		case k <= j:
			list = list[:j+1]
		case k >= i:
			list, k = list[i:], k-i
		default:
			return
		}
	}
	slices.Sort(list)
}

func median3(a, b, c int64) int64 { return max(min(a, b), min(max(a, b), c)) }
