package main

import (
	"context"
	"errors"
	"fmt"

	"github.com/spf13/cobra"

	"uzzel/internal/store"
	"uzzel/internal/transfer"
)

func exportCommand() *cobra.Command {
	return transferCommand(
		"export DIR --db FILE",
		"Take everything out, as a folder of CSV files with settings",
		transfer.Out,
	)
}

func importCommand() *cobra.Command {
	return transferCommand(
		"import DIR --db FILE",
		"Bring a folder of CSV files with settings into a new or empty data file",
		transfer.In,
	)
}

// transferCommand moves an organisation between a folder and a data file, and prints how many records of each type.
func transferCommand(
	use, short string,
	move func(context.Context, *store.Store, string) ([]transfer.Counted, error),
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
			counts, err := move(cmd.Context(), s, args[0])
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
