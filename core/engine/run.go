package engine

import (
	"context"
	"fmt"
	"runtime"
	"sync"
	"sync/atomic"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/period"
)

// Options are what a result depends on besides the brief and the records.
type Options struct {
	Today  int32  // the organisation's day
	Reader string // the id of the person who reads
	// Sees says by record type what the reader may see at all. Other records are taken out before everything else: they
	// are in no list and no number, and links to them are hidden.
	Sees map[string]Sees
	// Sight is the same, looked up before for this reader and these records; nil has it looked up from Sees.
	Sight *Sight
	// Budget is what the question may take; nil stands for one of its own with the default limits.
	Budget *Budget
	// stateDay is the day that the records are of, by which days in a stage are counted; 0 stands for Today.
	stateDay int32
	// Gentle works on one processor, which changes no result and leaves the others to who waits for an answer.
	Gentle bool
}

// run is one run of one part over one span of time.
type run struct {
	guard
	snap  *column.Snapshot
	cal   *period.Calendar
	today int32
	opts  Options
	nodes map[*brief.Value]*node
	sight *Sight

	part   *brief.BoundPart
	n      int          // starting records
	shown  []bool       // those the reader may see; nil for all
	before []narrowing  // conditions on the starting record
	levels []*expansion // over each brought link
	keep   []bool
	after  []*cond // conditions on brought records
	// hides are what the links that are brought read that the reader may not see; partly are the types of many records
	// over which a link goes of which the reader sees only some.
	hides  []func(b *batch, out []bool)
	partly map[string]bool
	// unrated are the starting records that were left out for want of an exchange rate, a bit each.
	unrated []uint64
}

// narrowing is a condition of the sift: what the brief says in one place.
type narrowing struct {
	cond *cond
	what string // whose, period, filter, fixed, rates
	at   string
}

func newRun(ctx context.Context, snap *column.Snapshot, opts Options) *run {
	if opts.Sight == nil || opts.Sight.snap != snap {
		opts.Sight = NewSight(snap, opts.Reader, opts.Sees)
	}
	return &run{
		guard:  newGuard(ctx, opts.Budget),
		snap:   snap,
		cal:    snap.Cal,
		today:  opts.Today,
		opts:   opts,
		nodes:  map[*brief.Value]*node{},
		partly: map[string]bool{},
		sight:  opts.Sight,
	}
}

// plan binds a part to the columns of the snapshot. span is the main period, resolved.
func (r *run) plan(p *brief.BoundPart, span *period.Span) error {
	r.part = p
	t, err := r.snap.Table(p.Start().Key)
	if err != nil {
		return err
	}
	r.n = t.N
	if r.shown, err = r.seen(t.Type.Key); err != nil {
		return err
	}
	list, err := r.narrowings(p, span)
	if err != nil {
		return err
	}
	early := []narrowing{}
	for _, s := range list {
		r.hides = append(r.hides, s.cond.hidden)
		if s.cond.level == 0 {
			early = append(early, s)
		} else {
			r.after = append(r.after, s.cond)
		}
	}
	r.before = early
	for i, l := range p.Levels[1:] {
		e, err := r.expand(nil, p.Levels[i].Type, l.Back, l.Where, l.Fixed)
		if err != nil {
			return err
		}
		if loose := e.loose(); loose != nil {
			e = loose
		}
		r.levels = append(r.levels, e)
		r.keep = append(r.keep, l.Keep)
	}
	return nil
}

// cheapest orders the conditions on the starting record for speed; the sift keeps the brief's order.
func (r *run) cheapest() {
	list := make([]*cond, len(r.before))
	for i, s := range r.before {
		list[i] = s.cond
	}
	for i, c := range cheapestFirst(list) {
		r.before[i] = narrowing{cond: c}
	}
}

