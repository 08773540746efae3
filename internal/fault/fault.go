// Package fault holds the ways in which a use case refuses: each with a reason, words for the person who asked, and the
// member at fault. What else goes wrong is an error like any other and is not shown to people.
package fault

import (
	"errors"
	"fmt"

	"uzzel/internal/store"
)

// Reason is why something cannot be done.
type Reason int

// The reasons.
const (
	NotFound Reason = iota
	Forbidden
	Invalid
	Taken
	Stale
	SignedOut
	TooLarge    // a report that cannot be worked out within what it may take
	TooMany     // tries, of someone who is to wait
	Busy        // the server has too much to do just now
	Unavailable // the data file cannot be read or written
)

// Error is a thing that cannot be done, in words for the person who asked. Pointer names the member at fault.
type Error struct {
	Reason  Reason
	Pointer string
	Message string
}

func (e *Error) Error() string { return e.Message }

// New is a refusal; format and args make its message.
func New(r Reason, pointer, format string, args ...any) error {
	return &Error{r, pointer, fmt.Sprintf(format, args...)}
}

// Is says whether an error is a refusal for a reason.
func Is(err error, r Reason) bool {
	var e *Error
	return errors.As(err, &e) && e.Reason == r
}

// FromStore says in words what the store refused; what names the thing that was asked for. Other errors are left as
// they are.
func FromStore(err error, what string) error {
	switch {
	case errors.Is(err, store.ErrNotFound):
		return New(NotFound, "", "There is no such %s, or you may not open it.", what)
	case errors.Is(err, store.ErrGone):
		return New(Invalid, "/folder", "The folder was taken away meanwhile. Choose another; nothing else is lost.")
	case errors.Is(err, store.ErrStale):
		return New(
			Stale,
			"",
			"This %s was changed by someone else meanwhile. Open it again to see what it is now; your change is not lost while this page is open.",
			what,
		)
	}
	return err
}

// ofFile says in words what can be wrong with the data file.
var ofFile = map[error]string{
	store.ErrFull:    "The disk of the server is full, so nothing can be saved. What you see here stays as it is while this page is open; ask an administrator to make room, then save again.",
	store.ErrDamaged: "The server's data file is damaged. Nothing more is written to it; ask an administrator to bring back the last backup.",
	store.ErrDenied:  "The server cannot read or write its data file. What you see here stays as it is while this page is open; ask an administrator.",
	store.ErrLocked:  "Another program holds the server's data file just now. Try again in a moment.",
}

// OfFile is an error that is about the data file, in words for people; ok says whether it is one.
func OfFile(err error) (told error, ok bool) {
	var e *Error
	if err == nil || errors.As(err, &e) {
		return err, false
	}
	if trouble := store.Trouble(err); trouble != nil {
		return New(Unavailable, "", "%s", ofFile[trouble]), true
	}
	return err, false
}
