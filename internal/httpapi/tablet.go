package httpapi

import (
	"context"
	"fmt"
	"html/template"
	"net"
	"net/http"
	"strings"

	"github.com/yeqown/go-qrcode/v2"

	"innercompass/internal/httpapi/gen"
)

// Authority is the shop's own, as a tablet is shown it.
type Authority struct {
	Certificate []byte // PEM
	Fingerprint string // SHA-256
	Link        string // where a tablet finds the page that hands it out, such as http://192.168.1.5:8080/tablet
}

// NewPlain returns the handler of the door without TLS: it hands the authority's certificate to tablets that do not trust it yet, and sends everything else to
// the door with TLS.
func NewPlain(o Options, secure string, a *Authority) http.Handler {
	mux := http.NewServeMux()
	if a != nil {
		mux.HandleFunc("GET /authority.crt", func(w http.ResponseWriter, _ *http.Request) {
			w.Header().Set("Content-Type", "application/x-x509-ca-cert")
			w.Header().Set("Content-Disposition", `attachment; filename="inner-compass.crt"`)
			_, _ = w.Write(a.Certificate)
		})
		mux.HandleFunc("GET /tablet", func(w http.ResponseWriter, r *http.Request) {
			w.Header().Set("Content-Type", "text/html; charset=utf-8")
			w.Header().Set("Content-Security-Policy", "default-src 'none'; style-src 'unsafe-inline'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'")
			_ = tabletPage.Execute(w, map[string]string{"Fingerprint": a.Fingerprint, "App": "https://" + net.JoinHostPort(bare(r.Host), secure)})
		})
	}
	mux.HandleFunc("/", func(w http.ResponseWriter, r *http.Request) {
		http.Redirect(w, r, "https://"+net.JoinHostPort(bare(r.Host), secure)+r.URL.RequestURI(), http.StatusPermanentRedirect)
	})
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if !isKnown(o.Hosts, r.Host) {
			http.Error(w, "this server is not known by that name", http.StatusMisdirectedRequest)
			return
		}
		w.Header().Set("X-Content-Type-Options", "nosniff")
		w.Header().Set("Referrer-Policy", "no-referrer")
		w.Header().Set("Cache-Control", "no-store")
		mux.ServeHTTP(w, r)
	})
}

// bare is a host without its port and brackets.
func bare(host string) string {
	if name, _, err := net.SplitHostPort(host); err == nil {
		host = name
	}
	return strings.Trim(host, "[]")
}

var tabletPage = template.Must(template.New("tablet").Parse(`<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>Tablet · Inner Compass</title>
<style>body{font:17px/1.5 system-ui,sans-serif;max-width:36rem;margin:2rem auto;padding:0 1rem;background:#F7F5F0;color:#1C262D}a.do{display:inline-block;padding:.8rem 1.1rem;border-radius:6px;background:#1C262D;color:#F7F5F0;text-decoration:none;font-weight:600}code{word-break:break-all}li{margin:.8rem 0}</style>
<h1>Make this tablet trust the shop</h1>
<p>Once for each tablet. Do it in the shop’s own network.</p>
<ol>
<li><a class="do" href="/authority.crt">Get the certificate</a></li>
<li>Install it. In the tablet’s settings look for “certificate”, under security or profiles. It is one of an authority (CA).</li>
<li>The tablet shows a SHA-256 fingerprint. Compare it with the one on the owner’s screen, under People:<br><code>{{.Fingerprint}}</code><br>If one character differs, stop and ask the owner.</li>
<li><a class="do" href="{{.App}}/people">Open Inner Compass</a></li>
</ol></html>`))

// drawing takes a QR code as a path of an SVG.
type drawing struct {
	side int
	path strings.Builder
}

func (d *drawing) Close() error { return nil }

func (d *drawing) Write(m qrcode.Matrix) error {
	d.side = m.Width()
	m.Iterate(qrcode.IterDirection_ROW, func(x, y int, v qrcode.QRValue) {
		if v.IsSet() {
			fmt.Fprintf(&d.path, "M%d %dh1v1h-1z", x, y)
		}
	})
	return nil
}

// qrCode is a text as a QR code: the side of its grid, and a path of its dark fields.
func qrCode(text string) (int, string, error) {
	code, err := qrcode.New(text)
	if err != nil {
		return 0, "", err
	}
	var d drawing
	err = code.Save(&d)
	return d.side, d.path.String(), err
}

func (h *handlers) GetTabletLink(context.Context, gen.GetTabletLinkRequestObject) (gen.GetTabletLinkResponseObject, error) {
	a := h.Authority
	if a == nil {
		return gen.GetTabletLink200JSONResponse{}, nil
	}
	side, path, err := qrCode(a.Link)
	return gen.GetTabletLink200JSONResponse{Link: &a.Link, Fingerprint: &a.Fingerprint, Side: &side, Path: &path}, err
}
