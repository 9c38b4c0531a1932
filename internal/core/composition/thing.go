package composition

import (
	"math"
	"slices"
	"strconv"

	"jevvo/internal/core/geom"
	"jevvo/internal/core/numeric"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// Kind is the kind of a thing on the board.
type Kind string

// The kinds.
const (
	Bed     Kind = "bed"     // over the whole face, under everything
	Zone    Kind = "zone"    // one side of a dividing line
	Ribbon  Kind = "ribbon"  // a poured line
	Stripe  Kind = "stripe"  // a ribbon laid to be swiped
	Puddle  Kind = "puddle"  // a pool around a point
	Vein    Kind = "vein"    // a thin wandering line
	Dots    Kind = "dots"    // drops along a line
	Edging  Kind = "edging"  // a line along the edge of the board
	Barrier Kind = "barrier" // a ridge of stones or glass that keeps colours apart
	Window  Kind = "window"  // kept clear of colour
	Texture Kind = "texture" // an area whose hollows take resin
)

// A KindRule holds the properties shared by all things of a kind.
type KindRule struct {
	Kind   Kind
	Name   msg.ID
	Points int     // that place it: 0 none, 1 a spot, 2 or more a line
	Most   int     // points
	Share  float64 // of the coat a new one takes
	Pours  bool    // it is resin of a cup
	Layer  int     // lower ones lie under higher ones
	Step   string  // of the technique that makes it; "" for the step that pours last
	Tells  msg.ID
	trait  trait
}

// A trait is a property of a kind of thing besides its place.
type trait uint8

const (
	takesRest  trait = 1 << iota // takes what the others leave
	wholeFace                    // fills a part of the face, so it has no width
	inRow                        // repeats along its points
	hasHollows                   // has hollows that fill up
)

// HasShare reports whether the part of the coat it takes can be said.
func (r KindRule) HasShare() bool { return r.trait&takesRest == 0 }

// HasWidth reports whether it is as wide as somebody says.
func (r KindRule) HasWidth() bool { return r.trait&wholeFace == 0 }

// Hollows reports whether its hollows take resin.
func (r KindRule) Hollows() bool { return r.trait&hasHollows != 0 }

// Repeats reports whether it can be laid several times at once.
func (r KindRule) Repeats() bool { return r.Points > 0 && r.trait&wholeFace == 0 }

// HasGap reports whether repetitions stand apart by a distance of their own.
func (r KindRule) HasGap() bool { return r.trait&inRow == 0 }

// Kinds holds the rules in the order they are offered. Shares of new things
// are common practice.
var Kinds = []KindRule{
	{Bed, "Bed", 0, 0, 0, true, 0, "bed", "Clear or base colour over the whole face; takes what the others leave.",
		takesRest | wholeFace},
	{Zone, "Dividing line", 2, 2, 0.25, true, 1, "bed", "Everything to the left of the line is this cup's.", wholeFace},
	{Ribbon, "Ribbon", 2, 24, 0.06, true, 3, "", "A poured line; its width follows from its volume.", 0},
	{Stripe, "Stripe", 2, 24, 0.05, true, 3, "", "A line laid to be swiped.", 0},
	{Puddle, "Puddle", 1, 1, 0.05, true, 3, "", "A pool around a spot.", 0},
	{Vein, "Vein", 2, 24, 0.02, true, 4, "", "A thin line that wanders.", 0},
	{Dots, "Dots", 2, 2, 0.02, true, 4, "",
		"Drops from the first point to the last; more than a cell apart or they merge.", inRow},
	{Edging, "Edge line", 0, 0, 0.05, true, 5, "", "A line along the whole edge.", 0},
	{Barrier, "Barrier", 2, 24, 0.03, true, 6, "", "A ridge bound with tinted resin, poured first and let thicken.", 0},
	{Window, "Keep-clear window", 1, 1, 0.04, false, 7, "", "Nothing is poured here: what lies under stays visible.", 0},
	{Texture, "Texture", 1, 1, 0.08, false, 2, "", "Paste, sand or leaves under the resin; its hollows fill up.",
		hasHollows},
}

// RuleOf returns the rule of a kind.
func RuleOf(k Kind) (KindRule, bool) {
	for _, r := range Kinds {
		if r.Kind == k {
			return r, true
		}
	}
	return KindRule{}, false
}

// A Thing is one element of a composition. It knows its cup, how much of the
// coat it takes and where it lies; points are in mm from the corner of the
// board's box, y down.
type Thing struct {
	ID     string
	Kind   Kind
	Cup    string // colour id; "" for a window or a texture
	Points []geom.Point
	Share  float64 // of what is poured on the board; of the face for a window or a texture
	Count  int     // dots, or how often a line or puddle is repeated; 0 means once
	Gap    units.Length
	Mirror Mirror
	Volume units.Volume // hollows of a texture
	// Pour is how much of its cup it takes, where that was typed: it stays, and
	// the share follows from the coat.
	Pour units.Volume
}

// Resolve returns things whose typed volumes have become shares of a coat.
func Resolve(things []Thing, coat units.Volume) []Thing {
	out := Clone(things)
	for i := range out {
		if out[i].Pour > 0 && coat > 0 {
			out[i].Share = math.Min(1, float64(out[i].Pour/coat))
		}
	}
	return out
}

// Turn puts things in the reverse order; beds stay where they are, under the rest.
func Turn(things []Thing) {
	var on []int
	for k, t := range things {
		if t.Kind != Bed {
			on = append(on, k)
		}
	}
	for a, b := 0, len(on)-1; a < b; a, b = a+1, b-1 {
		things[on[a]], things[on[b]] = things[on[b]], things[on[a]]
	}
}

// InOrder puts things in the order of their cups, and those of one cup as they were; beds stay
// where they are, under the rest.
func InOrder(things []Thing, cups []string) {
	var at []int
	var on []Thing
	for k, t := range things {
		if t.Kind != Bed {
			at, on = append(at, k), append(on, t)
		}
	}
	rank := func(t Thing) int {
		if k := slices.Index(cups, t.Cup); k >= 0 {
			return k
		}
		return len(cups)
	}
	slices.SortStableFunc(on, func(a, b Thing) int { return rank(a) - rank(b) })
	for k, i := range at {
		things[i] = on[k]
	}
}

// Given returns the thing taking a share of the coat, whatever it took.
func (t Thing) Given(share float64) Thing {
	t.Share, t.Pour = share, 0
	return t
}

// Mirror says across which middle of the board a thing is drawn again.
type Mirror string

// The mirrors.
const (
	NoMirror    Mirror = ""
	LeftRight   Mirror = "left-right"
	TopBottom   Mirror = "top-bottom"
	BothMirrors Mirror = "both"
)

// Limits that keep a drawing sensible.
const (
	MostThings  = 120
	mostRepeats = 60
	leastShare  = 1e-4
)

// Check reports what is wrong with a thing.
func (t Thing) Check() error {
	rule, ok := RuleOf(t.Kind)
	switch {
	case !ok:
		return refusal.New("there is no %q on a board", t.Kind)
	case rule.Points > 0 && len(t.Points) < rule.Points:
		return refusal.New("a %s needs %d points", rule.Name, rule.Points)
	case rule.Most < len(t.Points):
		return refusal.New("a %s has at most %d points", rule.Name, rule.Most)
	case !(t.Share >= 0 && t.Share <= 1):
		return refusal.New("a share lies between 0 and 100 %")
	case t.Count < 0 || t.Count > mostRepeats:
		return refusal.New("at most %d repeats", mostRepeats)
	case math.Abs(float64(t.Gap)) > 5000 || !(t.Volume >= 0) || !(t.Pour >= 0):
		return refusal.New("gaps and volumes are those of a board")
	}
	for _, p := range t.Points {
		if !(math.Abs(p.X) < 1e5 && math.Abs(p.Y) < 1e5) {
			return refusal.New("a point lies within a hundred metres")
		}
	}
	if rule.Points >= 2 && geom.Length(t.Points) < 1 {
		return refusal.New("a %s needs two different points", rule.Name)
	}
	return nil
}

// Length returns the length of the line with its repeats and mirror images.
func (t Thing) Length(board surface.Shape) units.Length {
	if t.Kind == Edging {
		return board.Perimeter()
	}
	return units.Length(geom.Length(t.Points) * float64(len(t.Copies(board))))
}

// Copies returns the thing's points for each repeat and mirror image.
func (t Thing) Copies(board surface.Shape) [][]geom.Point {
	box := board.Bounds()
	w, h := float64(box.Width()), float64(box.Height())
	across := t.across()
	var out [][]geom.Point
	n := max(1, t.Count)
	if t.Kind == Dots {
		n = 1
	}
	for i := range n {
		d := geom.Point{X: across.X * float64(t.Gap) * float64(i), Y: across.Y * float64(t.Gap) * float64(i)}
		moved := make([]geom.Point, len(t.Points))
		for j, p := range t.Points {
			moved[j] = geom.Point{X: p.X + d.X, Y: p.Y + d.Y}
		}
		out = append(out, moved)
	}
	flip := func(x, y bool) {
		for _, line := range out[:n] {
			m := make([]geom.Point, len(line))
			for j, p := range line {
				m[j] = p
				if x {
					m[j].X = w - p.X
				}
				if y {
					m[j].Y = h - p.Y
				}
			}
			out = append(out, m)
		}
	}
	switch t.Mirror {
	case LeftRight:
		flip(true, false)
	case TopBottom:
		flip(false, true)
	case BothMirrors:
		flip(true, false)
		flip(false, true)
		flip(true, true)
	}
	return out
}

// across is the unit vector to the right of the thing's line, along which its
// repeats lie; straight down for a spot.
func (t Thing) across() geom.Point {
	if len(t.Points) < 2 {
		return geom.Point{X: 1}
	}
	a, b := t.Points[0], t.Points[len(t.Points)-1]
	l := math.Hypot(b.X-a.X, b.Y-a.Y)
	if l < 1e-9 {
		return geom.Point{Y: 1}
	}
	return geom.Point{X: -(b.Y - a.Y) / l, Y: (b.X - a.X) / l}
}

// Moved returns the thing shifted.
func (t Thing) Moved(dx, dy float64) Thing {
	t.Points = slices.Clone(t.Points)
	for i := range t.Points {
		t.Points[i].X += dx
		t.Points[i].Y += dy
	}
	return t
}

// NextID returns an id that no thing has.
func NextID(things []Thing) string {
	next := 1
	for _, t := range things {
		if len(t.ID) > 1 {
			if n, err := strconv.Atoi(t.ID[1:]); err == nil && n >= next {
				next = n + 1
			}
		}
	}
	return "t" + strconv.Itoa(next)
}

// Clone returns things that share nothing with these.
func Clone(things []Thing) []Thing {
	out := slices.Clone(things)
	for i := range out {
		out[i].Points = slices.Clone(out[i].Points)
	}
	return out
}

// Shares returns what part of the coat each cup takes, adding up to 1. The
// bed takes what the other things leave; without a bed, or when the others
// ask for more than there is, all are scaled alike and over says by how much
// they exceed the coat.
func Shares(things []Thing) (byCup map[string]float64, over float64) {
	byCup = map[string]float64{}
	var beds []string
	sum := 0.0
	for _, t := range things {
		rule, _ := RuleOf(t.Kind)
		switch {
		case t.Kind == Bed:
			beds = append(beds, t.Cup)
		case rule.Pours && t.Cup != "":
			byCup[t.Cup] += t.Share
			sum += t.Share
		}
	}
	rest := 1 - sum
	if rest < 0 {
		over, rest = -rest, 0
	}
	for _, cup := range beds {
		byCup[cup] += math.Max(rest, leastShare) / float64(len(beds))
	}
	total := 0.0
	for _, v := range byCup {
		total += v
	}
	if total > 0 {
		for k := range byCup {
			byCup[k] /= total
		}
	}
	return byCup, over
}

// Reshare changes a cup's part of the coat by changing its things: their
// shares grow or shrink alike and dividing lines move; the bed gives or takes
// the difference. It returns the things and false when the cup has nothing
// but a bed, whose share only follows.
func Reshare(board surface.Shape, things []Thing, cup string, share float64) ([]Thing, bool) {
	out := Clone(things)
	was, _ := Shares(out)
	if was[cup] <= 0 || !(share >= 0 && share <= 1) {
		return out, false
	}
	own, bed := 0.0, false
	for _, t := range out {
		if t.Kind == Bed {
			bed = true
		}
		if rule, _ := RuleOf(t.Kind); t.Cup == cup && rule.Pours && t.Kind != Bed {
			own += t.Share
		}
	}
	if own <= 0 {
		return out, false
	}
	want := share
	if !bed { // the others keep their parts of what is left
		others := 0.0
		for _, t := range out {
			if rule, _ := RuleOf(t.Kind); rule.Pours && t.Cup != cup {
				others += t.Share
			}
		}
		if share < 1 && others > 0 {
			want = others * share / (1 - share)
		}
	}
	f := want / own
	for i := range out {
		t := &out[i]
		if rule, _ := RuleOf(t.Kind); t.Cup != cup || !rule.Pours || t.Kind == Bed {
			continue
		}
		*t = t.Given(math.Min(1, t.Share*f))
		if t.Kind == Zone {
			*t = slideZone(board, out, i, t.Share)
		}
	}
	return Settle(board, out), true
}

// Settle brings the shares of zones in line with where their dividing lines
// are: their part of the face, less what earlier zones took.
func Settle(board surface.Shape, things []Thing) []Thing {
	out := Clone(things)
	for i := range out {
		if out[i].Kind == Zone {
			out[i].Share = float64(zoneCut(board, out, i).Area() / board.Area())
		}
	}
	return out
}

// zoneCut is the part of the face in the zone at i.
func zoneCut(board surface.Shape, things []Thing, i int) surface.Cut {
	cut := board.Whole()
	for _, t := range things[:i] {
		if t.Kind == Zone && len(t.Points) == 2 {
			cut = cut.Left(t.Points[1], t.Points[0]) // the right of an earlier line
		}
	}
	t := things[i]
	if len(t.Points) != 2 {
		return cut
	}
	return cut.Left(t.Points[0], t.Points[1])
}

// slideZone moves a dividing line sideways until its zone has the share.
func slideZone(board surface.Shape, things []Thing, i int, share float64) Thing {
	t := things[i]
	across := t.across()
	box := board.Bounds()
	reach := float64(box.Width() + box.Height())
	at := func(d float64) Thing { return t.Moved(across.X*d, across.Y*d) }
	trial := Clone(things)
	return at(numeric.First(-reach, reach, reach*1e-12, func(d float64) bool {
		trial[i] = at(d)
		return float64(zoneCut(board, trial, i).Area()/board.Area()) >= share
	}))
}
