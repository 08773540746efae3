package main

import (
	"errors"
	"fmt"
	"strings"

	"github.com/spf13/cobra"

	"uzzel/internal/app"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

// adminCommand is what whoever runs the server can do about getting in, who need not be someone who signs in.
func adminCommand() *cobra.Command {
	c := &cobra.Command{Use: "admin", Short: "Look after who can sign in, from the server itself"}
	var db, address string
	invite := &cobra.Command{
		Use:   "invite EMAIL",
		Short: "Print a one-time address: for the set-up, or for an administrator who cannot get in",
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) (err error) {
			s, err := store.Open(db)
			if err != nil {
				return err
			}
			defer func() { err = errors.Join(err, s.Close()) }()
			a, err := application(s)
			if err != nil {
				return err
			}
			key, err := a.SetUp.Key(cmd.Context())
			if err != nil {
				return err
			}
			page := "begin"
			if key == "" {
				page = "key"
				if key, err = administratorKey(cmd, a, args[0]); err != nil {
					return err
				}
			}
			_, err = fmt.Fprintf(
				cmd.OutOrStdout(),
				"Open this address once:\n  %s/%s#%s\n",
				strings.TrimRight(address, "/"),
				page,
				key,
			)
			return err
		},
	}
	dataFile(invite, &db, ours)
	invite.Flags().StringVar(
		&address,
		"url",
		env("URL", "http://127.0.0.1:8080"),
		"address that people reach the server at (or URL)",
	)
	c.AddCommand(invite)
	return c
}

// administratorKey makes the key to another password of an administrator.
func administratorKey(cmd *cobra.Command, a *app.App, email string) (string, error) {
	list, err := a.People.Accounts(cmd.Context())
	if err != nil {
		return "", err
	}
	for _, p := range list {
		if strings.EqualFold(p.Email, email) && p.Administers() {
			return a.People.NewKey(cmd.Context(), people.ResetKey, p.ID)
		}
	}
	return "", fmt.Errorf("no administrator has the address %s", email)
}

// application is the application over a store, for a command: nothing is served.
func application(s *store.Store) (*app.App, error) {
	clock, err := app.Clock(s, "")
	if err != nil {
		return nil, err
	}
	return app.New(s, clock, nil)
}
