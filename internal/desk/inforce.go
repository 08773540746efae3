package desk

import (
	"context"
	"sync"
	"sync/atomic"
)

// inForce is something of the settings as it is in force: read as a whole, replaced as a whole. A read that fails leaves
// in force what was; of two reads the one that began later wins.
type inForce[T any] struct {
	value atomic.Pointer[T]
	mu    sync.Mutex // held while it is read
	read  func(ctx context.Context) (*T, error)
}

func (f *inForce[T]) now() *T { return f.value.Load() }

// refresh reads it anew. A request that ends does not end the reading, for what it changed is in the file.
func (f *inForce[T]) refresh(ctx context.Context) error {
	f.mu.Lock()
	defer f.mu.Unlock()
	v, err := f.read(context.WithoutCancel(ctx))
	if err == nil {
		f.value.Store(v)
	}
	return err
}

// settled has settings read anew after they were changed. What was changed is in the file: where it cannot be read just
// now, that is written down and tried again (Watch), not told to whoever changed it.
func (d *Desk) settled(ctx context.Context, refresh func(ctx context.Context) error) {
	if err := refresh(ctx); err != nil {
		d.unsettled.Store(true)
		d.log.ErrorContext(ctx, "reading settings", "error", err)
	}
}

// Reread reads all settings anew: another program may have changed them.
func (d *Desk) Reread(ctx context.Context) error {
	d.unsettled.Store(false)
	for _, refresh := range []func(context.Context) error{d.sees.refresh, d.looks.refresh, d.targets.refresh} {
		if err := refresh(ctx); err != nil {
			d.unsettled.Store(true)
			return err
		}
	}
	d.tell(Event{Kind: KindRecords})
	return nil
}
