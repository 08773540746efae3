package engine

import (
	"slices"

	"uzzel/core/brief"
	"uzzel/core/result"
)

// pick takes the few groups that a top keeps straight out of what the workers found, so that of very many groups only
// those few, and all others together, come into the space. It does so where a report is of one group by a link or by
// the record itself, over one part and one period, and the top goes by a summary whose sums compare as its values do;
// it says whether it did. What it gives is what settle would (docs/brief.md, groups: top).
func (s *space) pick(g guard, b *brief.Bound, crew []*worker, dims []*dim, tallies []*data, out *side) bool {
	if len(b.Groups) != 1 || b.Groups[0].Group.Top == nil || len(b.Parts) != 1 || b.Brief.Compare != "" ||
		dims[0].node.dict != nil ||
		len(crew) == 0 ||
		slices.ContainsFunc(crew, func(w *worker) bool { return w.keyer.seen == nil }) {
		return false
	}
	top, d := b.Groups[0].Group.Top, dims[0]
	by := out.data[judges(b, top)] // nil where a formula judges
	if by == nil || by.compares() == nil {
		return false
	}
	all := together(crew)
	sums := all.found[slices.Index(tallies, by)].adds
	var list []int32
	for place := 1; place <= d.card; place++ {
		g.every(place)
		if all.keyer.seen[place] {
			list = append(list, int32(place))
		}
	}
	g.takeValues(int64(len(list)), by.sum.At, "so many groups with so many summaries")
	f, rank, compared := s.fields[0], by.ranks(sums, top.From == "smallest"), 0
	member := func(place int32) result.Member {
		return result.Member{Label: f.label(d.at(int(place))), Key: d.at(int(place))}
	}
	kept := best(list, top.N, func(x, y int32) bool {
		compared++
		g.every(compared)
		if c := rank(x, y); c != 0 {
			return c < 0
		}
		return result.ByLabel(member(x), member(y)) < 0
	})
	to := make([]int32, len(all.keyer.seen))
	for place := range to {
		to[place] = -1
	}
	for _, place := range kept {
		to[place] = s.leafOf(s.member(0, d.at(int(place)), nil))
	}
	for place, is := range all.keyer.seen {
		switch {
		case !is || to[place] >= 0:
		case place == 0 || place > d.card:
			to[place] = s.leafOf(s.member(0, d.at(place), nil))
		default:
			to[place] = s.leafOf(otherMember)
		}
	}
	for i, t := range tallies {
		t.adds.grow(len(s.leaves), 0)
		for place, leaf := range to {
			if leaf >= 0 {
				t.adds[leaf].merge(&all.found[i].adds[place], t.fn == "min")
			}
		}
	}
	for leaf := range s.leaves {
		out.seen = append(out.seen, int32(leaf))
	}
	for _, w := range crew {
		out.records += w.records
	}
	s.picked = true
	return true
}

// together adds what workers whose leaves are indices found up in the first of them.
func together(crew []*worker) *worker {
	all := crew[0]
	parallel(len(all.keyer.seen), func(from, to int) {
		for _, w := range crew[1:] {
			for place, is := range w.keyer.seen[from:to] {
				all.keyer.seen[from+place] = all.keyer.seen[from+place] || is
			}
			for i, f := range w.found {
				least := w.least[i]
				for place := from; place < to; place++ {
					all.found[i].adds[place].merge(&f.adds[place], least)
				}
			}
		}
	})
	return all
}
