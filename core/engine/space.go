package engine

import (
	"context"
	"math"
	"slices"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/period"
	"uzzel/core/result"
	"uzzel/core/schema"
)

// maxDims is four groups and two across.
const maxDims = brief.MaxGroups + brief.MaxAcross

// leafKey is a combination of members, one of each group and across field.
type leafKey [maxDims]int32

// The first members of every field.
const (
	blankMember  = 0
	otherMember  = 1
	hiddenMember = 2
	lastFixed    = hiddenMember // members after it are values
)

// field is a field of the groups, over rows or across, as it was found: its members, found by key or by text. It keeps no label that
// can be made from a key, for a field may have a hundred thousand members of which a dozen are looked at.
type field struct {
	bound  *brief.BoundGroup
	keys   []int64  // by member
	texts  []string // by member, of fields that are texts
	byKey  map[int64]int32
	small  []int32 // members by key, of keys that are row numbers and codes of the first dictionary; 0 for none yet
	codes  *dict
	byText map[string]int32
	label  func(key int64) string
}

// at is a member with its label.
func (f *field) at(m int32) result.Member {
	switch {
	case m == blankMember:
		return result.Member{Label: "(blank)", Blank: true}
	case m == otherMember:
		return result.Member{Label: "Other", Other: true}
	case m == hiddenMember:
		return result.Member{Label: result.HiddenLabel, Hidden: true}
	case f.texts != nil:
		return result.Member{Label: f.texts[m], Key: f.keys[m]}
	}
	return result.Member{Label: f.label(f.keys[m]), Key: f.keys[m]}
}

// space is all leaves of a result: the combinations of members that have rows, over all parts and sides.
type space struct {
	snap   *column.Snapshot
	fields []*field
	leaves []leafKey
	index  map[leafKey]int32
	single []int32 // leaves by member plus one, where there is one field
	picked bool    // the only top has taken its few groups already
}

func newSpace(b *brief.Bound, snap *column.Snapshot) *space {
	s := &space{snap: snap, index: map[leafKey]int32{}}
	for _, g := range b.Groups {
		s.fields = append(s.fields, &field{bound: g, byKey: map[int64]int32{}, byText: map[string]int32{},
			keys:  make([]int64, lastFixed+1),
			label: func(key int64) string { return s.label(g, key) }})
	}
	return s
}

// leafOf is the leaf of a member, where there is one field.
func (s *space) leafOf(m int32) int32 {
	if int(m) >= len(s.single) {
		more := make([]int32, max(cap(s.fields[0].keys), 2*len(s.single)))
		copy(more, s.single)
		s.single = more
	}
	if s.single[m] == 0 {
		s.leaves = append(s.leaves, leafKey{m})
		s.single[m] = int32(len(s.leaves))
	}
	return s.single[m] - 1
}

func (s *space) leaf(k leafKey) int32 {
	n, ok := s.index[k]
	if !ok {
		n = int32(len(s.leaves))
		s.index[k] = n
		s.leaves = append(s.leaves, k)
	}
	return n
}

// member finds or makes the member of a key that a scan gave.
func (s *space) member(i int, key int64, d *dict) int32 {
	switch key {
	case column.Null:
		return blankMember
	case hiddenKey:
		return hiddenMember
	}
	f := s.fields[i]
	if d == nil {
		return f.key(key)
	}
	if f.codes == nil {
		f.codes = d
	}
	if f.codes.same(d) {
		if m := f.seen(key); m != 0 {
			return m
		}
	}
	rank := int64(math.MaxInt32)
	if d.ordered < 0 || key < int64(d.ordered) {
		rank = key
	}
	m := f.text(d.values[key], rank)
	if f.codes.same(d) {
		f.small[key] = m
	}
	return m
}

// same says whether two dictionaries are the same texts under the same codes.
func (d *dict) same(e *dict) bool {
	return d == e || (len(d.values) == len(e.values) && len(d.values) > 0 && &d.values[0] == &e.values[0])
}

// maxSmall is how many keys are found by index.
const maxSmall = 1 << 22

// seen is the member of a small key, 0 where it has none yet, and makes room for it.
func (f *field) seen(key int64) int32 {
	if key >= int64(len(f.small)) {
		more := make([]int32, max(key+1, int64(2*len(f.small))))
		copy(more, f.small)
		f.small = more
	}
	return f.small[key]
}

