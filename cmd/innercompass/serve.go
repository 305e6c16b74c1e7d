package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"os"
	"os/signal"
	"runtime/debug"
	"syscall"
	"time"
	_ "time/tzdata" // a shop's zone is known wherever the app runs

	"github.com/spf13/cobra"

	"innercompass/cmd/innercompass/cli"
	"innercompass/cmd/innercompass/doors"
	feeding "innercompass/cmd/innercompass/reserve"
	"innercompass/internal/app"
	"innercompass/internal/archive"
	"innercompass/internal/backup"
	"innercompass/internal/catalog"
	"innercompass/internal/demo"
	"innercompass/internal/floor"
	"innercompass/internal/handover"
	"innercompass/internal/httpapi"
	"innercompass/internal/reserve"
	"innercompass/internal/store"
	embedded "innercompass/knowledge"
	"innercompass/web"
)

func serveCmd() *cobra.Command {
	var dir string
	var at doors.Doors
	var log doors.Log
	var to string
	c := &cobra.Command{Use: "serve --data DIR", Short: "Serve the app from a data folder", Args: cli.Exactly(0), RunE: func(c *cobra.Command, _ []string) error {
		if dir == "" {
			return cli.Usage("--data DIR is needed: the folder that keeps the cases")
		}
		return run(c, dir, at, log, to, false)
	}}
	c.Flags().StringVar(&dir, "data", "", "data folder; made when it is missing")
	c.Flags().StringVar(&to, "reserve", "", "folder that a second machine reaches too, such as its share: everything that is saved goes there as well")
	at.Flags(c)
	log.Flags(c)
	return c
}

func demoCmd() *cobra.Command {
	var dir string
	var at doors.Doors
	var log doors.Log
	c := &cobra.Command{Use: "demo", Short: "Serve the app with fresh demo data", Args: cli.Exactly(0), RunE: func(c *cobra.Command, _ []string) error {
		if dir == "" {
			tmp, err := os.MkdirTemp("", "innercompass-demo-")
			if err != nil {
				return err
			}
			defer func() { _ = os.RemoveAll(tmp) }()
			dir = tmp
		}
		return run(c, dir, at, log, "", true)
	}}
	c.Flags().StringVar(&dir, "data", "", "data folder to keep the demo in; a temporary one unless named")
	at.Flags(c)
	log.Flags(c)
	return c
}

// run wires everything, serves until a signal comes, and closes in order.
func run(c *cobra.Command, dir string, at doors.Doors, log doors.Log, to string, withDemo bool) error {
	if err := log.Begin(c.ErrOrStderr()); err != nil {
		return err
	}
	if err := errors.Join(at.Check(), reserve.Folder(to).Check()); err != nil {
		return err
	}
	if os.Getenv("GOMEMLIMIT") == "" { // whoever sets it knows better
		debug.SetMemoryLimit(httpapi.MemoryLimit)
	}
	know, err := catalog.Load(embedded.FS)
	if err != nil {
		return err
	}
	st, err := store.Open(dir)
	if err != nil {
		return err
	}
	defer func() { _ = st.Close() }()
	all := app.New(st, know)
	st.Now = func() time.Time { return all.Now() }
	all.Backup.Check, all.Backup.Source.App = store.CheckFolder, version
	ctx, stop := signal.NotifyContext(c.Context(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	if withDemo {
		if err := fillOnce(ctx, all); err != nil {
			return err
		}
	}
	if err := at.Protected(ctx, all); err != nil {
		return err
	}
	if to != "" {
		all.Reserve = keeper(all, dir, to)
	}
	options := httpapi.Options{App: all, Front: web.Dist(), Version: version, Know: know.Knowledge.Version, Blank: embedded.BlankSheet, Hosts: at.Names(at.Addr), Proxies: at.Proxies,
		Archive: func(ctx context.Context, w io.Writer) error {
			_, err := archive.Write(ctx, w, handover.Of(all, st, version))
			return err
		},
		OfCustomer: func(ctx context.Context, customer string, w io.Writer) error {
			return handover.Customer(ctx, all, customer, w)
		},
		Sample: func(ctx context.Context) (string, error) { return demo.Sample(ctx, all) }}
	s := doors.New(ctx)
	secure, err := at.Secure(dir, all.Now)
	if err != nil {
		return err
	}
	if at.Customers != "" {
		o := options
		o.Hosts = at.Names(at.Customers)
		there, err := s.Open(at.Customers, secure.Config, o, httpapi.NewCustomers)
		if err != nil {
			return err
		}
		options.Customers = secure.Scheme() + "://" + at.Reachable(there.String())
		fmt.Fprintf(c.OutOrStdout(), "Private links lead to %s\n", options.Customers)
	}
	options.Authority = secure.Shown(at)
	here, err := s.Open(at.Addr, secure.Config, options, httpapi.New)
	if err != nil {
		return err
	}
	if at.Redirect != "" {
		_, port, _ := net.SplitHostPort(here.String())
		o := options
		o.Hosts = at.Names(at.Redirect)
		if _, err := s.Open(at.Redirect, nil, o, func(o httpapi.Options) (http.Handler, error) {
			return httpapi.NewPlain(o, port, options.Authority), nil
		}); err != nil {
			return err
		}
	}
	go all.Run(ctx)
	fed := make(chan struct{})
	go func() {
		defer close(fed)
		if all.Reserve != nil {
			all.Reserve.Run(ctx)
		}
	}()
	fmt.Fprintf(c.OutOrStdout(), "Inner Compass is ready on %s://%s\n", secure.Scheme(), at.Reachable(here.String()))
	if options.Authority != nil {
		fmt.Fprintf(c.OutOrStdout(), "Tablets get the certificate at %s\nIts SHA-256 fingerprint: %s\n", options.Authority.Link, options.Authority.Fingerprint)
	}
	err = s.Wait()
	stop()
	<-fed // what was saved last goes along; it is bounded
	return err
}

// keeper feeds a reserve from the data folder.
func keeper(all *app.App, dir, to string) *reserve.Keeper {
	return &reserve.Keeper{Folder: reserve.Folder(to), Data: dir, Command: feeding.Feeder(dir, to), Log: slog.Default(), Secret: func(ctx context.Context) (*backup.Secret, error) {
		p, err := all.Backup.Plan(ctx)
		return p.Secret, err
	}}
}

// fillOnce builds the demo unless the folder holds cases already.
func fillOnce(ctx context.Context, all *app.App) error {
	have, err := all.Floor.List(ctx, floor.Query{Limit: 1})
	if err != nil || have.Open+have.Closed > 0 {
		return err
	}
	if err := demo.Fill(ctx, all); err != nil {
		return err
	}
	return all.Floor.Refresh(ctx)
}
