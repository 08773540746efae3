package turns_test

import (
	"context"
	"errors"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"uzzel/internal/turns"
)

// large works until it is stopped, giving way whenever it is asked to.
func large(ctx context.Context, t *testing.T, g *turns.Gate, person int64, hands int) *sync.WaitGroup {
	t.Helper()
	var done sync.WaitGroup
	done.Add(1)
	go func() {
		defer done.Done()
		turn, err := g.Take(ctx, person, false)
		if err != nil {
			return
		}
		defer turn.Done()
		var all sync.WaitGroup
		for range hands {
			all.Add(1)
			go func() {
				defer all.Done()
				for ctx.Err() == nil && turn.Yield(ctx) == nil {
					time.Sleep(time.Millisecond)
				}
			}()
		}
		all.Wait()
	}()
	return &done
}

// However many large questions there are, one that begins waits for no more than a moment; and all of the large go on.
func TestSmallOnesGoFirst(t *testing.T) {
	for _, places := range []int{1, 2, 4} {
		ctx, stop := context.WithCancel(context.Background())
		g := turns.New(places)
		var all []*sync.WaitGroup
		for i := range 8 {
			all = append(all, large(ctx, t, g, int64(i), 2))
		}
		time.Sleep(3 * turns.Quick)
		var longest time.Duration
		for range 20 {
			began := time.Now()
			turn, err := g.Take(ctx, 99, false)
			require.NoError(t, err)
			longest = max(longest, time.Since(began))
			turn.Done()
		}
		require.Less(t, longest, 8*turns.Quick, "%d places", places)
		stop()
		for _, w := range all {
			w.Wait()
		}
		working, waiting := g.Load()
		require.Zero(t, working+waiting, "nothing is left behind")
	}
}

// Large questions share what is left.
func TestLargeOnesTakeTurns(t *testing.T) {
	ctx, stop := context.WithTimeout(context.Background(), 10*time.Second)
	defer stop()
	g := turns.New(1)
	var went [3]atomic.Int64
	var all sync.WaitGroup
	enough := func() bool { return went[0].Load() > 20 && went[1].Load() > 20 && went[2].Load() > 20 }
	for i := range 3 {
		all.Add(1)
		go func() {
			defer all.Done()
			turn, err := g.Take(ctx, int64(i), true)
			if err != nil {
				return
			}
			defer turn.Done()
			for !enough() && turn.Yield(ctx) == nil {
				went[i].Add(1)
				time.Sleep(time.Millisecond)
			}
		}()
	}
	all.Wait()
	require.True(t, enough(), "%d %d %d", went[0].Load(), went[1].Load(), went[2].Load())
}

// Whoever gives up while waiting leaves nothing behind, and one person cannot fill the queue.
func TestWaitingEnds(t *testing.T) {
	g := turns.New(1)
	held, err := g.Take(context.Background(), 1, false)
	require.NoError(t, err)
	ctx, stop := context.WithTimeout(context.Background(), 5*time.Millisecond)
	defer stop()
	_, err = g.Take(ctx, 2, false)
	require.ErrorIs(t, err, context.DeadlineExceeded)
	_, waiting := g.Load()
	require.Zero(t, waiting)

	long, end := context.WithCancel(context.Background())
	var all sync.WaitGroup
	var refused atomic.Int64
	for range turns.MaxWaitingPerson + 30 {
		all.Add(1)
		go func() {
			defer all.Done()
			if _, err := g.Take(long, 3, false); errors.Is(err, turns.ErrBusy) {
				refused.Add(1)
			}
		}()
	}
	require.Eventually(t, func() bool { return refused.Load() == 30 }, 5*time.Second, time.Millisecond)
	end()
	all.Wait()
	held.Done()
	working, waiting := g.Load()
	require.Zero(t, working+waiting)
}

// Who has had the processors for long is in no hurry: many small questions of one person are, together, a large one.
func TestManySmallOnesAreLarge(t *testing.T) {
	g := turns.New(1)
	for began := time.Now(); time.Since(began) < turns.Share*3/2; {
		turn, err := g.Take(t.Context(), 1, false)
		require.NoError(t, err)
		time.Sleep(turns.Quick / 2)
		turn.Done()
	}
	busy, err := g.Take(t.Context(), 1, false)
	require.NoError(t, err)
	require.True(t, busy.Large())
	honest := make(chan time.Duration)
	go func() {
		began := time.Now()
		turn, err := g.Take(t.Context(), 2, false)
		if err == nil {
			turn.Done()
		}
		honest <- time.Since(began)
	}()
	go func() { // gives way as soon as it is asked to, not after a moment of its own
		for busy.Yield(t.Context()) == nil && t.Context().Err() == nil {
			time.Sleep(time.Millisecond)
		}
	}()
	require.Less(t, <-honest, turns.Quick/2)
	busy.Done()
}
