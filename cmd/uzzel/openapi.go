package main

import (
	"os"

	"github.com/spf13/cobra"

	"uzzel/internal/httpapi"
)

func openapiCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "openapi",
		Short: "Print the API's OpenAPI document",
		Args:  cobra.NoArgs,
		RunE: func(*cobra.Command, []string) error {
			doc, err := httpapi.Spec()
			if err == nil {
				_, err = os.Stdout.Write(doc)
			}
			return err
		},
	}
}
