package httpapi_test

import (
	"net/http/httptest"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"innercompass/internal/httpapi"
)

// What every answer says about itself: pages, the API, errors, at both doors.
func TestHeadersOfEveryAnswer(t *testing.T) {
	a := start(t)
	h, err := httpapi.NewCustomers(a.options)
	if err != nil {
		t.Fatal(err)
	}
	id := a.minibus()
	for _, door := range []site{a, {t: t, http: h}} {
		for _, path := range []string{"/", "/cases/" + id, "/assets/a.js", "/api/cases", "/api/cases/" + id, "/api/cases/nobody", "/api/nowhere", "/api/session"} {
			w := door.do("GET", path, "")
			policy := w.Header().Get("Content-Security-Policy")
			if !strings.Contains(policy, "default-src 'self'") || !strings.Contains(policy, "frame-ancestors 'none'") || strings.Contains(policy, "unsafe-eval") || strings.Contains(policy, "script-src") ||
				w.Header().Get("X-Content-Type-Options") != "nosniff" || w.Header().Get("Referrer-Policy") != "no-referrer" || w.Header().Get("X-Request-Id") == "" || w.Header().Get("Server") != "" {
				t.Errorf("%s: %d %v", path, w.Code, w.Header())
			}
			if strings.HasPrefix(path, "/api") && (w.Header().Get("Cache-Control") != "no-store" || !strings.HasPrefix(w.Header().Get("Content-Disposition"), "attachment")) {
				t.Errorf("%s: %v", path, w.Header())
			}
			if kind := w.Header().Get("Content-Type"); kind == "" || strings.HasPrefix(kind, "text/") && !strings.Contains(kind, "charset=utf-8") {
				t.Errorf("%s: %q", path, kind)
			}
		}
	}
}

// What a proxy says of a browser is believed from its address alone: that it speaks TLS, and where it is.
func TestWhoIsBelieved(t *testing.T) {
	a := start(t)
	o := a.options
	o.Proxies = []string{"192.0.2.9"}
	h, err := httpapi.New(o)
	if err != nil {
		t.Fatal(err)
	}
	for from, believed := range map[string]bool{"192.0.2.9:4711": true, "192.0.2.10:4711": false, "127.0.0.1:4711": false} {
		r := httptest.NewRequest("GET", "/api/session", nil)
		r.RemoteAddr, r.Host = from, "127.0.0.1"
		r.Header.Set("X-Forwarded-For", "203.0.113.5")
		r.Header.Set("X-Forwarded-Proto", "https")
		w := httptest.NewRecorder()
		h.ServeHTTP(w, r)
		if got := w.Header().Get("Strict-Transport-Security") != ""; got != believed {
			t.Errorf("%s: believed %v", from, got)
		}
	}
	// Tries are counted by the browser behind the proxy, not by the proxy.
	codes := map[int]int{}
	for i := range 50 {
		r := httptest.NewRequest("GET", "/api/approvals/guess", nil)
		r.RemoteAddr, r.Host = "192.0.2.9:4711", "127.0.0.1"
		r.Header.Set("X-Forwarded-For", "203.0.113."+string(rune('1'+i%2)))
		w := httptest.NewRecorder()
		h.ServeHTTP(w, r)
		codes[w.Code]++
	}
	if codes[404] < 40 {
		t.Errorf("%v: two browsers behind one proxy are counted as one", codes)
	}
}

// docs/security.md names code and tests; all of them are there.
func TestTheSecurityPageNamesWhatThereIs(t *testing.T) {
	root := filepath.Join("..", "..")
	page, err := os.ReadFile(filepath.Join(root, "docs", "security.md"))
	if err != nil {
		t.Fatal(err)
	}
	var all strings.Builder
	err = filepath.WalkDir(root, func(path string, d os.DirEntry, err error) error {
		if err != nil {
			return err
		}
		if d.IsDir() && (d.Name() == "node_modules" || d.Name() == ".git" || d.Name() == "dist") {
			return filepath.SkipDir
		}
		if strings.HasSuffix(path, "_test.go") {
			text, err := os.ReadFile(path)
			all.Write(text)
			return err
		}
		return nil
	})
	if err != nil {
		t.Fatal(err)
	}
	named, rows := 0, 0
	for _, m := range regexp.MustCompile("`([^`]+)`").FindAllStringSubmatch(string(page), -1) {
		name := m[1]
		switch {
		case strings.HasPrefix(name, "Test"):
			named++
			if !strings.Contains(all.String(), "func "+name+"(") {
				t.Errorf("there is no test %s", name)
			}
		case strings.Contains(name, "/") && !strings.HasPrefix(name, "/") && !strings.HasPrefix(name, "log/") && !strings.HasPrefix(name, "crypto/") && !strings.HasPrefix(name, "encoding/") && !strings.HasPrefix(name, "html/") && name != "tls/":
			named++
			if _, err := os.Stat(filepath.Join(root, filepath.FromSlash(name))); err != nil {
				t.Errorf("there is no %s", name)
			}
		}
	}
	for _, line := range strings.Split(string(page), "\n") {
		if regexp.MustCompile(`^\| [0-9]+\.[0-9]+\.[0-9]+ \|`).MatchString(line) {
			rows++
			if cells := strings.Split(line, "|"); len(cells) != 5 || strings.TrimSpace(cells[3]) == "" {
				t.Errorf("%s", line)
			}
		}
	}
	if named < 100 || rows < 250 {
		t.Errorf("%d names, %d rows", named, rows)
	}
}
