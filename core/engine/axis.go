package engine

import (
	"sort"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/result"
	"uzzel/core/schema"
)

// axis is the tree of groups over the rows, or over across.
type axis struct {
	nodes []result.Node
	at    [][]int32 // by depth, by leaf: the node it lies in, −1 for none
	find  map[[2]int32]int
	first int // the first field of the brief's groups that it goes over
	depth int
}

func (a *answer) axis(first, end int) *axis {
	x := &axis{nodes: []result.Node{{Parent: -1}}, find: map[[2]int32]int{}, first: first, depth: end - first}
	x.at = make([][]int32, x.depth+1)
	for d := range x.at {
		x.at[d] = make([]int32, len(a.leaves))
	}
	for i, k := range a.leaves {
		a.every(i)
		at := 0
		for d := range x.at {
			if !a.alive[i] {
				x.at[d][i] = -1
				continue
			}
			if d > 0 {
				at = x.child(at, k[first+d-1], a.s.fields[first+d-1])
			}
			x.at[d][i] = int32(at)
		}
	}
	for d := range x.depth {
		if a.b.Groups[first+d].Group.Every {
			a.list(x, d)
		}
	}
	return x
}

func (x *axis) child(parent int, member int32, f *field) int {
	key := [2]int32{int32(parent), member}
	if n, ok := x.find[key]; ok {
		return n
	}
	n := len(x.nodes)
	x.find[key] = n
	x.nodes = append(x.nodes, result.Node{Member: f.at(member), Parent: parent, Depth: x.nodes[parent].Depth + 1})
	x.nodes[parent].Children = append(x.nodes[parent].Children, n)
	return n
}

// MaxListed is how many groups that have no rows a report lists at most.
const MaxListed = 200_000

// list adds the groups that have no rows under each parent, where every is asked for.
func (a *answer) list(x *axis, d int) {
	g := a.b.Groups[x.first+d]
	f := a.s.fields[x.first+d]
	all := a.all(x.first+d, f)
	members := make([]result.Member, len(all))
	for i, m := range all {
		members[i] = f.at(m)
	}
	before, count := len(x.nodes), 0
	for n := 0; n < len(x.nodes); n++ {
		if x.nodes[n].Depth != d {
			continue
		}
		for i, m := range all {
			count++
			a.every(count)
			if a.under(x, n, x.first+d, members[i]) {
				x.child(n, m, f)
			}
		}
		if len(x.nodes)-before > MaxListed {
			panic(
				tooLarge(
					g.At+"/every",
					"listing every %s under each group makes more than %s groups that have no records; use a longer unit, a shorter period, or only the groups that have records",
					brief.GroupLabel(g),
					thousands(MaxListed),
				),
			)
		}
	}
}

// all lists every member that a field could have.
func (a *answer) all(d int, f *field) []int32 {
	v := f.bound.Values[0]
	var list []int32
	switch {
	case v.Kind.Dated():
		from, to, ok := a.span(d, f)
		for n := from; ok && n <= to; n++ {
			list = append(list, f.key(n))
		}
	case v.Kind == schema.YesNo:
		list = append(list, f.key(0), f.key(1))
	case v.Kind == schema.Link:
		for _, row := range a.listed(v.To) {
			list = append(list, f.key(int64(row)))
		}
	case v.Own != nil && v.Own.Bands != nil:
		for i, l := range v.Own.Bands.Labels {
			list = append(list, f.text(l, int64(i)))
		}
	case v.Own != nil && v.Own.Merge != nil:
		for _, l := range v.Own.Merge.Labels {
			list = append(list, f.text(l, 1<<31-1))
		}
	case v.Field != nil:
		for i, l := range v.Field.Choices {
			rank := int64(1<<31 - 1)
			if v.Field.Ordered {
				rank = int64(i)
			}
			list = append(list, f.text(l, rank))
		}
	}
	return list
}

// maxEvery is how many units of time every lists at most.
const maxEvery = 100_000

