package main

import (
	"context"
	"errors"
	"fmt"
	"os"

	"github.com/emersion/go-smtp"
	"github.com/spf13/cobra"

	"uzzel/internal/mail"
)

func mailboxCommand() *cobra.Command {
	var addr string
	c := &cobra.Command{
		Use:   "mailbox DIR",
		Short: "Stand in for a server for mail: keep all mails as files, and pass none on",
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			if err := os.MkdirAll(args[0], 0o700); err != nil {
				return err
			}
			box := mail.Box(args[0])
			box.Addr = addr
			if _, err := fmt.Fprintf(cmd.OutOrStdout(), "Mails to %s are kept in %s\n", addr, args[0]); err != nil {
				return err
			}
			stop := context.AfterFunc(cmd.Context(), func() { _ = box.Close() })
			defer stop()
			if err := box.ListenAndServe(); !errors.Is(err, smtp.ErrServerClosed) {
				return err
			}
			return nil
		},
	}
	c.Flags().StringVar(&addr, "addr", "127.0.0.1:2525", "where to listen")
	return c
}
