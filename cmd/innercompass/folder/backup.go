package folder

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"time"

	"github.com/spf13/cobra"

	"innercompass/cmd/innercompass/cli"
	"innercompass/internal/app"
	"innercompass/internal/backup"
	"innercompass/internal/store"
)

func backupCmd() *cobra.Command {
	var dir, to, file string
	var all, without bool
	c := &cobra.Command{Use: "backup --data DIR --to FILE", Short: "Write the whole data folder into one file, while the app runs", Args: cli.Exactly(0), RunE: func(c *cobra.Command, _ []string) error {
		if to == "" {
			return cli.Usage("--to FILE is needed: a file that there is not yet, such as /mnt/backup/compass.tar")
		}
		var secret *backup.Secret
		if !without {
			phrase, err := cli.Passphrase(c, file, "Passphrase of the backup")
			if err != nil {
				return err
			}
			if len([]rune(phrase)) < backup.ShortestPassphrase {
				return cli.Usage("the passphrase has %d characters, and a backup's has at least %d; --passphrase-file reads it from a file, --without-keys leaves the keys out and everything readable", len([]rune(phrase)), backup.ShortestPassphrase)
			}
			if secret, err = backup.NewSecret(phrase); err != nil {
				return err
			}
		}
		return within(c, dir, func(ctx context.Context, a *app.App) error {
			out, err := os.OpenFile(to, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
			if err != nil {
				return err
			}
			m, err := backup.Write(ctx, out, a.Backup.Source, backup.Options{Secret: secret, All: all})
			err = errors.Join(err, out.Sync(), out.Close())
			if err == nil {
				err = backup.Look(ctx, to, dir, store.CheckFolder)
			}
			if err != nil {
				return errors.Join(err, os.Remove(to))
			}
			info, err := os.Stat(to)
			if err != nil {
				return err
			}
			fmt.Fprintf(c.OutOrStdout(), "%s: %d entries, %.1f MB. It was unpacked into a scratch folder and is good.\n", to, len(m.Entries), float64(info.Size())/1e6)
			return nil
		})
	}}
	f := c.Flags()
	f.StringVar(&dir, "data", "", "data folder")
	f.StringVar(&to, "to", "", "file to write")
	f.StringVar(&file, "passphrase-file", "", "file with the passphrase; without it is asked for, or read from standard input")
	f.BoolVar(&all, "encrypt", false, "encrypt everything, not the keys alone")
	f.BoolVar(&without, "without-keys", false, "leave the keys out: records that were signed cannot be confirmed after a restore, links that are out open nothing")
	return c
}

func restoreCmd() *cobra.Command {
	var dir, file string
	c := &cobra.Command{Use: "restore FILE --data DIR", Short: "Put a backup in the place of a data folder; what was there is kept under another name", Args: cli.Exactly(1), RunE: func(c *cobra.Command, args []string) error {
		if dir == "" {
			return cli.Usage("--data DIR is needed: where the backup is put")
		}
		m, err := backup.ReadManifest(args[0])
		if err != nil {
			return err
		}
		how := backup.Reading{}
		if m.Keys || m.Encrypted {
			if how.Passphrase, err = cli.Passphrase(c, file, "Passphrase of the backup"); err != nil {
				return err
			}
		}
		release, err := store.Hold(dir)
		if err != nil {
			return err
		}
		defer release()
		m, kept, err := backup.Restore(c.Context(), args[0], filepath.Clean(dir), how, time.Now(), func(at string) error { return store.CheckFolder(c.Context(), at) })
		if err != nil {
			return fmt.Errorf("%w\n%s is as it was", err, dir)
		}
		fmt.Fprintf(c.OutOrStdout(), "%s holds what was there on %s, %d files.\n", dir, m.At.Local().Format("2 January 2006, 15:04"), len(m.Entries))
		if kept != "" {
			fmt.Fprintf(c.OutOrStdout(), "What was there before is kept in %s.\n", kept)
		}
		if !m.Keys {
			fmt.Fprintln(c.OutOrStdout(), "It came without keys: others are made at the next start. Records that were issued are not confirmed by them.")
		}
		return nil
	}}
	c.Flags().StringVar(&dir, "data", "", "data folder")
	c.Flags().StringVar(&file, "passphrase-file", "", "file with the passphrase; without it is asked for, or read from standard input")
	return c
}
