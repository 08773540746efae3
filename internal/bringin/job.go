package bringin

import (
	"context"
	"errors"
	"maps"
	"sync"
	"time"

	"uzzel/internal/answers"
	"uzzel/internal/fault"
)

// What is done of a file that is being brought in.
const (
	Checking = "checking" // its lines
	Writing  = "writing"  // its records
	Done     = "done"
	Stopped  = "stopped" // nothing of it is written
	Failed   = "failed"  // nothing of it is written
)

// Progress is how far a file is brought in.
type Progress struct {
	Phase    string
	Done, Of int
	Outcome  *Outcome // once it is done
	Import   int64
	Err      error // why it failed
}

type job struct {
	person int64
	now    Progress
	stop   context.CancelFunc
	ended  time.Time
}

// jobs are the files that are being brought in, by what they are called.
type jobs struct {
	mu   sync.Mutex
	byID map[string]*job
}

// Start begins to bring a file in, which goes on however long whoever began it waits. A file is brought in once at a time.
func (b *BringIn) Start(ctx context.Context, v *answers.View, id string, p Plan) error {
	s, err := b.file(v, id)
	if err != nil {
		return err
	}
	b.jobs.mu.Lock()
	defer b.jobs.mu.Unlock()
	if j := b.jobs.byID[id]; j != nil && j.ended.IsZero() {
		return fault.New(fault.Taken, "", "This file is being brought in already.")
	}
	if b.jobs.byID == nil {
		b.jobs.byID = map[string]*job{}
	}
	maps.DeleteFunc(b.jobs.byID, func(_ string, j *job) bool {
		return !j.ended.IsZero() && b.store.Now().Sub(j.ended) > keepFiles
	})
	ctx, stop := context.WithCancel(context.WithoutCancel(ctx))
	j := &job{person: v.Who.ID, now: Progress{Phase: Checking, Of: len(s.Rows)}, stop: stop}
	b.jobs.byID[id] = j
	go func() {
		defer stop()
		kept, out, err := b.Do(ctx, v, s, p, func(phase string, done, of int) error {
			b.jobs.mu.Lock()
			defer b.jobs.mu.Unlock()
			j.now = Progress{Phase: phase, Done: done, Of: of}
			return ctx.Err()
		})
		b.jobs.mu.Lock()
		defer b.jobs.mu.Unlock()
		j.ended = b.store.Now()
		switch {
		case errors.Is(err, context.Canceled):
			j.now = Progress{Phase: Stopped}
		case err != nil:
			j.now = Progress{Phase: Failed, Err: err}
		default:
			j.now = Progress{Phase: Done, Done: j.now.Of, Of: j.now.Of, Outcome: out, Import: kept.ID}
		}
	}()
	return nil
}

func (b *BringIn) job(v *answers.View, id string) (*job, error) {
	j := b.jobs.byID[id]
	if j == nil || j.person != v.Who.ID {
		return nil, fault.New(fault.NotFound, "", "This file is not being brought in.")
	}
	return j, nil
}

// Progress says how far a file is brought in.
func (b *BringIn) Progress(v *answers.View, id string) (Progress, error) {
	b.jobs.mu.Lock()
	defer b.jobs.mu.Unlock()
	j, err := b.job(v, id)
	if err != nil {
		return Progress{}, err
	}
	return j.now, nil
}

// Stop ends bringing a file in, of which nothing is written then. One that is done is not undone by it.
func (b *BringIn) Stop(v *answers.View, id string) error {
	b.jobs.mu.Lock()
	defer b.jobs.mu.Unlock()
	j, err := b.job(v, id)
	if err == nil {
		j.stop()
	}
	return err
}
