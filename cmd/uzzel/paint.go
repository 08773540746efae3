package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"strconv"

	"github.com/spf13/cobra"

	"uzzel/core/brief"
	"uzzel/core/chart"
	"uzzel/core/column"
	"uzzel/core/engine"
	"uzzel/internal/answers"
	"uzzel/internal/app"
	"uzzel/internal/printing"
	"uzzel/internal/store"
)

// paint writes a picture of what a brief is answered.
func paint(
	ctx context.Context,
	snap *column.Snapshot,
	b *brief.Bound,
	opts engine.Options,
	f runFlags,
	sentence brief.Sentence,
	out io.Writer,
) error {
	w := chart.Writer{Currency: snap.Schema.Settings.Currency, Cal: snap.Cal, NameOf: func(typ, id string) string {
		return snap.NameOf(typ, id, func(row int32) bool { return opts.Sight.Sees(typ, row) })
	}}
	said := []string{"on " + brief.DayWords(opts.Today)}
	var pr *printing.Print
	switch f.view {
	case "moves":
		m, err := engine.RunMoves(ctx, snap, b, opts)
		if err != nil {
			return err
		}
		pr = printing.Moved("What moved", answers.TellMoves(w, opts.Today, sentence, b, m), said...)
	default:
		r, err := engine.Run(ctx, snap, b, opts)
		if err != nil {
			return err
		}
		a := printing.Answered{Brief: b.Brief, Result: r, Writer: w, Drawing: chart.Draw(r, b.Brief.Chart, w)}
		a.List = func(ctx context.Context, most int) (*engine.Records, *engine.Page, error) {
			l, err := engine.List(ctx, snap, b, opts)
			if err != nil {
				return nil, nil, err
			}
			page, err := l.Read(ctx, nil, 0, min(l.Len(), most))
			return l, page, err
		}
		if pr, err = a.Print(ctx, "", sentence.String(), said...); err != nil {
			return err
		}
	}
	p := printing.New(nil, nil)
	data, err := p.Picture(ctx, pr, printing.Look{Format: f.format})
	if err == nil {
		_, err = out.Write(data)
	}
	return err
}

func boardCommand() *cobra.Command {
	var db, as, today, format string
	c := &cobra.Command{
		Use:   "board ID --db FILE --as PERSON",
		Short: "Write a dashboard on pages, as a person sees it, to standard output",
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			return writeBoard(cmd.Context(), args[0], db, as, today, format, os.Stdout)
		},
	}
	c.Flags().StringVar(&db, "db", "", "the application's data file")
	c.Flags().StringVar(&as, "as", "", "id of the person who reads")
	c.Flags().StringVar(&today, "today", "", "the day to run on, 2026-05-14; the real one by default")
	c.Flags().StringVar(&format, "format", "pdf", "pdf")
	return c
}

func writeBoard(ctx context.Context, id, db, as, today, format string, out io.Writer) (err error) {
	number, err := strconv.ParseInt(id, 10, 64)
	if err != nil {
		return exitError{2, fmt.Errorf("a dashboard is named by its number, not %q", id)}
	}
	person, err := strconv.ParseInt(as, 10, 64)
	if err != nil {
		return exitError{
			2,
			errors.New("--as names the person who reads, by number: a dashboard is seen through somebody’s eyes"),
		}
	}
	if format != "pdf" {
		return exitError{2, fmt.Errorf("--format is pdf, not %q", format)}
	}
	if _, err := os.Stat(db); err != nil {
		return err
	}
	s, err := store.Open(db)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, s.Close()) }()
	clock, err := app.Clock(s, today)
	if err != nil {
		return exitError{2, err}
	}
	a, err := app.New(s, clock, nil)
	if err != nil {
		return err
	}
	who, err := a.People.Who(ctx, person)
	if err != nil {
		return err
	}
	pr, err := a.Printer.Board(ctx, a.View(who), number, nil)
	if err != nil {
		return err
	}
	data, err := a.Printer.Picture(ctx, pr, printing.Look{Format: format})
	if err == nil {
		_, err = out.Write(data)
	}
	return err
}
