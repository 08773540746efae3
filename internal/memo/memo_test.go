package memo

import (
	"context"
	"fmt"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

func fresh(string) bool { return false }

func eight(int) int64 { return 8 }

// What many ask at the same time is worked out once; it goes on while one of them waits, and ends with the last.
func TestEqualQuestionsAreWorkedOutOnce(t *testing.T) {
	m := New(1000, time.Minute, fresh)
	var worked, ended atomic.Int64
	release := make(chan struct{})
	work := func(ctx context.Context) (int, error) {
		worked.Add(1)
		select {
		case <-release:
			return 7, nil
		case <-ctx.Done():
			ended.Add(1)
			return 0, ctx.Err()
		}
	}
	gone, leave := context.WithCancel(context.Background())
	var all sync.WaitGroup
	for i := range 20 {
		all.Add(1)
		go func() {
			defer all.Done()
			ctx := context.Background()
			if i < 5 {
				ctx = gone
			}
			n, err := Get(ctx, m, "x", work, eight)
			if i < 5 {
				require.ErrorIs(t, err, context.Canceled)
			} else {
				require.NoError(t, err)
				require.Equal(t, 7, n)
			}
		}()
	}
	require.Eventually(t, func() bool { return m.waiting("x") == 20 }, 5*time.Second, time.Millisecond)
	leave()
	require.Eventually(t, func() bool { return m.waiting("x") == 15 }, 5*time.Second, time.Millisecond)
	close(release)
	all.Wait()
	require.EqualValues(t, 1, worked.Load())
	n, err := Get(context.Background(), m, "x", work, eight)
	require.NoError(t, err)
	require.Equal(t, 7, n)
	require.EqualValues(t, 1, worked.Load(), "it is kept")

	release = make(chan struct{})
	ctx, stop := context.WithCancel(context.Background())
	time.AfterFunc(20*time.Millisecond, stop)
	_, err = Get(ctx, m, "y", work, eight)
	require.ErrorIs(t, err, context.Canceled)
	require.Eventually(t, func() bool { return ended.Load() == 1 }, 5*time.Second, time.Millisecond, "nobody waits, so it ends")
	require.Panics(t, func() {
		_, _ = Get(context.Background(), m, "z", func(context.Context) (int, error) { panic("odd") }, eight)
	}, "a panic is that of who asked")
}

// What is kept stays within its bytes; what is large or about what is past is not kept at all.
func TestBounds(t *testing.T) {
	m := New(1000, time.Minute, func(key string) bool { return key == "old" })
	ask := func(key string, bytes int64) {
		_, err := Get(context.Background(), m, key, func(context.Context) (int, error) { return 1, nil }, func(int) int64 { return bytes })
		require.NoError(t, err)
		size, _, _ := m.Size()
		require.LessOrEqual(t, size, int64(1000))
	}
	for i := range 50 {
		ask(fmt.Sprint(i), 90)
	}
	bytes, answers, hits := m.Size()
	require.EqualValues(t, 990, bytes)
	require.Equal(t, 11, answers)
	require.Zero(t, hits)
	ask("49", 90)
	ask("old", 90)
	ask("large", 251)
	_, answers, hits = m.Size()
	require.Equal(t, 11, answers)
	require.EqualValues(t, 1, hits)
	m.Forget()
	bytes, answers, _ = m.Size()
	require.Zero(t, bytes)
	require.Zero(t, answers)
}

func ExampleGet() {
	m := New(1<<20, time.Minute, fresh)
	for range 2 {
		n, err := Get(context.Background(), m, "six times seven", func(context.Context) (int, error) {
			fmt.Println("worked out")
			return 6 * 7, nil
		}, eight)
		fmt.Println(n, err)
	}
	// Output:
	// worked out
	// 42 <nil>
	// 42 <nil>
}
