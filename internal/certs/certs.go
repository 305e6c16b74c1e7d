// Package certs makes a shop its own small authority, so that tablets in the network speak to the app by TLS without anybody outside. The authority's
// certificate is handed to each tablet once; the server's own is made anew by itself, well before it ends or when the machine gets another name.
package certs

import (
	"bytes"
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/sha256"
	"crypto/tls"
	"crypto/x509"
	"crypto/x509/pkix"
	"encoding/pem"
	"errors"
	"fmt"
	"io/fs"
	"math/big"
	"net"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"time"
)

// How long certificates are good. Browsers take a server's for 398 days at most (CA/Browser Forum, Baseline Requirements 6.3.2; from memory).
const (
	authorityFor = 10 * 365 * 24 * time.Hour
	serverFor    = 397 * 24 * time.Hour
	renewBefore  = 60 * 24 * time.Hour
)

// Files in the folder.
const (
	authorityFile = "authority.crt"
	authorityKey  = "authority.key"
	serverFile    = "server.crt"
	serverKey     = "server.key"
)

// Authority is that of a shop, with the certificate of its server.
type Authority struct {
	dir   string
	names []string
	now   func() time.Time
	cert  *x509.Certificate
	key   *ecdsa.PrivateKey

	mu     sync.Mutex
	server *tls.Certificate
	leaf   *x509.Certificate
}

// Open reads the authority in a folder, or makes one, for a server of these names and addresses.
func Open(dir string, names []string, now func() time.Time) (*Authority, error) {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, err
	}
	a := &Authority{dir: dir, names: sorted(names), now: now}
	cert, key, err := read(dir, authorityFile, authorityKey)
	if errors.Is(err, fs.ErrNotExist) {
		cert, key, err = a.makeAuthority()
	}
	if err != nil {
		return nil, fmt.Errorf("the shop's authority in %s: %w", dir, err)
	}
	a.cert, a.key = cert, key
	if a.leaf, _, err = a.kept(); err != nil {
		return nil, err
	}
	_, err = a.current()
	return a, err
}

func sorted(names []string) []string {
	out := slices.Clone(names)
	slices.Sort(out)
	return slices.Compact(out)
}

func serial() (*big.Int, error) { return rand.Int(rand.Reader, new(big.Int).Lsh(big.NewInt(1), 127)) }

func (a *Authority) makeAuthority() (*x509.Certificate, *ecdsa.PrivateKey, error) {
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		return nil, nil, err
	}
	n, err := serial()
	if err != nil {
		return nil, nil, err
	}
	host, err := os.Hostname()
	if err != nil {
		host = "the shop"
	}
	now := a.now()
	template := &x509.Certificate{SerialNumber: n, Subject: pkix.Name{CommonName: "Inner Compass at " + host}, NotBefore: now.Add(-time.Hour), NotAfter: now.Add(authorityFor),
		IsCA: true, BasicConstraintsValid: true, MaxPathLenZero: true, KeyUsage: x509.KeyUsageCertSign | x509.KeyUsageCRLSign}
	der, err := x509.CreateCertificate(rand.Reader, template, template, &key.PublicKey, key)
	if err != nil {
		return nil, nil, err
	}
	cert, err := x509.ParseCertificate(der)
	if err != nil {
		return nil, nil, err
	}
	return cert, key, write(a.dir, authorityFile, authorityKey, der, key)
}

// kept is the server's certificate as it lies in the folder; nil when there is none.
func (a *Authority) kept() (*x509.Certificate, *ecdsa.PrivateKey, error) {
	cert, key, err := read(a.dir, serverFile, serverKey)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, nil, nil
	}
	if err != nil {
		return nil, nil, fmt.Errorf("the server's certificate in %s: %w; move it away to have another made", a.dir, err)
	}
	a.server = &tls.Certificate{Certificate: [][]byte{cert.Raw}, PrivateKey: key, Leaf: cert}
	return cert, key, nil
}

// good reports whether a certificate can still be shown: by this authority, for these names, with time to spare.
func (a *Authority) good(c *x509.Certificate) bool {
	if c == nil || a.now().Add(renewBefore).After(c.NotAfter) || a.now().Before(c.NotBefore) || c.CheckSignatureFrom(a.cert) != nil {
		return false
	}
	has := slices.Clone(c.DNSNames)
	for _, ip := range c.IPAddresses {
		has = append(has, ip.String())
	}
	return slices.Equal(sorted(has), a.names)
}

