// Package admin is what administrators set up for everyone: which records people see, where teams begin, what reports
// are begun from.
package admin

import (
	"sync"

	"uzzel/internal/answers"
	"uzzel/internal/feed"
	"uzzel/internal/inforce"
	"uzzel/internal/store"
)

// Admin keeps what administrators set up.
type Admin struct {
	store    *store.Store
	feed     *feed.Hub
	settings *inforce.Settings
	in       answers.InForce
	mu       sync.Mutex // held while a preference is read, changed and kept
}

// New keeps settings in a store; in is what is in force, feed is told of what changes for everyone.
func New(s *store.Store, f *feed.Hub, settings *inforce.Settings, in answers.InForce) *Admin {
	return &Admin{store: s, feed: f, settings: settings, in: in}
}
