package demo

import (
	"context"
	"fmt"
	"time"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/store"
	"jevvo/internal/studio/bench"
	"jevvo/internal/studio/billing"
	"jevvo/internal/studio/commissions"
	"jevvo/internal/studio/materials"
	"jevvo/internal/studio/session"
	"jevvo/internal/studio/stock"
)

// A Travel is a clock that is set back while the past is laid out, so that everything in it
// carries the day it was done on.
type Travel struct {
	Real func() time.Time
	back time.Duration
}

// Now is the time the clock shows.
func (t *Travel) Now() time.Time { return t.Real().Add(-t.back) }

// to sets it to a time of day so many days ago.
func (t *Travel) to(days, hour, minute int) {
	t.back = 0
	now := t.Real().Local()
	at := time.Date(now.Year(), now.Month(), now.Day()-days, hour, minute, 0, 0, time.Local)
	t.back = now.Sub(at)
}

// A past is a board of the last eight months.
type past struct {
	name      string
	days      int // ago it was poured
	technique string
	palette   string
	wide      units.Length
	high      units.Length
	support   surface.Support
	mark      int
	sentence  string
	price     string // it was sold for; "" while it hangs in the studio
	job       string // the commission it belongs to
}

// palettes are the cups of the past boards.
var palettes = map[string][]cup{
	"tidal": {{"Wet sand", "Wet sand", "#a08c74", technique.Base, 0.48, 0.03},
		{"Slate", "Slate", "#3d4a54", technique.Accent, 0.20, 0.035},
		{"Eelgrass", "Eelgrass", "#55705a", technique.Accent, 0.14, 0.03},
		{"Foam white", "Lacing white", "#f2f1ec", technique.White, 0.18, 0.045}},
	"pans": {{"Brine", "Brine", "#8fa9ad", technique.Base, 0.46, 0.03},
		{"Sluice rust", "Sluice rust", "#9c4f2d", technique.Accent, 0.16, 0.03},
		{"Deep pan", "Deep tarn", "#2b5566", technique.Accent, 0.16, 0.03},
		{"Salt", "Lacing white", "#f5f3ee", technique.White, 0.22, 0.05}},
	"night": {{"Harbour black", "Lamp soot", "#20262c", technique.Base, 0.40, 0.03},
		{"Wake blue", "Ink-blue tint", "#27506f", technique.Accent, 0.32, 0.03},
		{"Spray", "Soft white", "#e8ecec", technique.White, 0.28, 0.04}},
	"shell": {{"Bone", "Bone", "#d8cdb8", technique.Base, 0.50, 0.03},
		{"Slate", "Slate", "#3d4a54", technique.Accent, 0.18, 0.035},
		{"Sluice rust", "Sluice rust", "#9c4f2d", technique.Accent, 0.12, 0.03},
		{"Foam white", "Lacing white", "#f2f1ec", technique.White, 0.20, 0.045}},
	"deep": {{"Deep tarn", "Deep tarn", "#2b5566", technique.Base, 0.48, 0.03},
		{"Eelgrass", "Eelgrass", "#55705a", technique.Accent, 0.20, 0.03},
		{"Bone", "Bone", "#d8cdb8", technique.Accent, 0.14, 0.03},
		{"Foam white", "Lacing white", "#f2f1ec", technique.White, 0.18, 0.045}},
}

// A job is a commission of the last eight months.
type job struct {
	name, client, place string
	asked               int    // days ago
	paid                int    // days ago; 0 while it is not
	price               string // of a board
}

var jobs = []job{
	{"Lighthouse kitchen", "Ivo Sandrin", "above the stove, out of the steam", 228, 176, "420"},
	{"Harbour office, two tides", "Port of Outer Sallow", "meeting room, long wall", 170, 112, "510"},
	{"Tea room at the slip", "Nele Abramowicz", "opposite the counter", 118, 63, "360"},
	{"Chapel window seat", "Parish of Sallow", "beside the south window", 74, 0, "390"},
}

const (
	panel  = surface.Panel
	canvas = surface.Canvas
	cradle = surface.Cradled
)

