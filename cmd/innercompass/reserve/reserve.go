// Package reserve holds the commands of a second machine that is kept ready. Their database is read and written by the replication library's own SQLite: nothing
// of the app's store is opened in the same process, but for the last look at a folder that was promoted, which a process of its own takes.
package reserve

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"os"
	"os/exec"
	"os/signal"
	"path/filepath"
	"syscall"
	"time"

	"github.com/spf13/cobra"

	"innercompass/cmd/innercompass/cli"
	"innercompass/internal/backup"
	"innercompass/internal/reserve"
	"innercompass/internal/reserve/replica"
	"innercompass/internal/store"
)

// Command is all of them.
func Command(version string) *cobra.Command {
	c := &cobra.Command{Use: "reserve", Short: "Keep a second machine ready that follows the first", RunE: func(c *cobra.Command, _ []string) error { return c.Help() }}
	c.AddCommand(feedCmd(version), followCmd(), promoteCmd(), lookCmd())
	return c
}

// Feeder makes the process that feeds a folder while the app runs.
func Feeder(dir, to string) func(ctx context.Context) *exec.Cmd {
	return func(ctx context.Context) *exec.Cmd {
		self, err := os.Executable()
		if err != nil {
			self = os.Args[0]
		}
		return exec.CommandContext(ctx, self, "reserve", "feed", "--data", dir, "--to", to)
	}
}

// until ends with a signal, or with standard input.
func until(c *cobra.Command, input bool) (context.Context, context.CancelFunc) {
	ctx, stop := signal.NotifyContext(c.Context(), os.Interrupt, syscall.SIGTERM)
	if input {
		go func() {
			_, _ = io.Copy(io.Discard, c.InOrStdin())
			stop()
		}()
	}
	return ctx, stop
}

func quiet(c *cobra.Command) *slog.Logger {
	log := slog.New(slog.NewTextHandler(c.ErrOrStderr(), &slog.HandlerOptions{Level: slog.LevelError}))
	slog.SetDefault(log)
	return log
}

func feedCmd(version string) *cobra.Command {
	var dir, to string
	c := &cobra.Command{Use: "feed --data DIR --to FOLDER", Short: "Feed a folder from a data folder until standard input ends; serve --reserve FOLDER runs this", Args: cli.Exactly(0), RunE: func(c *cobra.Command, _ []string) error {
		if dir == "" || to == "" {
			return cli.Usage("--data DIR and --to FOLDER are needed")
		}
		ctx, stop := until(c, true)
		defer stop()
		out := json.NewEncoder(c.OutOrStdout())
		f := replica.Feeder{Data: dir, To: reserve.Folder(to), App: version, Log: quiet(c), Tell: func(r reserve.Round) { _ = out.Encode(r) }}
		return f.Run(ctx)
	}}
	c.Flags().StringVar(&dir, "data", "", "data folder")
	c.Flags().StringVar(&to, "to", "", "folder that both machines reach")
	return c
}

func followCmd() *cobra.Command {
	var dir, from string
	c := &cobra.Command{Use: "follow --from FOLDER --data DIR", Short: "Follow the machine that feeds a folder, until stopped or promoted", Args: cli.Exactly(0), RunE: func(c *cobra.Command, _ []string) error {
		if dir == "" || from == "" {
			return cli.Usage("--from FOLDER and --data DIR are needed: what the first machine feeds, and an empty folder of this one")
		}
		ctx, stop := until(c, false)
		defer stop()
		quiet(c)
		f := replica.Follower{Data: dir, From: reserve.Folder(from), Tell: func(words string) {
			fmt.Fprintf(c.OutOrStdout(), "%s %s\n", time.Now().Format(time.TimeOnly), words)
		}}
		return f.Run(ctx)
	}}
	c.Flags().StringVar(&dir, "data", "", "data folder that follows")
	c.Flags().StringVar(&from, "from", "", "folder that the first machine feeds")
	return c
}

