package pieces

import (
	"fmt"
	"math"
	"regexp"
	"strconv"
	"strings"

	"jevvo/internal/core/geom"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/materials"
	"jevvo/internal/words"
)

// BoardFields is the catalogue of what belongs to the whole piece.
func BoardFields() form.Fields[plan.Spec] {
	return form.Fields[plan.Spec]{
		form.Text("name", "Name", func(s *plan.Spec) *string { return &s.Name }, 80, true).Broad(),
		form.Words("brief", "What is wanted", func(s *plan.Spec) *string { return &s.Brief }, 4000),
		supportField(),
		form.Choice("outline", "Outline", func(s *plan.Spec) *plan.Outline { return &s.Outline },
			form.Option{Value: "rectangle", Label: msg.ID("Rectangle")}, form.Option{Value: "round", Label: msg.ID("Round")},
			form.Option{Value: "oval", Label: msg.ID("Oval")},
			form.Option{Value: "regular", Label: msg.ID("Regular")},
			form.Option{Value: "polygon", Label: msg.ID("Corners, typed")},
			form.Option{Value: "drawn", Label: msg.ID("Drawn")}),
		sizeField(),
		form.Count("corners", "Sides of the outline", func(s *plan.Spec) *int { return &s.Corners }, 3,
			64).Shown("outline:regular"),
		pointsField(),
		pathField(),
		form.Count("count", "Boards like this", func(s *plan.Spec) *int { return &s.Count }, 1, 24),
		moreField(),
		edgeField(),
		form.Length("edge_height", "Edge height", func(s *plan.Spec) *units.Length { return &s.EdgeHeight }, 0.5,
			100).Shown("edge:" + surface.Holding()),
		form.Length("depth", "Side depth", func(s *plan.Spec) *units.Length { return &s.Depth }, 0, 150),
		form.Choice("sides", "Sides", func(s *plan.Spec) *surface.Sides { return &s.Sides },
			form.Option{Value: "run-over", Label: msg.ID("Run over")}, form.Option{Value: "taped", Label: msg.ID("Taped off")},
			form.Option{Value: "painted", Label: msg.ID("Painted after")}),
		form.Bool("back_mask", "Back taped or masked", func(s *plan.Spec) *bool { return &s.BackMask }),
		sealedField(),
		form.Length("mould_depth", "Mould depth", func(s *plan.Spec) *units.Length { return &s.MouldDepth }, 1,
			150).Shown("support:mould"),
		form.Mass("mould_water", "or water it holds", func(s *plan.Spec) *units.Mass { return &s.MouldWater }, 0,
			100_000).Shown("support:mould"),
		form.Swatch("ground", "Colour under the resin", func(s *plan.Spec) *string { return &s.Ground }),
		form.Temperature("room", "Room temperature", func(s *plan.Spec) *units.Temperature { return &s.Room }, 5,
			45).Hinted("21 °C or 70F"),
		form.At("start", "Earliest start", func(s *plan.Spec) *timeOf { return &s.Start }),
		form.Due("due", "Ready by", func(s *plan.Spec) *timeOf { return &s.Due }),
		form.Choice("state", "State", func(s *plan.Spec) *plan.State { return &s.State },
			form.Option{Value: "", Label: msg.ID("In progress")},
			form.Option{Value: "idea", Label: msg.ID("An idea, not planned yet")},
			form.Option{Value: "done", Label: msg.ID("Done")}),
	}
}

// edgeField offers the edges there are.
func edgeField() form.Field[plan.Spec] {
	options := make([]form.Option, len(surface.Edges))
	for i, r := range surface.Edges {
		options[i] = form.Option{Value: string(r.Edge), Label: r.Name}
	}
	return form.Choice("edge", "Edge", func(s *plan.Spec) *surface.Edge { return &s.Edge }, options...)
}

// supportField brings the ground of a bare face along.
func supportField() form.Field[plan.Spec] {
	options := make([]form.Option, len(surface.Supports))
	for i, r := range surface.Supports {
		options[i] = form.Option{Value: string(r.Support), Label: r.Name}
	}
	f := form.Choice("support", "Made of", func(s *plan.Spec) *surface.Support { return &s.Support }, options...)
	set := f.Set
	f.Set = func(s *plan.Spec, text string, sys units.System) (msg.Text, error) {
		was := s.Support.Rule()
		bare, edge, deep, stands := !s.Painted(), s.Edge == was.Edge, s.Depth == was.Depth, s.EdgeHeight
		ground, sealed, asked, open := s.Ground, s.Sealed, s.Asked, s.Edge
		depth := s.Depth
		note, err := set(s, text, sys)
		if err != nil || s.Support == was.Support {
			return note, err
		}
		s.Stand(s.Support)
		if !bare {
			s.Ground = ground
		}
		if !edge { // what was chosen stays
			s.Edge, s.EdgeHeight = open, stands
		}
		if !deep {
			s.Depth = depth
		}
		if asked && was.Breathes && (!was.Sealed || !sealed) { // somebody has said so
			s.Sealed, s.Asked = sealed, true
		}
		return note, err
	}
	return f
}

