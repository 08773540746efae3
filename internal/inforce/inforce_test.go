package inforce_test

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"uzzel/internal/inforce"
)

// A read that fails leaves in force what was, and is known to be tried again; whoever asked may have gone meanwhile.
func TestFailedReads(t *testing.T) {
	ctx, n := context.Background(), 0
	var trouble error
	v := inforce.New(func(ctx context.Context) (*int, error) {
		if err := errors.Join(trouble, ctx.Err()); err != nil {
			return nil, err
		}
		n++
		now := n
		return &now, nil
	})
	s := inforce.NewSettings(slog.New(slog.DiscardHandler), v)
	require.NoError(t, s.Reread(ctx))
	trouble = errors.New("no")
	s.Changed(ctx, v)
	require.Equal(t, 1, *v.Now())
	require.False(t, s.Settled())
	require.Error(t, s.Reread(ctx))
	require.False(t, s.Settled())
	trouble = nil
	gone, leave := context.WithCancel(ctx)
	leave()
	require.NoError(t, s.Reread(gone))
	require.True(t, s.Settled())
	require.Equal(t, 2, *v.Now())
}

// A slow older read does not put back what a newer one replaced.
func TestLaterReadWins(t *testing.T) {
	n, slow := 0, make(chan struct{})
	v := inforce.New(func(context.Context) (*int, error) {
		n++
		now := n
		if now == 1 {
			<-slow
		}
		return &now, nil
	})
	done := make(chan error)
	go func() { done <- v.Refresh(context.Background()) }()
	time.Sleep(10 * time.Millisecond)
	go func() { done <- v.Refresh(context.Background()) }()
	time.Sleep(10 * time.Millisecond)
	close(slow)
	require.NoError(t, errors.Join(<-done, <-done))
	require.Equal(t, 2, *v.Now())
}

func ExampleValue() {
	v := inforce.New(func(context.Context) (*string, error) {
		text := "as it is in the file"
		return &text, nil
	})
	if err := v.Refresh(context.Background()); err == nil {
		fmt.Println(*v.Now())
	}
	// Output: as it is in the file
}
