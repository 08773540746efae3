package progress_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/internal/progress"
)

// Work is told of to who began it, by its name, while it goes on.
func TestWorks(t *testing.T) {
	var w progress.Works
	ctx, end := w.Begin(context.Background(), 3, "a")
	s, ok := w.Of(3, "a")
	require.True(t, ok)
	require.Equal(t, progress.State{}, s)
	progress.Tell(ctx, 1000, 10_000)
	s, _ = w.Of(3, "a")
	require.Equal(t, progress.State{Done: 1000, Of: 10_000}, s)
	_, ok = w.Of(4, "a")
	require.False(t, ok, "it is another person's")
	end()
	_, ok = w.Of(3, "a")
	require.False(t, ok)
	progress.Tell(context.Background(), 1, 2) // nobody listens
	_, end = w.Begin(context.Background(), 3, "")
	_, ok = w.Of(3, "")
	require.False(t, ok)
	end()
}
