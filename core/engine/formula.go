package engine

import (
	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/exact"
	"uzzel/core/schema"
)

// formula plans a formula over the fields of a row: that of an own field, or of a field of a record that the row has or
// leads to.
func (r *run) formula(v *brief.Value, o *brief.BoundOwn) (*node, error) {
	refs := make([]*node, len(o.Refs))
	zero := make([]bool, len(o.Refs))
	for i, ref := range o.Refs {
		n, err := r.value(ref)
		if err != nil {
			return nil, err
		}
		if o.Formula.Refs[i].Sort == brief.DaySort {
			n = r.asDays(n)
		}
		refs[i] = n
		zero[i] = ref.Own != nil && ref.Own.Linked != nil && ref.Own.Linked.Fn == "sum"
	}
	at, err := r.hops(v.Level, v.Hops)
	if err != nil {
		return nil, err
	}
	scale := v.Scale
	if v.Kind == schema.Percent {
		scale *= 100 // 0.1 is 10 %
	}
	n := &node{eval: func(b *batch, out []int64) {
		f := formulaBatch{b: b, run: r, refs: refs, zero: zero}
		nums := f.eval(o.Formula.Root)
		rows := take(&b.pool.rows, b.n)
		at(b, rows)
		for i := range out[:b.n] {
			out[i] = column.Null
			if nums[i].ok && rows[i] >= 0 {
				if w, ok := nums[i].num.Scaled(scale); ok {
					out[i] = w
				}
			}
		}
		give(&b.pool.rows, rows)
		give(&b.pool.nums, nums)
	}}
	var reads func(b *batch, out []bool)
	for _, ref := range refs {
		n.unrated = either(n.unrated, ref.unrated)
		reads = either(reads, ref.hidden)
	}
	if reads != nil { // hidden where it has no outcome for want of what the reader may not see
		n.hidden = func(b *batch, out []bool) {
			reads(b, out)
			vals := take(&b.pool.ints, b.n)
			n.eval(b, vals)
			for i, v := range vals {
				out[i] = out[i] && v == column.Null
			}
			give(&b.pool.ints, vals)
		}
	}
	return n, nil
}

// formulaBatch works a formula out for all rows of a batch, part by part. Numbers and days are maybes; conditions
// are maybes that are always there and 1 or 0.
type formulaBatch struct {
	b    *batch
	run  *run
	refs []*node
	zero []bool
}

func (f *formulaBatch) eval(e *brief.Expr) []maybe {
	f.run.poll()
	switch e.Op {
	case "num":
		return f.fill(maybe{e.Num, true})
	case "today":
		return f.fill(maybe{exact.Int(int64(f.run.today)), true})
	case "ref":
		return f.ref(e)
	case "==", "!=", "<", "<=", ">", ">=":
		return f.compare(e)
	}
	args := make([][]maybe, len(e.Args))
	for i, a := range e.Args {
		args[i] = f.eval(a)
	}
	out := args[0]
	row := make([]maybe, len(args))
	for i := range out {
		for k := range args {
			row[k] = args[k][i]
		}
		if out[i] = apply(e, row); out[i].ok && out[i].num.Long() {
			out[i] = maybe{} // far past what a field can hold
		}
	}
	for _, a := range args[1:] {
		give(&f.b.pool.nums, a)
	}
	return out
}

func (f *formulaBatch) fill(m maybe) []maybe {
	out := take(&f.b.pool.nums, f.b.n)
	for i := range out {
		out[i] = m
	}
	return out
}

func (f *formulaBatch) ref(e *brief.Expr) []maybe {
	n := f.refs[e.Ref]
	vals := take(&f.b.pool.ints, f.b.n)
	n.eval(f.b, vals)
	out := take(&f.b.pool.nums, f.b.n)
	for i, v := range vals {
		switch {
		case v == column.Null:
			// An empty yes/no field is a condition that does not hold; an empty linked sum is 0.
			out[i] = maybe{ok: f.zero[e.Ref] || e.Sort == brief.TruthSort}
		case e.Sort == brief.NumberSort:
			out[i] = maybe{n.num(v), true}
		default:
			out[i] = maybe{exact.Int(v), true}
		}
	}
	give(&f.b.pool.ints, vals)
	return out
}

