package studio

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strconv"

	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/store"
)

// LayerKind is what a layer of the coat plan is.
type LayerKind string

// The kinds, in the order they usually come.
const (
	LayerPrepare LayerKind = "prepare" // on the bare board
	LayerCoat    LayerKind = "coat"    // resin
	LayerBetween LayerKind = "between" // on a hard coat, without resin
	LayerFinish  LayerKind = "finish"  // after the last coat
)

// A Layer is one entry of a piece's coat plan.
type Layer struct {
	ID    string
	Kind  LayerKind
	What  string // id of the preparation or the technique
	Film  units.Length
	Times int    // coats of a preparation
	Keeps string // what stays visible under it
}

// topCoatKey is the key of the clear that seals a piece in the usual plan.
const topCoatKey = "top"

// usualLayers is a sensible coat plan for the surface, its sides and edge, and
// the technique.
func (s Spec) usualLayers(set Settings) []Layer {
	var out []Layer
	prepare := func(id string) {
		p, _ := technique.FindPreparation(id)
		out = append(out, Layer{ID: id, Kind: LayerPrepare, What: id, Times: p.Coats})
	}
	bare := s.Support != surface.Tile && s.Support != surface.MouldSlab && s.Support != surface.Tray
	coats := 1
	if s.Second != SecondNone {
		coats++
	}
	if s.Top {
		coats++
	}
	if bare && !s.Sealed && (set.School(SchoolPrime) == "always" || coats < 2) {
		prepare("prime")
	}
	if s.Sides == surface.SidesRunOver && s.Depth > 0 && bare && !s.dammed() {
		prepare("sides")
	}
	if s.BackMask && bare {
		prepare("mask")
	}
	if s.Sides == surface.SidesTaped {
		prepare("tape")
	}
	if s.Edge == surface.Dam {
		prepare("dam")
	}
	out = append(out, Layer{ID: firstCoat, Kind: LayerCoat, What: s.Technique, Film: s.Film})
	switch s.Second {
	case SecondColours:
		out = append(out, Layer{ID: secondCoat, Kind: LayerCoat, What: s.Technique, Film: s.SecondFilm})
	case SecondClear:
		out = append(out, Layer{ID: secondCoat, Kind: LayerCoat, What: technique.TopCoat.ID, Film: s.SecondFilm, Keeps: "the first pour"})
	}
	if s.Top {
		out = append(out, Layer{ID: topCoatKey, Kind: LayerCoat, What: technique.TopCoat.ID, Film: s.TopFilm, Keeps: "everything"})
	}
	finish := func(id string) { out = append(out, Layer{ID: id, Kind: LayerFinish, What: id, Times: 1}) }
	if bare {
		finish("drips")
		if s.Depth > 0 {
			finish("finish-sides")
		}
		if s.Support == surface.Canvas || s.Support == surface.Cradled || s.Support == surface.Panel {
			finish("hang")
		}
	}
	finish("photograph")
	return out
}

// CoatPlanOf returns the layers of a piece: its own, or the usual ones.
func (s Spec) CoatPlanOf(set Settings) []Layer {
	if len(s.Layers) > 0 {
		return s.Layers
	}
	return s.usualLayers(set)
}

// A LayerView is a layer with its words and what is wrong with it.
type LayerView struct {
	Layer
	Name  string
	Tells string
	Own   bool // the plan was edited
}

// LayerViews returns the coat plan in words.
func (p Plan) LayerViews() []LayerView {
	var out []LayerView
	for _, l := range p.Piece.CoatPlanOf(p.Settings) {
		v := LayerView{Layer: l, Own: len(p.Piece.Layers) > 0}
		if prep, ok := technique.FindPreparation(l.What); ok && (l.Kind == LayerPrepare || l.Kind == LayerFinish) {
			v.Name, v.Tells = prep.Name, prep.Do
		} else if t, ok := p.book.Find(l.What); ok {
			v.Name, v.Tells = t.Name, t.Summary
		} else {
			v.Name, v.Tells = "A technique that is no longer there", "Choose another."
		}
		out = append(out, v)
	}
	return out
}

// judgeLayers checks the coat plan against the rules, with reasons.
func (p *Plan) judgeLayers() {
	layers := p.Piece.CoatPlanOf(p.Settings)
	coats, lastCoat := 0, -1
	for i, l := range layers {
		if l.Kind == LayerCoat {
			coats++
			lastCoat = i
		}
	}
	if coats == 0 {
		p.say(PartDays, Trouble, "Add a coat.", "The plan has no coat of resin.")
		return
	}
	open := "" // between-coat work that is not sealed yet
	firstAt := slices.IndexFunc(layers, func(l Layer) bool { return l.Kind == LayerCoat })
	for i, l := range layers {
		name := p.layerName(l)
		switch l.Kind {
		case LayerBetween:
			open = name
			if i < firstAt {
				p.say(PartDays, Mind, "Put it after a coat.", "%s lies before the first coat; it wants a hard one under it.", name)
			}
		case LayerCoat:
			open = ""
		case LayerPrepare:
			if i > firstAt {
				p.say(PartDays, Mind, "Move it before the first coat.", "%s comes after resin; it is meant for the bare board.", name)
			}
		case LayerFinish:
			if i < lastCoat {
				p.say(PartDays, Mind, "Move it to the end.", "%s comes before the last coat.", name)
			}
		}
	}
	if open != "" {
		p.say(PartDays, Trouble, "Seal it with a clear coat.", "%s is not sealed: inks wipe off, leaf and paint scratch.", open)
	}
	has := func(id string) bool {
		return slices.ContainsFunc(layers[:firstAt], func(l Layer) bool { return l.What == id })
	}
	if p.Piece.Edge == surface.Dam && !has("dam") {
		p.say(PartDays, Mind, "Add building the dam before the first coat.", "The edge is a dam, and nothing builds it.")
	}
	bare := p.Piece.Support != surface.Tile && p.Piece.Support != surface.MouldSlab && p.Piece.Support != surface.Tray
	if bare && !p.Piece.Sealed && !has("prime") && !has("varnish") && !has("gesso") && coats < 2 {
		p.say(PartDays, Mind, "Prime it, or plan a second coat over the bubbles.", "A bare face under a single coat breathes bubbles into it.")
	}
	if p.Piece.Silicone && coats > 1 && p.Settings.Recoat != RecoatScuff {
		p.say(PartDays, Trouble, "Degrease and scuff before the next coat, whatever the school.", "Silicone in the first coat leaves fish eyes in the next.")
	}
}

