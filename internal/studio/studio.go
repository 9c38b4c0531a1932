// Package studio is what the painter does: one service an aggregate, each
// change in one transaction, joined here over one store and one clock.
//
// The services read in one direction: setup and materials make the book every plan
// stands on; pieces keep specs; agenda evaluates them and plans the days; bench,
// colours, commissions, today and post show and change things by it.
package studio

import (
	"context"
	"fmt"
	"time"

	"jevvo/internal/exchange/picture"
	"jevvo/internal/store"
	"jevvo/internal/studio/access"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/bench"
	"jevvo/internal/studio/billing"
	"jevvo/internal/studio/colours"
	"jevvo/internal/studio/commissions"
	"jevvo/internal/studio/documents"
	"jevvo/internal/studio/idempotency"
	"jevvo/internal/studio/intake"
	"jevvo/internal/studio/journal"
	"jevvo/internal/studio/learn"
	"jevvo/internal/studio/mail"
	"jevvo/internal/studio/materials"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/preview"
	"jevvo/internal/studio/prices"
	"jevvo/internal/studio/renders"
	"jevvo/internal/studio/reorder"
	"jevvo/internal/studio/session"
	"jevvo/internal/studio/setup"
	"jevvo/internal/studio/share"
	"jevvo/internal/studio/stock"
	"jevvo/internal/studio/today"
	"jevvo/internal/studio/wall"
)

// A Studio is all services over one store.
type Studio struct {
	Setup       *setup.Service
	Materials   *materials.Service
	Pieces      *pieces.Service
	Stock       *stock.Service
	Intake      *intake.Service
	Reorder     *reorder.Service
	Prices      *prices.Service
	Renders     *renders.Service
	Billing     *billing.Service
	Wall        *wall.Service
	Documents   *documents.Service
	Agenda      *agenda.Service
	Bench       *bench.Service
	Colours     *colours.Service
	Commissions *commissions.Service
	Today       *today.Service
	Mail        *mail.Service
	Preview     *preview.Service
	Journal     *journal.Service
	Learn       *learn.Service
	Idempotency *idempotency.Service
	Access      *access.Service
	Share       *share.Service
	Now         func() time.Time
}

// Options are the settings a studio is opened with besides its store.
type Options struct {
	Now     func() time.Time
	Secrets setup.Secrets
	Mail    mail.Mailer // nil: letters are only kept
	Devices *bench.Devices
	// Patience bounds how long a page waits for the days to be planned anew
	// while there are older ones to show; 0 waits until they are.
	Patience time.Duration
}

// New opens the studio on a store and lays it out if it is the first time.
func New(ctx context.Context, db *store.Store, o Options) (*Studio, error) {
	if o.Devices == nil {
		o.Devices = &bench.Devices{}
	}
	desk := picture.NewDesk()
	s := &Studio{Now: o.Now, Idempotency: idempotency.New(db, o.Now), Access: access.New(db, o.Secrets, o.Now)}
	s.Setup = setup.New(db, o.Now, o.Secrets)
	s.Materials = materials.New(db, s.Setup, o.Now)
	s.Stock = stock.New(db, s.Materials, o.Now)
	s.Pieces = pieces.New(db, s.Materials, o.Now)
	s.Intake = intake.New(s.Materials, s.Stock, s.Pieces, desk)
	s.Share = share.New(db, s.Materials, s.Pieces, o.Now)
	log := session.NewLog(db, o.Now)
	s.Agenda = agenda.New(db, s.Materials, log, o.Now, o.Patience)
	s.Bench = bench.New(db, s.Setup, s.Pieces, s.Stock, s.Agenda, log, desk, o.Devices, o.Now)
	s.Colours = colours.New(db, s.Materials, s.Pieces, s.Agenda, desk, o.Now)
	s.Commissions = commissions.New(db, s.Setup, s.Materials, s.Pieces, s.Agenda, desk, o.Now)
	s.Preview = preview.New(db, s.Pieces, s.Agenda, o.Now)
	s.Journal = journal.New(db, s.Pieces, s.Agenda, desk, o.Now)
	s.Learn = learn.New(db, s.Setup, s.Materials, s.Pieces, s.Agenda, s.Journal, log, o.Now)
	s.Prices = prices.New(db, s.Materials, s.Stock, s.Pieces, s.Agenda, log, o.Now)
	s.Reorder = reorder.New(db, s.Stock, s.Agenda, o.Now)
	s.Billing = billing.New(db, s.Commissions, s.Pieces, s.Prices, s.Stock, s.Agenda, log, desk, o.Now)
	s.Today = today.New(s.Agenda, s.Bench, s.Journal, s.Reorder, s.Billing)
	s.Renders = renders.New(s.Preview)
	s.Wall = wall.New(db, s.Setup, s.Commissions, s.Pieces, s.Agenda, s.Renders, s.Journal, desk, o.Now)
	s.Mail = mail.New(db, s.Setup, s.Agenda, s.Today, o.Mail, o.Now)
	s.Documents = documents.New(db, s.Billing, s.Prices, s.Renders, s.Wall, s.Mail, desk, o.Now)
	for _, begin := range []func(context.Context) error{s.Setup.Begin, s.Mail.Begin} {
		if err := begin(ctx); err != nil {
			return nil, fmt.Errorf("lay out the studio: %w", err)
		}
	}
	return s, nil
}
