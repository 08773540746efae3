package desk

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"runtime/debug"
	"sync"
	"time"

	"github.com/hashicorp/golang-lru/v2/simplelru"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/engine"
	"uzzel/internal/turns"
)

// Limits of one question; docs/limits.md lists them all.
const (
	QuestionTime   = 60 * time.Second
	questionValues = 4_000_000
	questionBytes  = 512 << 20
	cacheBytes     = 96 << 20
	slowRun        = time.Second // from when on a run is written down
)

// view is what one person sees at one moment: the records, who asks, which of them the person may see, how charts look,
// what is aimed at, and the day. Everything that answers one request answers from one view.
type view struct {
	snap    *column.Snapshot
	who     Person
	sight   *engine.Sight
	sees    *map[string]engine.Sees
	looks   *looks
	targets *targets
	day     int32
}

func (d *Desk) view(who Person) view {
	v := view{snap: d.Snapshot(), who: who, sees: d.sees.now(), looks: d.looks.now(), targets: d.targets.now(), day: d.today()}
	v.sight = d.sights.of(v)
	return v
}

// sights keeps what people see of the records as they are now, so that it is looked up once.
type sights struct {
	mu   sync.Mutex
	snap *column.Snapshot
	sees *map[string]engine.Sees
	by   map[int64]*engine.Sight
}

func (s *sights) of(v view) *engine.Sight {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.snap != v.snap || s.sees != v.sees || len(s.by) > 500 {
		s.snap, s.sees, s.by = v.snap, v.sees, map[int64]*engine.Sight{}
	}
	if s.by[v.who.ID] == nil {
		s.by[v.who.ID] = engine.NewSight(v.snap, v.who.id(), *v.sees)
	}
	return s.by[v.who.ID]
}

// question is what a result depends on; two questions that are equal have the same answer.
type question struct {
	brief  string
	snap   *column.Snapshot
	day    int32
	reader int64
	sees   *map[string]engine.Sees
	looks  *looks
	aims   *targets
	more   string
}

func (v view) question(b *brief.Brief, more string) (question, error) {
	key, err := brief.Key(b)
	return question{key, v.snap, v.day, v.who.ID, v.sees, v.looks, v.targets, more}, err
}

// answers keeps what questions came to, as many bytes of it as it may, and only over the records as they are now.
type answers struct {
	mu    sync.Mutex
	snap  *column.Snapshot
	list  *simplelru.LRU[question, kept]
	bytes int64
	most  int64
	hits  int64
	under map[question]*flight // questions that are being worked out
}

type kept struct {
	value any
	bytes int64
}

func newAnswers(most int64) *answers {
	a := &answers{most: most, under: map[question]*flight{}}
	a.list, _ = simplelru.NewLRU(1<<20, func(_ question, k kept) { a.bytes -= k.bytes })
	return a
}

func (a *answers) get(q question) (any, bool) {
	a.mu.Lock()
	defer a.mu.Unlock()
	k, ok := a.list.Get(q)
	if ok {
		a.hits++
	}
	return k.value, ok
}

// put keeps an answer. Those over older records go as soon as there are newer ones.
func (a *answers) put(q question, now *column.Snapshot, value any, bytes int64) {
	a.mu.Lock()
	defer a.mu.Unlock()
	if now != a.snap {
		a.list.Purge()
		a.snap = now
	}
	bytes += int64(len(q.brief)+len(q.more)) + 400
	if q.snap != now || bytes > a.most/4 {
		return
	}
	a.list.Remove(q)
	a.list.Add(q, kept{value, bytes})
	a.bytes += bytes
	for a.bytes > a.most {
		a.list.RemoveOldest()
	}
}

// size is how many bytes are kept, in how many answers, and how often one was given again.
func (a *answers) size() (bytes int64, answers int, hits int64) {
	a.mu.Lock()
	defer a.mu.Unlock()
	return a.bytes, a.list.Len(), a.hits
}

// flight is a question that is being worked out for all who ask it.
type flight struct {
	done    chan struct{}
	value   any
	err     error
	waiting int
	stop    context.CancelFunc
}

// Panicked is a panic of work that was done for several, passed on to each.
type Panicked struct {
	Value any
	Stack []byte
}

func (p *Panicked) Error() string { return fmt.Sprintf("panic: %v", p.Value) }