var pasts = []past{
	{"Kitchen, kelp line", 208, "swipe", "deep", 400, 300, panel, 4, "a calm edge; the kelp stayed green", "",
		"Lighthouse kitchen"},
	{"Skerries", 201, "cell", "shell", 300, 300, cradle, 3, "cells small, too many in the middle", "240", ""},
	{"Causeway at noon", 193, "flow", "tidal", 500, 250, canvas, 4, "ribbons held their line", "310", ""},
	{"Ledger of rain", 181, "swipe", "night", 300, 400, panel, 2, "muddy where the sheet went back", "", ""},
	{"High water, office", 152, "swipe", "tidal", 600, 400, cradle, 5, "lace along the whole seam", "",
		"Harbour office, two tides"},
	{"Low water, office", 149, "swipe", "shell", 600, 400, cradle, 4, "pair of the first, a little paler", "",
		"Harbour office, two tides"},
	{"Moorings", 139, "cell", "deep", 250, 250, panel, 5, "one cell the size of a coin, the rest like roe", "190", ""},
	{"Spring tide over stone", 126, "flow", "shell", 400, 600, canvas, 3, "tilted too far, rust ran off", "", ""},
	{"Steam on the slip", 101, "cell", "pans", 350, 350, cradle, 4, "salt crust, as on the tile", "",
		"Tea room at the slip"},
	{"Winter bay", 92, "swipe", "night", 300, 300, panel, 4, "black let through only at the rim", "230", ""},
	{"Sandbank with birds", 83, "cell", "tidal", 300, 300, panel, 1, "room under 17 °C, sticky on the third day", "", ""},
	{"Seat, morning", 58, "swipe", "pans", 500, 300, panel, 5, "the rust sits where the light comes from", "",
		"Chapel window seat"},
	{"Ferry lights", 44, "flow", "night", 300, 500, canvas, 4, "one warm line; second coat took it further", "280", ""},
	{"Rope walk", 37, "swipe", "shell", 250, 500, panel, 4, "slate drawn thin, as wished", "", ""},
	{"Flood gate", 29, "cell", "deep", 400, 400, cradle, 3, "dust in the last hour", "", ""},
	{"Breakwater", 23, "flow", "tidal", 450, 300, canvas, 5, "as wished; the one to repeat", "", ""},
	{"Salt hay", 17, "swipe", "tidal", 300, 300, panel, 4, "silicone in the slate alone", "210", ""},
	{"Slack water", 9, "cell", "pans", 300, 300, panel, 4, "cells open to the edge", "", ""},
}

// ideas are boards nobody has begun.
var ideas = []past{
	{name: "Tidal clock, twelve tiles", technique: "cell", palette: "tidal", wide: 150, high: 150, support: panel},
	{name: "Long shore", technique: "flow", palette: "deep", wide: 1200, high: 300, support: canvas},
	{name: "Fog signal", technique: "swipe", palette: "night", wide: 400, high: 400, support: panel},
	{name: "Window for the net loft", technique: "flow", palette: "pans", wide: 500, high: 700, support: cradle},
}

// addPast lays eight months out behind a studio that has its materials. The clock is the studio's.
func addPast(ctx context.Context, st *laid, book *materials.Book, clock *Travel) error {
	defer func() { clock.back = 0 }()
	if err := buyAgain(ctx, st, book, clock); err != nil {
		return err
	}
	ids, err := addCommissions(ctx, st, clock)
	if err != nil {
		return err
	}
	for i, p := range pasts {
		if err := p.add(ctx, st, book, clock, ids[p.job], i); err != nil {
			return fmt.Errorf("add %s: %w", p.name, err)
		}
	}
	return closeCommissions(ctx, st, clock, ids)
}

// addCurrent adds what is thought of, and a bench day that began an hour ago.
func addCurrent(ctx context.Context, st *laid, book *materials.Book, clock *Travel) error {
	for _, p := range ideas {
		spec, err := p.spec(book, st.Now())
		if err != nil {
			return err
		}
		spec.State = plan.Idea
		if _, err := st.Pieces.Add(ctx, spec); err != nil {
			return err
		}
	}
	defer func() { clock.back = 0 }()
	return underWay(ctx, st, book, clock)
}

