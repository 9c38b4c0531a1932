// Package learn says what the records of a studio teach: findings over all results,
// and likely causes of what is seen on one coat.
package learn

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"jevvo/internal/core/findings"
	"jevvo/internal/core/plan"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/journal"
	"jevvo/internal/studio/materials"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/setup"
	"jevvo/internal/words"
)

// Service learns.
type Service struct {
	store     *store.Store
	setup     *setup.Service
	materials *materials.Service
	pieces    *pieces.Service
	agenda    *agenda.Service
	journal   *journal.Service
	bench     Bench
	now       func() time.Time
}

// New returns the service.
func New(db *store.Store, se *setup.Service, mats *materials.Service, p *pieces.Service, a *agenda.Service,
	j *journal.Service, b Bench, now func() time.Time) *Service {
	return &Service{db, se, mats, p, a, j, b, now}
}

// Level is the probability that a share lies in the interval that is told.
const Level = 0.9

// A Finding is how often something came of how many coats.
type Finding struct {
	Key       string // of what it is about
	Name      msg.Text
	Count     findings.Count
	Share     findings.Beta // pooled with alike things
	Low, High float64
	Few       bool // fewer coats than carry a claim
}

// Left, Wide and Middle are where the interval and the mean lie on a bar of 100.
func (f Finding) Left() float64 { return 100 * f.Low }

// Wide is how wide the interval is on it.
func (f Finding) Wide() float64 { return 100 * (f.High - f.Low) }

// Middle is where the mean lies on it.
func (f Finding) Middle() float64 { return 100 * f.Share.Mean() }

// A Group is findings of one kind, those with the most coats first.
type Group struct {
	ID   string
	Name msg.ID
	Asks msg.ID // what is counted
	Rows []Finding
	Act  []Difference
	Next *Finding // what to try next to learn most
}

// A Difference is two ways of which one is better by enough to act on it.
type Difference struct {
	Better, Worse Finding
	Sure          float64
}

// A Bias is how far one kind of forecast is off.
type Bias struct {
	ID   string
	Name msg.ID
	Unit string
	findings.Bias
	Known bool
	Off   bool
	InUse float64 // factor that forecasts are made with; 0 for as calculated
	Turns bool    // whether they can be brought to it
}

// Findings are all of them.
type Findings struct {
	Coats  int
	Groups []Group
	Biases []Bias
}

// Group returns the group of an id.
func (f Findings) Group(id string) Group {
	for _, g := range f.Groups {
		if g.ID == id {
			return g
		}
	}
	return Group{}
}

// The groups.
const (
	ByPair      = "pair"
	ByProduct   = "pigment-product"
	ByTechnique = "technique-product"
	ByRoom      = "room"
	BySilicone  = "silicone"
	ByFilm      = "film"
)

// Findings calculates what all results teach.
func (s *Service) Findings(ctx context.Context) (Findings, error) {
	results, err := s.journal.Results(ctx)
	if err != nil {
		return Findings{}, err
	}
	book, err := s.materials.Book(ctx)
	if err != nil {
		return Findings{}, err
	}
	t := newTally(book)
	for _, r := range results {
		t.take(r.Result)
	}
	return Findings{Coats: len(results), Groups: t.groups(), Biases: biases(results, book.Own)}, nil
}

// A tally counts.
type tally struct {
	book  *materials.Book
	names map[string]msg.Text
	of    map[string]map[string]*findings.Count // by group and key
}

func newTally(b *materials.Book) *tally {
	return &tally{b, map[string]msg.Text{}, map[string]map[string]*findings.Count{}}
}

func (t *tally) count(group string, key string, name msg.Text, yes bool) {
	if t.of[group] == nil {
		t.of[group] = map[string]*findings.Count{}
	}
	c := t.of[group][key]
	if c == nil {
		c = &findings.Count{}
		t.of[group][key] = c
	}
	t.names[group+" "+key] = name
	c.Of++
	if yes {
		c.Yes++
	}
}

// take counts what came of one coat.
func (t *tally) take(r journal.Result) {
	opened, looked := false, false
	for _, p := range r.Pairs {
		if p.What == "" {
			continue
		}
		looked = true
		came := slices.Contains(journal.Opened, p.What)
		opened = opened || came
		t.count(ByPair, PairKey(p.Upper, p.Under), msg.F("%s on %s", t.pigment(p.Upper), t.pigment(p.Under)), came)
		t.count(ByProduct, fmt.Sprint(p.Upper.Pigment, " ", r.Made.Product), msg.F("%s in %s", t.pigment(p.Upper),
			r.Made.Resin), came)
	}
	if looked {
		t.count(ByRoom, string(band(float64(r.Made.Room), rooms)), band(float64(r.Made.Room), rooms), opened)
		t.count(BySilicone, string(band(float64(r.Made.Drops), drops)), band(float64(r.Made.Drops), drops), opened)
		t.count(ByFilm, string(band(float64(r.Made.Film), films)), band(float64(r.Made.Film), films), opened)
	}
	if well, judged := r.Well(); judged {
		t.count(ByTechnique, fmt.Sprint(r.Made.Way, " ", r.Made.Product),
			msg.F("%s with %s", r.Made.Technique, r.Made.Resin), well)
	}
}

