package engine

import (
	"slices"
	"sort"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/exact"
	"uzzel/core/result"
	"uzzel/core/schema"
)

// answer is a result being put together: the leaves, what each side found in them, and where each leaf is once
// (blank) and top were settled.
type answer struct {
	guard
	b      *brief.Bound
	s      *space
	now    []*side // by part
	before []*side // by part, nil without compare
	today  int32
	spans  []result.Span
	leaves []leafKey
	alive  []bool
}

// settle takes out what blank and top leave out, in the order of docs/brief.md: (blank) first, then each top,
// outermost first, rows before across, each judged on what is left.
func (a *answer) settle() {
	a.leaves = a.s.leaves // which nothing else reads any more
	a.alive = make([]bool, len(a.leaves))
	noBlank := a.b.Brief.Blank != nil && !*a.b.Brief.Blank
	for i, k := range a.leaves {
		a.every(i)
		a.alive[i] = true
		for d := range a.b.Groups {
			if noBlank && k[d] == blankMember {
				a.alive[i] = false
			}
		}
	}
	for d, g := range a.b.Groups {
		switch top := g.Group.Top; {
		case top == nil:
		case a.s.picked:
			for i, k := range a.leaves {
				a.alive[i] = a.alive[i] && (k[d] != otherMember || top.Rest != "drop")
			}
		default:
			a.top(d, top)
		}
	}
	if !settlesNothing(a.b) {
		a.compact()
	}
}

// compact puts leaves together that are now one group (those of Other), and those that are left out: of these it keeps
// only which of their fields are (blank).
func (a *answer) compact() {
	to := make([]int32, len(a.leaves))
	var leaves []leafKey
	var alive []bool
	type key struct {
		leafKey
		alive bool
	}
	index := map[key]int32{}
	same := key{}
	at := int32(-1)
	for i, k := range a.leaves {
		a.every(i)
		now := key{k, a.alive[i]}
		if !now.alive {
			for d := range now.leafKey {
				now.leafKey[d] = min(now.leafKey[d], otherMember) // (hidden) is not (blank)
			}
		}
		if at < 0 || now != same {
			n, ok := index[now]
			if !ok {
				n = int32(len(leaves))
				index[now] = n
				leaves, alive = append(leaves, now.leafKey), append(alive, now.alive)
			}
			at, same = n, now
		}
		to[i] = at
	}
	a.leaves, a.alive = leaves, alive
	for _, sides := range [][]*side{a.now, a.before} {
		for _, s := range sides {
			s.compact(to, len(leaves))
		}
	}
}

func (s *side) compact(to []int32, n int) {
	for _, d := range s.data {
		if d == nil {
			continue
		}
		var sums adds
		sums.grow(n, 0)
		for leaf := range d.adds {
			sums[to[leaf]].merge(&d.adds[leaf], d.fn == "min")
		}
		d.adds = sums
		for i, leaf := range d.notes.leaf {
			d.notes.leaf[i] = to[leaf]
		}
		d.noted.move(to)
		d.ordered = nil
	}
	has := make([]bool, n)
	for _, leaf := range s.seen {
		has[to[leaf]] = true
	}
	s.seen = s.seen[:0]
	for leaf, ok := range has {
		if ok {
			s.seen = append(s.seen, int32(leaf))
		}
	}
	for _, c := range s.captured {
		for i, leaf := range c.leaf {
			c.leaf[i] = to[leaf]
		}
	}
}

// prefix is a leaf's key cut to the fields from first to d.
func (k leafKey) prefix(first, d int) leafKey {
	var p leafKey
	copy(p[first:d+1], k[first:d+1])
	return p
}

