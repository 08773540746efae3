// Package inforce keeps settings as they are in force: read as a whole from the file, replaced as a whole, so that
// whoever reads one sees all of it or none of a change.
package inforce

import (
	"context"
	"log/slog"
	"sync"
	"sync/atomic"
)

// Value is one setting, or several that are read together. A read that fails leaves in force what was; of two reads the
// one that began later wins.
type Value[T any] struct {
	value atomic.Pointer[T]
	mu    sync.Mutex // held while it is read
	read  func(ctx context.Context) (*T, error)
}

// New is a value that read reads; it is nil until it is first refreshed.
func New[T any](read func(ctx context.Context) (*T, error)) *Value[T] { return &Value[T]{read: read} }

// Now is the value in force. It is never changed, only replaced.
func (v *Value[T]) Now() *T { return v.value.Load() }

// Refresh reads it anew. A request that ends does not end the reading, for what it changed is in the file.
func (v *Value[T]) Refresh(ctx context.Context) error {
	v.mu.Lock()
	defer v.mu.Unlock()
	next, err := v.read(context.WithoutCancel(ctx))
	if err == nil {
		v.value.Store(next)
	}
	return err
}

// Refresher is something in force that can be read anew.
type Refresher interface {
	Refresh(ctx context.Context) error
}

// Settings are all that is in force.
type Settings struct {
	log       *slog.Logger
	list      []Refresher
	unsettled atomic.Bool // some could not be read anew since they were changed
}

// NewSettings are settings that are read in the order given.
func NewSettings(log *slog.Logger, list ...Refresher) *Settings {
	return &Settings{log: log, list: list}
}

// Changed has one read anew after it was changed. What was changed is in the file: where it cannot be read just now,
// that is written down and tried again (Settle), not told to whoever changed it.
func (s *Settings) Changed(ctx context.Context, what Refresher) {
	if err := what.Refresh(ctx); err != nil {
		s.unsettled.Store(true)
		s.log.ErrorContext(ctx, "reading settings", "error", err)
	}
}

// Reread reads all of them anew: another program may have changed them.
func (s *Settings) Reread(ctx context.Context) error {
	s.unsettled.Store(false)
	for _, r := range s.list {
		if err := r.Refresh(ctx); err != nil {
			s.unsettled.Store(true)
			return err
		}
	}
	return nil
}

// Settled says whether all of them are in force as they were last read or changed.
func (s *Settings) Settled() bool { return !s.unsettled.Load() }
