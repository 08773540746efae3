// Command bench measures the engine at a million deals against the same questions as SQL on the same file, with the
// indexes that a careful person would add. It prints a table with ratios; make bench makes the file once.
package main

import (
	"context"
	"database/sql"
	"flag"
	"fmt"
	"math"
	"os"
	"runtime"
	"runtime/pprof"
	"slices"
	"strings"
	"time"

	_ "github.com/mattn/go-sqlite3"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/engine"
	"uzzel/core/period"
	"uzzel/internal/store"
)

var day = period.Day(2026, 5, 14)

// question is one that is asked of both.
type question struct {
	name, brief, sql string
	list             bool
}

const open = `(stage IN ('Enquiry','Site survey','Design','Offer sent','Contract review','Due','Renewal sent'))`

func questions() []question {
	d := func(n int32) string { return fmt.Sprint(day + n) }
	from, to := fmt.Sprint(period.Day(2026, 4, 1)), fmt.Sprint(period.Day(2026, 6, 30))
	sec := func(n int32) string { return fmt.Sprint(int64(day+n)*86400 - 3600) } // Lisbon is an hour ahead in May
	return []question{
		{
			name:  "deals by stage in one quarter",
			brief: `{"version":1,"start":"deals","period":{"field":"expected_close","within":"this_quarter"},"groups":[{"field":"stage"}],"summaries":[{"key":"n","fn":"count"},{"key":"v","fn":"sum","of":"value"}]}`,
			sql:   `SELECT stage, COUNT(*), SUM(value) FROM deals WHERE expected_close BETWEEN ` + from + ` AND ` + to + ` GROUP BY stage`,
		},
		{
			name:  "month × stage over all",
			brief: `{"version":1,"start":"deals","groups":[{"field":"created","by":"month"}],"across":[{"field":"stage"}],"summaries":[{"key":"n","fn":"count"},{"key":"v","fn":"sum","of":"value"}]}`,
			sql:   `SELECT strftime('%Y-%m', created, 'unixepoch'), stage, COUNT(*), SUM(value) FROM deals GROUP BY 1, 2`,
		},
		{
			name:  "segment × stage through a link",
			brief: `{"version":1,"start":"deals","groups":[{"field":"customer.segment"}],"across":[{"field":"stage"}],"summaries":[{"key":"n","fn":"count"},{"key":"v","fn":"sum","of":"value"}]}`,
			sql:   `SELECT c.segment, d.stage, COUNT(*), SUM(d.value) FROM deals d LEFT JOIN customers c ON c.id = d.customer GROUP BY 1, 2`,
		},
		{
			name:  "top six customers by won value, and Other",
			brief: `{"version":1,"start":"deals","filter":{"field":"status","is":"any_of","values":["won"]},"groups":[{"field":"customer","top":{"n":6,"by":"v"}}],"summaries":[{"key":"v","fn":"sum","of":"value"}]}`,
			sql: `WITH t AS (SELECT customer, SUM(value) v FROM deals WHERE stage IN ('Ordered','Renewed') GROUP BY customer), k AS (SELECT customer FROM t ORDER BY v DESC LIMIT 6)
			 SELECT CASE WHEN customer IN (SELECT customer FROM k) THEN customer END, SUM(v) FROM t GROUP BY 1`,
		},
		{
			name: "open, large, closing in 60 days, no call in 21 days, first 200",
			list: true,
			brief: `{"version":1,"start":"deals","period":{"field":"expected_close","within":{"next":60,"unit":"day"}},"filter":{"all":[{"field":"status","is":"any_of","values":["open"]},{"field":"value","is":"over","values":["40000"]},
			 {"link":"activities","is":"none","where":{"all":[{"field":"kind","is":"any_of","values":["Call"]},{"field":"happens","is":"within","period":{"last":21,"unit":"day"}}]}}]},
			 "columns":[{"field":"name"},{"field":"customer.name"},{"field":"value"}],"order":[{"field":"value","desc":true}],"limit":200}`,
			sql: `SELECT d.name, (SELECT name FROM customers c WHERE c.id = d.customer), d.value FROM deals d WHERE expected_close BETWEEN ` + d(
				0,
			) + ` AND ` + d(
				59,
			) + ` AND ` + open + ` AND value > 4000000
			 AND NOT EXISTS (SELECT 1 FROM activities a WHERE a.deal = d.id AND a.kind = 'Call' AND a.happens >= ` + sec(
				-20,
			) + ` AND a.happens < ` + sec(
				1,
			) + `) ORDER BY value DESC, id LIMIT 200`,
		},
		{
			name:  "activities by owner × kind in 30 days",
			brief: `{"version":1,"start":"activities","period":{"field":"happens","within":{"last":30,"unit":"day"}},"groups":[{"field":"owner"}],"across":[{"field":"kind"}]}`,
			sql: `SELECT owner, kind, COUNT(*) FROM activities WHERE happens >= ` + sec(
				-29,
			) + ` AND happens < ` + sec(
				1,
			) + ` GROUP BY 1, 2`,
		},
		{
			name:  "deals with activities by kind, each deal once",
			brief: `{"version":1,"start":"deals","bring":{"link":"activities"},"groups":[{"field":"activities.kind"}],"summaries":[{"key":"n","fn":"count"},{"key":"v","fn":"sum","of":"value"}]}`,
			sql:   `SELECT kind, COUNT(*), SUM(value) FROM (SELECT DISTINCT a.kind, d.id, d.value FROM deals d LEFT JOIN activities a ON a.deal = d.id) GROUP BY kind`,
		},
		{
			name:  "four summaries with a median over two groups",
			brief: `{"version":1,"start":"deals","groups":[{"field":"customer.segment"},{"field":"stage"}],"summaries":[{"key":"n","fn":"count"},{"key":"v","fn":"sum","of":"value"},{"key":"a","fn":"average","of":"value"},{"key":"m","fn":"median","of":"value"}]}`,
			sql: `SELECT g, stage, COUNT(*), SUM(value), AVG(value), AVG(CASE WHEN r IN ((c + 1) / 2, (c + 2) / 2) THEN value END) FROM
			 (SELECT c.segment g, d.stage, d.value, ROW_NUMBER() OVER (PARTITION BY c.segment, d.stage ORDER BY d.value) r, COUNT(d.value) OVER (PARTITION BY c.segment, d.stage) c FROM deals d LEFT JOIN customers c ON c.id = d.customer) GROUP BY 1, 2`,
		},
		{
			name:  "name contains, sorted by value, first 200",
			list:  true,
			brief: `{"version":1,"start":"deals","filter":{"field":"name","is":"contains","values":["eider"]},"columns":[{"field":"name"},{"field":"value"}],"order":[{"field":"value","desc":true}],"limit":200}`,
			sql:   `SELECT name, value FROM deals WHERE name LIKE '%eider%' ORDER BY value DESC, id LIMIT 200`,
		},
	}
}

