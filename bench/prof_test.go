package main

import (
	"context"
	"testing"

	"uzzel/internal/store"
)

func BenchmarkQ(b *testing.B) {
	s, _ := store.Open("/tmp/big.db")
	q := questions()[3]
	for i, x := range questions() { if i==3||i==6 { ask(context.Background(), s.Snapshot(), x) } }
	b.Run("top", func(b *testing.B) { for b.Loop() { ask(context.Background(), s.Snapshot(), q) } })
}