func (f *field) text(label string, rank int64) int32 {
	m, ok := f.byText[label]
	if !ok {
		if f.texts == nil {
			f.texts = make([]string, len(f.keys))
		}
		m = int32(len(f.keys))
		f.byText[label] = m
		f.keys, f.texts = append(f.keys, rank), append(f.texts, label)
	}
	return m
}

func (f *field) key(key int64) int32 {
	if key >= 0 && key < maxSmall {
		m := f.seen(key)
		if m == 0 {
			m = f.add(key)
			f.small[key] = m
		}
		return m
	}
	m, ok := f.byKey[key]
	if !ok {
		m = f.add(key)
		f.byKey[key] = m
	}
	return m
}

func (f *field) add(key int64) int32 {
	f.keys = append(f.keys, key)
	return int32(len(f.keys) - 1)
}

func (s *space) label(g *brief.BoundGroup, key int64) string {
	v := g.Values[0]
	switch {
	case v.Kind == schema.Link:
		return s.snap.Name(v.To, int32(key))
	case v.Kind == schema.ID:
		if t, err := s.snap.Table(v.To); err == nil {
			return t.IDs.At(int32(key))
		}
	case v.Kind.Dated():
		return s.snap.Cal.Label(g.Group.By, int(key))
	}
	return column.Format(v.Kind, key, s.snap.Cal)
}

// side is one scan: a part over the current or the earlier period. data is by summary of the brief, nil for those of
// other parts.
type side struct {
	data []*data
	// captured rows, by worker, where rows behind a number are asked for.
	captured []captured
	seen     []int32
	records  int64 // starting records left
	n        int   // starting records in all
	unrated  int64 // starting records left out for want of an exchange rate
	hidden   int64 // starting records of which it reads something that the reader may not see
	partly   []string
}

type captured struct {
	rows [3][]int32
	leaf []int32
}

// worker is what one goroutine of a scan has found.
type worker struct {
	guard   guard
	keyer   *keyer
	found   []*found
	levels  []*levelCells // where a summary adds up on every level
	rows    int
	capture *captured
	adding  bool   // all summaries add up by leaf, and no more is asked for
	least   []bool // by summary: whether it is the smallest value
	last    int32
	records int64
	err     error
}

// collect scans a part over a span and takes what it finds into the space.
func (s *space) collect(
	ctx context.Context,
	b *brief.Bound,
	part int,
	span *period.Span,
	shift int64,
	opts Options,
	capture bool,
) (*side, error) {
	r := newRun(ctx, s.snap, opts)
	if err := r.plan(b.Parts[part], span); err != nil {
		return nil, err
	}
	r.cheapest()
	dims := make([]*dim, len(b.Groups))
	for i, g := range b.Groups {
		var by int64
		if g.Group.By != "" && g.Group.By.Round() == 0 && ownPeriod(b.Parts[part], g, part) {
			by = shiftIn(s.snap.Cal, g.Group.By, b.Parts[part], opts.Today, shift)
		}
		d, err := r.dim(g, part, by)
		if err != nil {
			return nil, err
		}
		dims[i] = d
	}
	out := &side{data: make([]*data, len(b.Summaries)), n: r.total()}
	tallies := []*data{}
	settled, levels := settlesNothing(b), false
	for i, sum := range b.Summaries {
		if sum.Part != part || sum.Formula != nil {
			continue
		}
		t, err := r.tally(sum, settled)
		if err != nil {
			return nil, err
		}
		out.data[i] = &data{tally: t}
		levels = levels || t.level
		tallies = append(tallies, out.data[i])
	}
	if err := r.countHidden(dims, tallies, out); err != nil {
		return nil, err
	}
	crew := make([]*worker, workers())
	err := r.scan(func(w int, batch *batch) {
		if crew[w] == nil {
			crew[w] = newWorker(r.guard, b, dims, tallies, levels, capture)
		}
		crew[w].take(batch, tallies)
	})
	for _, w := range crew {
		if err == nil && w != nil {
			err = w.err
		}
	}
	if err != nil {
		return nil, err
	}
	out.unrated = r.leftOut()
	crew = slices.DeleteFunc(crew, func(w *worker) bool { return w == nil })
	if !s.pick(r.guard, b, crew, dims, tallies, out) {
		for _, w := range crew {
			s.absorb(r.guard, w, dims, tallies, out)
		}
	}
	for _, d := range tallies {
		if d.tally.notes && !d.close {
			r.poll()
			d.notes.byKey(r.guard)
		}
	}
	return out, nil
}

