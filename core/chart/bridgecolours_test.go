package chart

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// What a bridge leads from and to, what adds and what takes away are told apart by readers of any sight, on paper and ink.
func TestBridgeColours(t *testing.T) {
	require.Empty(t, CheckPalette([]string{bridgeWhole, bridgeMore, bridgeLess}))
}
