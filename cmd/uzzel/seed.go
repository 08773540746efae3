package main

import (
	"errors"
	"fmt"
	"time"

	"github.com/spf13/cobra"

	"uzzel/core/period"
	"uzzel/internal/demo"
	"uzzel/internal/store"
)

func seedCommand() *cobra.Command {
	var deals int
	var db, today string
	c := &cobra.Command{
		Use:   "seed --deals N --db FILE",
		Short: "Make a data file of any size, for measuring",
		Args:  cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) (err error) {
			day := period.Day(time.Now().Date())
			if today != "" {
				if day, err = period.ParseDay(today); err != nil {
					return fmt.Errorf("--today: %w", err)
				}
			}
			s, err := store.Open(db)
			if err != nil {
				return err
			}
			defer func() { err = errors.Join(err, s.Close()) }()
			name, err := s.Organisation(cmd.Context())
			if err != nil {
				return err
			}
			if name != "" {
				return fmt.Errorf("%s holds the records of %s already", db, name)
			}
			return demo.Seed(cmd.Context(), s, deals, day, func(what string) { fmt.Println("making", what) })
		},
	}
	c.Flags().IntVar(&deals, "deals", 100_000, "how many deals")
	c.Flags().StringVar(&db, "db", "data/seed.db", "data file")
	c.Flags().StringVar(&today, "today", "", "the day the data leads up to")
	return c
}
