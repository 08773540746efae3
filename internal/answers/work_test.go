package answers_test

import (
	"context"
	"errors"
	"fmt"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/period"
	"uzzel/core/schema"
	"uzzel/internal/app"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

// open is the application over a company of some people and two thousand deals.
func open(t *testing.T) (*app.App, *store.Store) {
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
	d, err := app.New(s, func() int32 { return period.Day(2026, 5, 14) }, nil)
	require.NoError(t, err)
	return d, s
}

func ask(t *testing.T, text string) *brief.Brief {
	t.Helper()
	b, err := brief.Decode([]byte(text))
	require.NoError(t, err)
	return b
}

// What was answered is kept for who asks the same, and let go of as soon as someone asks of newer records.
func TestAnswersOverOlderRecordsAreForgotten(t *testing.T) {
	d, s := open(t)
	ctx, who := context.Background(), people.Person{ID: 1, Role: people.Composer}
	for range 2 {
		for i := range 20 {
			_, err := d.View(who).List(ctx, ask(t, fmt.Sprintf(`{"version":1,"start":"deals","limit":%d}`, i+1)))
			require.NoError(t, err)
		}
	}
	load := d.Answers.Load()
	require.Equal(t, 20, load.CacheAnswers)
	require.EqualValues(t, 20, load.CacheHits)
	require.Positive(t, load.CacheBytes)
	before := d.View(who)
	require.NoError(t, s.Write(ctx, func(w *store.Writer) error { return w.Change("deals", 1, store.Record{"name": "Renamed"}) }))
	_, err := d.View(who).Ask(ctx, ask(t, `{"version":1,"start":"deals"}`))
	require.NoError(t, err)
	require.LessOrEqual(t, d.Answers.Load().CacheAnswers, 2, "those over older records are gone")
	list, err := before.List(ctx, ask(t, `{"version":1,"start":"deals","columns":[{"field":"name"}],"order":[{"field":"id"}],"limit":1}`))
	require.NoError(t, err)
	page, err := list.Page(ctx, 0, 1)
	require.NoError(t, err)
	require.Equal(t, "Deal 0", page.Texts[0][0], "a view sees what it was taken of")
	require.LessOrEqual(t, d.Answers.Load().CacheAnswers, 2, "nothing over older records is kept")
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
			_, err := d.View(people.Person{ID: 1, Role: people.Composer}).Ask(ctx, ask(t, fmt.Sprintf(`{"version":1,"start":"deals","filter":{"field":"value","is":"over","values":["%d"]},"groups":[{"field":"stage"}]}`, time.Now().Nanosecond()+i)))
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
				_, err := d.View(people.Person{ID: int64(20 + p), Role: people.Reader}).Ask(ctx, ask(t, `{"version":1,"start":"deals","own":[`+strings.TrimSuffix(own, ",")+`],"summaries":[{"key":"s","fn":"sum","of":"own.x0"},{"key":"t","fn":"sum","of":"own.x19"}]}`))
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
