package folder

import (
	"encoding/json"
	"errors"
	"fmt"
	"os"

	"github.com/spf13/cobra"

	"innercompass/cmd/innercompass/cli"
	"innercompass/internal/app"
	"innercompass/internal/records"
	"innercompass/internal/signing"
	"innercompass/internal/store"
)

// recordCmd compares records with the digests that they carry.
func recordCmd() *cobra.Command {
	c := &cobra.Command{Use: "record", Short: "Customers' records", Args: cli.Exactly(0), RunE: func(c *cobra.Command, _ []string) error { return c.Help() }}
	var data, keys string
	verify := &cobra.Command{Use: "verify FILE", Short: "Is this page, PDF or file of a record genuine: by the shop's public keys, or by what a data folder keeps", Args: cli.Exactly(1), RunE: func(c *cobra.Command, args []string) error {
		file, err := os.ReadFile(args[0])
		if err != nil {
			return err
		}
		v, err := records.VerifyFile(file)
		if err != nil {
			return err
		}
		if keys != "" {
			trusted, err := readKeys(keys)
			if err != nil {
				return err
			}
			v = v.By(trusted)
		}
		if data != "" && v.Whole {
			if _, err := os.Stat(data); err != nil {
				return err // do not make a folder where one was only mistyped
			}
			st, err := store.Beside(data)
			if err != nil {
				return err
			}
			defer st.Close()
			if v, err = app.New(st, nil).Records.VerifyFile(c.Context(), file); err != nil {
				return err
			}
		}
		if !v.Whole || (keys != "" || data != "") && !v.Ours && !v.Kept {
			return errors.New(v.Says())
		}
		if v.Printed {
			fmt.Fprintln(c.OutOrStdout(), v.Says())
			return nil
		}
		fmt.Fprintf(c.OutOrStdout(), "%s\nRecord %s of %s, %s, %s\n", v.Says(), v.Content.Number, v.Content.At.Format("2 January 2006"), v.Content.Vehicle, v.Digest)
		return nil
	}}
	verify.Flags().StringVar(&data, "data", "", "data folder in which the record should be kept")
	verify.Flags().StringVar(&keys, "keys", "", "file with the shop's public keys, as the app writes it at /api/shop-key")
	c.AddCommand(verify)
	return c
}

// readKeys reads the shop's public keys: those that can be walked to from the first.
func readKeys(path string) ([]signing.Key, error) {
	text, err := os.ReadFile(path)
	if err != nil {
		return nil, err
	}
	var f struct {
		Keys []signing.Key `json:"keys"`
	}
	if err := json.Unmarshal(text, &f); err != nil || len(f.Keys) == 0 {
		return nil, fmt.Errorf("%s holds no keys; accepted: the file that the app writes at /api/shop-key", path)
	}
	return signing.Trusted(f.Keys, f.Keys[0].Public), nil
}
