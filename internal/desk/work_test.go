package desk

import (
	"context"
	"errors"
	"fmt"
	"path/filepath"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/engine"
	"uzzel/core/period"
	"uzzel/core/schema"
	"uzzel/internal/store"
)

// open is a desk over a company of some people and two thousand deals.
func open(t *testing.T) (*Desk, *store.Store) {
	t.Helper()
	s, err := store.Open(filepath.Join(t.TempDir(), "company.db"))
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	ctx := context.Background()
	require.NoError(t, s.SetUp(ctx, "Brinehaven Docks", schema.Settings{Timezone: "Europe/Lisbon", Currency: "EUR", Stages: []schema.Stage{{Name: "Enquiry", Status: "open"}, {Name: "Ordered", Status: "won"}}}))
	var people, deals []store.Record
	for i := range 30 {
		people = append(people, store.Record{"id": fmt.Sprint(i + 1), "name": fmt.Sprintf("Person %d", i), "active": "true"})
	}
	for i := range 2000 {
		deals = append(deals, store.Record{"id": fmt.Sprint(i + 1), "name": fmt.Sprintf("Deal %d", i), "owner": fmt.Sprint(i%30 + 1), "stage": []string{"Enquiry", "Ordered"}[i%2], "value": fmt.Sprint(i)})
	}
	require.NoError(t, s.Write(ctx, func(w *store.Writer) error { return errors.Join(w.Add("people", people), w.Add("deals", deals)) }))
	d, err := New(s, func() int32 { return period.Day(2026, 5, 14) }, nil)
	require.NoError(t, err)
	return d, s
}

func ask(t *testing.T, text string) *brief.Brief {
	t.Helper()
	b, err := brief.Decode([]byte(text))
	require.NoError(t, err)
	return b
}

// What many ask at the same time is worked out once; it goes on while one of them waits, and ends with the last.
func TestEqualQuestionsAreWorkedOutOnce(t *testing.T) {
	d, _ := open(t)
	v := d.view(Person{ID: 1})
	q, err := v.question(ask(t, `{"version":1,"start":"deals"}`), "x")
	require.NoError(t, err)
	var worked, ended atomic.Int64
	release := make(chan struct{})
	work := func(ctx context.Context) (int, error) {
		worked.Add(1)
		select {
		case <-release:
			return 7, nil
		case <-ctx.Done():
			ended.Add(1)
			return 0, ctx.Err()
		}
	}
	size := func(int) int64 { return 8 }
	gone, leave := context.WithCancel(context.Background())
	var all sync.WaitGroup
	for i := range 20 {
		all.Add(1)
		go func() {
			defer all.Done()
			ctx := context.Background()
			if i < 5 {
				ctx = gone
			}
			n, err := answer(ctx, d, q, work, size)
			if i < 5 {
				require.ErrorIs(t, err, context.Canceled)
			} else {
				require.NoError(t, err)
				require.Equal(t, 7, n)
			}
		}()
	}
	require.Eventually(t, func() bool {
		d.answers.mu.Lock()
		defer d.answers.mu.Unlock()
		f := d.answers.under[q]
		return f != nil && f.waiting == 20
	}, 5*time.Second, time.Millisecond)
	leave()
	time.Sleep(10 * time.Millisecond)
	close(release)
	all.Wait()
	require.EqualValues(t, 1, worked.Load())
	n, err := answer(context.Background(), d, q, work, size)
	require.NoError(t, err)
	require.Equal(t, 7, n)
	require.EqualValues(t, 1, worked.Load(), "it is kept")

	release = make(chan struct{})
	q.more = "y"
	ctx, stop := context.WithCancel(context.Background())
	time.AfterFunc(20*time.Millisecond, stop)
	_, err = answer(ctx, d, q, work, size)
	require.ErrorIs(t, err, context.Canceled)
	require.Eventually(t, func() bool { return ended.Load() == 1 }, 5*time.Second, time.Millisecond, "nobody waits, so it ends")
	q.more = "z"
	require.Panics(t, func() {
		_, _ = answer(context.Background(), d, q, func(context.Context) (int, error) { panic("odd") }, size)
	}, "a panic is that of who asked")
}

// What is kept of answers stays within its bytes, whatever is asked, and is let go of when there are newer records.
func TestAnswersAreBoundedByBytes(t *testing.T) {
	d, s := open(t)
	d.answers = newAnswers(300_000)
	ctx, who := context.Background(), Person{ID: 1, Role: Composer}
	for i := range 120 {
		_, err := d.Ask(ctx, who, ask(t, fmt.Sprintf(`{"version":1,"start":"deals","filter":{"field":"value","is":"over","values":["%d"]},"groups":[{"field":"owner"},{"field":"stage"}]}`, i)))
		require.NoError(t, err)
		_, err = d.List(ctx, who, ask(t, fmt.Sprintf(`{"version":1,"start":"deals","limit":%d}`, i+1)))
		require.NoError(t, err)
		bytes, _, _ := d.answers.size()
		require.LessOrEqual(t, bytes, int64(300_000))
	}
	_, answers, _ := d.answers.size()
	require.Greater(t, answers, 3)
	require.NoError(t, s.Write(ctx, func(w *store.Writer) error { return w.Change("deals", 1, store.Record{"name": "Renamed"}) }))
	_, err := d.Ask(ctx, who, ask(t, `{"version":1,"start":"deals"}`))
	require.NoError(t, err)
	_, answers, _ = d.answers.size()
	require.LessOrEqual(t, answers, 2, "those over older records are gone")
}

