package main

import (
	"errors"
	"fmt"
	"os"

	"github.com/spf13/cobra"

	"innercompass/cmd/innercompass/cli"
	"innercompass/internal/app"
	"innercompass/internal/records"
	"innercompass/internal/store"
)

// recordCmd compares records with the digests that they carry.
func recordCmd() *cobra.Command {
	c := &cobra.Command{Use: "record", Short: "Customers' records", Args: cli.Exactly(0), RunE: func(c *cobra.Command, _ []string) error { return c.Help() }}
	var data string
	verify := &cobra.Command{Use: "verify FILE", Short: "Compare a record's open file with the digest that it carries, and with what a data folder keeps", Args: cli.Exactly(1), RunE: func(c *cobra.Command, args []string) error {
		file, err := os.ReadFile(args[0])
		if err != nil {
			return err
		}
		v, err := records.VerifyFile(file)
		if err != nil {
			return err
		}
		if data != "" && v.Whole {
			if _, err := os.Stat(data); err != nil {
				return err // do not make a folder where one was only mistyped
			}
			st, err := store.Open(data)
			if err != nil {
				return err
			}
			defer st.Close()
			if v, err = app.New(st, nil).Records.VerifyFile(c.Context(), file); err != nil {
				return err
			}
		}
		if !v.Whole {
			return errors.New(v.Says())
		}
		fmt.Fprintf(c.OutOrStdout(), "%s\nRecord %s of %s, %s, %s\n", v.Says(), v.Content.Number, v.Content.At.Format("2 January 2006"), v.Content.Vehicle, v.Digest)
		return nil
	}}
	verify.Flags().StringVar(&data, "data", "", "data folder in which the record should be kept")
	c.AddCommand(verify)
	return c
}
