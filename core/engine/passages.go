package engine

import (
	"cmp"
	"context"
	"slices"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/exact"
	"uzzel/core/period"
	"uzzel/core/result"
	"uzzel/core/schema"
)

// Passages say of the records that came into a stage within some days how they went on (docs/brief.md, "Over time").
type Passages struct {
	Stages []schema.Stage
	All    Passage
	Groups []PassageGroup // by the brief's first group, where it has one
}

// PassageGroup is one group's.
type PassageGroup struct {
	Member result.Member
	Key    string
	Passage
}

// Passage is by stage.
type Passage struct {
	ByStage []FromStage // in the order of Passages.Stages
}

// FromStage is what became of the records that came into one stage: each is counted once, as it came there first.
type FromStage struct {
	Entered int64
	Still   int64         // that are there yet
	Onward  int64         // that went to a later stage of the pipeline that is not lost
	To      map[int]int64 // where they went next, by the place of the stage; −1 for one that there is no longer
	Days    []int32       // how many days those that left were there, in order
}

// Rate is the part that went on.
func (f FromStage) Rate() result.Value {
	part, ok := exact.Int(f.Onward).Quo(exact.Int(f.Entered))
	return result.Value{Set: ok, Num: part}
}

// Median is the median of the days of those that left; empty where none did.
func (f FromStage) Median() result.Value {
	n := len(f.Days)
	if n == 0 {
		return result.Value{}
	}
	two := int64(f.Days[(n-1)/2]) + int64(f.Days[n/2])
	return result.Value{Set: true, Num: exact.Frac(two, 2)}
}

// came is one coming into a stage.
type came struct {
	at    int64
	row   int32
	day   int32
	stage int32 // −1 for one that there is no longer
	from  int32
}

// HasPassages says whether a brief's records stand in stages, so that their history says how they went on.
func HasPassages(b *brief.Bound) bool {
	return len(b.Parts) == 1 && len(b.Parts[0].Levels) == 1 && b.Parts[0].Start().Staged() != nil
}

// RunPassages tells how the records that a brief finds went on from stage to stage, of those comings into a stage that were
// within a span of days; by the brief's first group where it has one.
func RunPassages(
	ctx context.Context, snap *column.Snapshot, b *brief.Bound, opts Options, within period.Span,
) (p *Passages, err error) {
	defer whole(&err)
	if !HasPassages(b) {
		return nil, brief.Problems{
			{Pointer: "/start", Message: "how records went on is told of one record type that has stages, by itself"},
		}
	}
	if opts.Budget == nil {
		opts.Budget = &Budget{}
	}
	s, err := stand(ctx, snap, b, opts, opts.Today, nil, -1)
	if err != nil {
		return nil, err
	}
	t := b.Parts[0].Start()
	list, err := s.comings(t)
	if err != nil {
		return nil, err
	}
	p = &Passages{Stages: t.Stages, All: newPassage(t)}
	var g *grouped
	by := map[string]*PassageGroup{}
	if len(b.Groups) > 0 {
		if g, err = s.groups(b, b.Groups[0]); err != nil {
			return nil, err
		}
	}
	counted := make([]bool, len(t.Stages))
	to := []*Passage{&p.All}
	for first := 0; first < len(list); {
		end := first + 1
		for end < len(list) && list[end].row == list[first].row {
			end++
		}
		if first%batchSize < end-first {
			s.run.poll()
		}
		to = to[:1]
		if g != nil {
			member, key := g.of(s.place[list[first].row])
			if by[key] == nil {
				by[key] = &PassageGroup{Member: member, Key: key, Passage: newPassage(t)}
			}
			to = append(to, &by[key].Passage)
		}
		for _, one := range to {
			clear(counted)
			one.add(t.Stages, list[first:end], counted, within)
		}
		first = end
	}
	for _, group := range by {
		p.Groups = append(p.Groups, *group)
	}
	p.sort(b)
	return p, nil
}

func newPassage(t *schema.Type) Passage {
	p := Passage{ByStage: make([]FromStage, len(t.Stages))}
	for i := range p.ByStage {
		p.ByStage[i].To = map[int]int64{}
	}
	return p
}

// add counts one record by its comings, in their order. counted, by stage, is false before.
func (p *Passage) add(stages []schema.Stage, list []came, counted []bool, within period.Span) {
	for i, c := range list {
		if c.stage < 0 || counted[c.stage] || !within.Has(c.day) {
			continue
		}
		counted[c.stage] = true
		f := &p.ByStage[c.stage]
		f.Entered++
		if i+1 == len(list) {
			f.Still++
			continue
		}
		next := list[i+1]
		f.To[int(next.stage)]++
		f.Days = append(f.Days, next.day-c.day)
		if next.stage > c.stage && stages[next.stage].Pipeline == stages[c.stage].Pipeline &&
			stages[next.stage].Status != "lost" {
			f.Onward++
		}
	}
}

