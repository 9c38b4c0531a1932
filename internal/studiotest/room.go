package studiotest

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"math/rand/v2"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/material"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/school"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/core/wet"
	"jevvo/internal/form"
	"jevvo/internal/store"
	"jevvo/internal/studio"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/bench"
	"jevvo/internal/studio/billing"
	"jevvo/internal/studio/commissions"
	"jevvo/internal/studio/journal"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/preview"
	"jevvo/internal/studio/session"
	"jevvo/internal/studio/stock"
	"jevvo/internal/studio/weighing"
)

// A Clock that a test moves.
type Clock struct{ T time.Time }

// Now is its time.
func (c *Clock) Now() time.Time { return c.T }

// A Room is a studio over a store in a folder of its own.
type Room struct {
	*studio.Studio
	T     testing.TB
	DB    *store.Store
	Path  string
	Clock *Clock
}

// Open lays out a studio that owns the examples.
func Open(t testing.TB) *Room {
	t.Helper()
	dir := t.TempDir()
	LayOut(t, dir)
	r := &Room{T: t, Path: filepath.Join(dir, Database), Clock: &Clock{Monday}}
	r.Start()
	return r
}

func (r *Room) Start() {
	r.T.Helper()
	var err error
	r.DB, err = store.Open(r.T.Context(), r.Path)
	require.NoError(r.T, err)
	r.T.Cleanup(func() { r.DB.Close() })
	r.Studio, err = studio.New(r.T.Context(), r.DB,
		studio.Options{Now: r.Clock.Now, Secrets: Secrets(filepath.Dir(r.Path))})
	require.NoError(r.T, err)
	r.Preview.Cells = 32
}

func (r *Room) Restart() {
	r.T.Helper()
	require.NoError(r.T, r.DB.Close())
	r.Start()
}

func (r *Room) Ctx() context.Context { return r.T.Context() }

// Piece plans a piece from typed values on top of the usual ones.
func (r *Room) Piece(typed map[string]string) pieces.Piece {
	r.T.Helper()
	return Piece(r.T, r.Studio, typed)
}

// Edit types values on the newest revision of a piece.
func (r *Room) Edit(p pieces.Piece, typed map[string]string) pieces.Piece {
	r.T.Helper()
	p, n, err := r.Pieces.Edit(r.Ctx(), p.ID, p.Rev, typed)
	require.NoError(r.T, err)
	require.True(r.T, n.OK(), n.Errors)
	return p
}

func (r *Room) Plan(p pieces.Piece) agenda.View {
	r.T.Helper()
	v, err := r.Agenda.Plan(r.Ctx(), p)
	require.NoError(r.T, err)
	return v
}

// AnyPress presses something; what is refused changes nothing.
func (r *Room) AnyPress(b session.Bench, rnd *rand.Rand) session.Bench {
	r.T.Helper()
	spot := technique.Spots[rnd.IntN(len(technique.Spots))]
	var err error
	next := b
	switch rnd.IntN(12) {
	case 0:
		next, err = r.Bench.More(
			r.Ctx(),
			b.ID,
			false,
			b.Cups[rnd.IntN(len(b.Cups))].ID,
			fmt.Sprintf("%d mL", 2+rnd.IntN(40)),
			spot,
		)
	case 1:
		rule := technique.MoveRules[rnd.IntN(len(technique.MoveRules))]
		next, err = r.Bench.AddMove(r.Ctx(), b.ID, false, rule.Kind, spot)
	case 2:
		c := wet.Complaints[rnd.IntN(len(wet.Complaints))]
		a, _, why := r.Bench.Advice(r.Ctx(), b.ID, false, c.ID, spot)
		if err = why; err == nil && len(a.Now) > 0 {
			next, err = r.Bench.Mend(r.Ctx(), b.ID, false, c.ID, spot, a.Now[0].ID)
		}
	case 3:
		next, err = r.Bench.Heat(r.Ctx(), b.ID, false, spot, float64(rnd.IntN(5)))
	case 4, 5:
		next, err = r.Bench.Log().Press(r.Ctx(), b.ID, 0, false, session.TakeBack)
	case 6:
		next, err = r.Bench.Log().Press(r.Ctx(), b.ID, 0, false, session.StepSkipped)
	case 7:
		if rnd.IntN(8) == 0 {
			next, err = r.Bench.Log().Press(r.Ctx(), b.ID, 0, false, session.StopHere)
		}
	case 8:
		next, err = r.Bench.Happened(r.Ctx(), b.ID, false, wet.FellOver, b.Cups[0].ID)
	default:
		next, err = r.Bench.Log().Press(r.Ctx(), b.ID, 0, false, session.StepDone)
	}
	if err != nil {
		fresh, readErr := r.Bench.Log().Bench(r.Ctx(), b.ID, false)
		require.NoError(r.T, readErr)
		assert.Len(r.T, fresh.Events, len(b.Events), "what is refused changes nothing")
		return fresh
	}
	return next
}

