package plan

import (
	"fmt"
	"slices"
	"strconv"
	"time"

	"jevvo/internal/core/school"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
)

// Version is that of the documents written today.
const Version = 3

// The ids of the layers a new piece begins with.
const (
	FirstCoat  = "first"
	SecondCoat = "second"
	TopCoat    = "top"
)

// Films a coat begins with (common practice: a normal clear bed, a thinner
// second coat).
const (
	usualFilm  = 1.6 * units.Millimetre
	secondFilm = 1.2 * units.Millimetre
)

// NewSpec returns what a new piece starts from: a square board and one swipe on
// it, of the resin that was chosen. Nothing is planned that nobody asked for.
func NewSpec(ctx *Context, product int64, start time.Time) Spec {
	s := Spec{
		V: Version,
		Board: Board{
			Outline: Rectangle, Width: 400, Height: 400, Corners: 6, Count: 1,
			EdgeHeight: 3, Sides: surface.Sides(ctx.Schools.Way(school.Sides)), BackMask: true, MouldDepth: 10,
		},
		Room: ctx.Room, Start: start,
	}
	s.Stand(surface.Panel)
	swipe, _ := ctx.Book.Find("swipe")
	s.Layers = []Layer{NewCoat(ctx, FirstCoat, swipe, product, usualFilm)}
	return s
}

// Stand puts the piece on a support with the edge, the depth and the ground that
// usually come with it. Whether a face that breathes was primed is asked where it is not sold so.
func (b *Board) Stand(support surface.Support) {
	rule := support.Rule()
	b.Support, b.Edge, b.Depth, b.Ground = support, rule.Edge, rule.Depth, rule.Ground
	b.Sealed, b.Asked = true, rule.Sealed || !rule.Breathes
	if rule.RimHeight > 0 {
		b.EdgeHeight = rule.RimHeight
	}
}

// Seal adds a clear coat that seals the piece, of its resin; a piece that ends with
// one, or fills a mould, needs none.
func (s *Spec) Seal(ctx *Context) bool {
	last := len(s.Layers) - 1
	for last >= 0 && s.Layers[last].Kind == Finish {
		last--
	}
	if last < 0 || s.Support.Rule().Cast || s.seals(ctx, last) || len(s.Layers) >= MostLayers {
		return false
	}
	l := NewCoat(ctx, "", sealing(ctx.Book), s.First().Coat.Product, usualFilm)
	l.ID, l.Keeps = TopCoat, "everything"
	if s.Layer(TopCoat) != nil {
		l.ID = s.NextLayerID(TopCoat)
	}
	s.Layers = slices.Insert(s.Layers, last+1, l)
	return true
}

// sealing returns the technique that seals a piece.
func sealing(book technique.Book) technique.Technique {
	for _, t := range book {
		if t.Seals {
			return t
		}
	}
	return technique.Technique{}
}

// NewCoat returns a coat with what its technique needs and nothing else.
func NewCoat(ctx *Context, id string, t technique.Technique, product int64, film units.Length) Layer {
	if t.Cast { // it fills the mould until an amount is typed
		film = 0
	}
	return Layer{ID: id, Kind: Resin, What: t.ID, Times: 1, Coat: &CoatSpec{
		Product: product, Amount: Amount{Film: film}, Colours: StartingCups(t),
		Silicone: ctx.Schools.Way(school.Silicone) == school.SiliconeFew && t.WantsAccent,
	}}
}

// StartingCups returns the cups a coat of the technique begins with, without
// pigments: those are chosen from what is owned.
func StartingCups(t technique.Technique) []Colour {
	starts := t.Cups
	if len(starts) == 0 {
		starts = []technique.CupStart{{Name: "Clear", Role: technique.Clear, Swatch: technique.ClearSwatch, Share: 1}}
	}
	out := make([]Colour, len(starts))
	for i, c := range starts {
		out[i] = Colour{ID: "c" + strconv.Itoa(i+1), Name: string(c.Name), Role: c.Role, Swatch: c.Swatch, Share: c.Share}
	}
	return out
}