// Settings that cannot be read leave in force what was; of two reads, the one that began later wins; what was changed is
// read again by itself.
func TestSettingsStayInForce(t *testing.T) {
	d, s := open(t)
	ctx, admin := context.Background(), Person{ID: 2, Role: Administrator}
	require.NoError(t, d.SetSees(ctx, admin, "deals", engine.SeesOwn, 0))
	read := d.sees.read
	d.sees.read = func(context.Context) (*map[string]engine.Sees, error) {
		return &map[string]engine.Sees{}, errors.New("no")
	}
	require.Error(t, d.sees.refresh(ctx))
	require.Equal(t, engine.SeesOwn, d.Sees()["deals"], "a failed read limits nobody less")
	require.NoError(t, d.SetSees(ctx, admin, "deals", engine.SeesTeam, 1), "what was changed is changed")
	require.Equal(t, engine.SeesOwn, d.Sees()["deals"])
	kept, err := s.Sees(ctx)
	require.NoError(t, err)
	require.Equal(t, "team", kept["deals"])
	d.sees.read = read
	watching, stop := context.WithCancel(ctx)
	defer stop()
	go d.Watch(watching, time.Millisecond)
	require.Eventually(t, func() bool { return d.Sees()["deals"] == engine.SeesTeam }, 5*time.Second, time.Millisecond)
	gone, leave := context.WithCancel(ctx)
	leave()
	require.NoError(t, d.sees.refresh(gone), "whoever asked has gone, what was asked holds")

	// A slow older read does not put back what a newer one replaced.
	n := 0
	f := inForce[int]{}
	slow := make(chan struct{})
	f.read = func(context.Context) (*int, error) {
		n++
		v := n
		if v == 1 {
			<-slow
		}
		return &v, nil
	}
	done := make(chan error)
	go func() { done <- f.refresh(ctx) }()
	time.Sleep(10 * time.Millisecond)
	go func() { done <- f.refresh(ctx) }()
	time.Sleep(10 * time.Millisecond)
	close(slow)
	require.NoError(t, errors.Join(<-done, <-done))
	require.Equal(t, 2, *f.now())
}

// A small question waits for none of those that ask large ones, however many they are.
func TestSmallQuestionsAmongLargeOnes(t *testing.T) {
	d, _ := open(t)
	ctx, stop := context.WithCancel(context.Background())
	defer stop()
	small := func() time.Duration {
		var all []time.Duration
		for i := range 15 {
			began := time.Now()
			_, err := d.Ask(ctx, Person{ID: 1, Role: Composer}, ask(t, fmt.Sprintf(`{"version":1,"start":"deals","filter":{"field":"value","is":"over","values":["%d"]},"groups":[{"field":"stage"}]}`, time.Now().Nanosecond()+i)))
			require.NoError(t, err)
			all = append(all, time.Since(began))
		}
		return middle(all)
	}
	alone := small()
	heavy := strings.TrimSuffix(strings.Repeat("value * 3 - value / 7 + ", 60), "+ ")
	var hostile sync.WaitGroup
	for p := range 8 {
		hostile.Add(1)
		go func() {
			defer hostile.Done()
			for i := 0; ctx.Err() == nil; i++ {
				own := ""
				for k := range 20 {
					own += fmt.Sprintf(`{"key":"x%d","formula":"%s + %d"},`, k, heavy, i)
				}
				_, err := d.Ask(ctx, Person{ID: int64(20 + p), Role: Reader}, ask(t, `{"version":1,"start":"deals","own":[`+strings.TrimSuffix(own, ",")+`],"summaries":[{"key":"s","fn":"sum","of":"own.x0"},{"key":"t","fn":"sum","of":"own.x19"}]}`))
				if err != nil && ctx.Err() == nil {
					t.Error(err)
					return
				}
			}
		}()
	}
	time.Sleep(200 * time.Millisecond)
	among := small()
	stop()
	hostile.Wait()
	t.Logf("alone %v, among large ones %v", alone, among)
	require.Less(t, among, 3*alone+300*time.Millisecond)
}

func middle(list []time.Duration) time.Duration {
	for i := range list {
		for j := i; j > 0 && list[j] < list[j-1]; j-- {
			list[j], list[j-1] = list[j-1], list[j]
		}
	}
	return list[len(list)/2]
}