// sort puts days and groups in order: groups in their own, or those into whose stages most records came first.
func (p *Passages) sort(b *brief.Bound) {
	entered := func(q Passage) (n int64) {
		for i := range q.ByStage {
			slices.Sort(q.ByStage[i].Days)
			n += q.ByStage[i].Entered
		}
		return n
	}
	entered(p.All)
	if len(p.Groups) == 0 {
		return
	}
	natural := result.Natural(b.Groups[0])
	slices.SortFunc(p.Groups, func(x, y PassageGroup) int {
		if d := result.Last(x.Member) - result.Last(y.Member); d != 0 {
			return d
		}
		if d := entered(y.Passage) - entered(x.Passage); d != 0 && !natural {
			return int(max(-1, min(1, d)))
		}
		return result.ByNature(b.Groups[0], x.Member, y.Member)
	})
}

// comings are all times at which records that are found came into a stage, by record and then in time: where they were
// made, and each change of their stage.
func (s *standing) comings(t *schema.Type) ([]came, error) {
	snap, f := s.run.snap, t.Staged()
	now, err := snap.Column(t.Key, f.Key)
	if err != nil {
		return nil, err
	}
	list, err := s.changesOfStage(t, f)
	if err != nil {
		return nil, err
	}
	table, err := snap.Table(t.Key)
	if err != nil {
		return nil, err
	}
	list = byRecord(list, table.N)
	var made *column.Column
	if s.created != nil {
		made = s.created.Days()
	}
	at := stagesByCode(now, t.Stages)
	s.run.takeBytes(32*(len(s.rows)+len(list)), "", "the ways of the records")
	out, k := make([]came, 0, len(s.rows)+len(list)), 0
	for _, row := range s.rows {
		begin := came{row: row, stage: at(now.At(row))}
		first := k
		for k < len(list) && list[k].row < row {
			k++
			first = k
		}
		for k < len(list) && list[k].row == row {
			k++
		}
		if k > first {
			begin.stage = list[first].from
		}
		if s.created != nil && s.created.At(row) != column.Null {
			begin.at, begin.day = s.created.At(row), int32(made.At(row))
			if k == first || list[first].at >= begin.at {
				out = append(out, begin)
			}
		}
		out = append(out, list[first:k]...)
	}
	return out, nil
}

// byRecord puts comings that are in the order of the history in that of their records, of so many, and in time.
func byRecord(list []came, records int) []came {
	ends := make([]int32, records+1) // first where each record's begin, in the end where they end
	for _, c := range list {
		ends[c.row+1]++
	}
	for row := range records {
		ends[row+1] += ends[row]
	}
	out := make([]came, len(list))
	for _, c := range list {
		out[ends[c.row]] = c
		ends[c.row]++
	}
	first := int32(0)
	for _, end := range ends[:records] {
		if end-first > 1 {
			slices.SortStableFunc(out[first:end], func(a, b came) int { return cmp.Compare(a.at, b.at) })
		}
		first = end
	}
	return out
}

// changesOfStage are all changes of the stage of records that are found.
func (s *standing) changesOfStage(t *schema.Type, f *schema.Field) ([]came, error) {
	snap := s.run.snap
	changes, of, err := snap.ChangesOf(t.Key)
	if err != nil || changes == nil {
		return nil, err
	}
	cols := []*column.Column{of, nil, nil, nil, nil, nil}
	for i, key := range []string{schema.HistoryField, "from", "to", "at"} {
		if cols[i+1], err = snap.Column(changes.Type.Key, key); err != nil {
			return nil, err
		}
	}
	cols[5] = cols[4].Days()
	var list []came
	code, from, to := int64(cols[1].Dict.Code(f.Key)), stagesByCode(cols[2], t.Stages), stagesByCode(cols[3], t.Stages)
	err = s.run.each(changes.N, cols, func(_ int, vals [][]int64) {
		for i, row := range vals[0] {
			if row != column.Null && vals[1][i] == code && s.finds(int32(row)) && vals[4][i] != column.Null {
				list = append(list, came{
					at: vals[4][i], row: int32(row), day: int32(vals[5][i]),
					stage: to(vals[3][i]), from: from(vals[2][i]),
				})
			}
		}
		s.run.takeBytes(32*len(vals[0])/8, "", "the ways of the records")
	})
	return list, err
}

// stagesByCode gives the place of the stage that a code of a column stands for, −1 for none of them.
func stagesByCode(c *column.Column, stages []schema.Stage) func(code int64) int32 {
	names := c.Dict.Values()
	by := slices.Repeat([]int32{-1}, len(names))
	for i, s := range stages {
		if code := slices.Index(names, s.Name); code >= 0 {
			by[code] = int32(i)
		}
	}
	return func(code int64) int32 {
		if code == column.Null || code >= int64(len(by)) {
			return -1
		}
		return by[code]
	}
}
