//go:build !race

package engine_test

// slowness is how much longer things take with the race detector.
const slowness = 1