// sealedField asks whether the face comes primed; until it is answered nothing is
// chosen.
func sealedField() form.Field[plan.Spec] {
	return form.Field[plan.Spec]{Key: "sealed", Label: msg.ID("Face comes sealed and primed"), Kind: form.Choose,
		Options: []form.Option{{Label: msg.ID("not stated")}, {Value: "yes", Label: msg.ID("yes")},
			{Value: "no", Label: msg.ID("no, bare")}},
		Get: func(s *plan.Spec, _ units.System) string {
			switch {
			case !s.Asked:
				return ""
			case s.Sealed:
				return "yes"
			}
			return "no"
		},
		Set: func(s *plan.Spec, text string, _ units.System) (msg.Text, error) {
			if text != "" && text != "yes" && text != "no" {
				return nil, refusal.New("%q is not one of the options", text)
			}
			s.Asked, s.Sealed = text != "", text != "no"
			return nil, nil
		}}
}

func sizeField() form.Field[plan.Spec] {
	return form.Field[plan.Spec]{Key: "size", Label: msg.ID("Size"), Kind: form.Line, Say: form.Figures,
		Hint: msg.ID("18 x 18 in"),
		For:  "outline:rectangle,round,oval,regular,drawn",
		Get: func(s *plan.Spec, sys units.System) string {
			if s.Outline == plan.Round || s.Outline == plan.Regular {
				return string(s.Width.Text(sys))
			}
			return string(s.Width.Text(sys) + " × " + s.Height.Text(sys))
		},
		Set: func(s *plan.Spec, text string, sys units.System) (msg.Text, error) {
			w, h, err := units.ParseSize(text, form.BareLength(sys))
			if err != nil {
				return nil, err
			}
			for _, l := range []units.Length{w.Value, h.Value} {
				if err := form.Between(l, 10, 5000, func(l units.Length) msg.Figure { return l.Text(sys) }); err != nil {
					return nil, err
				}
			}
			if s.Outline == plan.Drawn && s.Width > 0 { // a drawing keeps its proportions
				h.Value = s.Height * w.Value / s.Width
			}
			s.Width, s.Height = w.Value, h.Value
			return w.Note, nil
		}}
}

// pointsField reads corners as "0,0 300,0 150,200" in millimetres.
func pointsField() form.Field[plan.Spec] {
	return form.Field[plan.Spec]{Key: "points", Label: msg.ID("Corners in mm"), Kind: form.Line,
		Hint: msg.ID("0,0 300,0 150,200"),
		For:  "outline:polygon", Wide: true,
		Get: func(s *plan.Spec, _ units.System) string { return PointsText(s.Points, 2) },
		Set: func(s *plan.Spec, text string, _ units.System) (msg.Text, error) {
			points, err := ParsePoints(text)
			if err == nil {
				_, err = surface.Polygon(points)
			}
			if err != nil {
				return nil, err
			}
			s.Points = points
			return msg.ID("corners in mm"), nil
		}}
}

// PointsText prints points as they are typed, with n decimals.
func PointsText(points []geom.Point, n int) string {
	parts := make([]string, len(points))
	for i, p := range points {
		parts[i] = units.Fixed(p.X, n) + "," + units.Fixed(p.Y, n)
	}
	return strings.Join(parts, " ")
}

var besideComma = regexp.MustCompile(`\s*,\s*`)

// ParsePoints reads points in mm as "0,0 300,0 150,200"; blanks beside the
// comma do no harm.
func ParsePoints(text string) ([]geom.Point, error) {
	var points []geom.Point
	for pair := range strings.FieldsSeq(besideComma.ReplaceAllString(strings.ReplaceAll(text, ";", " "), ",")) {
		x, y, ok := strings.Cut(pair, ",")
		px, errX := strconv.ParseFloat(x, 64)
		py, errY := strconv.ParseFloat(y, 64)
		if !ok || errX != nil || errY != nil || !finite(px) || !finite(py) {
			return nil, refusal.New("%q is not a corner; write corners as 0,0 300,0 150,200", pair)
		}
		points = append(points, geom.At(px, py))
	}
	return points, nil
}

