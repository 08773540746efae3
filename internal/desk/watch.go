package desk

import (
	"context"
	"time"
)

// Kinds of events that are not of one kept thing.
const (
	KindRecords = "records" // records have changed
	KindDay     = "day"     // another day has begun, on which periods come to other dates
)

// Watch tells those who listen when records have changed or another day has begun, looking once in a while, until the
// context ends.
func (d *Desk) Watch(ctx context.Context, every time.Duration) {
	tick := time.NewTicker(every)
	defer tick.Stop()
	known, day := d.Snapshot(), d.today()
	for {
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		}
		if d.unsettled.Load() {
			if err := d.Reread(ctx); err != nil && ctx.Err() == nil {
				d.log.ErrorContext(ctx, "reading settings", "error", err)
			}
		}
		if now := d.Snapshot(); now != known {
			known = now
			d.tell(Event{Kind: KindRecords})
		}
		if now := d.today(); now != day {
			day = now
			d.tell(Event{Kind: KindDay})
		}
	}
}
