// Command working measures how long work on records takes at the size of a data file: opening a list, a key in its search,
// a record's time line, an edit in place, a change of 10,000 records. It works on a copy of the file.
package main

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"time"

	"uzzel/bench/scratch"
	"uzzel/core/brief"
	"uzzel/internal/answers"
	"uzzel/internal/diary"
	"uzzel/internal/people"
	"uzzel/internal/records"
)

func main() { scratch.Main(measure) }

func measure(path string) error {
	a, s, err := scratch.App(path)
	if err != nil {
		return err
	}
	defer func() { _ = s.Close() }()
	ctx := context.Background()
	view := func() *answers.View { return a.View(people.Person{ID: 1, Role: people.Administrator}) }
	list := func(b *brief.Brief) error {
		l, err := view().List(ctx, b)
		if err != nil {
			return err
		}
		_, err = l.Page(ctx, 0, min(200, l.Len()))
		return err
	}
	deals := func(text string) *brief.Brief {
		v := view()
		return &brief.Brief{
			Version: brief.Version,
			Part:    brief.Part{Start: "deals", Filter: brief.Holding(v.Snap.Schema, v.Snap.Schema.Type("deals"), text)},
			Order:   []brief.Order{{Field: "created", Desc: true}},
		}
	}
	if err := list(deals("")); err != nil { // the columns are loaded when first asked for
		return err
	}
	if err := list(deals("a")); err != nil {
		return err
	}
	id := int64(1000)
	value := 0
	edit := func() error {
		id, value = id+1, value+1
		_, err := a.Records.Change(
			ctx,
			view(),
			"deals",
			[]records.Edit{{ID: id, Values: records.Values{"value": strconv.Itoa(value)}}},
		)
		return err
	}
	words := []string{"f", "fu", "fue", "fuel", "fuel k", "fuel ke", "fuel kel", "walkway", "marina 12", "corrie fuel"}
	n := 0
	for _, m := range []struct {
		name string
		runs int
		do   func() error
	}{
		{"list open, first rows", 20, func() error {
			if err := edit(); err != nil { // so that nothing is answered from what was kept
				return err
			}
			return list(deals(""))
		}},
		{"a key in its search", 30, func() error {
			n++
			return list(deals(words[n%len(words)] + []string{"", " a", " e"}[n/len(words)%3]))
		}},
		{"a record's time line", 30, func() error {
			id++
			_, err := a.Diary.Read(ctx, view(), diary.Ref{Type: "deals", ID: id}, diary.Asked{})
			return err
		}},
		{"an edit in place", 30, edit},
	} {
		var took []time.Duration
		for range m.runs {
			began := time.Now()
			if err := m.do(); err != nil {
				return fmt.Errorf("%s: %w", m.name, err)
			}
			took = append(took, time.Since(began))
		}
		slices.Sort(took)
		fmt.Printf("%-28s median %6.1f ms, p95 %6.1f ms\n", m.name, ms(took[len(took)/2]), ms(took[len(took)*95/100]))
	}
	ids := make([]int64, records.MostMany)
	for i := range ids {
		ids[i] = int64(i + 1)
	}
	began := time.Now()
	many, err := a.Records.ChangeMany(ctx, view(), "deals", ids, records.Values{"source": "Tender"}, false)
	if err != nil {
		return err
	}
	fmt.Printf(
		"%-28s %d of %d changed in %.1f s\n",
		"10,000 at once",
		len(many.Done.Changed),
		len(ids),
		time.Since(began).Seconds(),
	)
	return nil
}

func ms(d time.Duration) float64 { return float64(d.Microseconds()) / 1000 }
