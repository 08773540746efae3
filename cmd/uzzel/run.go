package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"time"

	"github.com/spf13/cobra"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/engine"
	"uzzel/core/period"
	"uzzel/core/schema"
	"uzzel/internal/exchange"
)

type runFlags struct{ data, today, as, view, format string }

func runCommand() *cobra.Command {
	var f runFlags
	c := &cobra.Command{Use: "run BRIEF.json --data DIR", Short: "Run a report from a file (docs/brief.md)", Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error { return run(cmd.Context(), args[0], f, os.Stdout) }}
	c.Flags().StringVar(&f.data, "data", "", "folder of CSV files and settings.json")
	c.Flags().StringVar(&f.today, "today", "", "the day to run on, 2026-05-14; the real one by default")
	c.Flags().StringVar(&f.as, "as", "", "id of the person who reads")
	c.Flags().StringVar(&f.view, "view", "summary", "records, summary or totals")
	c.Flags().StringVar(&f.format, "format", "csv", "csv or json")
	return c
}

func run(ctx context.Context, file string, f runFlags, out io.Writer) error {
	if f.view != "records" && f.view != "summary" && f.view != "totals" {
		return fmt.Errorf("--view is records, summary or totals, not %q", f.view)
	}
	if f.format != "csv" && f.format != "json" {
		return fmt.Errorf("--format is csv or json, not %q", f.format)
	}
	data, err := os.ReadFile(file)
	if err != nil {
		return err
	}
	snap, err := openFolder(f.data)
	if err != nil {
		return err
	}
	today := snap.Cal.Today(time.Now())
	if f.today != "" {
		if today, err = period.ParseDay(f.today); err != nil {
			return fmt.Errorf("--today: %w", err)
		}
	}
	b, err := brief.Decode(data)
	if err != nil {
		return exitError{2, err}
	}
	bound, err := brief.Bind(b, snap.Schema)
	if err != nil {
		return exitError{2, err}
	}
	lines, err := view(ctx, snap, bound, engine.Options{Today: today, Reader: f.as}, f.view)
	var bad brief.Problems
	if errors.As(err, &bad) || errors.Is(err, engine.ErrReader) {
		return exitError{2, err}
	}
	if err != nil {
		return err
	}
	if f.format == "json" {
		return exchange.WriteJSON(out, lines)
	}
	_, err = exchange.WriteCSV(out, lines, false)
	return err
}

func openFolder(dir string) (*column.Snapshot, error) {
	if dir == "" {
		return nil, fmt.Errorf("--data names the folder with the records")
	}
	folder := exchange.Folder{Dir: dir}
	set, err := folder.Settings()
	if err != nil {
		return nil, err
	}
	s, err := schema.New(set)
	if err != nil {
		return nil, err
	}
	return column.NewSnapshot(s, folder), nil
}

func view(ctx context.Context, snap *column.Snapshot, b *brief.Bound, opts engine.Options, view string) (engine.Lines, error) {
	if view == "records" {
		if len(b.Parts) > 1 {
			return engine.Lines{}, fmt.Errorf("a report of several parts has no list of records")
		}
		l, err := engine.List(ctx, snap, b, opts)
		if err != nil {
			return engine.Lines{}, err
		}
		return l.Lines(), nil
	}
	r, err := engine.Run(ctx, snap, b, opts)
	if err != nil {
		return engine.Lines{}, err
	}
	if view == "totals" {
		return r.Totals(), nil
	}
	return r.Summary(), nil
}
