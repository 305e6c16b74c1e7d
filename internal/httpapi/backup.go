package httpapi

import (
	"context"
	"strconv"
	"time"

	"innercompass/internal/backup"
	"innercompass/internal/httpapi/gen"
	"innercompass/internal/people"
	"innercompass/internal/reserve"
)

// lateBy is how much later than planned the last good backup may be before everybody is told.
const lateBy = 2 * time.Hour

// backupView is how backups stand: when the last good one was, for everybody; where they go, for those who look after them.
func (h *handlers) backupView(ctx context.Context) (gen.Backup, error) {
	p, err := h.App.Backup.Plan(ctx)
	if err != nil {
		return gen.Backup{}, err
	}
	runs, err := h.App.Backup.Runs(ctx)
	if err != nil {
		return gen.Backup{}, err
	}
	last, err := h.App.Backup.LastGood(ctx)
	out := gen.Backup{Planned: p.Secret != nil, Rev: strconv.Itoa(p.Rev), Every: p.Every, Keep: p.Keep, Encrypted: p.All, Runs: []gen.BackupRun{}}
	if !last.IsZero() {
		out.Last = &last
	}
	out.Late = p.Secret != nil && p.Every > 0 && h.App.Now().Sub(last) > time.Duration(p.Every)*time.Hour+lateBy
	may, _ := people.From(ctx).May(people.Manage)
	if s := h.App.Reserve.State(); s.Folder != "" {
		out.Reserve = &gen.Reserve{Keys: s.Keys, Pictures: s.Pictures, Promoted: s.Promoted, Why: maybe(s.Why), Late: s.Why != "" || h.App.Now().Sub(s.At) > reserve.Late}
		if !s.At.IsZero() {
			out.Reserve.At = &s.At
		}
		if may {
			out.Reserve.Folder = &s.Folder
		}
	}
	if may {
		out.Folder = maybe(p.Folder)
		out.Runs = list(runs, func(r backup.Run) gen.BackupRun {
			return gen.BackupRun{At: r.At, File: r.File, Bytes: r.Bytes, Pictures: r.Pictures, Took: r.Took, Good: r.Good, Why: maybe(r.Why)}
		})
	}
	return out, err
}

func (h *handlers) GetBackup(ctx context.Context, _ gen.GetBackupRequestObject) (gen.GetBackupResponseObject, error) {
	v, err := h.backupView(ctx)
	return gen.GetBackup200JSONResponse(v), err
}

func (h *handlers) PlanBackup(ctx context.Context, r gen.PlanBackupRequestObject) (gen.PlanBackupResponseObject, error) {
	rev, _ := strconv.Atoi(unquoted(r.Params.IfMatch)) // what is no number is no revision of the plan
	b := r.Body
	if _, err := h.App.Backup.Save(ctx, backup.Plan{Folder: b.Folder, Every: b.Every, Keep: b.Keep, All: b.Encrypted, Rev: rev}, text(b.Passphrase)); err != nil {
		return nil, err
	}
	v, err := h.backupView(ctx)
	return gen.PlanBackup200JSONResponse(v), err
}

func (h *handlers) MakeBackup(ctx context.Context, _ gen.MakeBackupRequestObject) (gen.MakeBackupResponseObject, error) {
	// It goes on when the page that asked for it is closed.
	if _, err := h.App.Backup.Make(context.WithoutCancel(ctx)); err != nil {
		return nil, err
	}
	v, err := h.backupView(ctx)
	return gen.MakeBackup201JSONResponse(v), err
}