// buyAgain is what the past boards made necessary.
func buyAgain(ctx context.Context, st *laid, book *materials.Book, clock *Travel) error {
	clock.to(84, 10, 30)
	for _, p := range book.Resins {
		if p.Name == "Hollin Bench 45" {
			if err := st.Stock.Buy(ctx, stock.Thing{Kind: store.Resins, ID: p.ID}, map[string]string{"amount": "3 kits",
				"supplier": supplier}); err != nil {
				return err
			}
		}
	}
	for _, p := range book.Paints {
		if p.Name == "Lacing white" || p.Name == "Slate" || p.Name == "Brine" {
			if err := st.Stock.Buy(ctx, stock.Thing{Kind: store.Pigments, ID: p.ID}, map[string]string{"amount": "2 bottles",
				"supplier": supplier}); err != nil {
				return err
			}
		}
	}
	return nil
}

// addCommissions writes the commissions down on the days they came.
func addCommissions(ctx context.Context, st *laid, clock *Travel) (map[string]int64, error) {
	ids := map[string]int64{}
	for _, j := range jobs {
		clock.to(j.asked, 11, 20)
		c, n, err := st.Commissions.Save(ctx, 0, 0, map[string]string{"name": j.name, "client": j.client,
			"place": j.place, "contact": "post@sallow.example", "address": j.client + "\nSallow",
			"due": st.Now().AddDate(0, 0, 60).Format(time.DateOnly)})
		if err != nil || !n.OK() {
			return nil, fmt.Errorf("take %s: %w %v", j.name, err, n.Errors)
		}
		ids[j.name] = c.ID
	}
	return ids, nil
}

// closeCommissions quotes, hands over and is paid.
func closeCommissions(ctx context.Context, st *laid, clock *Travel, ids map[string]int64) error {
	for _, j := range jobs {
		id := ids[j.name]
		clock.to(j.asked-6, 16, 5)
		if _, err := st.Documents.Make(ctx, id, billing.Quote, "en", ""); err != nil {
			return fmt.Errorf("quote %s: %w", j.name, err)
		}
		clock.to(j.asked-8, 9, 40)
		if err := st.Billing.Approve(ctx, id, "by letter", nil); err != nil {
			return fmt.Errorf("agree %s: %w", j.name, err)
		}
		if err := handOver(ctx, st, clock, id, j); err != nil {
			return fmt.Errorf("hand %s over: %w", j.name, err)
		}
	}
	return nil
}

// handOver invoices a commission whose boards are made; who pays does so two weeks later.
func handOver(ctx context.Context, st *laid, clock *Travel, id int64, j job) error {
	invoiced := max(j.paid+14, 34)
	clock.to(invoiced, 15, 10)
	c, err := st.Commissions.Commission(ctx, id)
	if err != nil {
		return err
	}
	_, n, err := st.Commissions.Save(ctx, id, c.Rev, map[string]string{"state": string(commissions.Handed)})
	if err != nil || !n.OK() {
		return fmt.Errorf("%w %v", err, n.Errors)
	}
	if _, err := st.Documents.Make(ctx, id, billing.Invoice, "en", ""); err != nil {
		return err
	}
	if j.paid == 0 {
		return nil
	}
	d, err := st.Billing.Deal(ctx, id)
	if err != nil {
		return err
	}
	clock.to(j.paid, 10, 0)
	return st.Billing.Pay(ctx, id, false, map[string]string{"amount": d.Total.Gross.String(), "note": "by transfer"})
}

func (p past) spec(book *materials.Book, start time.Time) (plan.Spec, error) {
	s := plan.NewSpec(book.Context, productNamed(book, "Hollin Bench 45"), start)
	s.Stand(p.support)
	s.Asked, s.Name, s.Width, s.Height = true, p.name, p.wide, p.high
	return s, pour(&s, book, p.technique, 1.6, palettes[p.palette]...)
}

