package httpapi

import (
	"bytes"
	"cmp"
	"context"
	"errors"
	"io"
	"net/http"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"
	"golang.org/x/sync/semaphore"

	"innercompass/internal/app"
	"innercompass/internal/cases"
	"innercompass/internal/paper"
	"innercompass/internal/people"
	"innercompass/internal/problem"
	"innercompass/internal/records"
	"innercompass/internal/signing"
)

// documents serve what is no JSON of the contract: pictures, records as pages, PDF and open files, the price book as a table,
// rechecks for a calendar.
type documents struct{ app *app.App }

func (k *documents) routes(engine *gin.Engine) {
	engine.POST("/api/cases/:id/photos", k.addPhoto)
	engine.GET("/api/cases/:id/photos/:photo", k.photo)
	engine.GET("/api/cases/:id/records/:record/page", k.page)
	engine.GET("/api/cases/:id/records/:record/pdf", k.pdf)
	engine.GET("/api/cases/:id/records/:record/file", k.file)
	engine.GET("/api/cases/:id/calendar", k.calendar)
	engine.GET("/api/cases/:id/job/sheet", k.jobSheet)
	engine.GET("/api/cases/:id/job/parts", k.jobParts)
	engine.GET("/api/cases/:id/own-sheet", k.ownSheet)
	engine.GET("/api/week/calendar", k.week)
	engine.GET("/api/price-table", k.prices)
	engine.GET("/api/word-table", k.words)
}

