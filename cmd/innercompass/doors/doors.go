// Package doors are the addresses that the app is reached at, how they speak, and how they are closed.
package doors

import (
	"context"
	"crypto/tls"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"innercompass/cmd/innercompass/cli"
	"innercompass/internal/app"
	"innercompass/internal/certs"
	"innercompass/internal/httpapi"
)

// Doors are the addresses that the app is reached at, and how they speak.
type Doors struct {
	Addr      string
	Hosts     []string // further names of this machine
	Customers string   // where the customer's page alone is served; empty when nowhere else
	TLS       bool     // with the shop's own authority
	Cert, Key string   // files of a certificate from elsewhere
	Redirect  string   // an address without TLS that leads to the one with it
	Proxies   []string // addresses of proxies that are believed
}

func (d *Doors) Flags(c *cobra.Command) {
	f := c.Flags()
	f.StringVar(&d.Addr, "addr", "127.0.0.1:8080", "address to listen on")
	f.StringSliceVar(&d.Hosts, "host", nil, "a further name that this machine is called by")
	f.StringVar(&d.Customers, "customers", "", "a second address, such as 192.168.1.5:8444, that serves the page of a private link and nothing else")
	f.BoolVar(&d.TLS, "tls", false, "speak TLS with a certificate of the shop's own authority, which is made in the data folder")
	f.StringVar(&d.Cert, "cert", "", "speak TLS with this certificate chain (PEM), from an authority of yours; with --key")
	f.StringVar(&d.Key, "key", "", "key of --cert (PEM)")
	f.StringVar(&d.Redirect, "redirect", "", "an address without TLS, such as :8080, that hands the authority's certificate to tablets and leads everything else to the one with TLS")
	f.StringSliceVar(&d.Proxies, "proxy", nil, "address or range of a proxy before the app that speaks TLS to browsers, such as 127.0.0.1; what it says of them is believed")
}

// Log is how the app writes its log: to standard error, nothing of a person in it.
type Log struct{ Form, Level string }

// Flags of the log.
func (l *Log) Flags(c *cobra.Command) {
	c.Flags().StringVar(&l.Form, "log", "text", "form of the log: text, json")
	c.Flags().StringVar(&l.Level, "log-level", "info", "what is written: debug (every request), info (changes), warn, error")
}

// Begin makes it the log of the app.
func (l *Log) Begin(w io.Writer) error {
	var level slog.Level
	if err := level.UnmarshalText([]byte(l.Level)); err != nil {
		return cli.Usage("--log-level %q; accepted: debug, info, warn, error", l.Level)
	}
	o := &slog.HandlerOptions{Level: level}
	switch l.Form {
	case "text":
		slog.SetDefault(slog.New(slog.NewTextHandler(w, o)))
	case "json":
		slog.SetDefault(slog.New(slog.NewJSONHandler(w, o)))
	default:
		return cli.Usage("--log %q; accepted: text, json", l.Form)
	}
	return nil
}

// Check refuses what does not go together, and an address that other machines can reach without TLS.
func (d *Doors) Check() error {
	for name, addr := range map[string]string{"--addr": d.Addr, "--customers": d.Customers, "--redirect": d.Redirect} {
		if _, _, err := net.SplitHostPort(addr); addr != "" && err != nil {
			return cli.Usage("%s %s: %w; accepted: HOST:PORT, such as 127.0.0.1:8080", name, addr, err)
		}
	}
	switch {
	case (d.Cert == "") != (d.Key == ""):
		return cli.Usage("--cert and --key go together")
	case d.TLS && d.Cert != "":
		return cli.Usage("--tls makes a certificate, --cert brings one: name one of the two")
	case d.Redirect != "" && !d.speaksTLS():
		return cli.Usage("--redirect leads to an address with TLS: name --tls, or --cert and --key")
	}
	for name, addr := range map[string]string{"--addr": d.Addr, "--customers": d.Customers} {
		if host, _, _ := net.SplitHostPort(addr); addr != "" && !onlyHere(host) && !d.speaksTLS() && len(d.Proxies) == 0 {
			return cli.Usage("%s %s can be reached from other machines, and without TLS whoever is on the network could read along.\n"+
				"Accepted: an address of this machine alone, such as 127.0.0.1:8080; or --tls, for a certificate of the shop's own; or --cert and --key; or --proxy, for one that speaks TLS before it", name, addr)
		}
	}
	return nil
}

func (d *Doors) speaksTLS() bool { return d.TLS || d.Cert != "" }

