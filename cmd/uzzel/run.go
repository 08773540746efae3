package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"runtime"
	"slices"
	"strconv"
	"time"

	"github.com/spf13/cobra"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/engine"
	"uzzel/core/period"
	"uzzel/core/result"
	"uzzel/core/schema"
	"uzzel/core/table"
	"uzzel/internal/answers"
	"uzzel/internal/exchange"
	"uzzel/internal/people"
	"uzzel/internal/printing"
	"uzzel/internal/store"
)

type runFlags struct {
	data, db, today, as, view, format string
	check, say, stats                 bool
}

func runCommand() *cobra.Command {
	var f runFlags
	c := &cobra.Command{
		Use:   "run BRIEF.json --data DIR",
		Short: "Run a report from a file (docs/brief.md)",
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			return run(cmd.Context(), args[0], f, os.Stdout, os.Stderr)
		},
	}
	c.Flags().StringVar(&f.data, "data", "", "folder of CSV files and settings.json")
	c.Flags().StringVar(&f.db, "db", "", "the application's data file, instead of a folder")
	c.Flags().StringVar(&f.today, "today", "", "the day to run on, 2026-05-14; the real one by default")
	c.Flags().StringVar(&f.as, "as", "", "id of the person who reads")
	c.Flags().StringVar(&f.view, "view", "summary", "records, summary, totals or moves")
	c.Flags().StringVar(&f.format, "format", "csv", "csv, json or xlsx; svg, png or pdf for a picture of it")
	c.Flags().BoolVar(&f.check, "check", false, "only check the brief")
	c.Flags().BoolVar(&f.say, "say", false, "only say the brief as a sentence")
	c.Flags().BoolVar(&f.stats, "stats", false, "tell rows read, times and memory on standard error")
	return c
}

// stats are the steps of a run and how long each took.
type stats struct {
	last  time.Time
	steps []string
}

func (s *stats) step(name string) {
	now := time.Now()
	s.steps = append(s.steps, fmt.Sprintf("%s %.1f ms", name, float64(now.Sub(s.last).Microseconds())/1000))
	s.last = now
}

func run(ctx context.Context, file string, f runFlags, out, notes io.Writer) (err error) {
	if f.view != "records" && f.view != "summary" && f.view != "totals" && f.view != "moves" {
		return fmt.Errorf("--view is records, summary, totals or moves, not %q", f.view)
	}
	painted := slices.Contains(printing.Formats, f.format)
	if f.format != "csv" && f.format != "json" && f.format != "xlsx" && !painted {
		return fmt.Errorf("--format is csv, json, xlsx, svg, png or pdf, not %q", f.format)
	}
	st := &stats{last: time.Now()}
	data, err := os.ReadFile(file)
	if err != nil {
		return err
	}
	snap, sees, done, err := openRecords(ctx, f)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, done()) }()
	today := snap.Cal.Today(time.Now())
	if f.today != "" {
		if today, err = period.ParseDay(f.today); err != nil {
			return fmt.Errorf("--today: %w", err)
		}
	}
	st.step("open")
	b, err := brief.Decode(data)
	if err != nil {
		return exitError{2, err}
	}
	bound, err := brief.Bind(b, snap.Schema)
	if err != nil {
		return exitError{2, err}
	}
	st.step("check")
	sight := engine.NewSight(snap, f.as, sees)
	sentence := func() brief.Sentence {
		return brief.SayTo(bound, today, func(typ, id string) string {
			return snap.NameOf(typ, id, func(row int32) bool { return sight.Sees(typ, row) })
		}, brief.Listener{Limited: sight.Limited})
	}
	switch {
	case f.check:
		return nil
	case f.say:
		_, err := fmt.Fprintln(out, sentence().String())
		return err
	}
	opts := engine.Options{Today: today, Reader: f.as, Sees: sees, Sight: sight}
	if painted {
		err := paint(ctx, snap, bound, opts, f, sentence(), out)
		var bad brief.Problems
		if errors.As(err, &bad) || errors.Is(err, engine.ErrReader) {
			return exitError{2, err}
		}
		return err
	}
	lines, leftOut, err := view(ctx, snap, bound, opts, f.view)
	var bad brief.Problems
	if errors.As(err, &bad) || errors.Is(err, engine.ErrReader) {
		return exitError{2, err}
	}
	if err != nil {
		return err
	}
	st.step("load and run")
	if said := bound.LeftOut(leftOut); said != "" {
		if _, err := fmt.Fprintln(notes, brief.Capital(said)+"."); err != nil {
			return err
		}
	}
	switch f.format {
	case "json":
		err = exchange.WriteJSON(out, lines.Table())
	case "xlsx":
		err = exchange.WriteXLSX(
			out,
			table.Plain(lines.Table()),
			exchange.Workbook{About: [][2]string{{"Sentence", sentence().String()}}},
		)
	default:
		_, err = exchange.WriteCSV(out, lines.Table(), false)
	}
	st.step("write")
	if f.stats && err == nil {
		err = tell(notes, snap, st, len(lines.Rows))
	}
	return err
}