func promoteCmd() *cobra.Command {
	var dir, file string
	var without bool
	c := &cobra.Command{Use: "promote --data DIR", Short: "Make a data folder that follows the one that people work in", Args: cli.Exactly(0), RunE: func(c *cobra.Command, _ []string) error {
		if dir == "" {
			return cli.Usage("--data DIR is needed: the folder that follows")
		}
		quiet(c)
		w, err := reserve.Follows(dir)
		if err == nil && w == nil {
			err = fmt.Errorf("%s follows nothing: there is nothing to promote", dir)
		}
		if err != nil {
			return err
		}
		// The passphrase first: whoever mistypes it has changed nothing.
		var keys backup.Unlocked
		if !without {
			if keys, err = unlocked(c, *w, file); err != nil {
				return err
			}
		}
		f := replica.Follower{Data: dir, From: w.From}
		at, behind, release, err := f.Ready(c.Context())
		if err != nil {
			return err
		}
		defer release()
		if err := keys.Put(dir); err != nil {
			return err
		}
		if err := looked(c.Context(), dir); err != nil {
			return fmt.Errorf("%w\n%s still follows", err, dir)
		}
		host, _ := os.Hostname()
		told := w.From.Promote(reserve.Promotion{At: time.Now().UTC(), Host: host})
		if err := replica.Clear(dir); err != nil {
			return err
		}
		fmt.Fprintf(c.OutOrStdout(), "%s stands by itself now. Start it: innercompass serve --data %s\n", dir, dir)
		if !at.IsZero() {
			fmt.Fprintf(c.OutOrStdout(), "It holds everything that was saved until %s.\n", at.Local().Format("2 January 2006, 15:04:05"))
		}
		if behind != nil {
			fmt.Fprintf(c.OutOrStdout(), "%s could not be reached, or not to its end: it holds what had come here before (%v).\n", w.From, behind)
		}
		if told != nil {
			fmt.Fprintln(c.OutOrStdout(), "The first machine cannot be told. DO NOT START IT AGAIN before its folder is moved away: two machines would work beside each other.")
		}
		if without {
			fmt.Fprintln(c.OutOrStdout(), "It came without keys: others are made at the first start. Records that were issued are not confirmed by them.")
		}
		return nil
	}}
	c.Flags().StringVar(&dir, "data", "", "data folder that follows")
	c.Flags().StringVar(&file, "passphrase-file", "", "file with the passphrase of the backups; without it is asked for, or read from standard input")
	c.Flags().BoolVar(&without, "without-keys", false, "go on without the shop's keys: records that were signed cannot be confirmed, links that are out open nothing")
	return c
}

// unlocked opens the shop's keys that lie in the folder.
func unlocked(c *cobra.Command, w reserve.Following, file string) (backup.Unlocked, error) {
	keys, err := w.From.Keys()
	if err != nil {
		return backup.Unlocked{}, err
	}
	if keys == nil {
		return backup.Unlocked{}, fmt.Errorf("%s holds no keys: the first machine has no backup plan with a passphrase, or the folder cannot be reached. "+
			"--without-keys goes on without them", w.From)
	}
	phrase, err := cli.Passphrase(c, file, "Passphrase of the backups")
	if err != nil {
		return backup.Unlocked{}, err
	}
	return keys.Unlock(phrase)
}

// looked has the folder looked at by another process: this one has opened it with the replication library.
func looked(ctx context.Context, dir string) error {
	self, err := os.Executable()
	if err != nil {
		return err
	}
	out, err := exec.CommandContext(ctx, self, "reserve", "look", "--data", dir).CombinedOutput()
	if err != nil {
		return fmt.Errorf("what has come is not as it was left: %s", out)
	}
	return nil
}

func lookCmd() *cobra.Command {
	var dir string
	c := &cobra.Command{Use: "look --data DIR", Short: "Look at a folder that nobody works in: pages, pictures, and with its keys the trail", Hidden: true, Args: cli.Exactly(0), RunE: func(c *cobra.Command, _ []string) error {
		return store.CheckFolder(c.Context(), filepath.Clean(dir))
	}}
	c.Flags().StringVar(&dir, "data", "", "data folder")
	return c
}