// prefixes finds the groups that the fields from first to d make: the one of each leaf that is left, −1 of others.
// Where each leaf is a group, its keys are the leaves themselves.
func (a *answer) prefixes(first, d int) (cellOf []int32, keys []leafKey) {
	cellOf = make([]int32, len(a.leaves))
	if len(a.s.fields) == 1 && !slices.Contains(a.alive, false) { // each leaf is a group
		for i := range cellOf {
			cellOf[i] = int32(i)
		}
		return cellOf, a.leaves
	}
	cells := map[leafKey]int32{}
	if d == first {
		keys = make([]leafKey, 0, len(a.leaves))
	}
	byMember := make([]int32, len(a.s.fields[d].keys)) // plus one, where d is the only field
	for i, k := range a.leaves {
		a.every(i)
		cellOf[i] = -1
		if !a.alive[i] {
			continue
		}
		p := k.prefix(first, d)
		if d == first {
			if byMember[p[d]] == 0 {
				keys = append(keys, p)
				byMember[p[d]] = int32(len(keys))
			}
			cellOf[i] = byMember[p[d]] - 1
			continue
		}
		n, ok := cells[p]
		if !ok {
			n = int32(len(keys))
			cells[p] = n
			keys = append(keys, p)
		}
		cellOf[i] = n
	}
	return cellOf, keys
}

func (a *answer) top(d int, top *brief.Top) {
	first := 0
	if a.b.Groups[d].Across {
		first = a.b.Rows
	}
	cellOf, keys := a.prefixes(first, d)
	smallest := top.From == "smallest"
	rank := a.rank(judges(a.b, top), cellOf, len(keys), smallest)
	// Only groups of the current period are judged; those that only the earlier one has are Other's.
	here := a.present(cellOf, len(keys))
	siblings := map[leafKey][]int32{}
	var alone []int32 // where there is no parent
	if d == first {
		alone = make([]int32, 0, len(keys))
	}
	for n, p := range keys {
		if p[d] == blankMember || p[d] == hiddenMember || !here[n] {
			continue
		}
		if d == first {
			alone = append(alone, int32(n))
			continue
		}
		parent := p
		parent[d] = 0
		siblings[parent] = append(siblings[parent], int32(n))
	}
	if d == first {
		siblings[leafKey{}] = alone
	}
	kept := make([]bool, len(keys))
	f := a.s.fields[d]
	compared := 0
	for _, list := range siblings {
		for _, n := range best(list, top.N, func(x, y int32) bool {
			compared++
			a.every(compared)
			if c := rank(x, y); c != 0 {
				return c < 0
			}
			return result.ByLabel(f.at(keys[x][d]), f.at(keys[y][d])) < 0
		}) {
			kept[n] = true
		}
	}
	for i := range a.leaves {
		n := cellOf[i]
		if n < 0 || kept[n] || keys[n][d] == blankMember || keys[n][d] == hiddenMember {
			continue
		}
		if top.Rest == "drop" {
			a.alive[i] = false
		} else {
			a.leaves[i][d] = otherMember
		}
	}
}

// judges is the summary that a top goes by.
func judges(b *brief.Bound, top *brief.Top) int {
	return max(0, slices.IndexFunc(b.Summaries, func(s *brief.BoundSummary) bool { return s.Source.Key == top.By }))
}

// rank compares cells by a summary: −1 where the first comes before the second.
func (a *answer) rank(by int, cellOf []int32, n int, smallest bool) func(x, y int32) int {
	s := a.b.Summaries[by]
	if s.Formula == nil {
		if d := a.now[s.Part].data[by]; d.compares() != nil {
			a.takeValues(int64(n), s.At, "so many groups with so many summaries")
			return d.ranks(d.sums(cellOf, n), smallest)
		}
	}
	vals := a.evaluate(a.now, cellOf, n).of(by)
	return func(x, y int32) int { return result.ByValue(vals[x], vals[y], !smallest) }
}

// best gives the first n of a list in the order of less.
func best(list []int32, n int, less func(x, y int32) bool) []int32 {
	if n >= len(list) {
		return list
	}
	if n > 32 {
		sort.Slice(list, func(i, j int) bool { return less(list[i], list[j]) })
		return list[:n]
	}
	top := make([]int32, 0, n+1)
	for _, x := range list {
		top = among(top, x, n, less)
	}
	return top
}

// present says which cells the current period has rows in.
func (a *answer) present(cellOf []int32, n int) []bool {
	here := make([]bool, n)
	if a.before == nil {
		for i := range here {
			here[i] = true
		}
		return here
	}
	for _, s := range a.now {
		for _, leaf := range s.seen {
			if c := cellOf[leaf]; c >= 0 {
				here[c] = true
			}
		}
	}
	return here
}