// narrowings are the conditions of a part in the brief's order: whose, period, each of the filter.
func (r *run) narrowings(p *brief.BoundPart, span *period.Span) ([]narrowing, error) {
	var list []narrowing
	if p.Whose != nil && p.Whose.Word != "everyone" {
		c, err := r.whose(p)
		if err != nil {
			return nil, err
		}
		list = append(list, narrowing{c, "whose", "/whose"})
	}
	if p.Period != nil {
		n, err := r.value(p.Period.Value)
		if err != nil {
			return nil, err
		}
		lo, hi := int64(column.Null+1), int64(1<<62)
		if span.HasFrom {
			lo = int64(span.From)
		}
		if span.HasTo {
			hi = int64(span.To)
		}
		list = append(
			list,
			narrowing{&cond{mark: between(r.asDays(n), lo, hi), cost: 1, level: n.level}, "period", "/period"},
		)
	}
	conds, err := r.all(p.Filter)
	if err != nil {
		return nil, err
	}
	for i, c := range conds {
		at := p.Filter.At
		if p.Filter.Op == brief.All {
			at = p.Filter.Kids[i].At
		}
		list = append(list, narrowing{c, "filter", at})
	}
	if p.Fixed != nil {
		c, err := r.cond(p.Fixed)
		if err != nil {
			return nil, err
		}
		list = append(list, narrowing{c, "fixed", ""})
	}
	if !p.Converts {
		return list, nil
	}
	sharp := make([]*cond, len(list))
	for i := range list {
		sharp[i] = list[i].cond
		list[i].cond = sharp[i].orUnrated()
	}
	c, err := r.unratedRows(p, sharp)
	if err != nil || c == nil {
		return list, err
	}
	return append(list, narrowing{c, "rates", "/money"}), nil
}

// whose plans the condition on the owner of the starting record.
func (r *run) whose(p *brief.BoundPart) (*cond, error) {
	start := p.Start()
	owner, err := r.column(start.Key, start.Owner)
	if err != nil {
		return nil, err
	}
	people, err := r.snap.Table(owner.To)
	if err != nil {
		return nil, err
	}
	ok := make([]bool, people.N+1)
	w := p.Whose
	teamOf := func(int32) int64 { return column.Null }
	if key := people.Type.Team; key != "" {
		team, err := r.column(owner.To, key)
		if err != nil {
			return nil, err
		}
		teamOf = team.At
	}
	if w.Word != "" {
		me := people.IDs.Row(r.opts.Reader)
		if me < 0 {
			return nil, fmt.Errorf("%w (%q)", ErrReader, r.opts.Reader)
		}
		if w.Word == "mine" {
			ok[me] = true
		} else if mine := teamOf(me); mine != column.Null {
			for i := range ok[:people.N] {
				ok[i] = teamOf(int32(i)) == mine
			}
		}
	}
	for _, id := range w.People {
		if row := people.IDs.Row(id); row >= 0 {
			ok[row] = true
		}
	}
	if len(w.Teams) > 0 {
		teams, err := r.snap.Table(people.Type.Field(people.Type.Team).To)
		if err != nil {
			return nil, err
		}
		for _, id := range w.Teams {
			row := teams.IDs.Row(id)
			for i := range ok[:people.N] {
				ok[i] = ok[i] || (row >= 0 && teamOf(int32(i)) == int64(row))
			}
		}
	}
	n := &node{col: owner, eval: func(b *batch, out []int64) { owner.Gather(b.rows[0], out[:b.n]) }}
	return &cond{mark: codeTest(n, ok), cost: 1}, nil
}

// total is how many starting records the reader may see.
func (r *run) total() int {
	if r.shown == nil {
		return r.n
	}
	n := 0
	for _, ok := range r.shown {
		if ok {
			n++
		}
	}
	return n
}

// processors is how many there were when the program began. A server may have Go run more goroutines at a time than
// that.
var processors = runtime.GOMAXPROCS(0)

// workers is how many goroutines share a scan.
func workers() int { return min(processors, runtime.GOMAXPROCS(0)) }

