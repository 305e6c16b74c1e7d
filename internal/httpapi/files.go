package httpapi

import (
	"encoding/json"
	"errors"
	"io"
	"net/http"

	"github.com/gin-gonic/gin"

	"innercompass/internal/app"
	"innercompass/internal/takein"
)

// files exports and imports open case files. They are not in the strict contract because their form
// is that of docs/case-file.schema.json, shared with the command line.
type files struct{ app *app.App }

func (f *files) get(c *gin.Context) {
	file, err := f.app.Intake.Export(c.Request.Context(), c.Param("id"))
	if err != nil {
		fail(c, err)
		return
	}
	data, err := json.MarshalIndent(file, "", "  ")
	if err != nil {
		fail(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="`+c.Param("id")+`.case.json"`)
	c.Data(http.StatusOK, "application/json", append(data, '\n'))
}

func (f *files) post(c *gin.Context) {
	data, err := io.ReadAll(http.MaxBytesReader(c.Writer, c.Request.Body, maxBody))
	var tooLarge *http.MaxBytesError
	if errors.As(err, &tooLarge) {
		refuse(c, err)
		return
	}
	if err != nil {
		fail(c, err)
		return
	}
	file, err := takein.ParseFile(data)
	if err != nil {
		fail(c, err)
		return
	}
	saved, err := f.app.Intake.Import(c.Request.Context(), file)
	view, err := made(c.Request.Context(), f.app, saved, err)
	if err != nil {
		fail(c, err)
		return
	}
	c.JSON(http.StatusCreated, caseView(view))
}
