package plan

import (
	"fmt"
	"strconv"
	"time"

	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
)

// Version is that of the documents written today.
const Version = 2

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

// NewSpec returns what a new piece starts from: a square board, a swipe, clear
// over it twice.
func NewSpec(ctx *Context, product int64, start time.Time) Spec {
	s := Spec{
		V: Version,
		Board: Board{
			Support: surface.Panel, Outline: Rectangle, Width: 400, Height: 400, Corners: 6, Count: 1,
			Edge: surface.Open, EdgeHeight: 3, Depth: 20, Sides: surface.Sides(ctx.Schools.Way(SchoolSides)), BackMask: true, Sealed: true,
			Ground: surface.BareGround, MouldDepth: 10,
		},
		Room: ctx.Room, Start: start,
	}
	swipe, _ := ctx.Book.Find("swipe")
	flood := sealing(ctx.Book)
	s.Layers = []Layer{
		NewCoat(ctx, FirstCoat, swipe, product, usualFilm),
		NewCoat(ctx, SecondCoat, flood, product, secondFilm),
		NewCoat(ctx, TopCoat, flood, product, usualFilm),
	}
	s.Layers[1].Keeps, s.Layers[2].Keeps = "the first pour", "everything"
	return s
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
	return Layer{ID: id, Kind: Resin, What: t.ID, Times: 1, Coat: &CoatSpec{
		Product: product, Amount: Amount{Film: film}, Colours: StartingCups(t),
		Silicone: ctx.Schools.Way(SchoolSilicone) == SiliconeFew && t.WantsAccent,
	}}
}

// StartingCups returns the cups a coat of the technique begins with.
func StartingCups(t technique.Technique) []Colour {
	starts := t.Cups
	if len(starts) == 0 {
		starts = []technique.CupStart{{Name: "Clear", Role: technique.Clear, Swatch: technique.ClearSwatch, Share: 1}}
	}
	out := make([]Colour, len(starts))
	for i, c := range starts {
		out[i] = Colour{ID: "c" + strconv.Itoa(i+1), Name: c.Name, Role: c.Role, Swatch: c.Swatch, Share: c.Share, Load: c.Load}
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

// preparations are what the board needs before any resin.
func (s Spec) preparations(ctx *Context) []Layer {
	var out []Layer
	rule := s.Support.Rule()
	add := func(wanted bool, p technique.Purpose) {
		if wanted {
			out = append(out, layerFor(p, Prepare, ""))
		}
	}
	prime := ctx.Schools.Way(SchoolPrime) == PrimeAlways || s.coatsOf() < 2
	add(rule.Breathes && !s.Sealed && prime, technique.ForFace)
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
	if s.Edge == surface.Dam {
		out = append(out, layerFor(technique.ForDam, Prepare, suffix))
	}
	return out
}

// finishing is what is done after the last coat.
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

// mostLayers bounds a piece.
const mostLayers = 32

// NextLayerID returns an id no layer has, beginning with what it is.
func (s *Spec) NextLayerID(what string) string {
	id := what
	for n := 2; s.Layer(id) != nil; n++ {
		id = fmt.Sprintf("%s-%d", what, n)
	}
	return id
}
