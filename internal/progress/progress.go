// Package progress tells how far a piece of work is while it goes on, to whoever asks for it by a name that its beginner
// gave it.
package progress

import (
	"context"
	"strconv"
	"sync"
)

// State is how much of a piece of work is done, of how much.
type State struct{ Done, Of int }

type key struct{}

// Tell says how far the work of a context is; nobody hears it where nobody asked to.
func Tell(ctx context.Context, done, of int) {
	if tell, ok := ctx.Value(key{}).(func(State)); ok {
		tell(State{done, of})
	}
}

// Works are pieces of work under way, by who began them and what they called them.
type Works struct {
	mu sync.Mutex
	by map[string]State
}

func named(person int64, name string) string { return strconv.FormatInt(person, 10) + " " + name }

// Begin is a context in which work under a name tells how far it is, until end is called. Work without a name is told of
// to nobody; of two under one name the later is.
func (w *Works) Begin(ctx context.Context, person int64, name string) (under context.Context, end func()) {
	if name == "" {
		return ctx, func() {}
	}
	at := named(person, name)
	put := func(s State) {
		w.mu.Lock()
		defer w.mu.Unlock()
		if w.by == nil {
			w.by = map[string]State{}
		}
		w.by[at] = s
	}
	put(State{})
	return context.WithValue(ctx, key{}, put), func() {
		w.mu.Lock()
		defer w.mu.Unlock()
		delete(w.by, at)
	}
}

// Of is how far someone's work under a name is; ok is false where none is under way.
func (w *Works) Of(person int64, name string) (s State, ok bool) {
	w.mu.Lock()
	defer w.mu.Unlock()
	s, ok = w.by[named(person, name)]
	return s, ok
}
