package certs

import (
	"crypto/tls"
	"crypto/x509"
	"io"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"testing"
	"time"
)

// asks whether a browser that trusts the authority takes the server under a name.
func trusted(t *testing.T, config *tls.Config, authority []byte, name string) error {
	t.Helper()
	l, err := tls.Listen("tcp", "127.0.0.1:0", config)
	if err != nil {
		t.Fatal(err)
	}
	server := &http.Server{Handler: http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) { _, _ = io.WriteString(w, "yes") }), ReadHeaderTimeout: time.Second}
	go func() { _ = server.Serve(l) }()
	defer server.Close()
	pool := x509.NewCertPool()
	pool.AppendCertsFromPEM(authority)
	conn, err := (&tls.Dialer{NetDialer: &net.Dialer{Timeout: 5 * time.Second}, Config: &tls.Config{RootCAs: pool, ServerName: name, MinVersion: tls.VersionTLS12}}).DialContext(t.Context(), "tcp", l.Addr().String())
	if err != nil {
		return err
	}
	return conn.Close()
}

// Whoever trusts the shop's authority takes its server under each of its names and addresses, and under no other; it stays the same after a start.
func TestATabletTrustsTheShop(t *testing.T) {
	dir := t.TempDir()
	names := []string{"shop.local", "192.168.1.5", "localhost"}
	a, err := Open(dir, names, time.Now)
	if err != nil {
		t.Fatal(err)
	}
	for _, name := range names {
		if err := trusted(t, a.TLS(), a.Certificate(), name); err != nil {
			t.Errorf("%s: %v", name, err)
		}
	}
	if trusted(t, a.TLS(), a.Certificate(), "bank.example") == nil {
		t.Error("taken under a name that is not its own")
	}
	before := a.leaf.SerialNumber
	b, err := Open(dir, names, time.Now)
	if err != nil || b.leaf.SerialNumber.Cmp(before) != 0 || b.Fingerprint() != a.Fingerprint() {
		t.Errorf("made anew at a start: %v", err)
	}
	other, err := Open(t.TempDir(), names, time.Now)
	if err != nil || trusted(t, other.TLS(), a.Certificate(), "shop.local") == nil {
		t.Errorf("another shop's server is taken: %v", err)
	}
	for _, f := range []string{authorityKey, serverKey} {
		if info, err := os.Stat(filepath.Join(dir, f)); err != nil || info.Mode().Perm() != 0o600 {
			t.Errorf("%s: %v", f, info.Mode())
		}
	}
}

// The server's certificate is made anew before it ends, and when the machine has another name: by the same authority.
func TestTheServersCertificateIsRenewed(t *testing.T) {
	dir := t.TempDir()
	now := time.Now()
	clock := func() time.Time { return now }
	a, err := Open(dir, []string{"shop.local"}, clock)
	if err != nil {
		t.Fatal(err)
	}
	first, _ := a.current()
	now = now.Add(serverFor - renewBefore - 2*time.Hour)
	if again, _ := a.current(); again != first {
		t.Error("renewed too early")
	}
	now = now.Add(3 * time.Hour)
	if again, _ := a.current(); again == first {
		t.Error("not renewed")
	}
	b, err := Open(dir, []string{"shop.local", "10.0.0.7"}, clock)
	if err != nil || len(b.leaf.IPAddresses) != 1 || b.Fingerprint() != a.Fingerprint() {
		t.Errorf("another name: %v %v", err, b.leaf.IPAddresses)
	}
	if got := b.leaf.NotAfter.Sub(b.leaf.NotBefore); got > 398*24*time.Hour {
		t.Errorf("good for %v: browsers refuse that", got)
	}
}

// A key that belongs to another certificate is refused with what to do; given files are read again when they change.
func TestFilesOfSomebodyElse(t *testing.T) {
	dir, elsewhere := t.TempDir(), t.TempDir()
	a, err := Open(dir, []string{"shop.local"}, time.Now)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := Open(elsewhere, []string{"shop.local"}, time.Now); err != nil {
		t.Fatal(err)
	}
	cert, key := filepath.Join(dir, serverFile), filepath.Join(dir, serverKey)
	if _, err := Files(cert, filepath.Join(elsewhere, serverKey)); err == nil {
		t.Error("a strange key is taken")
	}
	config, err := Files(cert, key)
	if err != nil {
		t.Fatal(err)
	}
	before, _ := config.GetCertificate(nil)
	a.names = []string{"shop.local", "office.local"}
	if _, err := a.current(); err != nil {
		t.Fatal(err)
	}
	later := time.Now().Add(time.Minute)
	if err := os.Chtimes(cert, later, later); err != nil {
		t.Fatal(err)
	}
	if after, _ := config.GetCertificate(nil); after == before {
		t.Error("the renewed files are not taken")
	}
	if err := os.WriteFile(cert, []byte("half"), 0o600); err != nil {
		t.Fatal(err)
	}
	if still, err := config.GetCertificate(nil); err != nil || still == nil {
		t.Errorf("a file that is half written stops the server: %v", err)
	}
	if _, err := Open(dir, []string{"shop.local"}, time.Now); err == nil {
		t.Error("a damaged certificate is passed over without a word")
	}
}