func finite(v float64) bool { return !math.IsNaN(v) && !math.IsInf(v, 0) }

func pathField() form.Field[plan.Spec] {
	return form.Field[plan.Spec]{Key: "path", Label: msg.ID("Outline in mm (SVG path)"), Kind: form.Line,
		Hint: msg.ID("M0 0H300V200Z"),
		For:  "outline:drawn", Wide: true,
		Get: func(s *plan.Spec, _ units.System) string { return s.Path },
		Set: func(s *plan.Spec, text string, sys units.System) (msg.Text, error) {
			text = strings.TrimSpace(text)
			shape, err := surface.Outline(text)
			if err != nil {
				return nil, err
			}
			box := shape.Bounds()
			s.Path, s.Width, s.Height = text, box.Width(), box.Height()
			return msg.F("read as %s × %s", box.Width().Text(sys), box.Height().Text(sys)), nil
		}}
}

// mostSizes is how many further sizes a set may have, and boards of each.
const mostSizes = 24

// moreField reads further boards as "2 of 40 x 60 cm; 30 x 30 cm".
func moreField() form.Field[plan.Spec] {
	return form.Field[plan.Spec]{Key: "more", Label: msg.ID("More boards of the set"), Kind: form.Line,
		Hint: msg.ID("2 of 40 x 60 cm; 30 x 30 cm"), Wide: true, Say: words.Sizes,
		Get: func(s *plan.Spec, sys units.System) string {
			parts := make([]string, len(s.More))
			for i, m := range s.More {
				parts[i] = string(m.Width.Text(sys) + " × " + m.Height.Text(sys))
				if m.Count > 1 {
					parts[i] = fmt.Sprintf("%d of %s", m.Count, parts[i])
				}
			}
			return strings.Join(parts, "; ")
		},
		Set: func(s *plan.Spec, text string, sys units.System) (msg.Text, error) {
			var more []plan.Size
			for part := range strings.SplitSeq(text, ";") {
				if part = strings.TrimSpace(part); part == "" {
					continue
				}
				size, err := parseBoards(part, sys)
				if err != nil {
					return nil, err
				}
				more = append(more, size)
			}
			if len(more) > mostSizes {
				return nil, refusal.New("a set has at most %d further sizes", mostSizes)
			}
			s.More = more
			return nil, nil
		}}
}

// parseBoards reads "2 of 40 x 60 cm".
func parseBoards(part string, sys units.System) (plan.Size, error) {
	size := plan.Size{Count: 1}
	if n, rest, ok := units.CutCount(part); ok {
		count, err := strconv.Atoi(strings.TrimSpace(n))
		if err != nil || count < 1 || count > mostSizes {
			return size, refusal.New("%q is not a number of boards; write 2 of 40 x 60 cm", n)
		}
		size.Count, part = count, rest
	}
	w, h, err := units.ParseSize(part, form.BareLength(sys))
	if err != nil {
		return size, err
	}
	if min(w.Value, h.Value) < 10 || max(w.Value, h.Value) > 5000 {
		return size, refusal.New("a board measures between 1 cm and 5 m")
	}
	size.Width, size.Height = w.Value, h.Value
	return size, nil
}

// Fields is the catalogue of a spec: its board and each of its layers.
func Fields(spec plan.Spec, b *materials.Book) form.Fields[plan.Spec] {
	all := append(form.Fields[plan.Spec](nil), BoardFields()...)
	for _, l := range spec.AllLayers(b.Context) {
		all = append(all, layerFields(l, b)...)
	}
	return all
}

// Options are the options that only this studio knows: its resins in use, its
// pigments and its techniques.
func Options(b *materials.Book) map[string][]form.Option {
	out := map[string][]form.Option{}
	for _, p := range b.Resins {
		name := msg.Text(msg.Own(p.Name))
		if p.Retired {
			name = msg.F("%s (retired)", p.Name)
		}
		out["products"] = append(out["products"], form.Option{Value: strconv.FormatInt(p.ID, 10), Label: name})
	}
	out["pigments"] = []form.Option{{Value: "0", Label: msg.ID("no pigment yet")}}
	for _, p := range b.Paints {
		if !p.Retired {
			out["pigments"] = append(out["pigments"],
				form.Option{Value: strconv.FormatInt(p.ID, 10), Label: msg.F("%s, %s", p.Name, p.FormName())})
		}
	}
	for _, t := range b.Techniques().Coats() {
		out["techniques"] = append(out["techniques"], form.Option{Value: t.ID, Label: t.Name})
	}
	return out
}
