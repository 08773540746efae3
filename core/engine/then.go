package engine

import (
	"uzzel/core/brief"
	"uzzel/core/column"
)

// asOf has a brief answered by the records of the day that it names (docs/brief.md, "Over time"): the records as they
// were, what the reader sees of them today, and the day by which relative periods go.
func asOf(snap *column.Snapshot, b *brief.Bound, opts Options) (*column.Snapshot, Options, error) {
	day, _, err := b.Days(opts.Today)
	if err != nil {
		return nil, opts, err
	}
	return onDay(snap, b, opts, day)
}

// onDay is asOf for any day; today stands for the records as they are now.
func onDay(
	snap *column.Snapshot, b *brief.Bound, opts Options, day int32,
) (*column.Snapshot, Options, error) {
	if opts.stateDay = day; day == opts.Today {
		return snap, opts, nil
	}
	then, err := snap.AsOf(day)
	if err != nil {
		return nil, opts, err
	}
	if opts.Sight == nil || opts.Sight.snap != snap {
		opts.Sight = NewSight(snap, opts.Reader, opts.Sees)
	}
	opts.Sight = opts.Sight.of(then)
	if b.Brief.Periods == brief.Then {
		opts.Today = day
	}
	return then, opts, nil
}
