package packed_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/internal/packed"
)

// What is packed comes back as it was; what is too large is refused both ways, so that a small thing does not unpack into
// a very large one.
func TestPack(t *testing.T) {
	long := strings.Repeat("quay ", 1000)
	data, err := packed.Pack(long, 10_000)
	require.NoError(t, err)
	require.Less(t, len(data), 200)
	var back string
	require.NoError(t, packed.Unpack(data, 10_000, &back))
	require.Equal(t, long, back)
	_, err = packed.Pack(long, 100)
	require.ErrorIs(t, err, packed.ErrLarge)
	require.ErrorIs(t, packed.Unpack(data, 100, &back), packed.ErrLarge)
	require.Error(t, packed.Unpack([]byte("no"), 100, &back))
}
