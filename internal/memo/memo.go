// Package memo keeps what questions were answered, as many bytes of it as it may, and has each worked out once however
// many ask it at the same time.
package memo

import (
	"context"
	"errors"
	"fmt"
	"runtime/debug"
	"sync"
	"time"

	"github.com/hashicorp/golang-lru/v2/simplelru"
)

// Memo keeps answers to questions that are told apart by a key.
type Memo[K comparable] struct {
	mu    sync.Mutex
	list  *simplelru.LRU[K, kept]
	bytes int64
	most  int64
	hits  int64
	limit time.Duration
	stale func(K) bool
	under map[K]*flight // questions that are being worked out
}

type kept struct {
	value any
	bytes int64
}

// New keeps at most so many bytes, and lets work take as long as limit. stale says whether a key asks about what is
// past: nothing is kept for such a key.
func New[K comparable](most int64, limit time.Duration, stale func(K) bool) *Memo[K] {
	m := &Memo[K]{most: most, limit: limit, stale: stale, under: map[K]*flight{}}
	m.list, _ = simplelru.NewLRU(1<<20, func(_ K, k kept) { m.bytes -= k.bytes })
	return m
}

func (m *Memo[K]) get(key K) (any, bool) {
	m.mu.Lock()
	defer m.mu.Unlock()
	k, ok := m.list.Get(key)
	if ok {
		m.hits++
	}
	return k.value, ok
}

func (m *Memo[K]) put(key K, value any, bytes int64) {
	m.mu.Lock()
	defer m.mu.Unlock()
	if m.stale(key) || bytes > m.most/4 {
		return
	}
	m.list.Remove(key)
	m.list.Add(key, kept{value, bytes})
	m.bytes += bytes
	for m.bytes > m.most {
		m.list.RemoveOldest()
	}
}

// Forget lets go of all that is kept: there is something newer that it does not know of.
func (m *Memo[K]) Forget() {
	m.mu.Lock()
	defer m.mu.Unlock()
	m.list.Purge()
}

// Size is how many bytes are kept, in how many answers, and how often one was given again.
func (m *Memo[K]) Size() (bytes int64, answers int, hits int64) {
	m.mu.Lock()
	defer m.mu.Unlock()
	return m.bytes, m.list.Len(), m.hits
}

// waiting is how many wait for a question that is being worked out.
func (m *Memo[K]) waiting(key K) int {
	m.mu.Lock()
	defer m.mu.Unlock()
	if f := m.under[key]; f != nil {
		return f.waiting
	}
	return 0
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

// Recovered is what was recovered of a panic, as an error.
func Recovered(r any) *Panicked {
	if p, ok := r.(*Panicked); ok {
		return p
	}
	return &Panicked{r, debug.Stack()}
}

func (p *Panicked) Error() string { return fmt.Sprintf("panic: %v", p.Value) }

// Get gives what a question was answered: as it is kept, or worked out, once however many ask at the same time. The
// work goes on as long as somebody waits for it. bytes says how large what was worked out is.
func Get[K comparable, T any](
	ctx context.Context,
	m *Memo[K],
	key K,
	work func(ctx context.Context) (T, error),
	bytes func(T) int64,
) (T, error) {
	var none T
	if v, ok := m.get(key); ok {
		return v.(T), nil
	}
	m.mu.Lock()
	f := m.under[key]
	if f == nil {
		f = &flight{done: make(chan struct{})}
		own, stop := context.WithTimeout(context.WithoutCancel(ctx), m.limit)
		f.stop = stop
		m.under[key] = f
		go func() {
			defer stop()
			defer func() {
				if p := recover(); p != nil {
					f.err = Recovered(p)
				}
				m.mu.Lock()
				if m.under[key] == f {
					delete(m.under, key)
				}
				m.mu.Unlock()
				close(f.done)
			}()
			v, err := work(own)
			if f.value, f.err = v, err; err == nil {
				m.put(key, v, bytes(v))
			}
		}()
	}
	f.waiting++
	m.mu.Unlock()
	select {
	case <-f.done:
	case <-ctx.Done():
		m.mu.Lock()
		if f.waiting--; f.waiting == 0 { // nobody waits any more; who asks from now on has it worked out anew
			f.stop()
			if m.under[key] == f {
				delete(m.under, key)
			}
		}
		m.mu.Unlock()
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