// words writes the shop's own words as a table.
func (k *documents) words(c *gin.Context) {
	table, err := k.app.Said.WordTable(c.Request.Context())
	if err != nil {
		fail(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="words.csv"`)
	c.Data(http.StatusOK, "text/csv; charset=utf-8", table)
}

// addPhoto takes a multipart form: the file, and what is written under it.
func (k *documents) addPhoto(c *gin.Context) {
	if err := uploads.Acquire(c.Request.Context(), 1); err != nil {
		fail(c, err)
		return
	}
	defer uploads.Release(1)
	c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, records.MaxPhoto+(64<<10))
	file, err := c.FormFile("file")
	var tooLarge *http.MaxBytesError
	switch {
	case errors.As(err, &tooLarge):
		fail(c, &problem.FieldError{Field: "file", Reason: "too large", Accepted: "a picture of up to 16 MiB"})
		return
	case err != nil:
		fail(c, &problem.FieldError{Field: "file", Reason: "missing", Accepted: "a picture in the form field file"})
		return
	}
	opened, err := file.Open()
	if err != nil {
		fail(c, err)
		return
	}
	defer opened.Close()
	data, err := io.ReadAll(opened)
	if err != nil {
		fail(c, err)
		return
	}
	stage := c.PostForm("stage")
	if stage == "" {
		stage = "teardown"
	}
	saved, err := k.app.Records.AddPhoto(c.Request.Context(), c.Param("id"), cases.Guard{Key: c.GetHeader("Idempotency-Key")}, cases.Photo{Caption: c.PostForm("caption"), Stage: stage, Part: c.PostForm("part"), By: people.By(c.Request.Context(), c.PostForm("by"))}, data)
	if err != nil {
		fail(c, err)
		return
	}
	news, err := newsOf(c.Request.Context(), k.app, saved)
	if err != nil {
		fail(c, err)
		return
	}
	c.JSON(http.StatusCreated, news)
}

func (k *documents) photo(c *gin.Context) {
	file, kind, err := k.app.Records.PhotoFile(c.Request.Context(), c.Param("id"), c.Param("photo"), c.Query("small") != "")
	if err != nil {
		fail(c, err)
		return
	}
	if !people.From(c.Request.Context()).Needed { // where people change at a tablet, nothing of a case stays in it
		c.Header("Cache-Control", "private, max-age=31536000, immutable") // a picture never changes under its id
	}
	c.Header("Content-Disposition", "inline")
	c.Data(http.StatusOK, kind, file)
}

// issued is the record that a request names, with its pictures.
func (k *documents) issued(c *gin.Context) (paper.Issued, cases.Record, paper.Files, bool) {
	ctx := c.Request.Context()
	content, kept, err := k.app.Records.RecordOf(ctx, c.Param("id"), c.Param("record"))
	if err != nil {
		fail(c, err)
		return paper.Issued{}, kept, nil, false
	}
	return paper.Issued{RecordContent: content, Digest: kept.Digest, KeyID: kept.KeyID}, kept, k.app.Records.Files(ctx), true
}

func (k *documents) page(c *gin.Context) {
	r, _, files, ok := k.issued(c)
	if !ok {
		return
	}
	k.send(c, "text/html; charset=utf-8", "", k.signed(signing.HTML, func(w io.Writer) error { return paper.HTML(c.Request.Context(), w, r, files) }))
}

func (k *documents) pdf(c *gin.Context) {
	r, _, files, ok := k.issued(c)
	if !ok {
		return
	}
	size := c.DefaultQuery("paper", paper.Papers[0])
	if size != paper.Papers[0] && size != paper.Papers[1] {
		fail(c, &problem.FieldError{Field: "paper", Reason: size, Accepted: "A4, Letter"})
		return
	}
	k.send(c, "application/pdf", `inline; filename="record-`+r.Number+`.pdf"`, k.signed(signing.PDF, func(w io.Writer) error { return paper.PDF(c.Request.Context(), w, r, files, size) }))
}

func (k *documents) file(c *gin.Context) {
	r, kept, _, ok := k.issued(c)
	if !ok {
		return
	}
	k.send(c, "application/json", `attachment; filename="record-`+r.Number+`.json"`, func(w io.Writer) error {
		sig, err := k.app.Records.SignatureOf(c.Request.Context(), kept)
		if err != nil {
			return err
		}
		data, err := paper.JSON(kept.Content, kept.Digest, sig)
		if err == nil {
			_, err = w.Write(data)
		}
		return err
	})
}

// signed puts the shop's signature at the end of what is written.
func (k *documents) signed(f signing.Form, write func(io.Writer) error) func(io.Writer) error {
	return func(w io.Writer) error {
		var b bytes.Buffer
		if err := write(&b); err != nil {
			return err
		}
		_, err := w.Write(k.app.Store.Sign(f, b.Bytes()))
		return err
	}
}

func (k *documents) calendar(c *gin.Context) {
	data, err := k.app.Verification.Calendar(c.Request.Context(), c.Param("id"))
	if err != nil {
		fail(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="recheck-`+c.Param("id")+`.ics"`)
	c.Data(http.StatusOK, "text/calendar; charset=utf-8", data)
}

// jobSheet is the job of a case as pages for the bay.
func (k *documents) jobSheet(c *gin.Context) {
	j, err := k.app.Jobs.Job(c.Request.Context(), c.Param("id"), c.Query("option"))
	if err == nil && len(j.Plan.Tasks) == 0 {
		err = &problem.StateError{Reason: "no work is planned", Accepted: "an option that is planned or agreed"}
	}
	if err != nil {
		fail(c, err)
		return
	}
	size := c.DefaultQuery("paper", paper.Papers[0])
	if !slices.Contains(paper.Papers, size) {
		fail(c, problem.Field("paper", size, strings.Join(paper.Papers, ", ")))
		return
	}
	k.send(c, "application/pdf", `inline; filename="job-`+c.Param("id")+`.pdf"`, func(w io.Writer) error {
		return paper.JobSheet(c.Request.Context(), w, j, k.app.Now(), size)
	})
}

// jobParts is the parts list of a job as a table.
func (k *documents) jobParts(c *gin.Context) {
	j, err := k.app.Jobs.Job(c.Request.Context(), c.Param("id"), c.Query("option"))
	if err != nil {
		fail(c, err)
		return
	}
	table, err := j.PartsTable()
	if err != nil {
		fail(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="parts-`+c.Param("id")+`.csv"`)
	c.Data(http.StatusOK, "text/csv; charset=utf-8", table)
}

// ownSheet is the sheet of a case's unit with what was found different on it.
func (k *documents) ownSheet(c *gin.Context) {
	text, err := k.app.Teardown.OwnSheet(c.Request.Context(), c.Param("id"))
	if err != nil {
		fail(c, err)
		return
	}
	c.Data(http.StatusOK, "application/yaml; charset=utf-8", text)
}

// week is the planned jobs as entries of a calendar.
func (k *documents) week(c *gin.Context) {
	data, err := k.app.Jobs.Calendar(c.Request.Context())
	if err != nil {
		fail(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="week.ics"`)
	c.Data(http.StatusOK, "text/calendar; charset=utf-8", data)
}

func (k *documents) prices(c *gin.Context) {
	data, err := k.app.Shop.PricesCSV(c.Request.Context())
	if err != nil {
		fail(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="prices.csv"`)
	c.Data(http.StatusOK, "text/csv; charset=utf-8", data)
}

// Files of pictures are held in memory while they come in, and records while they are written: only so many at once.
var (
	uploads = semaphore.NewWeighted(3)
	renders = semaphore.NewWeighted(2)
)

// rendering waits for its turn to write a record.
func rendering(ctx context.Context) (release func(), err error) {
	if err := renders.Acquire(ctx, 1); err != nil {
		return nil, err
	}
	return func() { renders.Release(1) }, nil
}

// send writes to memory before it says that all is well.
func (k *documents) send(c *gin.Context, kind, disposition string, write func(io.Writer) error) {
	release, err := rendering(c.Request.Context())
	if err != nil {
		fail(c, err)
		return
	}
	defer release()
	var b bytes.Buffer
	if err = write(&b); err != nil {
		fail(c, err)
		return
	}
	c.Header("Content-Disposition", cmp.Or(disposition, "inline"))
	c.Data(http.StatusOK, kind, b.Bytes())
}
