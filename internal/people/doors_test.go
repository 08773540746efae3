package people

import (
	"context"
	"fmt"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

// However many sign in at once, two passwords at most are checked at a time, each of which takes 64 MB; who would have
// to wait very long is told to come again.
func TestPasswordsAreCheckedInTurn(t *testing.T) {
	d := newDoors(time.Now)
	var now, most, refused atomic.Int64
	d.compare = func(string, string) (bool, error) {
		most.Store(max(most.Load(), now.Add(1)))
		time.Sleep(5 * time.Millisecond)
		now.Add(-1)
		return true, nil
	}
	var all sync.WaitGroup
	for range 200 {
		all.Add(1)
		go func() {
			defer all.Done()
			if _, err := d.check(context.Background(), "", ""); err != nil {
				refused.Add(1)
			}
		}()
	}
	all.Wait()
	require.LessOrEqual(t, most.Load(), int64(checksAtOnce))
	require.Positive(t, refused.Load())
	require.Less(t, refused.Load(), int64(200))
	ctx, stop := context.WithCancel(context.Background())
	stop()
	for range cap(d.checks) {
		d.checks <- struct{}{}
	}
	_, err := d.check(ctx, "", "")
	require.ErrorIs(t, err, context.Canceled)
}

// Wrong passwords close an account for a while, wherever they come from; a right one opens it, and only so many
// accounts are kept in mind.
func TestAccountsCloseForAWhile(t *testing.T) {
	now := time.Date(2026, 5, 14, 9, 0, 0, 0, time.UTC)
	d := newDoors(func() time.Time { return now })
	for range accountTries - 1 {
		d.wrong("a")
	}
	require.False(t, d.closed("a"))
	d.right("a")
	for range accountTries {
		require.False(t, d.closed("a"))
		d.wrong("a")
	}
	require.True(t, d.closed("a"))
	require.False(t, d.closed("b"))
	now = now.Add(accountTime)
	require.False(t, d.closed("a"))
	for i := range 3 * maxAccounts {
		d.wrong(fmt.Sprint(i))
	}
	require.LessOrEqual(t, len(d.tries), maxAccounts)
}
