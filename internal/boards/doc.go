// Package boards is dashboards as they are laid out and answered, and record pages: panels, where they are placed, what
// a dashboard was before and as it is being arranged, whole dashboards from a set or a file, and who may not open what
// is on one. What is kept and shared at all is the library's.
package boards

import (
	"uzzel/internal/library"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

// Boards lays dashboards out.
type Boards struct {
	store  *store.Store
	people *people.People
	lib    *library.Library
}

// New lays out the dashboards of a library.
func New(s *store.Store, p *people.People, lib *library.Library) *Boards {
	return &Boards{store: s, people: p, lib: lib}
}