// PairKey tells pairs apart: by their pigments, or by name for cups without.
func PairKey(upper, under journal.Cup) string { return cupKey(upper) + " on " + cupKey(under) }

func cupKey(c journal.Cup) string {
	if c.Pigment != 0 {
		return fmt.Sprint(c.Pigment)
	}
	return strings.ToLower(c.Name)
}

func (t *tally) pigment(c journal.Cup) msg.Text {
	if p, ok := t.book.Pigments[c.Pigment]; ok {
		return msg.Own(p.Name)
	}
	return words.Filled(c.Name)
}

// An edge of a band: below it, with its name.
type edge struct {
	below float64
	name  msg.ID
}

var (
	rooms = []edge{{20, "below 20 °C"}, {22, "20 to 22 °C"}, {24, "22 to 24 °C"}, {26, "24 to 26 °C"},
		{1e9, "above 26 °C"}}
	drops = []edge{{1, "without silicone"}, {2, "1 drop of silicone in 30 mL"}, {4, "2 to 3 drops of silicone in 30 mL"},
		{1e9, "4 and more drops of silicone in 30 mL"}}
	films = []edge{{1, "a film under 1 mm"}, {2, "a film of 1 to 2 mm"}, {3, "a film of 2 to 3 mm"},
		{1e9, "a film over 3 mm"}}
)

func band(v float64, edges []edge) msg.ID {
	for _, e := range edges {
		if v < e.below {
			return e.name
		}
	}
	return edges[len(edges)-1].name
}

// kinds are the groups in the order they are shown.
var kinds = []struct {
	id   string
	name msg.ID
	asks msg.ID
}{
	{ByPair, "Colour on colour", "opened or laced"},
	{ByProduct, "Pigment and resin", "opened or laced"},
	{ByTechnique, "Technique and resin", "went well"},
	{ByRoom, "Room", "opened or laced"},
	{BySilicone, "Silicone", "opened or laced"},
	{ByFilm, "Film", "opened or laced"},
}

func (t *tally) groups() []Group {
	var out []Group
	for _, k := range kinds {
		if len(t.of[k.id]) == 0 {
			continue
		}
		g := Group{ID: k.id, Name: k.name, Asks: k.asks}
		var counts []findings.Count
		for key, c := range t.of[k.id] {
			g.Rows = append(g.Rows, Finding{Key: key, Name: t.names[k.id+" "+key], Count: *c})
		}
		slices.SortFunc(g.Rows, func(a, b Finding) int {
			if a.Count.Of != b.Count.Of {
				return b.Count.Of - a.Count.Of
			}
			return strings.Compare(a.Key, b.Key)
		})
		for _, r := range g.Rows {
			counts = append(counts, r.Count)
		}
		for i, b := range findings.Pool(counts) {
			r := &g.Rows[i]
			r.Share, r.Few = b, r.Count.Of < findings.Few
			r.Low, r.High = b.Interval(Level)
		}
		g.Act, g.Next = g.act(), g.next()
		out = append(out, g)
	}
	return out
}

// mostActs is how many differences of a group are told, mostCompared among how many
// of its rows they are looked for.
const (
	mostActs     = 3
	mostCompared = 12
)

// act finds differences that are large and sure enough to act on.
func (g Group) act() []Difference {
	var out []Difference
	rows := g.Rows[:min(len(g.Rows), mostCompared)]
	for _, a := range rows {
		for _, b := range rows {
			if !a.Few && !b.Few && a.Share.Mean() > b.Share.Mean() && a.Share.Better(b.Share) {
				out = append(out, Difference{a, b, a.Share.Beats(b.Share, 0)})
			}
		}
	}
	slices.SortStableFunc(out, func(a, b Difference) int {
		return compare(b.Better.Share.Mean()-b.Worse.Share.Mean(), a.Better.Share.Mean()-a.Worse.Share.Mean())
	})
	return out[:min(len(out), mostActs)]
}

// next is the row of which one more coat would teach most, among those that have
// some, while there is a choice.
func (g Group) next() *Finding {
	if len(g.Rows) < 2 {
		return nil
	}
	best := slices.MaxFunc(g.Rows, func(a, b Finding) int { return compare(a.Share.Learns(), b.Share.Learns()) })
	return &best
}

func compare(a, b float64) int {
	switch {
	case a < b:
		return -1
	case a > b:
		return 1
	}
	return 0
}

// Calibrate brings a kind of forecast to what this studio's coats did; back undoes it.
func (s *Service) Calibrate(ctx context.Context, id string, back bool) error {
	f, err := s.Findings(ctx)
	if err != nil {
		return err
	}
	k := slices.IndexFunc(f.Biases, func(b Bias) bool { return b.ID == id && b.Turns })
	if k < 0 || (!back && !f.Biases[k].Off) {
		return form.Refusef("forecast", "that forecast is not clearly off in one direction")
	}
	return s.setup.Calibrate(ctx, func(c *plan.Calibration) {
		*own(c, id) = f.Biases[k].Factor
		if back {
			*own(c, id) = 0
		}
	})
}