// evaluated is the summaries' plain values in some cells.
type evaluated struct {
	a       *answer
	sides   []*side
	cellOf  []int32
	n       int
	level   int // the level of the cells, as in newLevels
	vals    [][]result.Value
	counted int64 // records counted once, over all cells and summaries
}

func (a *answer) evaluate(sides []*side, cellOf []int32, n int) *evaluated {
	return &evaluated{a: a, sides: sides, cellOf: cellOf, n: n, vals: make([][]result.Value, len(a.b.Summaries))}
}

// of works out one summary, and those its formula reads.
func (e *evaluated) of(i int) []result.Value {
	if e.vals[i] != nil {
		return e.vals[i]
	}
	s := e.a.b.Summaries[i]
	e.a.poll()
	e.a.takeValues(int64(e.n), s.At, "so many groups with so many summaries")
	if s.Formula == nil {
		d := e.sides[s.Part].data[i]
		vals, counted := d.cells(e.a.guard, e.cellOf, e.n, e.level)
		if d.fn != "distinct" {
			e.counted += counted
		}
		e.vals[i] = vals
		return vals
	}
	refs := make([][]result.Value, len(s.Refs))
	for k, j := range s.Refs {
		refs[k] = e.of(j)
	}
	out := make([]result.Value, e.n)
	row := make([]result.Value, len(refs))
	for c := range out {
		if c&255 == 0 {
			e.a.poll()
		}
		for k := range refs {
			row[k] = refs[k][c]
		}
		if out[c] = e.a.formula(s, row); out[c].Num.Long() {
			panic(tooLarge(s.At+"/formula", "the outcome of “%s” has hundreds of digits; multiply less", s.Source.Key))
		}
	}
	e.vals[i] = out
	return out
}

// formula works out a summary's formula from the values it reads.
func (a *answer) formula(s *brief.BoundSummary, row []result.Value) result.Value {
	args := make([]maybe, len(row))
	for k, v := range row {
		ref := a.b.Summaries[s.Refs[k]]
		args[k] = maybe{v.Num, v.Set}
		switch {
		case !v.Set && ref.Source.Fn == "sum":
			args[k] = maybe{ok: true}
		case ref.Kind == schema.Percent && ref.Formula == nil:
			args[k].num = v.Num.Mul(exact.Frac(1, 100))
		case ref.Kind == schema.Time && v.Set:
			at, _ := v.Num.Scaled(1)
			args[k].num = exact.Int(int64(a.s.snap.Cal.DayOf(at)))
		}
	}
	out := a.expr(s.Formula.Root, args)
	return result.Value{Set: out.ok, Num: out.num}
}

func (a *answer) expr(e *brief.Expr, refs []maybe) maybe {
	switch e.Op {
	case "num":
		return maybe{e.Num, true}
	case "ref":
		return refs[e.Ref]
	case "today":
		return maybe{exact.Int(int64(a.today)), true}
	case "text":
		return maybe{}
	}
	args := make([]maybe, len(e.Args))
	for i, k := range e.Args {
		if args[i] = a.expr(k, refs); args[i].num.Long() {
			return args[i] // far too long already; its summary is refused
		}
	}
	switch e.Op {
	case "==", "!=", "<", "<=", ">", ">=":
		if e.Args[0].Sort == brief.TextSort {
			return truth(strings.EqualFold(e.Args[0].Text, e.Args[1].Text) == (e.Op == "=="))
		}
		return truth(holds(e.Op, args[0], args[1]))
	}
	return apply(e, args)
}

// among puts an index into a list of at most few in the order of less, if it comes before the last of them.
func among(list []int32, place int32, few int, less func(a, b int32) bool) []int32 {
	if len(list) == few && (few == 0 || !less(place, list[few-1])) {
		return list
	}
	at := sort.Search(len(list), func(i int) bool { return less(place, list[i]) })
	list = slices.Insert(list, at, place)
	return list[:min(len(list), few)]
}
