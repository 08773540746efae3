package answers

import (
	"context"
	"errors"
	"log/slog"
	"time"

	"uzzel/core/brief"
	"uzzel/core/engine"
	"uzzel/core/result"
	"uzzel/internal/fault"
	"uzzel/internal/turns"
)

// run has work done in turn with that of others. later is for what nobody looks at yet.
func (v *View) run(
	ctx context.Context,
	b *brief.Bound,
	later bool,
	work func(ctx context.Context, opts engine.Options) error,
) (err error) {
	turn, err := v.turn(ctx, later)
	if err != nil {
		return err
	}
	began := time.Now()
	defer func() {
		turn.Done()
		v.ran(ctx, b, time.Since(began), err)
	}()
	budget := &engine.Budget{Values: questionValues, Bytes: questionBytes, Yield: func() error { return turn.Yield(ctx) }}
	return runError(
		work(
			ctx,
			engine.Options{
				Today:  v.Day,
				Reader: v.Who.Key(),
				Sees:   v.Sees,
				Sight:  v.Sight,
				Budget: budget,
				Gentle: turn.Large(),
			},
		),
	)
}

// Write has an answer written down in turn with the work of others. yield is called often and fails where nobody waits
// for it any more.
func (v *View) Write(ctx context.Context, write func(yield func() error) error) error {
	turn, err := v.turn(ctx, false)
	if err != nil {
		return err
	}
	defer turn.Done()
	return write(func() error { return turn.Yield(ctx) })
}

func (v *View) turn(ctx context.Context, later bool) (*turns.Turn, error) {
	turn, err := v.a.gate.Take(ctx, v.Who.ID, later)
	if errors.Is(err, turns.ErrBusy) {
		return nil, fault.New(fault.Busy, "", "Very many questions are waiting. Try again in a moment.")
	}
	return turn, err
}

// Numbers works out a bound brief by itself.
func (v *View) Numbers(ctx context.Context, b *brief.Bound) (r *result.Result, err error) {
	return r, v.run(ctx, b, false, func(ctx context.Context, opts engine.Options) error {
		r, err = engine.Run(ctx, v.Snap, b, opts)
		return err
	})
}

// Outcomes of runs.
const (
	RunDone    = "done"
	RunStopped = "stopped"
	RunTooSlow = "too slow"
	RunLarge   = "too large"
	RunRefused = "refused"
	RunFailed  = "failed"
)

// ran counts a run, and writes a slow one down with its sentence, in which no record is named.
func (v *View) ran(ctx context.Context, b *brief.Bound, took time.Duration, err error) {
	outcome := RunDone
	var told *fault.Error
	var bad brief.Problems
	switch {
	case errors.Is(err, context.DeadlineExceeded):
		outcome = RunTooSlow
	case errors.Is(err, context.Canceled):
		outcome = RunStopped
	case engine.IsTooLarge(err) || (errors.As(err, &told) && told.Reason == fault.TooLarge):
		outcome = RunLarge
	case told != nil || errors.As(err, &bad):
		outcome = RunRefused
	case err != nil:
		outcome = RunFailed
	}
	if v.a.Ran != nil {
		v.a.Ran(outcome, took)
	}
	if took >= slowRun || outcome == RunTooSlow {
		sentence := ""
		if b != nil {
			sentence = brief.Say(b, v.Day, nil).String()
		}
		v.a.log.LogAttrs(
			ctx,
			slog.LevelWarn,
			"slow run",
			slog.String("sentence", sentence),
			slog.Int64("ms", took.Milliseconds()),
			slog.String("outcome", outcome),
			slog.Int64("person", v.Who.ID),
		)
	}
}

// runError says in words for people what a run cannot do.
func runError(err error) error {
	var large *engine.TooLargeError
	switch {
	case errors.Is(err, engine.ErrReader):
		return fault.New(fault.Invalid, "/whose", "%s", err)
	case errors.As(err, &large):
		return fault.New(fault.TooLarge, large.Pointer, "This report is too large to be worked out: %s.", large.Message)
	}
	return err
}

// Load says how much is being worked out and kept: for those who look after the server.
type Load struct {
	Working, Waiting int
	CacheBytes       int64
	CacheAnswers     int
	CacheHits        int64
	ColumnBytes      int64
}

// Load says how much is being worked out and kept now.
func (a *Answers) Load() Load {
	l := Load{ColumnBytes: a.store.Snapshot().Bytes()}
	l.Working, l.Waiting = a.gate.Load()
	l.CacheBytes, l.CacheAnswers, l.CacheHits = a.memo.Size()
	return l
}