// span is the first and last unit that every lists: of the period where it is on this field and has two ends, else of
// the rows left.
func (a *answer) span(d int, f *field) (from, to int64, ok bool) {
	unit := f.bound.Group.By
	if n := unit.Round(); n > 0 {
		return 0, int64(n) - 1, true
	}
	widen := func(n int64) {
		if !ok || n < from {
			from = n
		}
		if !ok || n > to {
			to = n
		}
		ok = true
	}
	cal := a.s.snap.Cal
	onPeriod := false
	for i, p := range a.b.Parts {
		if ownPeriod(p, f.bound, i) {
			if s := cal.Resolve(p.Period.Within, a.today); s.Closed() {
				widen(int64(cal.Ordinal(unit, s.From)))
				widen(int64(cal.Ordinal(unit, s.To)))
				onPeriod = true
			}
		}
	}
	if !onPeriod {
		for i, k := range a.leaves {
			if m := k[d]; a.alive[i] && m > lastFixed {
				widen(f.keys[m])
			}
		}
	}
	return from, min(to, from+maxEvery), ok
}

// listed lists the records of a type that every shows.
func (a *answer) listed(typ string) []int32 {
	t, err := a.s.snap.Table(typ)
	if err != nil {
		return nil
	}
	var active *column.Column
	if key := t.Type.Listed; key != "*" {
		if active, err = a.s.snap.Column(typ, key); err != nil {
			return nil
		}
	}
	var rows []int32
	for r := range int32(t.N) {
		if active == nil || active.At(r) == 1 {
			rows = append(rows, r)
		}
	}
	return rows
}

// under says whether every lists a member under a parent: stages under a pipeline's group are that pipeline's.
func (a *answer) under(x *axis, parent, d int, m result.Member) bool {
	v := a.b.Groups[d].Values[0]
	if v.Field == nil || !v.Field.Stages {
		return true
	}
	for n := parent; n > 0; n = x.nodes[n].Parent {
		up := a.b.Groups[x.first+x.nodes[n].Depth-1].Values[0]
		if up.Field == nil || up.Field.Worked == nil || len(up.Field.Worked.Of) == 0 || up.Type != v.Type ||
			len(up.Hops) != len(v.Hops) ||
			up.Field.Worked.Of[0] != v.Field.Key {
			continue
		}
		for _, st := range v.Type.Stages {
			part := st.Pipeline
			if up.Field.Worked.As == "stage_status" {
				part = st.Status
			}
			if st.Name == m.Label && part != x.nodes[n].Label {
				return false
			}
		}
	}
	return true
}

// order sorts the children of every node: then Other, then (blank), then (hidden). value gives a summary's plain value
// of a node.
func (a *answer) order(x *axis, value func(node, summary int) result.Value) {
	compared := 0
	for n := range x.nodes {
		kids := x.nodes[n].Children
		if len(kids) == 0 {
			continue
		}
		g := a.b.Groups[x.first+x.nodes[n].Depth]
		by, desc, key := 0, true, !result.Natural(g)
		if o := g.Group.Order; o != nil {
			desc, key = o.Desc, o.By != "label"
			for i, s := range a.b.Summaries {
				if s.Source.Key == o.By {
					by = i
				}
			}
		} else if !key {
			desc = false
		}
		sort.SliceStable(kids, func(i, j int) bool {
			compared++
			a.every(compared)
			p, q := &x.nodes[kids[i]], &x.nodes[kids[j]]
			if lp, lq := result.Last(p.Member), result.Last(q.Member); lp != lq {
				return lp < lq
			}
			if key {
				if c := result.ByValue(value(kids[i], by), value(kids[j], by), desc); c != 0 {
					return c < 0
				}
				return result.ByLabel(p.Member, q.Member) < 0
			}
			c := result.ByNature(g, p.Member, q.Member)
			return (c < 0 && !desc) || (c > 0 && desc)
		})
	}
}