// countHidden counts the starting records of which the brief reads something that the reader may not see: those that
// the conditions leave that read nothing of the kind, so that what such a condition takes out is counted too.
func (r *run) countHidden(dims []*dim, tallies []*data, out *side) error {
	reads := r.hides
	for _, d := range dims {
		reads = append(reads, d.hidden)
	}
	for _, t := range tallies {
		if t.of != nil {
			reads = append(reads, t.of.hidden)
		}
		for _, c := range t.where {
			reads = append(reads, c.hidden)
		}
	}
	var hidden func(b *batch, out []bool)
	for _, h := range reads {
		hidden = either(hidden, h)
	}
	for typ := range r.partly {
		out.partly = append(out.partly, typ)
	}
	slices.Sort(out.partly)
	if hidden == nil {
		return nil
	}
	// What is left out for want of a rate is counted where records are, not here.
	left := slices.Clone(r.unrated)
	defer func() { copy(r.unrated, left) }()
	// A condition that reads something hidden is not applied here; hidden says which rows it would have gone by.
	all, after := r.before, r.after
	defer func() { r.before, r.after = all, after }()
	r.before = slices.DeleteFunc(slices.Clone(all), func(s narrowing) bool { return s.cond.hidden != nil })
	r.after = slices.DeleteFunc(slices.Clone(after), func(c *cond) bool { return c.hidden != nil })
	last, count := make([]int32, workers()), make([]int64, workers())
	for w := range last {
		last[w] = -1
	}
	err := r.scan(func(w int, b *batch) {
		b.marked(hidden, func(i int) {
			if row := b.rows[0][i]; row != last[w] {
				last[w] = row
				count[w]++
			}
		})
	})
	for _, n := range count {
		out.hidden += n
	}
	return err
}

// settlesNothing says that a brief leaves no groups out after the scan.
func settlesNothing(b *brief.Bound) bool {
	for _, g := range b.Groups {
		if g.Group.Top != nil {
			return false
		}
	}
	return b.Brief.Blank == nil || *b.Brief.Blank
}

func newWorker(g guard, b *brief.Bound, dims []*dim, tallies []*data, levels, capture bool) *worker {
	w := &worker{guard: g, keyer: newKeyer(dims), last: -1, rows: b.Rows}
	if levels {
		w.levels = newLevels(b.Rows, len(dims)-b.Rows)
	}
	shared := map[int]*firsts{} // by the level of the records
	for _, d := range tallies {
		f := &found{levels: make([]levelAdds, len(w.levels))}
		if d.level {
			f.firsts = shared[d.ownerLevel]
			if f.lead = f.firsts == nil || len(d.where) > 0; f.lead {
				f.firsts = &firsts{make([]first, len(w.levels))}
			}
			if len(d.where) == 0 {
				shared[d.ownerLevel] = f.firsts
			}
		}
		w.found, w.least = append(w.found, f), append(w.least, d.fn == "min")
	}
	if capture {
		w.capture = &captured{}
	}
	w.adding = !capture && !levels && !slices.ContainsFunc(tallies, func(d *data) bool { return d.tally.notes })
	return w
}

// flatten makes the worker's leaves indices, with all that was added up by leaf.
func (w *worker) flatten() {
	to := w.keyer.flatten()
	for _, f := range w.found {
		var sums adds
		sums.grow(w.keyer.n, 0)
		for leaf, place := range to {
			sums[place] = f.adds[leaf]
		}
		f.adds = sums
	}
}

