package store

import (
	"context"
	"fmt"
	"time"

	"uzzel/core/schema"
)

// Follow looks once in a while whether another program wrote to the file, or the columns are behind, and if so starts a
// new snapshot, which reads the records anew, and tells changed, which may be nil. It returns when the context ends;
// what fails is told through failed and tried again at the next look.
func (s *Store) Follow(ctx context.Context, every time.Duration, changed func(), failed func(error)) {
	tick := time.NewTicker(every)
	defer tick.Stop()
	known, err := s.dataVersion(ctx)
	for {
		if err != nil && ctx.Err() == nil {
			failed(err)
		}
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		}
		var now int64
		if now, err = s.dataVersion(ctx); err != nil || (now == known && !s.behind.Load()) {
			continue
		}
		s.writing.Lock()
		err = s.reload()
		s.behind.Store(err != nil)
		s.writing.Unlock()
		if err == nil {
			known = now
			if changed != nil {
				changed()
			}
		}
	}
}

// dataVersion changes when another connection than the one that writes commits to the file (SQLite, PRAGMA
// data_version).
func (s *Store) dataVersion(ctx context.Context) (v int64, err error) {
	if err = s.writer(ctx).Raw("PRAGMA data_version").Scan(&v).Error; err != nil {
		err = fmt.Errorf("looking for changes of the data file: %w", err)
	}
	return v, err
}

// Warm loads all tables and follows all links once, so that no question has to wait for either.
func (s *Store) Warm(ctx context.Context) error {
	snap := s.Snapshot()
	for _, t := range snap.Schema.Types {
		if ctx.Err() != nil {
			return ctx.Err()
		}
		if _, err := snap.Table(t.Key); err != nil {
			return err
		}
	}
	for _, t := range snap.Schema.Types {
		for _, f := range t.Fields {
			if (f.Kind != schema.Link && f.Kind != schema.Text) || ctx.Err() != nil {
				continue
			}
			c, err := snap.Column(t.Key, f.Key)
			if err != nil {
				return err
			}
			if f.Kind == schema.Text {
				c.Dict.Folded() // what is looked for as one types
			}
		}
		for _, back := range t.Backs {
			if _, err := snap.Many(t.Key, back.Key); err != nil {
				return err
			}
		}
	}
	return ctx.Err()
}
