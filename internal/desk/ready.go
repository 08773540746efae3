package desk

import (
	"context"
	"errors"

	"uzzel/internal/store"
)

// Ready says whether the data file can be read and written now, and otherwise in words why not.
func (d *Desk) Ready(ctx context.Context) error { return d.InWords(d.store.Ready(ctx)) }

// InWords turns an error that is about the data file into words for people; others it leaves as they are.
func (d *Desk) InWords(err error) error {
	if d == nil || err == nil {
		return err
	}
	var told *Error
	if errors.As(err, &told) {
		return err
	}
	words := map[error]string{
		store.ErrFull:    "The disk of the server is full, so nothing can be saved. What you see here stays as it is while this page is open; ask an administrator to make room, then save again.",
		store.ErrDamaged: "The server's data file is damaged. Nothing more is written to it; ask an administrator to bring back the last backup.",
		store.ErrDenied:  "The server cannot read or write its data file. What you see here stays as it is while this page is open; ask an administrator.",
		store.ErrLocked:  "Another program holds the server's data file just now. Try again in a moment.",
	}
	if trouble := store.Trouble(err); trouble != nil {
		d.log.Error("data file", "error", err)
		return fail(Unavailable, "", "%s", words[trouble])
	}
	return err
}