var indexes = []string{
	"CREATE INDEX IF NOT EXISTS bench_close ON deals (expected_close, stage, value)",
	"CREATE INDEX IF NOT EXISTS bench_stage ON deals (stage, customer, value)",
	"CREATE INDEX IF NOT EXISTS bench_happens ON activities (happens, owner, kind)",
	"CREATE INDEX IF NOT EXISTS bench_deal ON activities (deal, kind, happens)",
	"ANALYZE",
}

func main() {
	file := flag.String("db", ".cache/bench-1000000.db", "a file made by uzzel seed")
	runs := flag.Int("runs", 5, "measured runs of each question, after one to warm up")
	noSQL := flag.Bool("engine", false, "measure the engine alone")
	only := flag.String("only", "", "measure only questions whose name contains this")
	grow := flag.String("grow", "", "files of other sizes, with commas between, to show how cost grows")
	profile := flag.String("profile", "", "write a processor profile of the measured questions to this file")
	flag.Parse()
	if err := bench(*file, *runs, !*noSQL, *only, *profile); err != nil {
		fail(err)
	}
	if *only == "" {
		if err := updates(*file, 10_000); err != nil {
			fail(err)
		}
	}
	if *grow != "" {
		if err := growth(strings.Split(*grow, ","), *runs); err != nil {
			fail(err)
		}
	}
}

func fail(err error) {
	fmt.Fprintln(os.Stderr, "bench:", err)
	os.Exit(1)
}

func median(list []time.Duration) time.Duration {
	slices.Sort(list)
	return list[len(list)/2]
}

