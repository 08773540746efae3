package main

import (
	"context"
	"errors"
	"fmt"
	"io"

	"github.com/spf13/cobra"

	"uzzel/internal/store"
	"uzzel/internal/transfer"
)

func exportCommand() *cobra.Command {
	return transferCommand(
		"export DIR|ZIP --db FILE",
		"Take everything out, as a folder of CSV files with settings, or as one zip of it",
		func(ctx context.Context, s *store.Store, dir string, _ io.Writer) ([]transfer.Counted, error) {
			if transfer.IsZip(dir) {
				return transfer.OutZip(ctx, s, dir)
			}
			return transfer.Out(ctx, s, dir)
		},
	)
}

func importCommand() *cobra.Command {
	return transferCommand(
		"import DIR|ZIP --db FILE",
		"Bring a folder of CSV files, or a zip of one, in: whole into a new or empty data file, else each as the last with its columns was",
		func(ctx context.Context, s *store.Store, dir string, out io.Writer) ([]transfer.Counted, error) {
			if transfer.IsZip(dir) {
				return transfer.InZip(ctx, s, dir)
			}
			counts, err := transfer.In(ctx, s, dir)
			if errors.Is(err, transfer.ErrInUse) {
				return nil, again(ctx, s, dir, out)
			}
			return counts, err
		},
	)
}

// transferCommand moves an organisation between a folder and a data file, and prints how many records of each type.
func transferCommand(
	use, short string,
	move func(context.Context, *store.Store, string, io.Writer) ([]transfer.Counted, error),
) *cobra.Command {
	var db string
	c := &cobra.Command{
		Use:   use,
		Short: short,
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) (err error) {
			s, err := store.Open(db)
			if err != nil {
				return err
			}
			defer func() { err = errors.Join(err, s.Close()) }()
			counts, err := move(cmd.Context(), s, args[0], cmd.OutOrStdout())
			if err != nil {
				return err
			}
			for _, n := range counts {
				if _, err := fmt.Fprintf(cmd.OutOrStdout(), "%8d %s\n", n.N, n.Type); err != nil {
					return err
				}
			}
			return nil
		},
	}
	dataFile(c, &db, ours)
	return c
}
