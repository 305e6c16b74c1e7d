package main

import (
	"context"
	"errors"
	"fmt"
	"net"
	"net/http"
	"os"
	"os/signal"
	"runtime/debug"
	"slices"
	"strings"
	"syscall"
	"time"
	_ "time/tzdata" // a shop's zone is known wherever the app runs

	"github.com/spf13/cobra"

	"innercompass/cmd/innercompass/cli"
	"innercompass/internal/app"
	"innercompass/internal/catalog"
	"innercompass/internal/demo"
	"innercompass/internal/floor"
	"innercompass/internal/httpapi"
	"innercompass/internal/store"
	embedded "innercompass/knowledge"
	"innercompass/web"
)

// doors are the addresses that the app is reached at.
type doors struct {
	addr      string
	open      bool     // the shop's own pages may be reached from other machines
	hosts     []string // further names of this machine
	customers string   // where the customer's page alone is served; empty when nowhere else
}

func (d *doors) flags(c *cobra.Command) {
	c.Flags().StringVar(&d.addr, "addr", "127.0.0.1:8080", "address to listen on")
	c.Flags().BoolVar(&d.open, "open", false, "let other machines reach the shop's own pages: whoever is on the network may then read and change everything, there is no sign-in")
	c.Flags().StringSliceVar(&d.hosts, "host", nil, "a further name that this machine is called by")
	c.Flags().StringVar(&d.customers, "customers", "", "a second address, such as 192.168.1.5:8081, that serves the page of a private link and nothing else")
}

func serveCmd() *cobra.Command {
	var dir string
	var at doors
	c := &cobra.Command{Use: "serve --data DIR", Short: "Serve the app from a data folder", Args: cli.Exactly(0), RunE: func(c *cobra.Command, _ []string) error {
		if dir == "" {
			return cli.Usage("--data DIR is needed: the folder that keeps the cases")
		}
		return run(c, dir, at, false)
	}}
	c.Flags().StringVar(&dir, "data", "", "data folder; made when it is missing")
	at.flags(c)
	return c
}

func demoCmd() *cobra.Command {
	var dir string
	var at doors
	c := &cobra.Command{Use: "demo", Short: "Serve the app with fresh demo data", Args: cli.Exactly(0), RunE: func(c *cobra.Command, _ []string) error {
		if dir == "" {
			tmp, err := os.MkdirTemp("", "innercompass-demo-")
			if err != nil {
				return err
			}
			defer func() { _ = os.RemoveAll(tmp) }()
			dir = tmp
		}
		return run(c, dir, at, true)
	}}
	c.Flags().StringVar(&dir, "data", "", "data folder to keep the demo in; a temporary one unless named")
	at.flags(c)
	return c
}

// check refuses an address that other machines can reach, unless that was asked for by name.
func (d *doors) check() error {
	host, _, err := net.SplitHostPort(d.addr)
	if err != nil {
		return cli.Usage("--addr %s: %w; accepted: HOST:PORT, such as 127.0.0.1:8080", d.addr, err)
	}
	if !d.open && !onlyHere(host) {
		return cli.Usage("--addr %s can be reached from other machines, and there is no sign-in: whoever is on the network could read and change every case.\n"+
			"Accepted: an address of this machine alone, such as 127.0.0.1:8080; for the customer's page, --customers with an address of the shop's network; or --open, if everybody on the network may do everything", d.addr)
	}
	if d.customers != "" {
		if _, _, err := net.SplitHostPort(d.customers); err != nil {
			return cli.Usage("--customers %s: %w; accepted: HOST:PORT, such as 192.168.1.5:8081", d.customers, err)
		}
	}
	return nil
}

// onlyHere reports whether a name leads to this machine alone.
func onlyHere(host string) bool {
	ip := net.ParseIP(host)
	return host == "localhost" || ip != nil && ip.IsLoopback()
}

// names are those by which somebody may call a listener: its own address, all of this machine's when it listens on every one,
// and those that were named.
func (d *doors) names(addr string) []string {
	out := slices.Clone(d.hosts)
	host, _, _ := net.SplitHostPort(addr)
	ip := net.ParseIP(host)
	if host != "" && (ip == nil || !ip.IsUnspecified()) {
		return append(out, strings.ToLower(host))
	}
	if name, err := os.Hostname(); err == nil {
		out = append(out, strings.ToLower(name), strings.ToLower(name)+".local")
	}
	all, err := net.InterfaceAddrs()
	if err != nil {
		return out
	}
	for _, a := range all {
		if n, ok := a.(*net.IPNet); ok {
			out = append(out, n.IP.String())
		}
	}
	return out
}

// run wires everything, serves until a signal comes, and closes in order.
func run(c *cobra.Command, dir string, at doors, withDemo bool) error {
	if err := at.check(); err != nil {
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
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	if withDemo {
		if err := fillOnce(ctx, all); err != nil {
			return err
		}
	}
	options := httpapi.Options{App: all, Front: web.Dist(), Version: version, Know: know.Knowledge.Version, Blank: embedded.BlankSheet, Hosts: at.names(at.addr),
		Sample: func(ctx context.Context) (string, error) { return demo.Sample(ctx, all) }}
	var servers []*http.Server
	done := make(chan error, 2)
	serve := func(addr string, make func(httpapi.Options) (http.Handler, error), o httpapi.Options) (net.Addr, error) {
		handler, err := make(o)
		if err != nil {
			return nil, err
		}
		listener, err := net.Listen("tcp", addr)
		if err != nil {
			return nil, fmt.Errorf("cannot listen on %s: %w; name another with --addr or --customers, or PORT for make demo", addr, err)
		}
		server := &http.Server{Handler: handler, ReadHeaderTimeout: 5 * time.Second, ReadTimeout: 30 * time.Second, WriteTimeout: 60 * time.Second, IdleTimeout: 2 * time.Minute, MaxHeaderBytes: 32 << 10,
			BaseContext: func(net.Listener) context.Context { return ctx }}
		servers = append(servers, server)
		go func() { done <- server.Serve(listener) }()
		return listener.Addr(), nil
	}
	if at.customers != "" {
		o := options
		o.Hosts = at.names(at.customers)
		there, err := serve(at.customers, httpapi.NewCustomers, o)
		if err != nil {
			return err
		}
		options.Customers = "http://" + there.String()
		fmt.Fprintf(c.OutOrStdout(), "Private links lead to %s\n", options.Customers)
	}
	here, err := serve(at.addr, httpapi.New, options)
	if err != nil {
		return err
	}
	go all.Run(ctx)
	fmt.Fprintf(c.OutOrStdout(), "Inner Compass is ready on http://%s\n", here)
	select {
	case err := <-done:
		return err
	case <-ctx.Done():
	}
	end, cancel := context.WithTimeout(context.Background(), 5*time.Second)
	defer cancel()
	var errs []error
	for _, s := range servers {
		errs = append(errs, s.Shutdown(end))
	}
	return errors.Join(errs...)
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
