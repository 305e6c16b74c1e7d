// Package app puts the use cases together over one store.
package app

import (
	"context"
	"errors"
	"log/slog"
	"time"

	"innercompass/core/find"
	"innercompass/core/instruments"
	"innercompass/core/intake"
	"innercompass/core/scheme"
	"innercompass/core/wordbench"
	"innercompass/internal/assessing"
	"innercompass/internal/audit"
	"innercompass/internal/backup"
	"innercompass/internal/building"
	"innercompass/internal/cases"
	"innercompass/internal/checks"
	"innercompass/internal/clock"
	"innercompass/internal/floor"
	"innercompass/internal/hearing"
	"innercompass/internal/interview"
	"innercompass/internal/jobs"
	"innercompass/internal/library"
	"innercompass/internal/live"
	"innercompass/internal/measuring"
	"innercompass/internal/overview"
	"innercompass/internal/people"
	"innercompass/internal/planning"
	"innercompass/internal/privacy"
	"innercompass/internal/quoting"
	"innercompass/internal/readings"
	"innercompass/internal/recordings"
	"innercompass/internal/records"
	"innercompass/internal/reserve"
	"innercompass/internal/said"
	"innercompass/internal/search"
	"innercompass/internal/shifting"
	"innercompass/internal/shop"
	"innercompass/internal/takein"
	"innercompass/internal/teardown"
	"innercompass/internal/verification"
)

// Store keeps everything.
type Store interface {
	cases.Store
	shop.Store
	library.Store
	floor.Store
	takein.Store
	measuring.Store
	quoting.Store
	records.Store
	search.Store
	said.Store
	building.Store
	recordings.Store
	jobs.Store
	people.Store
	audit.Store
	backup.Store
	privacy.Store
	Dir() string
	CaseIDs(ctx context.Context) ([]string, error)
	Alive(ctx context.Context) (time.Duration, error)
	Free() (uint64, error)
	Snapshot(ctx context.Context, to string) error
	EndLinks(ctx context.Context, now time.Time) error
	KeepHead(ctx context.Context) error
	LastAt(ctx context.Context) (time.Time, error)
}

// Sheets are the sheets that come with the app, and the reader of customers' words.
type Sheets interface {
	library.Sheets
	Vocabulary() (intake.Lexicon, []wordbench.Case)
	Names() find.Alike
	Arrangements() []scheme.Scheme
}

// App is all that can be done.
type App struct {
	Store   Store
	Now     func() time.Time           // the clock; set once by main or a test
	Changed func(what string, rev int) // told after every change: a case with its revision, or settings, prices, units; may be nil

	Cases        *cases.Service
	Shop         *shop.Service
	Library      *library.Service
	Assessing    *assessing.Service
	Floor        *floor.Service
	Intake       *takein.Service
	Readings     *readings.Service
	Measuring    *measuring.Service
	Checks       *checks.Service
	Said         *said.Service
	Interview    *interview.Service
	Planning     *planning.Service
	Quoting      *quoting.Service
	Records      *records.Service
	Verification *verification.Service
	Overview     *overview.Service
	Search       *search.Service
	Building     *building.Service
	Recordings   *recordings.Service
	Hearing      *hearing.Service
	Shifting     *shifting.Service
	Live         *live.Service
	Teardown     *teardown.Service
	Jobs         *jobs.Service
	People       *people.Service
	Clock        *clock.Clock
	Backup       *backup.Service
	Privacy      *privacy.Service
	Reserve      *reserve.Keeper // nil when no second machine is kept ready
}