// parallel cuts 0 to n into a stretch for each worker. What ends one ends the caller.
func parallel(n int, do func(from, to int)) {
	w := workers()
	if n < 50_000 || w == 1 {
		do(0, n)
		return
	}
	var wg sync.WaitGroup
	ended := make([]any, w)
	for i := range w {
		wg.Add(1)
		go func() {
			defer wg.Done()
			defer func() { ended[i] = recover() }()
			do(n*i/w, n*(i+1)/w)
		}()
	}
	wg.Wait()
	for _, e := range ended {
		if e != nil {
			panic(e)
		}
	}
}

// scan goes over all starting records and hands the rows that are left to the worker's use, in batches. Rows of one
// starting record come one after the other, to the same worker.
func (r *run) scan(use func(worker int, b *batch)) error {
	var next atomic.Int64
	var wg sync.WaitGroup
	var failed atomic.Pointer[any]
	crew := workers()
	if r.opts.Gentle {
		crew = 1
	}
	for w := range min(crew, (r.n+morsel-1)/morsel) {
		wg.Add(1)
		go func() {
			defer wg.Done()
			defer func() {
				if e := recover(); e != nil {
					failed.Store(&e)
				}
			}()
			p := &pool{}
			for {
				from := int(next.Add(morsel)) - morsel
				if from >= r.n || failed.Load() != nil {
					return
				}
				for first := from; first < min(from+morsel, r.n); first += batchSize {
					r.scanBatch(first, min(first+batchSize, from+morsel, r.n), p, func(b *batch) { use(w, b) })
				}
			}
		}()
	}
	wg.Wait()
	if e := failed.Load(); e != nil {
		if s, ok := (*e).(stop); ok {
			return s.err
		}
		panic(*e)
	}
	return r.ctx.Err()
}

func (r *run) scanBatch(first, end int, p *pool, use func(b *batch)) {
	r.poll()
	b := &batch{n: end - first, run: true, pool: p}
	rows := take(&p.rows, b.n)
	defer give(&p.rows, rows)
	for i := range rows {
		rows[i] = int32(first + i)
	}
	b.rows[0] = rows
	if r.shown != nil {
		b.keep(r.shown[first:end])
	}
	for _, s := range r.before {
		if b.n == 0 {
			return
		}
		b.apply(s.cond)
	}
	if b.n > 0 {
		r.bring(b, 0, use)
	}
}

func (b *batch) apply(c *cond) {
	marks := take(&b.pool.marks, b.n)
	c.mark(b, marks)
	b.keep(marks)
	give(&b.pool.marks, marks)
}

// bring adds the records over the brought link of a level to the rows of a batch, then goes on with the next level.
func (r *run) bring(b *batch, level int, use func(b *batch)) {
	if level == len(r.levels) {
		for _, c := range r.after {
			if b.n > 0 {
				b.apply(c)
			}
		}
		if b.n > 0 {
			use(b)
		}
		return
	}
	r.poll()
	pairs := b.pool.pair()
	defer b.pool.unpair(pairs)
	r.levels[level].pairs(b.rows[level][:b.n], r.keep[level], b.pool, pairs)
	r.takeRows(len(pairs.parent), r.part.At+"/bring", "bringing "+r.part.Levels[level+1].Path)
	out := &batch{pool: b.pool}
	for l := range level + 2 {
		out.rows[l] = take(&b.pool.rows, batchSize)
	}
	for first := 0; first < len(pairs.parent); first += batchSize {
		end := min(first+batchSize, len(pairs.parent))
		out.n = end - first
		for l := range level + 1 {
			from, to := b.rows[l], out.rows[l][:out.n]
			for i, p := range pairs.parent[first:end] {
				to[i] = from[p]
			}
			out.rows[l] = to
		}
		out.rows[level+1] = append(out.rows[level+1][:0], pairs.linked[first:end]...)
		out.known = nil
		r.bring(out, level+1, use)
	}
	for l := range level + 2 {
		give(&b.pool.rows, out.rows[l][:cap(out.rows[l])])
	}
}
