package fault_test

import (
	"errors"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/internal/fault"
	"uzzel/internal/store"
)

// What is wrong with the data file is told in words that say what to do; other errors are not taken for it.
func TestOfFile(t *testing.T) {
	for trouble, words := range map[error]string{store.ErrFull: "make room", store.ErrDamaged: "last backup", store.ErrDenied: "ask an administrator", store.ErrLocked: "Try again"} {
		err, ok := fault.OfFile(fmt.Errorf("saving: %w", trouble))
		require.True(t, ok)
		require.True(t, fault.Is(err, fault.Unavailable))
		require.ErrorContains(t, err, words)
	}
	for _, other := range []error{errors.New("else"), fault.New(fault.Taken, "", "taken"), nil} {
		err, ok := fault.OfFile(other)
		require.False(t, ok)
		require.Equal(t, other, err)
	}
}

// What the store refuses is said with the name of what was asked for; anything else stays what it is.
func TestFromStore(t *testing.T) {
	err := fault.FromStore(fmt.Errorf("reading: %w", store.ErrNotFound), "report")
	require.True(t, fault.Is(err, fault.NotFound))
	require.False(t, fault.Is(err, fault.Stale))
	require.ErrorContains(t, err, "no such report")
	require.True(t, fault.Is(fault.FromStore(store.ErrStale, "dashboard"), fault.Stale))
	require.True(t, fault.Is(fault.FromStore(store.ErrGone, "report"), fault.Invalid))
	other := errors.New("else")
	require.Equal(t, other, fault.FromStore(other, "report"))
	require.False(t, fault.Is(other, fault.NotFound))
}

func ExampleNew() {
	err := fault.New(fault.Taken, "/title", "There is a report named “%s” already.", "Won by team")
	fmt.Println(err, fault.Is(err, fault.Taken))
	// Output: There is a report named “Won by team” already. true
}