func (p *Plan) layerName(l Layer) string {
	if prep, ok := technique.FindPreparation(l.What); ok && l.Kind != LayerCoat && l.Kind != LayerBetween {
		return prep.Name
	}
	t, _ := p.book.Find(l.What)
	return t.Name
}

// mostLayers bounds a coat plan.
const mostLayers = 24

// ChangeLayers edits a piece's coat plan. The first edit makes the usual plan
// the piece's own.
func (s *Studio) ChangeLayers(ctx context.Context, id int64, how, layer string, typed map[string]string) (Piece, error) {
	set, err := s.Settings(ctx)
	if err != nil {
		return Piece{}, err
	}
	book, err := s.Techniques(ctx)
	if err != nil {
		return Piece{}, err
	}
	return s.change(ctx, id, func(spec *Spec) error {
		if how == "usual" {
			spec.Layers = nil
			return nil
		}
		spec.Layers = slices.Clone(spec.CoatPlanOf(set))
		if how == "add" {
			return spec.addLayer(book, typed["what"])
		}
		i := slices.IndexFunc(spec.Layers, func(l Layer) bool { return l.ID == layer })
		if i < 0 {
			return store.ErrNotFound
		}
		switch how {
		case "up":
			if i > 0 {
				spec.Layers[i-1], spec.Layers[i] = spec.Layers[i], spec.Layers[i-1]
			}
		case "down":
			if i < len(spec.Layers)-1 {
				spec.Layers[i+1], spec.Layers[i] = spec.Layers[i], spec.Layers[i+1]
			}
		case "remove":
			if spec.Layers[i].Kind == LayerCoat && spec.Layers[i].ID == firstCoat {
				return &RefusedError{errors.New("the first pour stays; the others go by it")}
			}
			spec.Layers = slices.Delete(spec.Layers, i, i+1)
		case "edit":
			return spec.Layers[i].edit(typed, set.Units)
		default:
			return store.ErrNotFound
		}
		return nil
	})
}

var layerFields = Fields[Layer]{
	filmField("film", "Film", func(l *Layer) *units.Length { return &l.Film }, 0.2, 25),
	countField("times", "Times", func(l *Layer) *int { return &l.Times }, 1, 6),
	textField("keeps", "Keeps visible", func(l *Layer) *string { return &l.Keeps }, 200, false),
}

func (l *Layer) edit(typed map[string]string, sys units.System) error {
	n := layerFields.apply(l, typed, sys)
	for _, f := range layerFields {
		if text := n.Errors[f.Key]; text != "" {
			return &RefusedError{fmt.Errorf("%s %s", f.Label, text)}
		}
	}
	return nil
}

// addLayer puts a layer where its kind usually stands.
func (s *Spec) addLayer(book technique.Book, what string) error {
	if len(s.Layers) >= mostLayers {
		return &RefusedError{fmt.Errorf("a plan has at most %d layers", mostLayers)}
	}
	l := Layer{What: what, Times: 1, Film: 1.2}
	if p, ok := technique.FindPreparation(what); ok {
		l.Kind, l.Times = LayerPrepare, p.Coats
		if p.Finish {
			l.Kind = LayerFinish
		}
	} else if t, ok := book.Find(what); ok {
		l.Kind = LayerCoat
		if t.Between {
			l.Kind = LayerBetween
		}
	} else {
		return &RefusedError{errors.New("choose what to add")}
	}
	l.ID = what
	for n := 2; slices.ContainsFunc(s.Layers, func(o Layer) bool { return o.ID == l.ID }); n++ {
		l.ID = what + "-" + strconv.Itoa(n)
	}
	coat := func(o Layer) bool { return o.Kind == LayerCoat }
	at := len(s.Layers)
	switch l.Kind {
	case LayerPrepare:
		at = slices.IndexFunc(s.Layers, coat)
	case LayerBetween: // before the last coat, which seals it
		for i, o := range s.Layers {
			if coat(o) {
				at = i
			}
		}
		if at == slices.IndexFunc(s.Layers, coat) {
			at++
		}
	case LayerCoat: // before the clear that seals, or after the last coat
		for i, o := range s.Layers {
			if coat(o) {
				at = i + 1
				if o.ID == topCoatKey {
					at = i
				}
			}
		}
	}
	s.Layers = slices.Insert(s.Layers, max(0, at), l)
	return nil
}