// answer gives what a question came to: as it is kept, or worked out, once however many ask at the same time. The work
// goes on as long as somebody waits for it. bytes says how large what was worked out is.
func answer[T any](ctx context.Context, d *Desk, q question, work func(ctx context.Context) (T, error), bytes func(T) int64) (T, error) {
	var none T
	if v, ok := d.answers.get(q); ok {
		return v.(T), nil
	}
	a := d.answers
	a.mu.Lock()
	f := a.under[q]
	if f == nil {
		f = &flight{done: make(chan struct{})}
		own, stop := context.WithTimeout(context.WithoutCancel(ctx), QuestionTime)
		f.stop = stop
		a.under[q] = f
		go func() {
			defer stop()
			defer func() {
				if p := recover(); p != nil {
					f.err = &Panicked{p, debug.Stack()}
				}
				a.mu.Lock()
				if a.under[q] == f {
					delete(a.under, q)
				}
				a.mu.Unlock()
				close(f.done)
			}()
			v, err := work(own)
			if f.value, f.err = v, err; err == nil {
				a.put(q, d.Snapshot(), v, bytes(v))
			}
		}()
	}
	f.waiting++
	a.mu.Unlock()
	select {
	case <-f.done:
	case <-ctx.Done():
		a.mu.Lock()
		if f.waiting--; f.waiting == 0 { // nobody waits any more; who asks from now on has it worked out anew
			f.stop()
			if a.under[q] == f {
				delete(a.under, q)
			}
		}
		a.mu.Unlock()
		return none, ctx.Err()
	}
	if f.err != nil {
		var p *Panicked
		if errors.As(f.err, &p) {
			panic(p)
		}
		return none, f.err
	}
	return f.value.(T), nil
}

// run has work done in turn with that of others. later is for what nobody looks at yet.
func (d *Desk) run(ctx context.Context, v view, b *brief.Bound, later bool, work func(ctx context.Context, opts engine.Options) error) (err error) {
	turn, err := d.turn(ctx, v.who, later)
	if err != nil {
		return err
	}
	began := time.Now()
	defer func() {
		turn.Done()
		d.ran(ctx, v, b, time.Since(began), err)
	}()
	budget := &engine.Budget{Values: questionValues, Bytes: questionBytes, Yield: func() error { return turn.Yield(ctx) }}
	return d.runError(work(ctx, engine.Options{Today: v.day, Reader: v.who.id(), Sees: *v.sees, Sight: v.sight, Budget: budget, Gentle: turn.Large()}))
}

// Write has an answer written down in turn with the work of others. yield is called often and fails where nobody waits
// for it any more.
func (d *Desk) Write(ctx context.Context, who Person, write func(yield func() error) error) error {
	turn, err := d.turn(ctx, who, false)
	if err != nil {
		return err
	}
	defer turn.Done()
	return write(func() error { return turn.Yield(ctx) })
}

func (d *Desk) turn(ctx context.Context, who Person, later bool) (*turns.Turn, error) {
	turn, err := d.gate.Take(ctx, who.ID, later)
	if errors.Is(err, turns.ErrBusy) {
		return nil, fail(Busy, "", "Very many questions are waiting. Try again in a moment.")
	}
	return turn, err
}

// numbersOf works out a bound brief by itself.
func (d *Desk) numbersOf(ctx context.Context, v view, b *brief.Bound) (r *engine.Result, err error) {
	return r, d.run(ctx, v, b, false, func(ctx context.Context, opts engine.Options) error {
		r, err = engine.Run(ctx, v.snap, b, opts)
		return err
	})
}

// Outcomes of runs.
const (
	RunDone    = "done"
	RunStopped = "stopped"
	RunTooSlow = "too slow"
	RunLarge   = "too large"
	RunRefused = "refused"
	RunFailed  = "failed"
)

// ran counts a run, and writes a slow one down with its sentence, in which no record is named.
func (d *Desk) ran(ctx context.Context, v view, b *brief.Bound, took time.Duration, err error) {
	outcome := RunDone
	var told *Error
	var bad brief.Problems
	switch {
	case errors.Is(err, context.DeadlineExceeded):
		outcome = RunTooSlow
	case errors.Is(err, context.Canceled):
		outcome = RunStopped
	case engine.IsTooLarge(err) || (errors.As(err, &told) && told.Reason == TooLarge):
		outcome = RunLarge
	case told != nil || errors.As(err, &bad):
		outcome = RunRefused
	case err != nil:
		outcome = RunFailed
	}
	if d.Ran != nil {
		d.Ran(outcome, took)
	}
	if took >= slowRun || outcome == RunTooSlow {
		sentence := ""
		if b != nil {
			sentence = brief.Say(b, v.day, nil).String()
		}
		d.log.LogAttrs(ctx, slog.LevelWarn, "slow run", slog.String("sentence", sentence), slog.Int64("ms", took.Milliseconds()),
			slog.String("outcome", outcome), slog.Int64("person", v.who.ID))
	}
}

// runError says in words for people what a run cannot do.
func (d *Desk) runError(err error) error {
	var large *engine.TooLargeError
	switch {
	case errors.Is(err, engine.ErrReader):
		return fail(Invalid, "/whose", "%s", err)
	case errors.As(err, &large):
		return fail(TooLarge, large.Pointer, "This report is too large to be worked out: %s.", large.Message)
	}
	return err
}

// Load says how much is being worked out and kept: for those who look after the server.
type Load struct {
	Working, Waiting int
	CacheBytes       int64
	CacheAnswers     int
	CacheHits        int64
	ColumnBytes      int64
	Windows          int
}

// Load says how much is being worked out and kept now.
func (d *Desk) Load() Load {
	l := Load{ColumnBytes: d.Snapshot().Bytes(), Windows: d.hub.size()}
	l.Working, l.Waiting = d.gate.Load()
	l.CacheBytes, l.CacheAnswers, l.CacheHits = d.answers.size()
	return l
}