// tell writes the statistics of a run.
func tell(w io.Writer, snap *column.Snapshot, st *stats, lines int) error {
	var mem runtime.MemStats
	runtime.ReadMemStats(&mem)
	if _, err := fmt.Fprintf(w, "%d rows read, %d lines; ", snap.Rows(), lines); err != nil {
		return err
	}
	for _, s := range st.steps {
		if _, err := fmt.Fprint(w, s, "; "); err != nil {
			return err
		}
	}
	_, err := fmt.Fprintf(
		w,
		"columns %.1f MB, heap %.1f MB\n",
		float64(snap.Bytes())/(1<<20),
		float64(mem.HeapAlloc)/(1<<20),
	)
	return err
}

// openRecords opens the folder or the data file that a run reads. From a data file, and as someone, what that person
// may see is read; as nobody, all of it, for whoever can read the file can read it all.
func openRecords(ctx context.Context, f runFlags) (*column.Snapshot, map[string]engine.Sees, func() error, error) {
	switch {
	case (f.data == "") == (f.db == ""):
		return nil, nil, nil, fmt.Errorf("--data names the folder with the records, or --db the application's data file")
	case f.db != "":
		if _, err := os.Stat(f.db); err != nil {
			return nil, nil, nil, err
		}
		s, err := store.Open(f.db)
		if err != nil {
			return nil, nil, nil, err
		}
		sees, snap := map[string]engine.Sees{}, s.Snapshot()
		if f.as != "" {
			kept, err := answers.ReadSees(ctx, s)
			if err != nil {
				return nil, nil, nil, errors.Join(err, s.Close())
			}
			id, _ := strconv.ParseInt(f.as, 10, 64)
			who := people.Person{ID: id, TeamID: people.TeamOf(snap, id)}
			account, err := s.Account(ctx, id)
			if err != nil && !errors.Is(err, store.ErrNotFound) {
				return nil, nil, nil, errors.Join(err, s.Close())
			}
			who.Role = account.Role
			sees, snap = kept.Of(who), snap.For(who.Rank())
		}
		return snap, sees, s.Close, nil
	}
	folder := exchange.Folder{Dir: f.data}
	set, err := folder.Settings()
	if err != nil {
		return nil, nil, nil, err
	}
	s, err := schema.New(set)
	if err != nil {
		return nil, nil, nil, err
	}
	return column.NewSnapshot(s, folder), nil, func() error { return nil }, nil
}

func view(
	ctx context.Context,
	snap *column.Snapshot,
	b *brief.Bound,
	opts engine.Options,
	view string,
) (lines result.Lines, leftOut int64, err error) {
	if view == "moves" {
		m, err := engine.RunMoves(ctx, snap, b, opts)
		if err != nil {
			return result.Lines{}, 0, err
		}
		return m.Lines(), 0, nil
	}
	if view == "records" {
		if len(b.Parts) > 1 {
			return result.Lines{}, 0, fmt.Errorf("a report of several parts has no list of records")
		}
		l, err := engine.List(ctx, snap, b, opts)
		if err != nil {
			return result.Lines{}, 0, err
		}
		lines, err := l.Lines(ctx)
		return lines, l.Unrated, err
	}
	r, err := engine.Run(ctx, snap, b, opts)
	if err != nil {
		return result.Lines{}, 0, err
	}
	if view == "totals" {
		return r.Totals(), r.Unrated, nil
	}
	return r.Summary(), r.Unrated, nil
}