func (w *worker) take(b *batch, tallies []*data) {
	if w.err != nil {
		return
	}
	leaf := take(&b.pool.rows, b.n)
	if w.adding && w.keyer.flattens() {
		w.flatten()
	}
	before := w.keyer.n
	w.keyer.leaves(b, leaf)
	w.err = w.keyer.tooMany()
	w.guard.takeBytes(
		(w.keyer.n-before)*(16+8*len(w.keyer.dims)+48*len(tallies)),
		"/groups",
		"so many groups with so many summaries",
	)
	for _, row := range b.rows[0][:b.n] {
		if row != w.last {
			w.records++
			w.last = row
		}
	}
	for _, l := range w.levels {
		l.grow(w.keyer, w.rows)
	}
	for i, d := range tallies {
		w.found[i].adds.grow(w.keyer.n, w.keyer.most())
		if d.tally.notes {
			w.guard.takeBytes(b.n*20, d.sum.At, "“"+d.sum.Source.Key+"”, which keeps each record in mind,")
		}
		d.take(b, leaf, w.levels, w.found[i])
	}
	if w.capture != nil {
		w.guard.takeBytes(b.n*(4+4*len(b.rows)), "", "the list of records")
		for l, rows := range b.rows {
			if rows != nil {
				w.capture.rows[l] = append(w.capture.rows[l], rows[:b.n]...)
			}
		}
		w.capture.leaf = append(w.capture.leaf, leaf...)
	}
	give(&b.pool.rows, leaf)
}

// absorb takes what a worker found into the space and the side.
func (s *space) absorb(g guard, w *worker, dims []*dim, tallies []*data, out *side) {
	to := make([]int32, w.keyer.n)
	s.leaves = slices.Grow(s.leaves, max(0, len(to)-len(s.leaves)))
	if len(s.fields) == 1 {
		f := s.fields[0]
		f.keys = slices.Grow(f.keys, max(0, len(to)+lastFixed+1-len(f.keys)))
	}
	for i := range to {
		g.every(i)
		switch {
		case w.keyer.seen != nil && !w.keyer.seen[i]:
			to[i] = -1
			continue
		case w.keyer.seen != nil:
			to[i] = s.leafOf(s.member(0, dims[0].at(i), dims[0].node.dict))
			continue
		case len(s.fields) == 1:
			to[i] = s.leafOf(s.member(0, w.keyer.keys[i], dims[0].node.dict))
			continue
		}
		var k leafKey
		for d, v := range w.keyer.key(i) {
			k[d] = s.member(d, v, dims[d].node.dict)
		}
		to[i] = s.leaf(k)
	}
	for i, d := range tallies {
		f := w.found[i]
		switch {
		case d.plain:
			f.noted.move(to)
			d.noted.blocks = append(d.noted.blocks, f.noted.blocks...)
		case d.tally.notes:
			for _, l := range f.notes.leaf {
				d.notes.leaf = append(d.notes.leaf, to[l])
			}
			d.notes.key = append(d.notes.key, f.notes.key...)
			d.notes.val = append(d.notes.val, f.notes.val...)
		case d.level:
			if d.levels == nil {
				d.levels = make([]levelSums, len(w.levels))
			}
			for l := range w.levels {
				d.levels[l].absorb(&f.levels[l], w.levels[l], to)
			}
		default:
			d.adds.grow(len(s.leaves), len(s.leaves)+len(s.leaves)/8)
			for l := range f.adds {
				if to[l] >= 0 {
					d.adds[to[l]].merge(&f.adds[l], d.fn == "min")
				}
			}
		}
	}
	out.records += w.records
	for _, l := range to {
		if l >= 0 {
			out.seen = append(out.seen, l)
		}
	}
	if w.capture != nil {
		for i, l := range w.capture.leaf {
			w.capture.leaf[i] = to[l]
		}
		out.captured = append(out.captured, *w.capture)
	}
}

// ownPeriod says whether a group goes by the very field that the part's period goes by.
func ownPeriod(p *brief.BoundPart, g *brief.BoundGroup, part int) bool {
	return p.Period != nil && g.Values[part].Text == p.Period.Value.Text
}

// shiftIn turns "this scan is the earlier period" into the number of units by which its places are moved.
func shiftIn(cal *period.Calendar, u period.Unit, p *brief.BoundPart, today int32, earlier int64) int64 {
	if earlier == noShift {
		return 0
	}
	now := cal.Resolve(p.Period.Within, today)
	return int64(cal.Ordinal(u, now.From)) - int64(cal.Ordinal(u, int32(earlier)))
}

// noShift says that a scan is over the current period; otherwise the earlier period's first day is in its place.
const noShift = math.MinInt64
