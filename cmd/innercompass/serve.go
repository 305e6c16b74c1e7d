package main

import (
	"context"
	"errors"
	"fmt"
	"net"
	"net/http"
	"os"
	"os/signal"
	"syscall"
	"time"

	"github.com/spf13/cobra"

	"innercompass/internal/casework"
	"innercompass/internal/catalog"
	"innercompass/internal/demo"
	"innercompass/internal/httpapi"
	"innercompass/internal/store"
	"innercompass/knowledge"
	"innercompass/web"
)

func serveCmd() *cobra.Command {
	var dir, addr string
	c := &cobra.Command{Use: "serve --data DIR", Short: "Serve the app from a data folder", Args: exactly(0), RunE: func(c *cobra.Command, _ []string) error {
		if dir == "" {
			return usageError{errors.New("--data DIR is needed: the folder that keeps the cases")}
		}
		return run(c, dir, addr, false)
	}}
	c.Flags().StringVar(&dir, "data", "", "data folder; made when it is missing")
	c.Flags().StringVar(&addr, "addr", "127.0.0.1:8080", "address to listen on")
	return c
}

func demoCmd() *cobra.Command {
	var dir, addr string
	c := &cobra.Command{Use: "demo", Short: "Serve the app with fresh demo data", Args: exactly(0), RunE: func(c *cobra.Command, _ []string) error {
		if dir == "" {
			tmp, err := os.MkdirTemp("", "innercompass-demo-")
			if err != nil {
				return err
			}
			defer func() { _ = os.RemoveAll(tmp) }()
			dir = tmp
		}
		return run(c, dir, addr, true)
	}}
	c.Flags().StringVar(&dir, "data", "", "data folder to keep the demo in; a temporary one unless named")
	c.Flags().StringVar(&addr, "addr", "127.0.0.1:8080", "address to listen on")
	return c
}

// run wires everything, serves until a signal comes, and closes in order.
func run(c *cobra.Command, dir, addr string, withDemo bool) error {
	know, err := catalog.Load(knowledge.FS)
	if err != nil {
		return err
	}
	st, err := store.Open(dir)
	if err != nil {
		return err
	}
	defer func() { _ = st.Close() }()
	cases := casework.New(st, know)
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	if withDemo {
		if err := fillOnce(ctx, cases); err != nil {
			return err
		}
	}
	handler, err := httpapi.New(httpapi.Options{Cases: cases, Front: web.Dist(), Version: version, Know: know.Knowledge.Version, Blank: knowledge.BlankSheet})
	if err != nil {
		return err
	}
	listener, err := net.Listen("tcp", addr)
	if err != nil {
		return fmt.Errorf("cannot listen on %s: %w; name another with --addr, or PORT for make demo", addr, err)
	}
	server := &http.Server{Handler: handler, ReadHeaderTimeout: 5 * time.Second, ReadTimeout: 30 * time.Second, WriteTimeout: 60 * time.Second, IdleTimeout: 2 * time.Minute, MaxHeaderBytes: 32 << 10,
		BaseContext: func(net.Listener) context.Context { return ctx }}
	fmt.Fprintf(c.OutOrStdout(), "Inner Compass is ready on http://%s\n", listener.Addr())
	go cases.KeepFloor(ctx)
	done := make(chan error, 1)
	go func() { done <- server.Serve(listener) }()
	select {
	case err := <-done:
		return err
	case <-ctx.Done():
	}
	end, cancel := context.WithTimeout(context.Background(), 5*time.Second)
	defer cancel()
	return server.Shutdown(end)
}

// fillOnce builds the demo unless the folder holds cases already.
func fillOnce(ctx context.Context, cases *casework.Service) error {
	have, err := cases.Floor(ctx, casework.FloorQuery{Limit: 1})
	if err != nil || have.Open+have.Closed > 0 {
		return err
	}
	return demo.Fill(ctx, cases)
}
