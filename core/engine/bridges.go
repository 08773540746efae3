package engine

import (
	"cmp"
	"slices"
	"sort"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/exact"
	"uzzel/core/result"
	"uzzel/core/schema"
)

// Bridge is what moved within one group. A record that changed its group leaves one and comes into the other
// (docs/brief.md, "Over time").
type Bridge struct {
	Key    string // as a mark names the group
	Member result.Member
	Steps  []Move
}

// Steps of a record that changed its group.
const (
	MoveFrom = "from:group" // it came from another
	MoveTo   = "to:group"   // it went to another
)

// Bridges cuts what moved up by the brief's first group: for each, what the brief found in it then and finds now, and the
// steps between, in the order of docs/brief.md. Groups stand in their own order, or those that changed most first.
func (m *Moves) Bridges(b *brief.Bound) (list []Bridge, err error) {
	defer whole(&err)
	if len(b.Groups) == 0 {
		return nil, brief.Problems{{Pointer: "/groups", Message: "what moved is cut up by a group; name one"}}
	}
	g := b.Groups[0]
	then, err := m.then.groups(b, g)
	if err != nil {
		return nil, err
	}
	now, err := m.now.groups(b, g)
	if err != nil {
		return nil, err
	}
	type cut struct {
		*Bridge
		then, now []pair
		steps     map[string][]pair
	}
	by := map[string]*cut{}
	of := func(member result.Member, key string) *cut {
		c := by[key]
		if c == nil {
			c = &cut{Bridge: &Bridge{Key: key, Member: member}, steps: map[string][]pair{}}
			by[key] = c
		}
		return c
	}
	was := func(row int32) *cut { return of(then.of(m.then.place[row])) }
	is := func(row int32) *cut { return of(now.of(m.now.place[row])) }
	last := len(m.Steps) - 1
	for i, step := range m.Steps {
		for n, p := range step.rows {
			if n%batchSize == 0 {
				m.now.run.poll()
			}
			switch {
			case i == 0:
				c := was(p.then)
				c.then = append(c.then, p)
			case i == last:
				c := is(p.now)
				c.now = append(c.now, p)
			case m.then.finds(p.then) && m.now.finds(p.now):
				from, to := was(p.then), is(p.now)
				if from == to {
					to.steps[step.Step] = append(to.steps[step.Step], p)
					continue
				}
				from.steps[MoveTo] = append(from.steps[MoveTo], pair{p.then, -1})
				to.steps[MoveFrom] = append(to.steps[MoveFrom], pair{-1, p.now})
			case m.now.finds(p.now):
				c := is(p.now)
				c.steps[step.Step] = append(c.steps[step.Step], p)
			default:
				c := was(p.then)
				c.steps[step.Step] = append(c.steps[step.Step], p)
			}
		}
	}
	for _, c := range by {
		c.Steps = append(c.Steps, m.step(MoveThen, c.then))
		for _, name := range stepsInOrder(c.steps) {
			c.Steps = append(c.Steps, m.step(name, c.steps[name]))
		}
		c.Steps = append(c.Steps, m.step(MoveNow, c.now))
		list = append(list, *c.Bridge)
	}
	natural := result.Natural(g)
	sort.Slice(list, func(i, j int) bool {
		x, y := &list[i], &list[j]
		if lx, ly := result.Last(x.Member), result.Last(y.Member); lx != ly {
			return lx < ly
		}
		if !natural {
			if c := m.change(y).Abs().Cmp(m.change(x).Abs()); c != 0 {
				return c < 0
			}
		}
		return cmp.Or(result.ByNature(g, x.Member, y.Member), cmp.Compare(x.Key, y.Key)) < 0
	})
	return list, nil
}

// change is by how much a group changed, of what the bridge is drawn by.
func (m *Moves) change(b *Bridge) exact.Num {
	last := len(b.Steps) - 1
	return m.AmountOf(b.Steps[last]).Sub(m.AmountOf(b.Steps[0]))
}

// grouped is the group of each record that a state finds, by its place there.
type grouped struct {
	members []int32
	field   *field
	keys    *column.IDs // of groups that are records
}

func (g *grouped) of(place int32) (result.Member, string) {
	member := g.field.at(g.members[place])
	switch {
	case member.Blank:
		return member, result.BlankKey
	case member.Hidden:
		return member, result.HiddenKey
	case g.keys != nil:
		return member, "=" + g.keys.At(int32(member.Key))
	}
	return member, "=" + member.Label
}

// groups reads the group of each record that is found.
func (s *standing) groups(b *brief.Bound, g *brief.BoundGroup) (*grouped, error) {
	d, err := s.run.dim(g, 0, 0)
	if err != nil {
		return nil, err
	}
	only := *b
	only.Groups = []*brief.BoundGroup{g}
	sp := newSpace(&only, s.run.snap)
	out := &grouped{members: make([]int32, len(s.rows)), field: sp.fields[0]}
	if v := g.Values[0]; v.Kind == schema.Link {
		t, err := s.run.snap.Table(v.To)
		if err != nil {
			return nil, err
		}
		out.keys = t.IDs
	}
	s.run.takeBytes(4*len(s.rows), "", "the groups of the records that moved")
	keys := make([]int64, batchSize)
	s.each(s.rows, func(first int, batch *batch) {
		d.values(batch, keys[:batch.n])
		for i, key := range keys[:batch.n] {
			out.members[first+i] = sp.member(0, key, d.node.dict)
		}
	})
	return out, nil
}

// Within is one group's bridge as what moved: its steps can be listed by their records.
func (m *Moves) Within(list []Bridge, key string) (*Moves, bool) {
	at := slices.IndexFunc(list, func(b Bridge) bool { return b.Key == key })
	if at < 0 {
		return nil, false
	}
	out := *m
	out.Steps = list[at].Steps
	return &out, true
}
