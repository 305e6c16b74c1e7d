package httpapi

import (
	"context"
	"fmt"
	"strings"
	"time"

	"innercompass/internal/httpapi/gen"
	"innercompass/internal/people"
)

// Room on the drive below which somebody should look, and below which changes are about to fail.
const (
	lowDisk  = 1 << 30
	lastDisk = 50 << 20
)

// health looks at what the app rests on.
func (h *handlers) health(ctx context.Context) []gen.HealthPart {
	part := func(name string, status gen.HealthPartStatus, value float64, says string) gen.HealthPart {
		return gen.HealthPart{Name: name, Status: status, Says: says, Value: &value}
	}
	var out []gen.HealthPart
	if took, err := h.App.Store.Alive(ctx); err != nil {
		out = append(out, part("database", gen.HealthPartStatusFailing, 0, err.Error()))
	} else {
		out = append(out, part("database", gen.HealthPartStatusOk, took.Seconds(), "answers"))
	}
	switch free, err := h.App.Store.Free(); {
	case err != nil:
		out = append(out, part("disk", gen.HealthPartStatusDegraded, 0, err.Error()))
	case free < lastDisk:
		out = append(out, part("disk", gen.HealthPartStatusFailing, float64(free), fmt.Sprintf("%d MB free: make room", free>>20)))
	case free < lowDisk:
		out = append(out, part("disk", gen.HealthPartStatusDegraded, float64(free), fmt.Sprintf("%d MB free: make room soon", free>>20)))
	default:
		out = append(out, part("disk", gen.HealthPartStatusOk, float64(free), fmt.Sprintf("%d GB free", free>>30)))
	}
	b, err := h.backupView(ctx)
	switch {
	case err != nil:
		out = append(out, part("backup", gen.HealthPartStatusDegraded, 0, err.Error()))
	case !b.Planned:
		out = append(out, part("backup", gen.HealthPartStatusDegraded, 0, "none is planned"))
	case b.Last == nil:
		out = append(out, part("backup", gen.HealthPartStatusDegraded, 0, "none was good yet"))
	default:
		old := h.App.Now().Sub(*b.Last)
		status := gen.HealthPartStatusOk
		if b.Late {
			status = gen.HealthPartStatusDegraded
		}
		out = append(out, part("backup", status, old.Seconds(), "last good one "+old.Round(time.Minute).String()+" ago"))
	}
	switch r := b.Reserve; {
	case r == nil:
	case r.Promoted:
		out = append(out, part("reserve", gen.HealthPartStatusFailing, 0, "it took over: work goes on at another machine"))
	case r.At == nil:
		out = append(out, part("reserve", gen.HealthPartStatusDegraded, 0, strings.TrimSuffix("nothing has come there yet: "+text(r.Why), ": ")))
	case r.Late:
		out = append(out, part("reserve", gen.HealthPartStatusDegraded, h.App.Now().Sub(*r.At).Seconds(), "it holds what was saved until "+r.At.UTC().Format(time.RFC3339)+strings.TrimSuffix("; "+text(r.Why), "; ")))
	default:
		out = append(out, part("reserve", gen.HealthPartStatusOk, h.App.Now().Sub(*r.At).Seconds(), "follows"))
	}
	if behind := h.App.Clock.Behind(); behind > 0 {
		out = append(out, part("clock", gen.HealthPartStatusDegraded, behind.Seconds(), "the machine's clock was set back by "+behind.String()+"; the app goes on counting"))
	}
	return out
}

// GetHealth says how it stands: to whoever is signed in, and at the machine, with the reasons.
func (h *handlers) GetHealth(ctx context.Context, _ gen.GetHealthRequestObject) (gen.GetHealthResponseObject, error) {
	parts := h.health(ctx)
	out := gen.Health{Status: gen.HealthStatusOk}
	for _, p := range parts {
		switch {
		case p.Status == gen.HealthPartStatusFailing:
			out.Status = gen.HealthStatusFailing
		case p.Status == gen.HealthPartStatusDegraded && out.Status == gen.HealthStatusOk:
			out.Status = gen.HealthStatusDegraded
		}
	}
	if may, _ := people.From(ctx).May(people.Look); may || askedBy(ctx).here {
		out.Version, out.Knowledge, out.Parts = &h.Version, &h.Know, &parts
	}
	return gen.GetHealth200JSONResponse(out), nil
}