func (f *formulaBatch) compare(e *brief.Expr) []maybe {
	if e.Args[0].Sort == brief.TextSort {
		return f.compareText(e)
	}
	left, right := f.eval(e.Args[0]), f.eval(e.Args[1])
	if e.Args[0].Sort == brief.TruthSort {
		f.emptyTruth(e.Args[0], left)
		f.emptyTruth(e.Args[1], right)
	}
	for i := range left {
		left[i] = truth(holds(e.Op, left[i], right[i]))
	}
	give(&f.b.pool.nums, right)
	return left
}

// emptyTruth marks yes/no fields that are empty: a comparison with empty is false, though the field alone is a
// condition that does not hold.
func (f *formulaBatch) emptyTruth(e *brief.Expr, vals []maybe) {
	if e.Op != "ref" {
		return
	}
	raw := take(&f.b.pool.ints, f.b.n)
	f.refs[e.Ref].eval(f.b, raw)
	for i, v := range raw {
		if v == column.Null {
			vals[i].ok = false
		}
	}
	give(&f.b.pool.ints, raw)
}

func (f *formulaBatch) compareText(e *brief.Expr) []maybe {
	out := take(&f.b.pool.nums, f.b.n)
	ref, text := e.Args[0], e.Args[1]
	if ref.Op != "ref" {
		ref, text = text, ref
	}
	if ref.Op != "ref" { // two texts in quotes
		return f.fill(truth((column.Fold(ref.Text) == column.Fold(text.Text)) == (e.Op == "==")))
	}
	n := f.refs[ref.Ref]
	folded, want := n.dict.folded(), column.Fold(text.Text)
	vals := take(&f.b.pool.ints, f.b.n)
	n.eval(f.b, vals)
	for i, v := range vals {
		out[i] = truth(v != column.Null && (folded[v] == want) == (e.Op == "=="))
	}
	give(&f.b.pool.ints, vals)
	return out
}

func truth(b bool) maybe {
	if b {
		return maybe{exact.Int(1), true}
	}
	return maybe{exact.Num{}, true}
}

func holds(op string, a, b maybe) bool {
	if !a.ok || !b.ok {
		return false
	}
	c := a.num.Cmp(b.num)
	switch op {
	case "==":
		return c == 0
	case "!=":
		return c != 0
	case "<":
		return c < 0
	case "<=":
		return c <= 0
	case ">":
		return c > 0
	}
	return c >= 0
}

// apply works out one part of a formula from the values of its parts.
func apply(e *brief.Expr, a []maybe) maybe {
	switch e.Op {
	case "and":
		return truth(a[0].num.Sign() != 0 && a[1].num.Sign() != 0)
	case "or":
		return truth(a[0].num.Sign() != 0 || a[1].num.Sign() != 0)
	case "not":
		return truth(a[0].num.Sign() == 0)
	case "if":
		if a[0].num.Sign() != 0 {
			return a[1]
		}
		return a[2]
	case "first_filled":
		if a[0].ok {
			return a[0]
		}
		return a[1]
	}
	for _, x := range a {
		if !x.ok {
			return maybe{}
		}
	}
	x := a[0].num
	switch e.Op {
	case "neg":
		return maybe{x.Neg(), true}
	case "abs":
		return maybe{x.Abs(), true}
	case "+":
		return maybe{x.Add(a[1].num), true}
	case "-":
		return maybe{x.Sub(a[1].num), true}
	case "*":
		return maybe{x.Mul(a[1].num), true}
	case "/":
		q, ok := x.Quo(a[1].num)
		return maybe{q, ok}
	case "days":
		return maybe{a[1].num.Sub(x), true}
	case "round":
		decimals, _ := a[1].num.Scaled(1)
		return maybe{x.Round(int(decimals)), true}
	case "min":
		if a[1].num.Cmp(x) < 0 {
			return a[1]
		}
		return a[0]
	}
	if a[1].num.Cmp(x) > 0 {
		return a[1]
	}
	return a[0]
}