// At presses a step by its place, as a screen does.
func (r *Room) At(b session.Bench, step int, said string) (session.Bench, error) {
	return r.Bench.Log().Press(r.Ctx(), b.ID, 0, false, session.DoneAt(step, said))
}

// Back takes the last press back.
func (r *Room) Back(b session.Bench) session.Bench {
	r.T.Helper()
	b, err := r.Bench.Log().Press(r.Ctx(), b.ID, 0, b.Rehearsal, session.TakeBack)
	require.NoError(r.T, err)
	return b
}

func (r *Room) Begin(typed map[string]string) session.Bench {
	r.T.Helper()
	copied := map[string]string{}
	for k, v := range typed {
		copied[k] = v
	}
	b, err := r.Bench.Start(r.Ctx(), r.Piece(copied).ID, plan.FirstCoat, 0, bench.Answers{Anyway: true})
	require.NoError(r.T, err)
	return b
}

// Day begins a bench day on a piece, or a rehearsal.
func (r *Room) Day(typed map[string]string, speed float64) session.Bench {
	r.T.Helper()
	b, err := r.Bench.Start(r.Ctx(), r.Piece(typed).ID, plan.FirstCoat, speed, bench.Answers{Anyway: true})
	require.NoError(r.T, err)
	return b
}

func (r *Room) Days() *agenda.Agenda {
	r.T.Helper()
	a, err := r.Agenda.Current(r.Ctx())
	require.NoError(r.T, err)
	return a
}

func (r *Room) Deal(t testing.TB, id int64) billing.Deal {
	t.Helper()
	d, err := r.Billing.Deal(r.Ctx(), id)
	require.NoError(t, err)
	return d
}

func (r *Room) Have(t *testing.T, of stock.Thing) float64 {
	t.Helper()
	l, err := r.Stock.Ledger(r.Ctx())
	require.NoError(t, err)
	return l.Have(of)
}

func (r *Room) Look(b session.Bench) bench.View {
	r.T.Helper()
	b, err := r.Bench.Log().Bench(r.Ctx(), b.ID, b.Rehearsal)
	require.NoError(r.T, err)
	v, err := r.Bench.Look(r.Ctx(), b)
	require.NoError(r.T, err)
	return v
}

// Made is a piece whose first coat was poured at the bench and is over.
func (r *Room) Made(name string) pieces.Piece {
	r.T.Helper()
	b := r.Day(map[string]string{"name": name}, 0)
	for !b.Finished() {
		b = r.Press(b, 2*time.Minute)
	}
	p, err := r.Pieces.Piece(r.Ctx(), b.PieceID)
	require.NoError(r.T, err)
	return p
}

// Ordered is a commission with one priced board of 20 × 30 cm.
func (r *Room) Ordered(t testing.TB) (commissions.Commission, pieces.Piece) {
	t.Helper()
	_, n, err := r.Prices.SaveTerms(r.Ctx(), 0, map[string]string{"tax": "19 %", "deposit": "40 %", "method": "area",
		"per_area": "10", "studio": "Studio Wenning", "currency": "EUR"}, nil)
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	c, n, err := r.Commissions.Save(r.Ctx(), 0, 0,
		map[string]string{"name": `The "Quill" office`, "client": "Maren Quill, 🎨 שלום", "discount": "10 %",
			"delivery": "12.50"})
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	p, err := r.Commissions.AddBoard(r.Ctx(), c.ID)
	require.NoError(t, err)
	p = r.Edit(p, map[string]string{"size": "20 x 30 cm"})
	return c, p
}

// Pigment finds one among the materials by its name.
func (r *Room) Pigment(name string) material.Pigment {
	r.T.Helper()
	b, err := r.Materials.Book(r.Ctx())
	require.NoError(r.T, err)
	for _, p := range b.Paints {
		if p.Name == name {
			return p
		}
	}
	r.T.Fatalf("no pigment %q", name)
	return material.Pigment{}
}

// Poured presses until the first cups are empty.
func (r *Room) Poured(b session.Bench) session.Bench {
	r.T.Helper()
	for range 40 {
		b = r.Press(b, time.Minute)
		for i, s := range b.Steps {
			if _, over := b.Over(i); over && s.Pours {
				return b
			}
		}
	}
	r.T.Fatal("nothing was poured")
	return b
}

// Press does the step in hand after some minutes.
func (r *Room) Press(b session.Bench, after time.Duration) session.Bench {
	r.T.Helper()
	r.Clock.T = r.Clock.T.Add(after)
	b, err := r.Bench.Log().Bench(r.Ctx(), b.ID, b.Rehearsal)
	require.NoError(r.T, err)
	b, err = r.Bench.Log().Press(r.Ctx(), b.ID, b.Rev, b.Rehearsal, session.StepDone)
	require.NoError(r.T, err)
	return b
}

func (r *Room) ReadPiece(id int64) pieces.Piece {
	r.T.Helper()
	p, err := r.Pieces.Piece(r.Ctx(), id)
	require.NoError(r.T, err)
	return p
}

