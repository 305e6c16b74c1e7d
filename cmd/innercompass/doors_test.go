package main

import (
	"context"
	"crypto/tls"
	"crypto/x509"
	"errors"
	"io"
	"net"
	"net/http"
	"path/filepath"
	"regexp"
	"strings"
	"sync"
	"testing"
	"time"

	"innercompass/cmd/innercompass/cli"
)

// An address that other machines reach is served by TLS alone, and only once somebody can sign in.
func TestAnAddressBeyondThisMachineIsProtected(t *testing.T) {
	dir := filepath.Join(t.TempDir(), "d")
	for _, addr := range []string{"0.0.0.0:0", ":0", "192.0.2.7:0", "[::]:0", "shop.example:0"} {
		for _, c := range []struct {
			args []string
			says string
		}{{nil, "--tls"}, {[]string{"--tls"}, "nobody can sign in yet"}, {[]string{"--tls", "--cert", "x", "--key", "y"}, "one of the two"}, {[]string{"--cert", "x"}, "go together"}, {[]string{"--redirect", ":0"}, "--redirect"}, {[]string{"--proxy", "127.0.0.1"}, "nobody can sign in yet"}} {
			if strings.Contains(c.says, "nobody") && addr != ":0" {
				continue // the folder is opened for that: once is enough
			}
			_, err := runCLI(append([]string{"serve", "--data", dir, "--addr", addr}, c.args...)...)
			var usage cli.UsageError
			if !errors.As(err, &usage) || !strings.Contains(err.Error(), c.says) {
				t.Errorf("%s %v: %v", addr, c.args, err)
			}
		}
	}
	if _, err := runCLI("serve", "--data", dir, "--addr", "127.0.0.1:0", "--proxy", "127.0.0.1"); err == nil || !strings.Contains(err.Error(), "nobody can sign in") {
		t.Errorf("behind a proxy: %v", err)
	}
}

// lines collects what a command prints while it runs.
type lines struct {
	mu   sync.Mutex
	text strings.Builder
}

func (l *lines) Write(p []byte) (int, error) {
	l.mu.Lock()
	defer l.mu.Unlock()
	return l.text.Write(p)
}

// find waits for a line.
func (l *lines) find(t *testing.T, pattern string) string {
	t.Helper()
	re := regexp.MustCompile(pattern)
	for range 400 {
		l.mu.Lock()
		m := re.FindStringSubmatch(l.text.String())
		l.mu.Unlock()
		if m != nil {
			return m[1]
		}
		time.Sleep(20 * time.Millisecond)
	}
	t.Fatalf("no %q in %s", pattern, l.text.String())
	return ""
}

// A shop in its network: people are set up at the machine, a tablet gets the authority's certificate by the plain door, trusts the app by it, and gets in
// nowhere without signing in; everything else of the plain door leads to the one with TLS.
func TestATabletComesIn(t *testing.T) {
	dir := filepath.Join(t.TempDir(), "d")
	// The first start, on this machine alone, makes the folder.
	serve := func(args ...string) (*lines, func()) {
		ctx, stop := context.WithCancel(t.Context())
		var out lines
		c := root()
		c.SetOut(&out)
		c.SetArgs(append([]string{"serve", "--data", dir}, args...))
		over := make(chan error, 1)
		go func() { over <- c.ExecuteContext(ctx) }()
		return &out, func() {
			stop()
			if err := <-over; err != nil {
				t.Errorf("%v: %v", args, err)
			}
		}
	}
	out, stop := serve("--addr", "127.0.0.1:0")
	out.find(t, `(ready on http://127\.0\.0\.1:\d+)`)
	stop()
	text, err := runCLI("people", "add", "Oda", "--role", "owner", "--data", dir)
	if err != nil || !strings.Contains(text, "Oda, owner, signs in with") {
		t.Fatalf("%v %s", err, text)
	}
	phrase := regexp.MustCompile(`\n  (\S+)\n`).FindStringSubmatch(text)[1]

	port := free(t)
	out, stop = serve("--addr", "127.0.0.1:0", "--tls", "--redirect", "127.0.0.1:"+port, "--customers", "127.0.0.1:0")
	defer stop()
	app, plain := out.find(t, `ready on (https://127\.0\.0\.1:\d+)`), "http://127.0.0.1:"+port
	customers := out.find(t, `links lead to (https://\S+)`)
	get := func(client *http.Client, url string) (int, string) {
		t.Helper()
		r, err := client.Get(url)
		if err != nil {
			t.Fatalf("%s: %v", url, err)
		}
		defer r.Body.Close()
		body, err := io.ReadAll(r.Body)
		if err != nil {
			t.Fatal(err)
		}
		return r.StatusCode, string(body)
	}
	stranger := &http.Client{Timeout: 10 * time.Second, CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	_, page := get(stranger, plain+"/tablet")
	_, cert := get(stranger, plain+"/authority.crt")
	if !strings.Contains(page, out.find(t, `fingerprint: (\S+)`)) || !strings.Contains(page, "/authority.crt") {
		t.Error("the page for tablets lacks the fingerprint or the certificate")
	}
	if _, err := stranger.Get(app); err == nil {
		t.Error("a stranger trusts the app")
	}
	r, err := stranger.Get(plain + "/cases/x?tab=1")
	if err != nil || r.StatusCode != http.StatusPermanentRedirect || r.Header.Get("Location") != app+"/cases/x?tab=1" {
		t.Errorf("%v %v", err, r)
	}
	_ = r.Body.Close()
	pool := x509.NewCertPool()
	if !pool.AppendCertsFromPEM([]byte(cert)) {
		t.Fatal("no certificate")
	}
	tablet := &http.Client{Timeout: 10 * time.Second, Transport: &http.Transport{TLSClientConfig: &tls.Config{RootCAs: pool, MinVersion: tls.VersionTLS12}, ForceAttemptHTTP2: true}}
	if code, _ := get(tablet, app+"/api/cases"); code != http.StatusUnauthorized {
		t.Errorf("without signing in: %d", code)
	}
	if code, _ := get(tablet, customers+"/api/cases"); code != http.StatusNotFound {
		t.Errorf("cases at the customers' door: %d", code)
	}
	r, err = tablet.Post(app+"/api/session", "application/json", strings.NewReader(`{"name":"oda","passphrase":"`+phrase+`"}`))
	if err != nil || r.StatusCode != http.StatusOK || r.ProtoMajor != 2 || r.Header.Get("Strict-Transport-Security") == "" {
		t.Fatalf("%v %v", err, r)
	}
	defer r.Body.Close()
	if c := r.Cookies()[0]; c.Name != "__Host-compass-session" || !c.Secure || !c.HttpOnly || c.SameSite != http.SameSiteStrictMode || c.Domain != "" {
		t.Errorf("%+v", c)
	}
	old := &http.Client{Timeout: 10 * time.Second, Transport: &http.Transport{TLSClientConfig: &tls.Config{RootCAs: pool, MaxVersion: tls.VersionTLS11}}} //nolint:gosec // that it is refused is the point
	if _, err := old.Get(app + "/api/session"); err == nil {
		t.Error("TLS 1.1 is spoken")
	}
}

// free is a port that nobody has right now.
func free(t *testing.T) string {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer l.Close()
	_, port, _ := net.SplitHostPort(l.Addr().String())
	return port
}