// forecasts are the forecasts compared with outcomes.
var forecasts = []struct {
	id   string
	name msg.ID
	unit string
	of   func(journal.Result) []findings.Pair
}{
	{"spacing", "How far apart cells are", "mm", func(r journal.Result) (out []findings.Pair) {
		for _, p := range r.Pairs {
			if p.Cells > 0 && p.Near > 0 && p.Far > 0 {
				raw := middle(float64(p.Near), float64(p.Far)) / plan.Factor(r.Made.Own.Spacing)
				out = append(out, findings.Pair{Forecast: raw, Came: float64(p.Cells)})
			}
		}
		return out
	}},
	{"seen", "When cells are first seen", "min", func(r journal.Result) []findings.Pair {
		if r.Figures.SeenFor <= 0 || r.Figures.Seen <= 0 {
			return nil
		}
		return []findings.Pair{{Forecast: r.Figures.SeenFor / plan.Factor(r.Made.Own.Seen), Came: r.Figures.Seen}}
	}},
	{"work", "How long it can be worked", "min",
		figure(func(f journal.Figures) (float64, float64) { return f.WorkFor, f.Work })},
	{"tape", "When tape comes off", "min",
		figure(func(f journal.Figures) (float64, float64) { return f.TapeFor, f.Tape })},
	{"run-off", "How much runs off", "share",
		figure(func(f journal.Figures) (float64, float64) { return f.RunFor, f.RunOff })},
	{"hides", "How well it covers", "share",
		figure(func(f journal.Figures) (float64, float64) { return f.HideFor, f.Hides })},
}

// middle is the geometric mean of the ends of a range.
func middle(near, far float64) float64 {
	if far <= 0 || near <= 0 {
		return 0
	}
	return math.Sqrt(near * far)
}

func figure(of func(journal.Figures) (forecast, came float64)) func(journal.Result) []findings.Pair {
	return func(r journal.Result) []findings.Pair {
		forecast, came := of(r.Figures)
		if forecast <= 0 || came <= 0 {
			return nil
		}
		return []findings.Pair{{Forecast: forecast, Came: came}}
	}
}

// own is a calibration by the id of its forecast.
func own(c *plan.Calibration, id string) *float64 {
	return map[string]*float64{"spacing": &c.Spacing, "seen": &c.Seen}[id]
}

// biases compare what was calculated, without what was calibrated since, with what
// came.
func biases(results []journal.Of, in plan.Calibration) []Bias {
	var out []Bias
	for _, f := range forecasts {
		var pairs []findings.Pair
		for _, r := range results {
			pairs = append(pairs, f.of(r.Result)...)
		}
		b := Bias{ID: f.id, Name: f.name, Unit: f.unit}
		b.Bias, b.Known = findings.BiasOf(pairs, Level)
		b.Off = b.Known && b.Bias.Off()
		if f := own(&in, f.id); f != nil {
			b.InUse, b.Turns = *f, true
			now := plan.Factor(*f)
			b.Off = b.Known && b.N >= findings.Few && (b.Low > now || b.High < now)
		}
		if b.N > 0 {
			out = append(out, b)
		}
	}
	return out
}

// A Told is a finding with what it counts.
type Told struct {
	Finding
	Asks msg.ID
}

// About are the findings that bear on a coat as it is planned: on its pairs, its
// technique with its resin, silicone, its film and its room; those there are.
func (s *Service) About(ctx context.Context, p *plan.Plan, c *plan.Coat) ([]Told, error) {
	f, err := s.Findings(ctx)
	if err != nil {
		return nil, err
	}
	blank := journal.Blank(p, c)
	keys := map[string][]string{
		ByTechnique: {fmt.Sprint(blank.Made.Way, " ", blank.Made.Product)},
		BySilicone:  {string(band(float64(blank.Made.Drops), drops))},
		ByFilm:      {string(band(float64(blank.Made.Film), films))},
		ByRoom:      {string(band(float64(blank.Made.Room), rooms))},
	}
	for _, pair := range blank.Pairs {
		keys[ByPair] = append(keys[ByPair], PairKey(pair.Upper, pair.Under))
	}
	return f.told(func(g Group, r Finding) bool { return slices.Contains(keys[g.ID], r.Key) }), nil
}

// OfTechnique are those of a technique, resin by resin.
func (s *Service) OfTechnique(ctx context.Context, id string) ([]Told, error) {
	f, err := s.Findings(ctx)
	if err != nil {
		return nil, err
	}
	return f.told(func(g Group, r Finding) bool { return g.ID == ByTechnique && strings.HasPrefix(r.Key, id+" ") }), nil
}

func (f Findings) told(bears func(Group, Finding) bool) []Told {
	var out []Told
	for _, g := range f.Groups {
		for _, r := range g.Rows {
			if bears(g, r) {
				out = append(out, Told{r, g.Asks})
			}
		}
	}
	return out
}
