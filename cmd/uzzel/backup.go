package main

import (
	"fmt"

	"github.com/spf13/cobra"

	"uzzel/internal/store"
)

func backupCommand() *cobra.Command {
	var db string
	c := &cobra.Command{
		Use:   "backup FILE --db FILE",
		Short: "Copy the data file, also while the server runs, and look the copy over",
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			if err := store.Backup(cmd.Context(), db, args[0]); err != nil {
				return err
			}
			_, err := fmt.Fprintf(
				cmd.OutOrStdout(),
				"%s is a sound copy. To bring it back, stop the server and put it in the place of %s.\n",
				args[0],
				db,
			)
			return err
		},
	}
	dataFile(c, &db, ours)
	return c
}