// Result fills a result of a piece in.
func (r *Room) Result(name string, change func(*journal.Result)) {
	r.T.Helper()
	p := r.Piece(map[string]string{"name": name, "state": string(plan.Done)}) // no days are planned for it
	v, err := r.Journal.View(r.Ctx(), p.ID, plan.FirstCoat)
	require.NoError(r.T, err)
	change(&v.Result)
	require.NoError(r.T, r.Journal.Keep(r.Ctx(), v, v.Result))
}

// School answers one question of the studio.
func (r *Room) School(question, way string) {
	r.T.Helper()
	_, n, err := r.Setup.Edit(r.Ctx(), map[string]string{"school." + question: way})
	require.NoError(r.T, err)
	require.True(r.T, n.OK(), n.Errors)
}

// See is the first coat of a piece on its preview.
func (r *Room) See(p pieces.Piece) preview.View {
	v, err := r.Preview.View(r.Ctx(), p.ID, "")
	require.NoError(r.T, err)
	return v
}

func (r *Room) Surface() colour.Surface {
	r.T.Helper()
	b, err := r.Materials.Book(r.Ctx())
	require.NoError(r.T, err)
	return b.Surface
}

// UntilMet presses until the parts of the first lot have met.
func (r *Room) UntilMet(b session.Bench) session.Bench {
	r.T.Helper()
	for range 40 {
		if b = r.Press(b, time.Minute); len(b.BatchesMixed()) > 0 {
			return b
		}
	}
	r.T.Fatal("the parts never met")
	return b
}

func CupKey(cup, field string) string { return pieces.CupKey(plan.FirstCoat, cup, field) }

func Form1(id int64) string { return units.Fixed(float64(id), 0) }

func TaskOf(t *testing.T, a *agenda.Agenda, key string) agenda.Task {
	t.Helper()
	for _, x := range a.Tasks {
		if x.Key == key {
			return x
		}
	}
	require.Fail(t, "no task "+key)
	return agenda.Task{}
}

// Shot is a photograph of two fields side by side, a grey card over them.
func Shot(t *testing.T, left, right color.NRGBA, card color.NRGBA) []byte {
	t.Helper()
	m := image.NewNRGBA(image.Rect(0, 0, 400, 300))
	for i := range 400 * 300 {
		x, y := i%400, i/400
		c := left
		if x >= 200 {
			c = right
		}
		if y < 60 {
			c = card
		}
		m.SetNRGBA(x, y, c)
	}
	var b bytes.Buffer
	require.NoError(t, jpeg.Encode(&b, m, &jpeg.Options{Quality: 95}))
	return b.Bytes()
}

func ResinOf(p plan.Spec) stock.Thing {
	return stock.Thing{Kind: store.Resins, ID: p.Layers[0].Coat.Product}
}

// A Painter stands at a kitchen scale whose display she alone reads: it shows all
// that was put on it since it was last zeroed.
type Painter struct {
	Way     string
	display units.Mass
	Over    float64 // how much pigment she lets fall, times the target; 0 for as told
}

const paperCup = 9 * units.Gram

// Weigh takes a weigh-out to its end by typing what the display shows.
func (p *Painter) Weigh(r *Room, w weighing.Weighing) weighing.Weighing {
	for range 200 {
		if w.Done {
			return w
		}
		w = p.Once(r, w)
	}
	r.T.Fatal("the weigh-out does not end")
	return w
}

// Once zeroes the scale, or types the next amount.
func (p *Painter) Once(r *Room, w weighing.Weighing) weighing.Weighing {
	var err error
	if w.Stage == weighing.Tare {
		p.display = paperCup
		text := form.MassText(p.display)
		if p.Way != school.TareNever {
			p.display, text = 0, ""
		}
		w, err = r.Bench.Tare(r.Ctx(), w.ID, w.Rev, text)
		require.NoError(r.T, err)
		return w
	}
	if p.Way == school.TareEach {
		p.display = 0
	}
	d := w.Look(w.Base, true)
	if w.Stage == weighing.Pigmenting && p.Over > 0 {
		d.Target *= units.Mass(p.Over)
		d.Reach = p.display + d.Target
	}
	p.display += d.Target
	assert.InDelta(r.T, p.display.Grams(), d.Reach.Grams(), 0.02, "the page says what the display will show: %s", d.What)
	w, err = r.Bench.Typed(r.Ctx(), w.ID, w.Rev, fmt.Sprintf("%.3f", p.display.Grams()))
	require.NoError(r.T, err)
	return w
}

// Tide is a picture of wet sand below so many lines of slate, of thirty.
func Tide(t testing.TB, slate int) *bytes.Buffer {
	t.Helper()
	m := image.NewNRGBA(image.Rect(0, 0, 40, 30))
	for y := range 30 {
		for x := range 40 {
			c := color.NRGBA{160, 140, 116, 255} // wet sand
			if y < slate {
				c = color.NRGBA{61, 74, 84, 255} // slate
			}
			m.SetNRGBA(x, y, c)
		}
	}
	var b bytes.Buffer
	require.NoError(t, png.Encode(&b, m))
	return &b
}
