package desk

import (
	"errors"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/internal/store"
)

// What is wrong with the data file is told in words that say what to do; other errors are not taken for it.
func TestTroublesInWords(t *testing.T) {
	d, _ := open(t)
	for trouble, words := range map[error]string{store.ErrFull: "make room", store.ErrDamaged: "last backup", store.ErrDenied: "ask an administrator", store.ErrLocked: "Try again"} {
		err := d.InWords(fmt.Errorf("saving: %w", trouble))
		var told *Error
		require.ErrorAs(t, err, &told)
		require.Equal(t, Unavailable, told.Reason)
		require.Contains(t, told.Message, words)
	}
	other := errors.New("else")
	require.Equal(t, other, d.InWords(other))
	refused := fail(Taken, "", "taken")
	require.Equal(t, refused, d.InWords(refused))
	require.NoError(t, d.InWords(nil))
	require.NoError(t, d.Ready(t.Context()))
}
