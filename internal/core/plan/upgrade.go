package plan

import (
	"encoding/json"
	"time"

	"jevvo/internal/core/composition"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
)

// Decode reads a kept spec. One of the first version, whose coats shared one
// set of cups, is read as what it meant.
func Decode(doc []byte) (Spec, error) {
	var v struct{ V int }
	if err := json.Unmarshal(doc, &v); err != nil {
		return Spec{}, err
	}
	if v.V >= 2 {
		var s Spec
		err := json.Unmarshal(doc, &s)
		if v.V == 2 {
			s.fromV2()
		}
		return s, err
	}
	var old specV1
	if err := json.Unmarshal(doc, &old); err != nil {
		return Spec{}, err
	}
	return old.upgrade(), nil
}

// fromV2 reads a piece from before its coats had moves: casts filled their mould
// whatever film was typed, and whether a face is sealed was never asked again.
func (s *Spec) fromV2() {
	s.V, s.Asked = Version, true
	for i := range s.Layers {
		l := &s.Layers[i]
		if t, ok := technique.Find(l.What); ok && t.Cast && l.Coat != nil {
			l.Coat.Amount.Film = 0
		}
	}
}

// specV1 is the document of the first version.
type specV1 struct {
	Name, Brief string
	Board
	Texture, Inclusions units.Volume
	Film                units.Length
	ProductID           int64
	Technique           string
	Colours             []Colour
	Second              string
	SecondFilm          units.Length
	Top                 bool
	TopFilm             units.Length
	Things              []thingV1
	Reserve             units.Volume
	Silicone            bool
	Room                units.Temperature
	Start               time.Time
	Layers              []layerV1
	Due                 time.Time
	State               State
	Commission          int64
	Tile                bool
}

type thingV1 struct {
	composition.Thing
	Coat string
}

type layerV1 struct {
	ID    string
	Kind  Kind
	What  string
	Film  units.Length
	Times int
	Keeps string
}

func (o specV1) upgrade() Spec {
	s := Spec{V: Version, Name: o.Name, Brief: o.Brief, Board: o.Board, Room: o.Room, Start: o.Start, Due: o.Due,
		State:      o.State,
		Commission: o.Commission, Tile: o.Tile}
	if s.Ground == "" { // from before grounds were asked for
		s.Ground = surface.BareGround
	}
	for i := range o.Colours { // what a painter had is the painter's
		o.Colours[i].Named, o.Colours[i].Picked = true, true
	}
	layers := o.Layers
	s.Own = len(layers) > 0
	if !s.Own {
		layers = o.usual()
	}
	for _, l := range layers {
		s.Layers = append(s.Layers, o.layer(l))
	}
	s.fromV2()
	return s
}

// usual are the coats the first version added by itself.
func (o specV1) usual() []layerV1 {
	out := []layerV1{{ID: FirstCoat, Kind: Resin, What: o.Technique, Film: o.Film}}
	switch o.Second {
	case "colours":
		out = append(out, layerV1{ID: SecondCoat, Kind: Resin, What: o.Technique, Film: o.SecondFilm})
	case "clear":
		out = append(out, layerV1{ID: SecondCoat, Kind: Resin, What: "flood", Film: o.SecondFilm, Keeps: "the first pour"})
	}
	if o.Top {
		out = append(out, layerV1{ID: TopCoat, Kind: Resin, What: "flood", Film: o.TopFilm, Keeps: "everything"})
	}
	return out
}

// startsV1 are the cups of a technique with the loads they began with.
func startsV1(t technique.Technique) []Colour {
	out := StartingCups(t)
	for i := range out {
		if i < len(t.Cups) {
			out[i].Load = t.Cups[i].Load
		}
	}
	return out
}

func (o specV1) layer(l layerV1) Layer {
	out := Layer{ID: l.ID, Kind: l.Kind, What: l.What, Times: l.Times, Keeps: l.Keeps}
	if l.Kind != Resin {
		return out
	}
	film := l.Film
	if l.ID == FirstCoat { // whose film and technique were the piece's
		film, out.What = o.Film, o.Technique
	}
	c := &CoatSpec{Product: o.ProductID, Amount: Amount{Film: film}}
	for _, t := range o.Things {
		if t.Coat == l.ID {
			c.Things = append(c.Things, t.Thing)
		}
	}
	t, _ := technique.Find(out.What)
	switch {
	case l.ID == FirstCoat:
		c.Colours, c.Reserve, c.Texture, c.Inclusions, c.Silicone = o.Colours, o.Reserve, o.Texture, o.Inclusions, o.Silicone
	case t.Seals || len(t.Needs) > 0 || t.WantsWhite && !t.WantsAccent:
		c.Colours = startsV1(t) // it never took the piece's colours
	default:
		c.Colours = o.Colours
	}
	out.Coat = c
	return out.clone()
}
