// Command bringin measures how long a file takes to be brought in, how much memory that takes, and how much slower reports
// are answered meanwhile.
package main

import (
	"bytes"
	"context"
	"errors"
	"flag"
	"fmt"
	"os"
	"path/filepath"
	"runtime"
	"slices"
	"time"

	"uzzel/core/brief"
	"uzzel/core/period"
	"uzzel/internal/answers"
	"uzzel/internal/app"
	"uzzel/internal/bringin"
	"uzzel/internal/demo"
	"uzzel/internal/store"
)

func main() {
	lines := flag.Int("lines", 100_000, "deals in the file")
	flag.Parse()
	if err := measure(*lines); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

const question = `{"version":1,"start":"deals","groups":[{"field":"customer.segment"}],"across":[{"field":"stage"}],"summaries":[{"key":"n","fn":"count"},{"key":"v","fn":"sum","of":"value"}]}`

func measure(lines int) (err error) {
	ctx := context.Background()
	dir, err := os.MkdirTemp("", "bringin")
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, os.RemoveAll(dir)) }()
	path, day := filepath.Join(dir, "demo.db"), period.Day(2026, 5, 14)
	if _, err := demo.Ensure(ctx, path, day, 1); err != nil {
		return err
	}
	s, err := store.Open(path)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, s.Close()) }()
	a, err := app.New(s, func() int32 { return day }, nil)
	if err != nil {
		return err
	}
	who, err := a.People.Who(ctx, 1)
	if err != nil {
		return err
	}
	var file bytes.Buffer
	file.WriteString("Subject;Customer;Amount;Close date;Stage;Source\n")
	for i := range lines {
		fmt.Fprintf(&file, "Pier %d;%d;%d,50;%02d.%02d.2026;Enquiry;Referral\n", i, i%400+1, i%9000, i%28+1, i%12+1)
	}
	v := a.View(who)
	id, _, err := a.BringIn.Take(v, "deals.csv", file.Bytes())
	if err != nil {
		return err
	}
	p, _, err := a.BringIn.Guess(ctx, v, id, "deals")
	if err != nil {
		return err
	}
	before, err := asked(ctx, a.View(who), 200)
	if err != nil {
		return err
	}
	start, most := time.Now(), heap()
	if err := a.BringIn.Start(ctx, v, id, p); err != nil {
		return err
	}
	base := most
	var during []time.Duration
	for {
		took, err := asked(ctx, a.View(who), 1)
		if err != nil {
			return err
		}
		during = append(during, took)
		most = max(most, heap())
		now, err := a.BringIn.Progress(v, id)
		if err != nil {
			return err
		}
		switch now.Phase {
		case bringin.Failed, bringin.Stopped:
			return errors.Join(errors.New(now.Phase), now.Err)
		case bringin.Done:
			slices.Sort(during)
			fmt.Printf("%d lines: %.1f s, %d refused, at most %d MB more memory\n", lines, time.Since(start).Seconds(),
				len(now.Outcome.Refused), (most-base)>>20)
			middle := during[len(during)/2]
			fmt.Printf("a report meanwhile: %.1f ms, alone %.1f ms, ×%.2f\n", ms(middle), ms(before), ms(middle)/ms(before))
			return nil
		}
		time.Sleep(20 * time.Millisecond)
	}
}

func ms(d time.Duration) float64 { return float64(d.Microseconds()) / 1000 }

func heap() uint64 {
	var m runtime.MemStats
	runtime.ReadMemStats(&m)
	return m.HeapAlloc
}

// asked is how long a question takes, in the middle of some times that it is asked.
func asked(ctx context.Context, v *answers.View, times int) (time.Duration, error) {
	var took []time.Duration
	for i := range times {
		b, err := brief.Decode([]byte(question))
		if err != nil {
			return 0, err
		}
		// Another limit each time, so that no kept answer is given.
		limit := i + 1 + int(time.Now().UnixNano()%100_000)
		b.Limit = &limit
		at := time.Now()
		if _, err := v.Ask(ctx, b); err != nil {
			return 0, err
		}
		took = append(took, time.Since(at))
	}
	slices.Sort(took)
	return took[len(took)/2], nil
}
