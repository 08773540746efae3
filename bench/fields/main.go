// Command fields measures what fields of an organisation's own cost at a million deals: how much later the first answer
// comes with twenty of them, and a question over one beside the same question over a field that comes with the program.
package main

import (
	"context"
	"database/sql"
	"errors"
	"flag"
	"fmt"
	"os"
	"slices"
	"time"

	_ "github.com/mattn/go-sqlite3"

	"uzzel/bench/scratch"
	"uzzel/core/brief"
	"uzzel/core/engine"
	"uzzel/core/period"
	"uzzel/core/schema"
	"uzzel/internal/store"
)

func main() {
	file := flag.String("db", ".cache/bench-1000000.db", "a file made by uzzel seed; it is not changed")
	runs := flag.Int("runs", 9, "measured runs of each question, after one to warm up")
	flag.Parse()
	if err := measure(*file, *runs); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

func measure(file string, runs int) error {
	path, away, err := scratch.Copy(file)
	if err != nil {
		return err
	}
	return errors.Join(compare(path, runs), away())
}

const (
	builtIn = `{"version":1,"start":"deals","groups":[{"field":"kind"}],"summaries":[{"key":"n","fn":"count"},{"key":"v","fn":"sum","of":"value"}]}`
	own     = `{"version":1,"start":"deals","groups":[{"field":"own_choice_1"}],"summaries":[{"key":"n","fn":"count"},{"key":"v","fn":"sum","of":"own_money_1"}]}`
)

func compare(path string, runs int) error {
	// The first opening brings the file up to date, and into the memory of the system.
	if _, _, err := first(path, 1, builtIn); err != nil {
		return err
	}
	before, _, err := first(path, runs, builtIn)
	if err != nil {
		return err
	}
	if err := add(path); err != nil {
		return err
	}
	if _, _, err := first(path, 1, builtIn); err != nil {
		return err
	}
	after, times, err := first(path, runs, builtIn, own)
	if err != nil {
		return err
	}
	fmt.Printf("first answer, no field of one's own   %8.0f ms\n", ms(before))
	fmt.Printf("first answer, twenty of them          %8.0f ms   ×%.2f\n", ms(after), ms(after)/ms(before))
	fmt.Printf("a question over fields built in       %8.1f ms\n", ms(times[0]))
	fmt.Printf("the same over fields of one's own     %8.1f ms   ×%.2f\n", ms(times[1]), ms(times[1])/ms(times[0]))
	return nil
}

func ms(d time.Duration) float64 { return float64(d.Microseconds()) / 1000 }

// first opens a file and asks: how long until the first answer, and how long each question takes then.
func first(path string, runs int, questions ...string) (until time.Duration, times []time.Duration, err error) {
	ctx, begun := context.Background(), time.Now()
	s, err := store.Open(path)
	if err != nil {
		return 0, nil, err
	}
	defer func() { err = errors.Join(err, s.Close()) }()
	ask := func(text string) error {
		b, err := brief.Decode([]byte(text))
		if err != nil {
			return err
		}
		bound, err := brief.Bind(b, s.Schema())
		if err != nil {
			return err
		}
		_, err = engine.Run(ctx, s.Snapshot(), bound, engine.Options{Today: period.Day(2026, 5, 14)})
		return err
	}
	if err := ask(questions[0]); err != nil {
		return 0, nil, err
	}
	until = time.Since(begun)
	for _, q := range questions {
		var took []time.Duration
		for i := range runs + 1 {
			at := time.Now()
			if err := ask(q); err != nil {
				return 0, nil, err
			}
			if i > 0 {
				took = append(took, time.Since(at))
			}
		}
		slices.Sort(took)
		times = append(times, took[len(took)/2])
	}
	return until, times, nil
}

// add gives deals twenty fields of one's own, filled like those that are built in.
func add(path string) (err error) {
	ctx := context.Background()
	s, err := store.Open(path)
	if err != nil {
		return err
	}
	fields, sets := map[string]schema.AdditionField{}, ""
	for _, k := range []struct {
		kind schema.Kind
		n    int
		sql  string
	}{
		{schema.Choice, 5, "kind"}, {schema.Text, 3, "'text ' || id % 5000"}, {schema.Number, 4, "id % 1000 * 1000000"},
		{schema.Money, 4, "value"}, {schema.Date, 3, "expected_close"}, {schema.YesNo, 1, "id % 2"},
	} {
		for i := range k.n {
			key := fmt.Sprintf("own_%s_%d", k.kind, i+1)
			fields[key] = schema.AdditionField{Kind: k.kind, Order: len(fields)}
			sets += fmt.Sprintf(`, "%s" = %s`, key, k.sql)
		}
	}
	err = s.Reshape(ctx, 0, func(_ *store.Writer, set *schema.Settings) error {
		set.Types = map[string]schema.Addition{"deals": {Fields: fields}}
		return nil
	})
	if err = errors.Join(err, s.Close()); err != nil {
		return err
	}
	db, err := sql.Open("sqlite3", path)
	if err != nil {
		return err
	}
	_, err = db.ExecContext(ctx, "UPDATE deals SET "+sets[2:])
	return errors.Join(err, db.Close())
}
