package httpapi

import (
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"innercompass/core/recording"
	"innercompass/internal/app"
	"innercompass/internal/httpapi/gen"
	"innercompass/internal/people"
	"innercompass/internal/problem"
	"innercompass/internal/recordings"
)

// soundfiles bring recordings in and out as they are: they are far too large to be taken in before they are read.
type soundfiles struct{ app *app.App }

func (k *soundfiles) routes(e *gin.Engine) {
	e.POST("/api/recordings", k.bring)
	e.GET("/api/recordings/:id/file", k.file)
}

// patience is how long a sender may send nothing.
const patience = 30 * time.Second

// unhurried lets a long upload or download go on as long as it moves.
type unhurried struct {
	io.Reader
	c *http.ResponseController
}

func (u unhurried) Read(p []byte) (int, error) {
	// A writer that knows no deadlines, as in tests, has none.
	_ = u.c.SetReadDeadline(time.Now().Add(patience))
	_ = u.c.SetWriteDeadline(time.Now().Add(2 * patience))
	return u.Reader.Read(p)
}

// bring reads a recording from the body, as it comes.
func (k *soundfiles) bring(c *gin.Context) {
	if kind, _, _ := strings.Cut(c.ContentType(), ";"); !strings.EqualFold(strings.TrimSpace(kind), "application/octet-stream") {
		writeProblem(c, notJSON, "the body is "+c.ContentType(), "Content-Type", "application/octet-stream")
		return
	}
	b, err := broughtIn(c)
	if err != nil {
		fail(c, err)
		return
	}
	rec, err := k.app.Recordings.Bring(c.Request.Context(), unhurried{c.Request.Body, http.NewResponseController(c.Writer)}, b)
	if err != nil {
		fail(c, err)
		return
	}
	h := handlers{Options{App: k.app}}
	c.JSON(http.StatusCreated, h.recordingView(c.Request.Context(), rec))
}

// broughtIn is what the query says of a recording.
func broughtIn(c *gin.Context) (recordings.Bring, error) {
	b := recordings.Bring{File: c.Query("file"), Title: c.Query("title"), Case: c.Query("case"), Unit: c.Query("unit"), Vehicle: c.Query("vehicle"), By: people.By(c.Request.Context(), c.Query("by")), Made: c.Query("made"), Driven: recordings.Driven{Range: c.Query("range"), Load: c.Query("load")}}
	for name, to := range map[string]*float64{"road": &b.Driven.Road, "engine": &b.Driven.Engine, "slip": &b.Driven.Slip} {
		if t := c.Query(name); t != "" {
			v, err := strconv.ParseFloat(t, 64)
			if err != nil {
				return b, problem.Field(name, fmt.Sprintf("%q", t), "a number")
			}
			*to = v
		}
	}
	if t := c.Query("roles"); t != "" {
		for _, r := range strings.Split(t, ",") {
			b.Roles = append(b.Roles, recording.Role(r))
		}
	}
	if t := c.Query("held"); t != "" {
		b.Froms = strings.Split(t, "|")
	}
	return b, nil
}

// file gives a recording back: as it came, or its samples as a table or as sound, with what was named.
func (k *soundfiles) file(c *gin.Context) {
	out, err := k.app.Recordings.File(c.Request.Context(), c.Param("id"), c.DefaultQuery("as", "came"))
	if err != nil {
		fail(c, err)
		return
	}
	defer out.Close()
	c.Header("Content-Disposition", `attachment; filename="`+strings.Map(plainName, out.Name)+`"`)
	c.Header("Content-Type", "application/octet-stream")
	c.Status(http.StatusOK)
	ctl := http.NewResponseController(c.Writer)
	if err := out.Write(slowWriter{c.Writer, ctl}); err != nil {
		_ = c.Error(err) // the answer has begun: it can only be cut off
	}
}

// plainName leaves what may stand in a header.
func plainName(r rune) rune {
	if r < ' ' || r > '~' || r == '"' || r == '\\' || r == '/' {
		return '-'
	}
	return r
}

type slowWriter struct {
	io.Writer
	c *http.ResponseController
}

func (w slowWriter) Write(p []byte) (int, error) {
	_ = w.c.SetWriteDeadline(time.Now().Add(2 * patience))
	return w.Writer.Write(p)
}

// everything hands out the open archive as it is written.
func everything(o Options) gin.HandlerFunc {
	return zipped(o, "inner-compass-", func(c *gin.Context, w io.Writer) error {
		if o.Archive == nil {
			return problem.NotFound("archive", "everything", "innercompass export")
		}
		return o.Archive(c.Request.Context(), w)
	})
}

// ofCustomer hands out what is held of one customer.
func ofCustomer(o Options) gin.HandlerFunc {
	return zipped(o, "customer-", func(c *gin.Context, w io.Writer) error {
		if o.OfCustomer == nil {
			return problem.NotFound("archive", "of a customer", "")
		}
		var asked gen.CustomerName
		if err := json.NewDecoder(http.MaxBytesReader(c.Writer, c.Request.Body, maxBody)).Decode(&asked); err != nil {
			return problem.Field("customer", "not understood", "a name as it stands in a case")
		}
		return o.OfCustomer(c.Request.Context(), asked.Customer, w)
	})
}

// begun notes whether anything was written.
type begun struct {
	io.Writer
	any bool
}

func (b *begun) Write(p []byte) (int, error) { b.any = true; return b.Writer.Write(p) }

func zipped(o Options, name string, write func(c *gin.Context, w io.Writer) error) gin.HandlerFunc {
	return func(c *gin.Context) {
		c.Header("Content-Disposition", `attachment; filename="`+name+o.App.Now().Format(time.DateOnly)+`.zip"`)
		c.Header("Content-Type", "application/zip")
		w := &begun{Writer: slowWriter{c.Writer, http.NewResponseController(c.Writer)}}
		err := write(c, w)
		switch {
		case err == nil:
		case !w.any:
			c.Header("Content-Disposition", "")
			fail(c, err)
		default:
			slog.Error("archive", "request", c.GetString(requestKey), "error", err)
			panic(http.ErrAbortHandler) // the answer has begun: it is cut off, so that nobody takes it for whole
		}
	}
}
