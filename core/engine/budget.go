package engine

import (
	"context"
	"errors"
	"fmt"
	"strconv"
	"sync/atomic"

	"uzzel/core/brief"
)

// Budget is what one question may take: rows that it makes or goes over behind links, values of its cells, bytes that
// it holds. All runs that answer one question share one budget. The zero value has the default limits.
type Budget struct {
	Rows, Values, Bytes int64
	// Yield is called often by whoever works on the question, so that others may go first. It may wait; what it gives
	// ends the question.
	Yield func() error

	rows, values, bytes atomic.Int64
}

// Default limits of a question; docs/limits.md lists them all.
const (
	DefaultMaxRows   = 50_000_000
	DefaultMaxValues = 8_000_000
	DefaultMaxBytes  = 1 << 30
)

// TooLargeError says which part of a report is too large to be worked out, and what would make it smaller. Pointer is
// the JSON pointer of that part, "" where it is no one part.
type TooLargeError struct {
	Pointer string
	Message string
}

func (e *TooLargeError) Error() string { return e.Message }

// stop ends a run from within; whole catches it.
type stop struct{ err error }

// tooLarge stops a run that goes over a limit; at is where in the brief, form and args say it in words.
func tooLarge(at, form string, args ...any) stop {
	return stop{&TooLargeError{at, fmt.Sprintf(form, args...)}}
}

// whole turns what ended a run from within into its error.
func whole(err *error) {
	switch s := recover().(type) {
	case nil:
	case stop:
		*err = s.err
	default:
		panic(s)
	}
}

// guard is a budget with the context of a run. Its methods end the run where it may not go on.
type guard struct {
	*Budget
	ctx  context.Context
	done <-chan struct{}
}

func newGuard(ctx context.Context, b *Budget) guard {
	if b == nil {
		b = &Budget{}
	}
	return guard{b, ctx, ctx.Done()}
}

// poll ends the run where it was stopped, and lets others go first.
func (g guard) poll() {
	select {
	case <-g.done:
		panic(stop{g.ctx.Err()})
	default:
	}
	if g.Yield != nil {
		if err := g.Yield(); err != nil {
			panic(stop{err})
		}
	}
}

// every polls once in a while of a loop that goes over i.
func (g guard) every(i int) {
	if i&8191 == 0 {
		g.poll()
	}
}

func atMost(limit, otherwise int64) int64 {
	if limit > 0 {
		return limit
	}
	return otherwise
}

// takeRows counts rows that a link makes; what names the link.
func (g guard) takeRows(n int, at, what string) {
	if most := atMost(g.Rows, DefaultMaxRows); g.rows.Add(int64(n)) > most {
		panic(
			tooLarge(
				at,
				"%s makes more than %s rows; narrow the report first, with a period or a condition",
				what,
				thousands(most),
			),
		)
	}
}

// takeValues counts values of cells; what names the groups that make them.
func (g guard) takeValues(n int64, at, what string) {
	if most := atMost(g.Values, DefaultMaxValues); n < 0 || g.values.Add(n) > most {
		panic(
			tooLarge(
				at,
				"%s makes more than %s numbers; group by fewer or coarser fields, show fewer summaries, or narrow the report first",
				what,
				thousands(most),
			),
		)
	}
}

// takeBytes counts memory that is held until the question is answered.
func (g guard) takeBytes(n int, at, what string) {
	if most := atMost(g.Bytes, DefaultMaxBytes); g.bytes.Add(int64(n)) > most {
		panic(
			tooLarge(
				at,
				"%s needs more than %s MB; narrow the report first, or show fewer summaries",
				what,
				thousands(most>>20),
			),
		)
	}
}

// IsTooLarge says whether a question was too large to be answered.
func IsTooLarge(err error) bool {
	var t *TooLargeError
	return errors.As(err, &t)
}

func thousands(n int64) string { return brief.Thousands(strconv.FormatInt(n, 10)) }
