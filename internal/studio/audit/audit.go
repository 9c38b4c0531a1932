// Package audit reads everything that is kept as the program reads it, and says what
// it cannot read.
package audit

import (
	"context"
	"encoding/json"
	"fmt"

	"jevvo/internal/core/material"
	"jevvo/internal/core/plan"
	"jevvo/internal/store"
	"jevvo/internal/studio"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/colours"
	"jevvo/internal/studio/commissions"
	"jevvo/internal/studio/documents"
	"jevvo/internal/studio/journal"
	"jevvo/internal/studio/learn"
	"jevvo/internal/studio/mail"
	"jevvo/internal/studio/materials"
	"jevvo/internal/studio/preview"
	"jevvo/internal/studio/prices"
	"jevvo/internal/studio/setup"
	"jevvo/internal/studio/stock"
)

// A reader reads one document as the program does.
type reader func(ctx context.Context, k store.Kept) error

// into reads a document that is one value.
func into[T any](_ context.Context, k store.Kept) error {
	var v T
	return json.Unmarshal(k.Doc, &v)
}

// readers are those of all documents there are.
func readers(st *studio.Studio) map[string]reader {
	log := st.Bench.Log()
	return map[string]reader{
		"setting": func(ctx context.Context, k store.Kept) error { return setting(ctx, st, k) },
		"piece": func(_ context.Context, k store.Kept) error {
			_, err := plan.Decode(k.Doc)
			return err
		},
		string(store.Resins): func(ctx context.Context, k store.Kept) error {
			_, err := st.Materials.Product(ctx, k.ID)
			return err
		},
		string(store.Pigments): func(ctx context.Context, k store.Kept) error {
			_, err := st.Materials.Pigment(ctx, k.ID)
			return err
		},
		string(store.Techniques): func(ctx context.Context, k store.Kept) error {
			_, _, err := st.Materials.Technique(ctx, materials.OwnTechnique(k.ID))
			return err
		},
		string(store.Goods):       into[stock.Goods],
		string(store.Palettes):    into[colours.Palette],
		string(store.Commissions): into[commissions.Commission],
		string(store.Benches): func(ctx context.Context, k store.Kept) error {
			_, err := log.Bench(ctx, k.ID, false)
			return err
		},
		string(store.Rehearsals): func(ctx context.Context, k store.Kept) error {
			_, err := log.Bench(ctx, k.ID, true)
			return err
		},
		string(store.Weighings): func(ctx context.Context, k store.Kept) error {
			_, err := log.Weighing(ctx, k.ID)
			return err
		},
		"result": into[journal.Result], "judgement": into[journal.Judgement], "fault": into[learn.Confirmed],
		"preview": into[preview.Tried], "price": into[prices.Asked], "paper": into[documents.Doc],
		"payment": into[struct{ Note string }], "stock entry": into[stock.Note], "letter": into[mail.Letter],
		"before": before, "plan of the day": into[agenda.KeptDay],
	}
}

// before reads what a document was before its last change.
func before(_ context.Context, k store.Kept) error {
	switch store.Kind(k.At) {
	case store.Resins:
		return json.Unmarshal(k.Doc, new(material.Product))
	case store.Pigments:
		return json.Unmarshal(k.Doc, new(material.Pigment))
	}
	return json.Unmarshal(k.Doc, new(stock.Goods))
}

func setting(ctx context.Context, st *studio.Studio, k store.Kept) error {
	var err error
	switch k.Name {
	case setup.SettingsKey:
		_, err = st.Setup.Settings(ctx)
	case setup.BeforeKey:
		err = json.Unmarshal(k.Doc, new(setup.Settings))
	case prices.TermsKey:
		_, err = st.Prices.Terms(ctx)
	case store.CalendarSecret:
		_, err = st.Mail.FeedSecret(ctx)
	}
	return err
}

// Read reads every document and returns a line for each that cannot be read.
func Read(ctx context.Context, db *store.Store, st *studio.Studio) (wrong []string, err error) {
	read := readers(st)
	err = db.EachKept(ctx, func(k store.Kept) error {
		do, known := read[k.Of]
		if !known {
			wrong = append(wrong, fmt.Sprintf("%s: this program knows no such thing", named(k)))
			return nil
		}
		if err := do(ctx, k); err != nil {
			wrong = append(wrong, fmt.Sprintf("%s cannot be read: %v", named(k), err))
		}
		return ctx.Err()
	})
	return wrong, err
}

// named says which document one is.
func named(k store.Kept) string {
	out := "the " + k.Of
	if k.ID != 0 {
		out += fmt.Sprintf(" %d", k.ID)
	}
	if k.Name != "" {
		out += fmt.Sprintf(" %q", k.Name)
	}
	if k.At != "" {
		out += " (" + k.At + ")"
	}
	return out
}