// add pours a board on its day and judges it a week later.
func (p past) add(ctx context.Context, st *laid, book *materials.Book, clock *Travel, job int64, n int) error {
	clock.to(p.days+3, 18, 30)
	poured := clock.Now().AddDate(0, 0, 3).Add(time.Duration(-480+n*17%300) * time.Minute)
	spec, err := p.spec(book, poured)
	if err != nil {
		return err
	}
	spec.Commission = job
	made, err := st.Pieces.Add(ctx, spec)
	if err != nil {
		return err
	}
	clock.to(max(p.days-7, 1), 9, 15)
	if err := st.Agenda.Mark(ctx, made.ID, plan.PourKey(plan.FirstCoat), poured); err != nil {
		return err
	}
	if _, _, err := st.Pieces.Edit(ctx, made.ID, made.Rev, map[string]string{"state": string(plan.Done)}); err != nil {
		return err
	}
	if err := p.judge(ctx, st, made.ID); err != nil {
		return err
	}
	return p.sell(ctx, st, made.ID, clock)
}

// sell prices it as it hangs in the studio; what was sold was paid three weeks after it was poured.
func (p past) sell(ctx context.Context, st *laid, piece int64, clock *Travel) error {
	price := p.price
	for _, j := range jobs {
		if j.name == p.job {
			price = j.price
		}
	}
	if price == "" {
		return nil
	}
	asked := map[string]string{"method": "own", "own": price}
	if p.price != "" {
		clock.to(max(p.days-21, 1), 14, 0)
		asked["sold"], asked["for"], asked["to"] = st.Now().Format(time.DateOnly), price, "a visitor of the open studio"
	}
	_, n, err := st.Prices.Ask(ctx, piece, 0, asked)
	if err != nil || !n.OK() {
		return fmt.Errorf("price: %w %v", err, n.Errors)
	}
	if p.price == "" {
		return nil
	}
	return st.Billing.Pay(ctx, 0, false, map[string]string{"amount": price, "note": p.name})
}

// judge fills its result in, with its photograph where there is one.
func (p past) judge(ctx context.Context, st *laid, piece int64) error {
	v, err := st.Journal.View(ctx, piece, plan.FirstCoat)
	if err != nil {
		return err
	}
	r := v.Result
	opened := map[string]string{"swipe": "laced", "cell": "cells", "flow": "stayed"}[p.technique]
	for k := range r.Pairs {
		r.Pairs[k].What = "stayed"
		if k == 0 && p.mark > 2 {
			r.Pairs[k].What = opened
			if opened != "stayed" {
				r.Pairs[k].Cells = units.Length(6 + 2*p.mark)
			}
		}
	}
	r.Mark, r.Sentence, r.Face = p.mark, p.sentence, []string{"flat"}
	r.Again = map[bool]string{true: "yes", false: "changed"}[p.mark > 3]
	if p.mark == 1 {
		r.Again, r.Face = "no", []string{"sticky", "waves"}
	}
	if r.Cured, err = addPhoto(ctx, st, piece, p.name, "cured"); err != nil {
		return err
	}
	return st.Journal.Keep(ctx, v, r)
}

// underWay is a bench day that began an hour ago.
func underWay(ctx context.Context, st *laid, book *materials.Book, clock *Travel) error {
	clock.back = time.Hour
	p := past{name: "Study, evening ebb", technique: "swipe", palette: "tidal", wide: 300, high: 300, support: panel}
	spec, err := p.spec(book, st.Now())
	if err != nil {
		return err
	}
	made, err := st.Pieces.Add(ctx, spec)
	if err != nil {
		return err
	}
	day, err := st.Bench.Start(ctx, made.ID, plan.FirstCoat, 0, bench.Answers{Anyway: true})
	if err != nil {
		return err
	}
	// Laid out without haste; mixed, coloured and spread while the batch keeps.
	for _, minutes := range []int{20, 14, 10, 5, 1} {
		clock.back = time.Duration(minutes) * time.Minute
		if _, err := st.Bench.Log().Press(ctx, day.ID, 0, false, session.DoneAt(-1, "")); err != nil {
			return err
		}
	}
	return nil
}
