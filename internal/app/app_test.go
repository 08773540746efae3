package app_test

import (
	"context"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"uzzel/core/period"
	"uzzel/internal/app"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/feed"
	"uzzel/internal/store"
)

// Those who listen hear that records have changed and that another day has begun, until they stop; one who does not
// keep up holds up nobody.
func TestWatch(t *testing.T) {
	s := demotest.Open(t)
	defer func() { require.NoError(t, s.Close()) }()
	var day atomic.Int32
	day.Store(demotest.Day)
	d, err := app.New(s, day.Load, nil)
	require.NoError(t, err)
	ctx, end := context.WithCancel(context.Background())
	defer end()
	events, stop := d.Feed.Listen()
	_, forget := d.Feed.Listen() // nobody takes these
	defer forget()
	go d.Watch(ctx, 2*time.Millisecond)
	hears := func(kind string) {
		t.Helper()
		select {
		case e := <-events:
			require.Equal(t, feed.Event{Kind: kind}, e)
		case <-time.After(10 * time.Second):
			t.Fatal("nothing was told of " + kind)
		}
	}
	// However late it begins to watch: days pass until it tells of one, and what it tells of the others is let go.
	require.Eventually(t, func() bool {
		day.Add(1)
		return len(events) > 0
	}, 10*time.Second, 10*time.Millisecond)
	for quiet := false; !quiet; {
		select {
		case e := <-events:
			require.Equal(t, feed.Day, e.Kind)
		case <-time.After(300 * time.Millisecond):
			quiet = true
		}
	}
	require.NoError(t, s.Write(ctx, func(w *store.Writer) error { return w.Change("deals", 1, store.Record{"name": "Renamed"}) }))
	hears(feed.Records)
	for range 100 {
		day.Add(1)
		hears(feed.Day)
	}
	stop()
	day.Add(1)
	time.Sleep(30 * time.Millisecond)
	require.Empty(t, events)
}

// The organisation's day is that of its zone, or the one that was set.
func TestClock(t *testing.T) {
	lisbon, err := time.LoadLocation("Europe/Lisbon")
	require.NoError(t, err)
	_, s := demotest.App(t)
	clock, err := app.Clock(s, "2026-05-14")
	require.NoError(t, err)
	require.Equal(t, period.Day(2026, 5, 14), clock())
	_, err = app.Clock(s, "14 May")
	require.Error(t, err)
	clock, err = app.Clock(s, "")
	require.NoError(t, err)
	now := time.Now().In(lisbon)
	require.InDelta(t, period.Day(now.Date()), clock(), 1)
}
