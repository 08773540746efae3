package engine

import (
	"cmp"
	"context"
	"slices"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/exact"
	"uzzel/core/result"
)

// Over is what a brief's summaries that add up came to at the ends of some days (docs/brief.md, "Over time").
type Over struct {
	Days      []int32
	Summaries []*brief.BoundSummary
	Lines     []OverLine // all of it, then by the brief's first group, where it has one
	// Swept says that all days were worked out at once, from the history; otherwise each was asked for by itself.
	Swept bool
}

// OverLine is one group's, or that of all.
type OverLine struct {
	Member  result.Member
	Key     string        // as a mark names the group
	Records []int64       // by day
	Values  [][]exact.Num // by summary, by day
}

// RunOver works out what a brief found at the ends of days that rise. Where a brief goes by its own records alone, their
// course is gone over once; otherwise each day's state is asked. A brief with a summary that does not add up is told no
// lines of.
func RunOver(
	ctx context.Context,
	snap *column.Snapshot,
	b *brief.Bound,
	opts Options,
	days []int32,
) (o *Over, err error) {
	defer whole(&err)
	if len(b.Parts) != 1 || len(b.Parts[0].Levels) > 1 {
		return nil, brief.Problems{{Pointer: "/start", Message: "how it stood is told of one record type, by itself"}}
	}
	if opts.Budget == nil {
		opts.Budget = &Budget{}
	}
	o = &Over{Days: days}
	for _, s := range b.Summaries {
		if addsUp(s) {
			o.Summaries = append(o.Summaries, s)
		}
	}
	if len(o.Summaries) < len(b.Summaries) {
		return o, nil
	}
	sums := newOverSums(o)
	if o.Swept, err = sums.sweep(ctx, snap, b, opts); err != nil {
		return nil, err
	}
	if !o.Swept {
		sums = newOverSums(o)
		for i, day := range days {
			if err := sums.ask(ctx, snap, b, opts, i, day); err != nil {
				return nil, err
			}
		}
	}
	sums.tell(b)
	return o, nil
}

// overSums are the sums by group, as differences from day to day until they are told.
type overSums struct {
	o     *Over
	lines map[string]*overAdds
}

type overAdds struct {
	member result.Member
	key    string
	// By day, and one more: how many records, and by summary the sum.
	count []int64
	sums  [][]sum
}

func newOverSums(o *Over) *overSums { return &overSums{o, map[string]*overAdds{}} }

func (s *overSums) of(member result.Member, key string) *overAdds {
	a := s.lines[key]
	if a == nil {
		n := len(s.o.Days) + 1
		a = &overAdds{member: member, key: key, count: make([]int64, n), sums: make([][]sum, len(s.o.Summaries))}
		for i := range a.sums {
			a.sums[i] = make([]sum, n)
		}
		s.lines[key] = a
	}
	a.member = member // as it was called last
	return a
}

// AllLine is the key of the line of all; no group has it.
const AllLine = "all"

// groupsOf are the lines that each record that is found belongs to.
func (s *overSums) groupsOf(st *standing, b *brief.Bound) ([]*overAdds, error) {
	if len(b.Groups) == 0 {
		return nil, nil
	}
	g, err := st.groups(b, b.Groups[0])
	if err != nil {
		return nil, err
	}
	by := map[int32]*overAdds{}
	out := make([]*overAdds, len(st.rows))
	for i := range st.rows {
		m := g.members[i]
		if by[m] == nil {
			by[m] = s.of(g.of(int32(i)))
		}
		out[i] = by[m]
	}
	return out, nil
}

// ask adds what the state of one day comes to.
func (s *overSums) ask(
	ctx context.Context,
	snap *column.Snapshot,
	b *brief.Bound,
	opts Options,
	at int,
	day int32,
) error {
	st, err := stand(ctx, snap, b, opts, day, s.o.Summaries, -1)
	if err != nil {
		return err
	}
	groups, err := s.groupsOf(st, b)
	if err != nil {
		return err
	}
	all := s.of(result.Member{}, AllLine)
	vals := make([]int64, len(st.values))
	for i := range st.rows {
		for k := range vals {
			vals[k] = st.values[k][i]
		}
		s.add(all, groups, i, func(a *overAdds) { a.stand(at, at, vals) })
	}
	return nil
}

func (s *overSums) add(all *overAdds, groups []*overAdds, i int, to func(a *overAdds)) {
	to(all)
	if groups != nil {
		to(groups[i])
	}
}

// tell turns the sums into lines: all first, groups in their own order, or those that came to most on the last day first.
func (s *overSums) tell(b *brief.Bound) {
	n := len(s.o.Days)
	s.of(result.Member{}, AllLine)
	for _, a := range s.lines {
		line := OverLine{Member: a.member, Key: a.key, Records: make([]int64, n), Values: make([][]exact.Num, len(a.sums))}
		records := int64(0)
		for i := range n {
			records += a.count[i]
			line.Records[i] = records
		}
		for k, list := range a.sums {
			scale := s.o.Summaries[k].Scale
			running := sum{}
			for i := range n {
				running.merge(&list[i], false)
				line.Values[k] = append(line.Values[k], exact.Wide(running.hi, running.lo, scale))
			}
		}
		s.o.Lines = append(s.o.Lines, line)
	}
	slices.SortFunc(s.o.Lines, func(x, y OverLine) int {
		switch {
		case x.Key == AllLine:
			return -1
		case y.Key == AllLine:
			return 1
		}
		g := b.Groups[0]
		if d := result.Last(x.Member) - result.Last(y.Member); d != 0 {
			return d
		}
		if !result.Natural(g) && len(s.o.Summaries) > 0 && n > 0 {
			k := s.o.By()
			if c := y.Values[k][n-1].Abs().Cmp(x.Values[k][n-1].Abs()); c != 0 {
				return c
			}
		}
		return cmp.Or(result.ByNature(g, x.Member, y.Member), cmp.Compare(x.Key, y.Key))
	})
}

// By is the place of the summary that lines are drawn by: the first sum, else the first.
func (o *Over) By() int {
	return max(0, slices.IndexFunc(o.Summaries, func(s *brief.BoundSummary) bool { return s.Source.Fn == "sum" }))
}
