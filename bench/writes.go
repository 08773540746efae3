package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"sync/atomic"
	"time"

	"uzzel/core/column"
	"uzzel/internal/store"
)

// updates changes single records of a copy of the file while reports run, and prints how long each took.
func updates(file string, n int) error {
	dir, err := os.MkdirTemp("", "bench")
	if err != nil {
		return err
	}
	defer func() { _ = os.RemoveAll(dir) }()
	to := filepath.Join(dir, "copy.db")
	if err := copyFile(file, to); err != nil {
		return err
	}
	s, err := store.Open(to)
	if err != nil {
		return err
	}
	defer func() { _ = s.Close() }()
	q := questions()[1]
	ctx := context.Background()
	alone, err := times(20, func() error { _, err := ask(ctx, s.Snapshot(), q); return err })
	if err != nil {
		return err
	}
	deals, err := s.Snapshot().Table("deals")
	if err != nil {
		return err
	}
	var stop atomic.Bool
	var reports []time.Duration
	done := make(chan error, 1)
	go func() {
		for !stop.Load() {
			start := time.Now()
			if _, err := ask(ctx, s.Snapshot(), q); err != nil {
				done <- err
				return
			}
			reports = append(reports, time.Since(start))
		}
		done <- nil
	}()
	random := rand.New(rand.NewPCG(1, 2))
	var writes []time.Duration
	for i := range n {
		id, err := strconv.ParseInt(deals.IDs.At(random.Int32N(int32(deals.N))), 10, 64)
		if err != nil {
			return err
		}
		start := time.Now()
		if err := s.Write(ctx, func(w *store.Writer) error {
			return w.Change("deals", id, store.Record{"value": strconv.Itoa(1000 + i)})
		}); err != nil {
			return err
		}
		writes = append(writes, time.Since(start))
	}
	stop.Store(true)
	if err := <-done; err != nil {
		return err
	}
	fmt.Printf(
		"\n%d single-record updates while a report (%s) runs again and again:\n\n| | median ms | 99 of 100 | longest |\n|---|---:|---:|---:|\n",
		n,
		q.name,
	)
	for _, row := range []struct {
		what string
		list []time.Duration
	}{{"an update, with its history, on disk and in the columns", writes}, {fmt.Sprintf("the report meanwhile (alone %.1f ms)", ms(alone)), reports}} {
		slices.Sort(row.list)
		fmt.Printf(
			"| %s | %.1f | %.1f | %.1f |\n",
			row.what,
			ms(row.list[len(row.list)/2]),
			ms(row.list[len(row.list)*99/100]),
			ms(row.list[len(row.list)-1]),
		)
	}
	return nil
}

func copyFile(from, to string) (err error) {
	in, err := os.Open(from)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, in.Close()) }()
	out, err := os.Create(to)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, out.Close()) }()
	_, err = io.Copy(out, in)
	return err
}

// stopping ends runs of the heaviest question at different moments and prints how long they took to end.
func stopping(snap *column.Snapshot) error {
	q := questions()[6]
	var list []time.Duration
	for i := range 40 {
		ctx, cancel := context.WithCancel(context.Background())
		ended := make(chan time.Time, 1)
		failed := make(chan error, 1)
		go func() {
			_, err := ask(ctx, snap, q)
			ended <- time.Now()
			failed <- err
		}()
		time.Sleep(time.Duration(2*i) * time.Millisecond)
		at := time.Now()
		cancel()
		end := <-ended
		if err := <-failed; err != nil && !errors.Is(err, context.Canceled) {
			return err
		} else if err != nil {
			list = append(list, end.Sub(at))
		}
	}
	if len(list) == 0 {
		return fmt.Errorf("no run was stopped")
	}
	slices.Sort(list)
	fmt.Printf(
		"\nA run is stopped within %.1f ms of its context ending (median %.1f ms, %d runs of %q stopped at different moments).\n",
		ms(list[len(list)-1]),
		ms(list[len(list)/2]),
		len(list),
		q.name,
	)
	return nil
}

// growth asks the questions of files of other sizes and prints how their cost grows.
func growth(files []string, runs int) error {
	type column struct {
		deals int
		ms    []float64
		first time.Duration
		all   time.Duration
		bytes int64
		rows  int
	}
	var sizes []column
	for _, f := range files {
		start := time.Now()
		s, err := store.Open(f)
		if err != nil {
			return err
		}
		snap := s.Snapshot()
		c := column{}
		for i, q := range questions() {
			if i == 1 {
				c.first = time.Since(start)
				if err := loadAll(snap); err != nil {
					return err
				}
				c.all = time.Since(start)
			}
			if _, err := ask(context.Background(), snap, q); err != nil {
				return err
			}
		}
		for _, q := range questions() {
			d, err := times(runs, func() error { _, err := ask(context.Background(), snap, q); return err })
			if err != nil {
				return err
			}
			c.ms = append(c.ms, ms(d))
		}
		t, err := snap.Table("deals")
		if err != nil {
			return err
		}
		c.deals, c.bytes, c.rows = t.N, snap.Bytes(), snap.Rows()
		sizes = append(sizes, c)
		if err := s.Close(); err != nil {
			return err
		}
	}
	fmt.Printf("\nHow cost grows, in ms (and in ms per 100,000 deals):\n\n| question |")
	for _, c := range sizes {
		fmt.Printf(" %d deals |", c.deals)
	}
	fmt.Print("\n|---|")
	for range sizes {
		fmt.Print("---:|")
	}
	for i, q := range questions() {
		fmt.Printf("\n| %s |", q.name)
		for _, c := range sizes {
			fmt.Printf(" %.1f (%.2f) |", c.ms[i], c.ms[i]*1e5/float64(c.deals))
		}
	}
	fmt.Print("\n| first answer after opening, s |")
	for _, c := range sizes {
		fmt.Printf(" %.1f |", c.first.Seconds())
	}
	fmt.Print("\n| all tables after opening, s |")
	for _, c := range sizes {
		fmt.Printf(" %.1f |", c.all.Seconds())
	}
	fmt.Print("\n| columns, MB (bytes a record) |")
	for _, c := range sizes {
		fmt.Printf(" %d (%d) |", c.bytes>>20, c.bytes/int64(c.rows))
	}
	fmt.Println()
	return nil
}