// current is the server's certificate, made anew if it is no longer good.
func (a *Authority) current() (*tls.Certificate, error) {
	a.mu.Lock()
	defer a.mu.Unlock()
	if a.good(a.leaf) {
		return a.server, nil
	}
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		return nil, err
	}
	n, err := serial()
	if err != nil {
		return nil, err
	}
	now := a.now()
	template := &x509.Certificate{SerialNumber: n, Subject: pkix.Name{CommonName: "Inner Compass"}, NotBefore: now.Add(-time.Hour), NotAfter: now.Add(serverFor),
		KeyUsage: x509.KeyUsageDigitalSignature, ExtKeyUsage: []x509.ExtKeyUsage{x509.ExtKeyUsageServerAuth}}
	for _, name := range a.names {
		if ip := net.ParseIP(name); ip != nil {
			template.IPAddresses = append(template.IPAddresses, ip)
		} else {
			template.DNSNames = append(template.DNSNames, name)
		}
	}
	der, err := x509.CreateCertificate(rand.Reader, template, a.cert, &key.PublicKey, a.key)
	if err != nil {
		return nil, err
	}
	leaf, err := x509.ParseCertificate(der)
	if err != nil {
		return nil, err
	}
	if err := write(a.dir, serverFile, serverKey, der, key); err != nil {
		return nil, err
	}
	a.leaf, a.server = leaf, &tls.Certificate{Certificate: [][]byte{der}, PrivateKey: key, Leaf: leaf}
	return a.server, nil
}

// TLS is how a listener speaks: nothing older than 1.2, and the certificate as it is at the time.
func (a *Authority) TLS() *tls.Config {
	return &tls.Config{MinVersion: tls.VersionTLS12, GetCertificate: func(*tls.ClientHelloInfo) (*tls.Certificate, error) { return a.current() }}
}

// Certificate is that of the authority, in PEM: what a tablet is given once.
func (a *Authority) Certificate() []byte {
	return pem.EncodeToMemory(&pem.Block{Type: "CERTIFICATE", Bytes: a.cert.Raw})
}

// Fingerprint of the authority's certificate, SHA-256, as tablets show it.
func (a *Authority) Fingerprint() string {
	sum := sha256.Sum256(a.cert.Raw)
	parts := make([]string, len(sum))
	for i, b := range sum {
		parts[i] = fmt.Sprintf("%02X", b)
	}
	return strings.Join(parts, ":")
}

// Files are a certificate and key that a shop has from somewhere else; they are read again when they change, so that whoever renews them need not start the
// app again.
func Files(cert, key string) (*tls.Config, error) {
	f := &pair{certFile: cert, keyFile: key}
	if _, err := f.get(nil); err != nil {
		return nil, err
	}
	return &tls.Config{MinVersion: tls.VersionTLS12, GetCertificate: f.get}, nil
}

type pair struct {
	certFile, keyFile string
	mu                sync.Mutex
	read              time.Time
	cert              *tls.Certificate
}

func (f *pair) get(*tls.ClientHelloInfo) (*tls.Certificate, error) {
	f.mu.Lock()
	defer f.mu.Unlock()
	info, err := os.Stat(f.certFile)
	if err == nil && f.cert != nil && info.ModTime().Equal(f.read) {
		return f.cert, nil
	}
	if err == nil {
		var fresh tls.Certificate
		if fresh, err = tls.LoadX509KeyPair(f.certFile, f.keyFile); err == nil {
			f.cert, f.read = &fresh, info.ModTime()
			return f.cert, nil
		}
	}
	if f.cert != nil { // half written, or gone for a moment: the one before goes on
		return f.cert, nil
	}
	return nil, fmt.Errorf("%s with %s: %w; accepted: a certificate chain and its key, both in PEM", f.certFile, f.keyFile, err)
}

func read(dir, certFile, keyFile string) (*x509.Certificate, *ecdsa.PrivateKey, error) {
	certPEM, err := os.ReadFile(filepath.Join(dir, certFile))
	if err != nil {
		return nil, nil, err
	}
	keyPEM, err := os.ReadFile(filepath.Join(dir, keyFile))
	if err != nil {
		return nil, nil, err
	}
	block, _ := pem.Decode(certPEM)
	keyBlock, _ := pem.Decode(keyPEM)
	if block == nil || keyBlock == nil {
		return nil, nil, errors.New("damaged: no PEM")
	}
	cert, err := x509.ParseCertificate(block.Bytes)
	if err != nil {
		return nil, nil, err
	}
	key, err := x509.ParseECPrivateKey(keyBlock.Bytes)
	if err != nil {
		return nil, nil, err
	}
	if !key.PublicKey.Equal(cert.PublicKey) {
		return nil, nil, errors.New("certificate and key do not belong together")
	}
	return cert, key, nil
}

// write puts both in place, the key first: a certificate without its key is of no use, the other way round another is made.
func write(dir, certFile, keyFile string, der []byte, key *ecdsa.PrivateKey) error {
	keyDER, err := x509.MarshalECPrivateKey(key)
	if err != nil {
		return err
	}
	for _, f := range []struct {
		name  string
		block *pem.Block
	}{{keyFile, &pem.Block{Type: "EC PRIVATE KEY", Bytes: keyDER}}, {certFile, &pem.Block{Type: "CERTIFICATE", Bytes: der}}} {
		var b bytes.Buffer
		if err := pem.Encode(&b, f.block); err != nil {
			return err
		}
		tmp := filepath.Join(dir, "new-"+f.name)
		if err := errors.Join(os.WriteFile(tmp, b.Bytes(), 0o600), os.Rename(tmp, filepath.Join(dir, f.name))); err != nil {
			return err
		}
	}
	return nil
}
