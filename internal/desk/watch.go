package desk

import (
	"context"
	"time"
)

// KindRecords is the kind of the event that records have changed.
const KindRecords = "records"

// Watch tells those who listen when records have changed, looking once in a while, until the context ends.
func (d *Desk) Watch(ctx context.Context, every time.Duration) {
	tick := time.NewTicker(every)
	defer tick.Stop()
	known := d.Snapshot()
	for {
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		}
		if now := d.Snapshot(); now != known {
			known = now
			d.tell(Event{KindRecords, 0})
		}
	}
}