// coatsOf returns how many coats of resin the spec has.
func (s Spec) coatsOf() int {
	n := 0
	for _, l := range s.Layers {
		if l.Kind == Resin {
			n++
		}
	}
	return n
}

// AllLayers returns every layer of the piece: its own, or its coats within the
// usual preparations and finishing of its surface. What is pulled with a coat,
// tape or a dam, is built again for the next one.
func (s Spec) AllLayers(ctx *Context) []Layer {
	if s.Own {
		return s.Layers
	}
	var out []Layer
	first := true
	for _, l := range s.Layers {
		if l.Kind == Resin {
			if first {
				out = append(out, s.preparations(ctx)...)
				first = false
			}
			out = append(out, s.edging(l.ID, len(out) > 0 && anyCoat(out))...)
		}
		out = append(out, l)
	}
	return append(out, s.finishing()...)
}

func anyCoat(layers []Layer) bool {
	for _, l := range layers {
		if l.Kind == Resin {
			return true
		}
	}
	return false
}

func layerFor(p technique.Purpose, kind Kind, suffix string) Layer {
	prep := technique.Usual(p)
	return Layer{ID: prep.ID + suffix, Kind: kind, What: prep.ID, Times: prep.Coats}
}

// preparations are the tasks before any resin.
func (s Spec) preparations(ctx *Context) []Layer {
	var out []Layer
	rule := s.Support.Rule()
	add := func(wanted bool, p technique.Purpose) {
		if wanted {
			out = append(out, layerFor(p, Prepare, ""))
		}
	}
	prime := ctx.Schools.Way(school.Prime) == school.PrimeAlways || s.coatsOf() < 2
	add(rule.Breathes && !s.Sealed && prime, technique.ForFace)
	add(rule.Glazed, technique.ForGrease)
	add(!rule.Cast && s.Painted(), technique.ForGround)
	add(rule.Painted && s.Sides == surface.SidesRunOver && s.Depth > 0 && !s.Dammed(), technique.ForSides)
	add(rule.Painted && s.BackMask, technique.ForBack)
	return out
}

// edging is the tape and the dam of one coat.
func (s Spec) edging(coat string, again bool) []Layer {
	var out []Layer
	suffix := ""
	if again {
		suffix = "-" + coat
	}
	if s.Sides == surface.SidesTaped && s.Depth > 0 {
		out = append(out, layerFor(technique.ForTape, Prepare, suffix))
	}
	if s.Edge.Rule().Taped {
		out = append(out, layerFor(technique.ForDam, Prepare, suffix))
	}
	return out
}

// finishing is the tasks after the last coat.
func (s Spec) finishing() []Layer {
	var out []Layer
	rule := s.Support.Rule()
	add := func(wanted bool, p technique.Purpose) {
		if wanted {
			out = append(out, layerFor(p, Finish, ""))
		}
	}
	add(rule.Cast, technique.ForMould)
	add(rule.Painted, technique.ForDrips)
	add(rule.Painted && s.Depth > 0, technique.ForEdges)
	add(rule.Hangs, technique.ForHanging)
	add(true, technique.ForPicture)
	return out
}

// sealedByPlan reports whether a layer before the first coat seals the face.
func (p *Plan) sealedByPlan() bool { return p.preparedFor(technique.ForFace, 0) }

// preparedFor reports whether a preparation with the purpose comes before the
// coat at place, and after the coat before it when there is one.
func (p *Plan) preparedFor(purpose technique.Purpose, place int) bool {
	coats, found := 0, false
	for _, l := range p.Layers {
		switch l.Kind {
		case Resin:
			if coats == place {
				return found
			}
			coats, found = coats+1, false
		case Prepare:
			if prep, ok := technique.FindPreparation(l.What); ok && prep.For == purpose {
				found = true
			}
		}
	}
	return false
}

// MostLayers bounds a piece.
const MostLayers = 32

// NextLayerID returns an id no layer has, beginning with what it is.
func (s *Spec) NextLayerID(what string) string {
	id := what
	for n := 2; s.Layer(id) != nil; n++ {
		id = fmt.Sprintf("%s-%d", what, n)
	}
	return id
}
