// Package propose turns what is seen on a coat the day after, dry, into proposals for
// the next one: clear over what stays, a thin veil over what is to step back, dark over
// what is too large, a transparent ink where a hue is to shift, what got lost once more
// and first, what took over left out, and "seal it and leave it" always among them. All
// of it is common practice; every proposal says why, and nothing is forced.
package propose

import (
	"slices"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/composition"
	"jevvo/internal/core/geom"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// Sort is the rating of a place.
type Sort string

// The sorts, in the order they are offered.
const (
	Keep     Sort = "keep"
	Quieten  Sort = "quieten"
	Tint     Sort = "tint"
	Repeat   Sort = "repeat"
	Darken   Sort = "darken"
	Lost     Sort = "lost"
	TookOver Sort = "took-over"
	Flaw     Sort = "flaw"
)

// Sorts holds them with their names; OfCup ones are said of a cup.
var Sorts = []struct {
	Sort  Sort
	Name  msg.ID
	OfCup bool
}{
	{Keep, "Leave it", false}, {Quieten, "Calm it", false}, {Tint, "Shift its hue", false}, {Darken, "Darken", false},
	{Repeat, "Repeat", true}, {Lost, "Got lost", true}, {TookOver, "Took over", true}, {Flaw, "A flaw", false},
}

// Known reports whether a sort is one, and whether it is said of a cup.
func Known(s Sort) (ofCup, ok bool) {
	for _, one := range Sorts {
		if one.Sort == s {
			return one.OfCup, true
		}
	}
	return false, false
}

// A Mark is the rating of one place of a dry coat.
type Mark struct {
	Place technique.Place
	Sort  Sort
	Cup   string // id, of a sort that is said of one
}

// Code is why something is proposed.
type Code string

// The reasons.
const (
	ClearOverKept  Code = "clear-over-kept"  // Places
	VeilOverLoud   Code = "veil-over-loud"   // Places
	DarkOverLarge  Code = "dark-over-large"  // Places
	InkShifts      Code = "ink-shifts"       // Places, Cup: the ink, "" for one to be chosen
	LostComesFirst Code = "lost-first"       // Cup
	LeftOut        Code = "left-out"         // Cup
	AgainThere     Code = "again-there"      // Places, Cup
	ThinVeil       Code = "thin-veil"        // Film
	SealsInk       Code = "seals-ink"        // an ink is sealed by what is poured over it
	NothingAsked   Code = "nothing-asked"    // every place is kept, or none was marked
	SealsIt        Code = "seals-it"         // a clear coat protects and deepens
	FlawFirst      Code = "flaw-first"       // Places: it is mended before anything is poured
	AmountFollows  Code = "amount-for-place" // Volume: for the places that are touched
)

// A Reason is why something is proposed, with what it is about.
type Reason struct {
	Code   Code
	Places []technique.Place
	Cup    string // name
	Film   units.Length
	Volume units.Volume
}

// A Proposal is one or more layers that could come next.
type Proposal struct {
	ID      string
	Layers  []plan.Layer
	Reasons []Reason
	Mends   bool // a flaw is to be mended first; it has no layers
}

// Films of what is proposed (common practice: a veil thin enough to see through, a
// second coat, a clear that seals).
const (
	veilFilm = 0.8 * units.Millimetre
	nextFilm = 1.2 * units.Millimetre
	sealFilm = 1.6 * units.Millimetre
)

// covers is how much of a place a puddle of it covers once it has run, and mostTouched
// what of a coat goes onto places: the rest is clear under and between.
const (
	covers      = 0.6
	mostTouched = 0.7
)

// Of proposes what could come after a coat that was marked.
func Of(p *plan.Plan, c *plan.Coat, marks []Mark) []Proposal {
	m := sorted{
		plan:   p,
		coat:   c,
		places: map[Sort][]technique.Place{},
		cups:   map[Sort][]string{},
		at:     map[string][]technique.Place{},
	}
	for _, mark := range marks {
		m.places[mark.Sort] = append(m.places[mark.Sort], mark.Place)
		if mark.Cup != "" && !slices.Contains(m.cups[mark.Sort], mark.Cup) {
			m.cups[mark.Sort] = append(m.cups[mark.Sort], mark.Cup)
		}
		m.at[string(mark.Sort)+mark.Cup] = append(m.at[string(mark.Sort)+mark.Cup], mark.Place)
	}
	var out []Proposal
	if flaws := m.places[Flaw]; len(flaws) > 0 {
		out = append(out, Proposal{ID: "mend", Mends: true, Reasons: []Reason{{Code: FlawFirst, Places: flaws}}})
	}
	if len(m.cups[Repeat])+len(m.cups[Lost])+len(m.cups[TookOver]) > 0 {
		if again, ok := m.again(); ok {
			out = append(out, again)
		}
	}
	if len(m.places[Tint])+len(m.places[Darken]) > 0 {
		out = append(out, m.wash())
	}
	if len(m.places[Quieten]) > 0 {
		out = append(out, m.veil())
	}
	seal := m.seal()
	if len(out) == 0 {
		seal.Reasons = append([]Reason{{Code: NothingAsked}}, seal.Reasons...)
	}
	return append(out, seal)
}

// sorted are the marks of a coat by what they say.
type sorted struct {
	plan   *plan.Plan
	coat   *plan.Coat
	places map[Sort][]technique.Place
	cups   map[Sort][]string
	at     map[string][]technique.Place // by sort and cup
}

// kept is the reason of the clear over what stays.
func (m sorted) kept() []Reason {
	if len(m.places[Keep]) == 0 {
		return nil
	}
	return []Reason{{Code: ClearOverKept, Places: m.places[Keep]}}
}

// again repeats what was lost or is wanted once more, without what took over; false
// where that leaves no colour.
func (m sorted) again() (Proposal, bool) {
	t := m.coat.Technique
	l := plan.NewCoat(m.plan.Context, "", t, m.coat.Product.ID, nextFilm)
	l.What = m.coat.Layer.What
	out := Proposal{ID: "again"}
	var first, others []plan.Colour
	for _, col := range m.coat.Layer.Coat.Colours {
		switch {
		case col.Role == technique.Clear:
		case slices.Contains(m.cups[TookOver], col.ID):
			out.Reasons = append(out.Reasons, Reason{Code: LeftOut, Cup: col.Name})
		case slices.Contains(m.cups[Lost], col.ID):
			first = append(first, col)
			out.Reasons = append(out.Reasons, Reason{Code: LostComesFirst, Cup: col.Name})
		case slices.Contains(m.cups[Repeat], col.ID):
			first = append(first, col)
			out.Reasons = append(out.Reasons, Reason{Code: AgainThere, Cup: col.Name, Places: m.at[string(Repeat)+col.ID]})
		default:
			others = append(others, col)
		}
	}
	cups := first
	if len(cups) == 0 { // only what took over was said: all others, as they were
		cups = others
	}
	if len(cups) == 0 {
		return out, false
	}
	m.compose(&l, cups, func(col plan.Colour) []technique.Place {
		return append(slices.Clone(m.at[string(Lost)+col.ID]), m.at[string(Repeat)+col.ID]...)
	}, &out)
	out.Layers, out.Reasons = []plan.Layer{l}, append(out.Reasons, m.kept()...)
	return out, true
}

// veil lays a thin veil over what is to step back.
func (m sorted) veil() Proposal {
	t, _ := m.plan.Context.Book.Find("veil")
	l := plan.NewCoat(m.plan.Context, "", t, m.coat.Product.ID, veilFilm)
	out := Proposal{
		ID:      "veil",
		Reasons: []Reason{{Code: VeilOverLoud, Places: m.places[Quieten]}, {Code: ThinVeil, Film: veilFilm}},
	}
	cup := plan.Colour{}
	for _, col := range m.coat.Layer.Coat.Colours { // the coat's own white where it has one
		if col.Role == technique.White && !slices.Contains(m.cups[TookOver], col.ID) {
			cup = col
		}
	}
	if cup.ID == "" {
		cup = l.Coat.Colours[slices.IndexFunc(l.Coat.Colours, func(c plan.Colour) bool { return c.Role == technique.White })]
	}
	m.compose(&l, []plan.Colour{cup}, func(plan.Colour) []technique.Place { return m.places[Quieten] }, &out)
	out.Layers, out.Reasons = []plan.Layer{l}, append(out.Reasons, m.kept()...)
	return out
}

// wash shifts a hue, or darkens, with a transparent ink, and seals it.
func (m sorted) wash() Proposal {
	seal := m.seal()
	ink := m.ink()
	out := Proposal{ID: "wash", Layers: append([]plan.Layer{{Kind: plan.Between, What: "wash", Times: 1}}, seal.Layers...)}
	if at := m.places[Tint]; len(at) > 0 {
		out.Reasons = append(out.Reasons, Reason{Code: InkShifts, Places: at, Cup: ink})
	}
	if at := m.places[Darken]; len(at) > 0 {
		out.Reasons = append(out.Reasons, Reason{Code: DarkOverLarge, Places: at, Cup: ink})
	}
	out.Reasons = append(out.Reasons, Reason{Code: SealsInk})
	out.Reasons = append(out.Reasons, m.kept()...)
	return out
}

// ink is the name of an ink among the materials, the first that was added; "" for none.
func (m sorted) ink() string {
	first, name := int64(0), ""
	for id, p := range m.plan.Context.Pigments {
		if p.Form == colour.Ink && !p.Retired && (first == 0 || id < first) {
			first, name = id, p.Name
		}
	}
	return name
}

// seal is a clear coat over all of it.
func (m sorted) seal() Proposal {
	t, _ := m.plan.Context.Book.Find("flood")
	l := plan.NewCoat(m.plan.Context, "", t, m.coat.Product.ID, sealFilm)
	l.Keeps = "everything"
	return Proposal{ID: "seal", Layers: []plan.Layer{l}, Reasons: []Reason{{Code: SealsIt}}}
}

// compose lays cups where they are wanted on a bed of clear, which is what covers all
// that stays; a cup with no place of its own goes by the technique's hand.
func (m sorted) compose(l *plan.Layer, cups []plan.Colour, where func(plan.Colour) []technique.Place, out *Proposal) {
	if !slices.ContainsFunc(cups, func(col plan.Colour) bool { return len(where(col)) > 0 }) {
		for i := range cups {
			cups[i].Volume, cups[i].Mass = 0, 0
		}
		l.Coat.Colours, l.Coat.Silicone = cups, false
		return
	}
	bed := plan.Colour{ID: "clear", Name: "Clear", Role: technique.Clear, Swatch: technique.ClearSwatch}
	colours, things := []plan.Colour{bed}, []composition.Thing{{ID: "t1", Kind: composition.Bed, Cup: bed.ID}}
	touched, spots := 0.0, []technique.Place{}
	for i, col := range cups {
		col.Volume, col.Mass = 0, 0
		places := where(col)
		share := covers * float64(len(places)) / float64(len(technique.Spots))
		if i > 0 { // what comes first has most
			share *= 0.75
		}
		touched += share
		col.Share = share
		colours = append(colours, col)
		for _, at := range places {
			things = append(
				things,
				composition.Thing{ID: "", Kind: composition.Puddle, Cup: col.ID, Points: []geom.Point{spot(m.plan.Boards[0], at)},
					Share: share / float64(len(places))},
			)
			if !slices.Contains(spots, at) {
				spots = append(spots, at)
			}
		}
	}
	scale := 1.0
	if touched > mostTouched {
		scale = mostTouched / touched
	}
	for i := range things {
		things[i].ID = thingID(i)
		things[i].Share *= scale
	}
	for i := range colours[1:] {
		colours[i+1].Share *= scale
	}
	colours[0].Share = 1 - touched*scale
	l.Coat.Colours, l.Coat.Things, l.Coat.Silicone = colours, things, false
	volume := units.Volume(touched*scale) * m.plan.Face.Times(l.Coat.Amount.Film)
	out.Reasons = append(out.Reasons, Reason{Code: AmountFollows, Places: spots, Volume: volume})
}

// spot is the middle of a place on a board, drawn in where the board is rounded.
func spot(board surface.Shape, at technique.Place) geom.Point {
	box := board.Bounds()
	i := max(0, slices.Index(technique.Spots, at))
	middle := geom.At((box.MinX+box.MaxX)/2, (box.MinY+box.MaxY)/2)
	want := geom.At(box.MinX+(float64(i%3)+0.5)/3*(box.MaxX-box.MinX), box.MinY+(float64(i/3)+0.5)/3*(box.MaxY-box.MinY))
	for in := 1.0; in > 0; in -= 0.1 {
		q := geom.At(middle.X+(want.X-middle.X)*in, middle.Y+(want.Y-middle.Y)*in)
		if board.Inside(q) {
			return q
		}
	}
	return middle
}
