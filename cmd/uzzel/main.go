// Command uzzel serves the application, runs briefs from files and makes demo data.
package main

import (
	"errors"
	"fmt"
	"os"

	"github.com/spf13/cobra"
)

// exitError carries an exit code other than 1.
type exitError struct {
	code int
	err  error
}

func (e exitError) Error() string { return e.err.Error() }

func main() {
	root := &cobra.Command{
		Use:           "uzzel",
		Short:         "Reports over customers, deals and activities",
		SilenceUsage:  true,
		SilenceErrors: true,
	}
	root.AddCommand(
		serveCommand(),
		demoCommand(),
		runCommand(),
		seedCommand(),
		doctorCommand(),
		openapiCommand(),
		adminCommand(),
		exportCommand(),
		importCommand(),
		backupCommand(),
		mailboxCommand(),
		boardCommand(),
	)
	if err := root.Execute(); err != nil {
		fmt.Fprintln(os.Stderr, "uzzel:", err)
		var exit exitError
		if errors.As(err, &exit) {
			os.Exit(exit.code)
		}
		os.Exit(1)
	}
}
