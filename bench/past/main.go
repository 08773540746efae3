// Command past measures how long the state of an earlier day and what moved since take at the size of a data file, beside
// the same question of today, with four million changes. It works on a copy of the file.
package main

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"slices"
	"time"

	"uzzel/bench/scratch"
	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/engine"
	"uzzel/core/period"
	"uzzel/internal/store"
)

func main() { scratch.Main(measure) }

// today is the day that the file was made for.
var today = period.Day(2026, 5, 14)

// history writes four changes of each deal, over the two years before today: of value, stage, expected close and owner.
const history = `
INSERT INTO changes (record_type, record, field, "from", "to", at, person)
SELECT 'deals', id, f.field, f.was, coalesce(f.now, stage), %d - abs(random() %% 63072000), 1 + abs(random() %% 10)
FROM deals, (SELECT 'value' AS field, '1250.00' AS was, '1300.00' AS now UNION ALL SELECT 'stage', 'Enquiry', NULL
  UNION ALL SELECT 'expected_close', '2026-03-01', '2026-06-30' UNION ALL SELECT 'owner', '3', '4') f ORDER BY random()`

func measure(path string) error {
	s, err := store.Open(path) // brings the file up to date
	if err != nil {
		return err
	}
	if err := s.Close(); err != nil {
		return err
	}
	pool, err := sql.Open("sqlite3", path)
	if err != nil {
		return err
	}
	_, err = pool.Exec(fmt.Sprintf(history, period.New(time.UTC, time.Monday, 1).StartOf(today)))
	if err := errors.Join(err, pool.Close()); err != nil {
		return err
	}
	if s, err = store.Open(path); err != nil {
		return err
	}
	defer func() { _ = s.Close() }()
	ctx := context.Background()
	if err := s.Warm(ctx); err != nil {
		return err
	}
	snap := s.Snapshot()
	table, err := snap.Table("changes")
	if err != nil {
		return err
	}
	fmt.Printf("%d changes\n", table.N)
	const open = `{"version":1,"start":"deals","filter":{"all":[{"field":"status","is":"any_of","values":["open"]}]},"period":{"field":"expected_close","within":"this_quarter"},"groups":[{"field":"owner"}],"summaries":[{"key":"n","fn":"count"},{"key":"t","fn":"sum","of":"value"}]%s}`
	for _, q := range []struct {
		name, more string
		moves      bool
	}{
		{"today", "", false},
		{"as of last week, first", `,"asOf":"last_week"`, false},
		{"as of last week, again", `,"asOf":"last_week"`, false},
		{"as of half a year ago, first", `,"asOf":{"ago":6,"unit":"month"}`, false},
		{"as of half a year ago, again", `,"asOf":{"ago":6,"unit":"month"}`, false},
		{"what moved since last week", `,"since":"last_week"`, true},
		{"what moved since half a year, to last month", `,"since":{"ago":6,"unit":"month"},"asOf":"last_month"`, true},
	} {
		times := 5
		if slices.Contains([]string{"as of last week, first", "as of half a year ago, first"}, q.name) {
			times = 1
		}
		took, err := asked(ctx, snap, fmt.Sprintf(open, q.more), q.moves, times)
		if err != nil {
			return err
		}
		fmt.Printf("%-45s %8.1f ms\n", q.name, took)
	}
	if err := onward(ctx, snap); err != nil {
		return err
	}
	return over(ctx, snap, fmt.Sprintf(open, ""))
}

// onward measures how deals went on from stage to stage, of a quarter and of all that the history has.
func onward(ctx context.Context, snap *column.Snapshot) error {
	for name, groups := range map[string]string{"": "", ", by owner": `,"groups":[{"field":"owner"}]`} {
		b, err := brief.Decode([]byte(`{"version":1,"start":"deals"` + groups + `}`))
		if err != nil {
			return err
		}
		bound, err := brief.Bind(b, snap.Schema)
		if err != nil {
			return err
		}
		for span, days := range map[string]int32{"a quarter": 91, "two years": 730} {
			var list []float64
			for range 5 {
				began := time.Now()
				_, err := engine.RunPassages(ctx, snap, bound, engine.Options{Today: today, Reader: "1"},
					period.Span{From: today - days, To: today, HasFrom: true, HasTo: true})
				if err != nil {
					return err
				}
				list = append(list, float64(time.Since(began).Microseconds())/1000)
			}
			slices.Sort(list)
			fmt.Printf("%-45s %8.1f ms\n", "from stage to stage, "+span+name, list[2])
		}
	}
	return nil
}

// over measures how a report stood at the end of each of ninety days, of all its records and of those of one period.
func over(ctx context.Context, snap *column.Snapshot, within string) error {
	var days []int32
	for day := today - 89; day <= today; day++ {
		days = append(days, day)
	}
	for name, text := range map[string]string{
		"open, this quarter, by owner": within,
		"open, by stage":               `{"version":1,"start":"deals","filter":{"all":[{"field":"status","is":"any_of","values":["open"]}]},"groups":[{"field":"stage"}],"summaries":[{"key":"n","fn":"count"},{"key":"t","fn":"sum","of":"value"}]}`,
	} {
		b, err := brief.Decode([]byte(text))
		if err != nil {
			return err
		}
		bound, err := brief.Bind(b, snap.Schema)
		if err != nil {
			return err
		}
		var list []float64
		for range 5 {
			began := time.Now()
			o, err := engine.RunOver(ctx, snap, bound, engine.Options{Today: today, Reader: "1"}, days)
			if err != nil {
				return err
			}
			if !o.Swept {
				return fmt.Errorf("%s: not worked out at once", name)
			}
			list = append(list, float64(time.Since(began).Microseconds())/1000)
		}
		slices.Sort(list)
		fmt.Printf("ninety days: %-32s %8.1f ms\n", name, list[2])
	}
	return nil
}

// asked is how long a question takes, in milliseconds, the middle of some times.
func asked(ctx context.Context, snap *column.Snapshot, text string, moves bool, times int) (float64, error) {
	b, err := brief.Decode([]byte(text))
	if err != nil {
		return 0, err
	}
	bound, err := brief.Bind(b, snap.Schema)
	if err != nil {
		return 0, err
	}
	var list []float64
	for range times {
		began := time.Now()
		opts := engine.Options{Today: today, Reader: "1"}
		if moves {
			_, err = engine.RunMoves(ctx, snap, bound, opts)
		} else {
			_, err = engine.Run(ctx, snap, bound, opts)
		}
		if err != nil {
			return 0, err
		}
		list = append(list, float64(time.Since(began).Microseconds())/1000)
	}
	slices.Sort(list)
	return list[len(list)/2], nil
}