func times(runs int, do func() error) (time.Duration, error) {
	var list []time.Duration
	for i := range runs + 1 {
		start := time.Now()
		if err := do(); err != nil {
			return 0, err
		}
		if i > 0 {
			list = append(list, time.Since(start))
		}
	}
	return median(list), nil
}

func ms(d time.Duration) float64 { return float64(d.Microseconds()) / 1000 }

func bench(file string, runs int, withSQL bool, only, profile string) error {
	ctx := context.Background()
	start := time.Now()
	s, err := store.Open(file)
	if err != nil {
		return err
	}
	defer func() { _ = s.Close() }()
	snap := s.Snapshot()
	list := slices.DeleteFunc(questions(), func(q question) bool { return !strings.Contains(q.name, only) })
	if _, err := ask(ctx, snap, list[0]); err != nil {
		return err
	}
	first := time.Since(start)
	if err := loadAll(snap); err != nil {
		return err
	}
	all := time.Since(start)
	for _, q := range list {
		if _, err := ask(ctx, snap, q); err != nil {
			return fmt.Errorf("%s: %w", q.name, err)
		}
	}
	var mem runtime.MemStats
	runtime.GC()
	runtime.ReadMemStats(&mem)
	fmt.Printf(
		"%d processors. First answer %.1f s after opening, all tables after %.1f s; columns take %d MB, the heap %d MB.\n\n",
		runtime.GOMAXPROCS(0),
		first.Seconds(),
		all.Seconds(),
		snap.Bytes()>>20,
		mem.HeapAlloc>>20,
	)

	db, err := sql.Open("sqlite3", "file:"+file+"?_journal_mode=WAL&cache=shared")
	if err != nil {
		return err
	}
	defer func() { _ = db.Close() }()
	if withSQL {
		for _, q := range indexes {
			if _, err := db.Exec(q); err != nil {
				return err
			}
		}
		if _, err := db.Exec("PRAGMA cache_size = -2000000"); err != nil {
			return err
		}
	}
	fmt.Printf("| question | engine ms | SQL ms | ratio | lines |\n|---|---:|---:|---:|---:|\n")
	product, n := 1.0, 0
	if profile != "" {
		out, err := os.Create(profile)
		if err != nil {
			return err
		}
		if err := pprof.StartCPUProfile(out); err != nil {
			return err
		}
		defer pprof.StopCPUProfile()
	}
	for _, q := range list {
		lines := 0
		e, err := times(runs, func() (err error) { lines, err = ask(ctx, snap, q); return err })
		if err != nil {
			return err
		}
		if !withSQL {
			fmt.Printf("| %s | %.1f | | | %d |\n", q.name, ms(e), lines)
			continue
		}
		d, err := times(max(1, runs/3), func() error { return drain(db, q.sql) })
		if err != nil {
			return fmt.Errorf("%s: %w", q.name, err)
		}
		ratio := float64(d) / float64(e)
		product, n = product*ratio, n+1
		fmt.Printf("| %s | %.1f | %.0f | %.1f | %d |\n", q.name, ms(e), ms(d), ratio, lines)
	}
	if n > 0 {
		fmt.Printf("\nGeometric mean of the ratios: %.1f\n", math.Pow(product, 1/float64(n)))
	}
	if only == "" {
		return stopping(snap)
	}
	return nil
}

func loadAll(snap *column.Snapshot) error {
	for _, t := range []string{"customers", "deals", "activities"} {
		if _, err := snap.Table(t); err != nil {
			return err
		}
	}
	return nil
}

func ask(ctx context.Context, snap *column.Snapshot, q question) (int, error) {
	b, err := brief.Decode([]byte(q.brief))
	if err != nil {
		return 0, err
	}
	bound, err := brief.Bind(b, snap.Schema)
	if err != nil {
		return 0, err
	}
	opts := engine.Options{Today: day}
	if q.list {
		l, err := engine.List(ctx, snap, bound, opts)
		if err != nil {
			return 0, err
		}
		lines, err := l.Lines(ctx)
		return len(lines.Rows), err
	}
	r, err := engine.Run(ctx, snap, bound, opts)
	if err != nil {
		return 0, err
	}
	return len(r.Summary().Rows), nil
}

func drain(db *sql.DB, q string) error {
	rows, err := db.Query(q)
	if err != nil {
		return err
	}
	defer func() { _ = rows.Close() }()
	for rows.Next() {
	}
	return rows.Err()
}