// New returns the app over a store, what comes with it. The clock runs in milliseconds, as the store keeps them, and begins no earlier than the last change.
func New(store Store, sheets Sheets) *App {
	last, err := store.LastAt(context.Background())
	if err != nil {
		slog.Warn("the time of the last change is not known", "error", err)
	}
	a := &App{Store: store, Clock: clock.New(last)}
	a.Now = a.Clock.Now
	now := func() time.Time { return a.Now() }
	a.Library = library.New(store, sheets, now, a.tell)
	a.Cases = &cases.Service{Store: store, Library: a.Library, Tell: a.tell}
	a.Shop = &shop.Service{Store: store, Library: a.Library, Now: now, Names: a.names, Tell: a.tell}
	a.Assessing = assessing.New(now)
	a.Floor = floor.New(store, a.Cases, a.Shop, a.Library, a.Assessing)
	a.Readings = &readings.Service{Cases: a.Cases, Now: now}
	a.Measuring = &measuring.Service{Store: store, Cases: a.Cases, Shop: a.Shop, Library: a.Library, Readings: a.Readings, Now: now}
	a.Intake = &takein.Service{Store: store, Cases: a.Cases, Shop: a.Shop, Library: a.Library, Readings: a.Readings, Measuring: a.Measuring, Now: now}
	a.Checks = &checks.Service{Cases: a.Cases, Measuring: a.Measuring, Shop: a.Shop, Assessing: a.Assessing, Now: now}
	a.Said = &said.Service{Store: store, Cases: a.Cases, Library: a.Library, Readings: a.Readings, Tell: a.tell}
	if sheets != nil {
		a.Said.Words, a.Said.Texts = sheets.Vocabulary()
	}
	a.Interview = &interview.Service{Cases: a.Cases, Shop: a.Shop, Assessing: a.Assessing, Readings: a.Readings, Said: a.Said, Now: now}
	a.Planning = &planning.Service{Cases: a.Cases, Shop: a.Shop, Assessing: a.Assessing}
	a.Quoting = &quoting.Service{Store: store, Cases: a.Cases, Assessing: a.Assessing, Now: now}
	a.Records = &records.Service{Store: store, Cases: a.Cases, Assessing: a.Assessing, Quoting: a.Quoting, Now: now}
	a.Verification = &verification.Service{Cases: a.Cases, Shop: a.Shop, Now: now}
	a.Overview = &overview.Service{Cases: a.Cases, Shop: a.Shop, Library: a.Library, Assessing: a.Assessing, Intake: a.Intake, Floor: a.Floor, Now: now}
	a.Building = &building.Service{Store: store, Library: a.Library, Now: now}
	a.Recordings = &recordings.Service{Store: store, Cases: a.Cases, Library: a.Library, Now: now, Tell: a.tell}
	a.Measuring.Surrounds = a.Recordings.Surrounds
	a.Hearing = &hearing.Service{Recordings: a.Recordings, Cases: a.Cases, Library: a.Library, Readings: a.Readings}
	a.Live = &live.Service{Library: a.Library, Recordings: a.Recordings, Cases: a.Cases, Readings: a.Readings}
	a.Shifting = &shifting.Service{Recordings: a.Recordings, Library: a.Library, Cases: a.Cases, Readings: a.Readings, Verification: a.Verification}
	a.Teardown = &teardown.Service{Cases: a.Cases, Shop: a.Shop, Readings: a.Readings, Assessing: a.Assessing, Now: now}
	a.People = people.New(store, now, a.tell)
	a.People.Shop = func(ctx context.Context) (string, error) {
		s, err := a.Shop.Settings(ctx)
		return s.Shop, err
	}
	a.Backup = &backup.Service{Store: store, Source: backup.Source{Dir: store.Dir(), Snapshot: store.Snapshot, Now: now}, Now: now, Tell: a.tell}
	a.Privacy = &privacy.Service{Store: store, Now: now, Tell: a.tell}
	a.Jobs = &jobs.Service{Store: store, Cases: a.Cases, Shop: a.Shop, Assessing: a.Assessing, Now: now, Tell: a.tell}
	a.Search = &search.Service{Store: store, Cases: a.Cases, Floor: a.Floor, Intake: a.Intake, Library: a.Library, Instruments: instruments.All()}
	if sheets != nil {
		a.Search.Alike = sheets.Names()
		a.Building.Schemes = sheets.Arrangements()
	}
	return a
}

// tell says that something has changed, once it is kept. All rows of the Floor follow a change of the settings, since what is worth
// doing next depends on the rates; that of a case is kept with the answer to its change.
func (a *App) tell(what string, rev int) {
	if what == "settings" {
		a.Floor.Ask()
	}
	if a.Changed != nil {
		a.Changed(what, rev)
	}
}

// names are those of everybody who works in the shop.
func (a *App) names(ctx context.Context) ([]string, error) {
	all, err := a.People.List(ctx)
	out := make([]string, len(all))
	for i, p := range all {
		out[i] = p.Name
	}
	return out, err
}

// tidyEvery is how often what time alone does is done.
const tidyEvery = 20 * time.Second

// Run keeps up what follows from changes, and what time alone does, until ctx ends.
func (a *App) Run(ctx context.Context) {
	go func() {
		every := time.NewTicker(tidyEvery)
		defer every.Stop()
		for {
			_, overdue := a.Privacy.Tidy(people.With(ctx, people.AtTheMachine("their time is over")))
			if err := errors.Join(a.Store.EndLinks(ctx, a.Now()), a.Store.KeepHead(ctx), overdue); err != nil && ctx.Err() == nil {
				slog.Warn("tidying", "error", err)
			}
			select {
			case <-ctx.Done():
				return
			case <-every.C:
			}
		}
	}()
	go a.Backup.Run(ctx)
	a.Floor.Keep(ctx)
}
