// Package soak says how long tests of chance go on, and where chance begins. `make soak` sets both.
package soak

import (
	"fmt"
	"os"
	"time"
)

// For is how long a test goes on: as long as SOAK says, or as it would otherwise.
func For(otherwise time.Duration) time.Duration {
	if d, err := time.ParseDuration(os.Getenv("SOAK")); err == nil {
		return d
	}
	return otherwise
}

// Seed is where chance begins: SEED, or always the same.
func Seed() uint64 {
	var n uint64
	if _, err := fmt.Sscan(os.Getenv("SEED"), &n); err != nil {
		return 1
	}
	return n
}