// Protected refuses to open the shop's own pages to other machines before somebody can sign in: whoever came first would be the owner.
func (d *Doors) Protected(ctx context.Context, a *app.App) error {
	host, _, _ := net.SplitHostPort(d.Addr)
	if onlyHere(host) && len(d.Proxies) == 0 {
		return nil
	}
	id, err := a.Store.Identity(ctx, "", "")
	if err != nil || id.Needed {
		return err
	}
	return cli.Usage("nobody can sign in yet, and %s can be reached from other machines: whoever came first could do everything.\n"+
		"First: innercompass people add NAME --role owner --data DIR; or set people up on 127.0.0.1, under Settings, People", d.Addr)
}

// onlyHere reports whether a name leads to this machine alone.
func onlyHere(host string) bool {
	ip := net.ParseIP(host)
	return host == "localhost" || ip != nil && ip.IsLoopback()
}

// Names are those by which somebody may call a listener: its own address, all of this machine's when it listens on every one,
// and those that were named.
func (d *Doors) Names(addr string) []string {
	out := slices.Clone(d.Hosts)
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

// Secured is how listeners speak TLS; the zero value is without.
type Secured struct {
	Config    *tls.Config
	authority *certs.Authority
}

func (d *Doors) Secure(dir string, now func() time.Time) (Secured, error) {
	switch {
	case d.Cert != "":
		config, err := certs.Files(d.Cert, d.Key)
		return Secured{Config: config}, err
	case d.TLS:
		names := append(d.Names(d.Addr), "localhost", "127.0.0.1")
		if d.Customers != "" {
			names = append(names, d.Names(d.Customers)...)
		}
		a, err := certs.Open(filepath.Join(dir, "tls"), names, now)
		if err != nil {
			return Secured{}, err
		}
		return Secured{a.TLS(), a}, nil
	}
	return Secured{}, nil
}

func (s Secured) Scheme() string {
	if s.Config == nil {
		return "http"
	}
	return "https"
}

// Shown is the authority as tablets are shown it: at the address without TLS, as another machine asks for it.
func (s Secured) Shown(d Doors) *httpapi.Authority {
	if s.authority == nil || d.Redirect == "" {
		return nil
	}
	return &httpapi.Authority{Certificate: s.authority.Certificate(), Fingerprint: s.authority.Fingerprint(), Link: "http://" + d.Reachable(d.Redirect) + "/tablet"}
}

// Reachable is an address as another machine asks for it: one that stands for all of this machine's is named by the first number that leads elsewhere, or
// by the first name that was given.
func (d *Doors) Reachable(addr string) string {
	host, port, _ := net.SplitHostPort(addr)
	if ip := net.ParseIP(host); host != "" && (ip == nil || !ip.IsUnspecified()) {
		return addr
	}
	if len(d.Hosts) > 0 {
		return net.JoinHostPort(d.Hosts[0], port)
	}
	for _, name := range d.Names(addr) {
		if ip := net.ParseIP(name); ip != nil && ip.To4() != nil && !ip.IsLoopback() {
			return net.JoinHostPort(name, port)
		}
	}
	return net.JoinHostPort("localhost", port)
}

// Serving are the listeners that are open.
type Serving struct {
	Context context.Context
	servers []*http.Server
	done    chan error
}

// New is without a listener yet.
func New(ctx context.Context) *Serving { return &Serving{Context: ctx, done: make(chan error, 3)} }

// Open begins to serve at an address, by TLS when there is a configuration.
func (s *Serving) Open(addr string, config *tls.Config, o httpapi.Options, make func(httpapi.Options) (http.Handler, error)) (net.Addr, error) {
	handler, err := make(o)
	if err != nil {
		return nil, err
	}
	listener, err := net.Listen("tcp", addr)
	if err != nil {
		return nil, fmt.Errorf("cannot listen on %s: %w; name another with --addr, --customers or --redirect, or PORT for make demo", addr, err)
	}
	there := listener.Addr()
	server := &http.Server{Handler: handler, ReadHeaderTimeout: 5 * time.Second, ReadTimeout: 30 * time.Second, WriteTimeout: 60 * time.Second, IdleTimeout: 2 * time.Minute, MaxHeaderBytes: 32 << 10,
		BaseContext: func(net.Listener) context.Context { return s.Context }}
	s.servers = append(s.servers, server)
	go func() {
		if config == nil {
			s.done <- server.Serve(listener)
			return
		}
		server.TLSConfig = config
		s.done <- server.ServeTLS(listener, "", "") // the certificate comes from the configuration
	}()
	return there, nil
}

// graceful is how long what is under way may take after the app was asked to stop.
const graceful = 5 * time.Second

// Wait serves until the context ends or a listener fails, then lets what is under way come to its end.
func (s *Serving) Wait() error {
	select {
	case err := <-s.done:
		return err
	case <-s.Context.Done():
	}
	end, cancel := context.WithTimeout(context.Background(), graceful)
	defer cancel()
	var errs []error
	for _, server := range s.servers {
		if err := server.Shutdown(end); err != nil {
			errs = append(errs, err, server.Close())
		}
	}
	return errors.Join(errs...)
}
