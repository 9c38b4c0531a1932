package studio

import (
	"errors"
	"fmt"
	"regexp"
	"strconv"
	"strings"
	"time"

	"jevvo/internal/core/composition"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
)

// Outline is the kind of board outline.
type Outline string

// The outlines.
const (
	OutlineRectangle Outline = "rectangle"
	OutlineRound     Outline = "round"
	OutlineOval      Outline = "oval"
	OutlineRegular   Outline = "regular"
	OutlinePolygon   Outline = "polygon"
	OutlineDrawn     Outline = "drawn"
)

// Role is what a colour does in a coat.
type Role string

// The roles, in the order cups are made.
const (
	RoleClear  Role = "clear"
	RoleWhite  Role = "white"
	RoleBase   Role = "base"
	RoleAccent Role = "accent"
)

// A Colour is one cup of the piece.
type Colour struct {
	ID     string
	Name   string
	Role   Role
	Swatch string  // "#rrggbb"
	Share  float64 // relative to the sum of shares
	Load   float64 // pigment by mass of mixed resin
	// Pigment is the one on the shelf it is made of, 0 for a colour known only
	// by its swatch.
	Pigment int64
	More    []Dose // further pigments in the same cup
}

// A Dose is one pigment of a cup.
type Dose struct {
	Pigment int64
	Load    float64
}

// Doses returns all pigments of a cup, the first one first.
func (c Colour) Doses() []Dose {
	if c.Pigment == 0 {
		return c.More
	}
	return append([]Dose{{c.Pigment, c.Load}}, c.More...)
}

// TotalLoad is all pigment by mass of mixed resin.
func (c Colour) TotalLoad() float64 {
	sum := c.Load
	for _, d := range c.More {
		sum += d.Load
	}
	return sum
}

// Second says what the second coat is.
type Second string

// The choices for a second coat.
const (
	SecondNone    Second = "none"
	SecondColours Second = "colours" // the colours again, for depth and what got lost
	SecondClear   Second = "clear"
)

// A Spec is what the painter decided about a piece. Everything else is
// reckoned from it.
type Spec struct {
	Name  string
	Brief string

	Support    surface.Support
	Outline    Outline
	Width      units.Length // of the box; the diameter of a round
	Height     units.Length
	Corners    int
	Points     []surface.Point
	Path       string
	Count      int    // equal boards
	More       []Size // further rectangular boards of the set
	Edge       surface.Edge
	EdgeHeight units.Length
	Depth      units.Length
	Sides      surface.Sides
	BackMask   bool
	Sealed     bool
	Texture    units.Volume
	Inclusions units.Volume
	MouldDepth units.Length
	MouldWater units.Mass

	Ground     string // "#rrggbb" of what lies under the resin: base paint, metal, wood
	Film       units.Length
	ProductID  int64
	Technique  string
	Colours    []Colour
	Second     Second
	SecondFilm units.Length
	Top        bool
	TopFilm    units.Length

	// Things are the composition; empty while the technique's sketch stands in.
	Things  []composition.Thing
	Reserve units.Volume // clear kept ready for beds, veins and windows
	// Silicone says that the cups that should open get a few drops of it.
	Silicone bool

	Room  units.Temperature
	Start time.Time

	// Layers are the coat plan when it was edited; empty for the usual one.
	Layers []Layer
	// Due is the day it must be ready; zero for none.
	Due time.Time
	// State is "" for a piece in the making.
	State PieceState
	// Commission it belongs to, 0 for stock; Tile says that it is a test.
	Commission int64
	Tile       bool
}

// PieceState says whether days are planned for a piece.
type PieceState string

// The states of a piece.
const (
	StateOpen PieceState = ""
	StateIdea PieceState = "idea"
	StateDone PieceState = "done"
)

// A Size is one more rectangular board of a set.
type Size struct {
	Count         int
	Width, Height units.Length
}

// bareGround is primed board that nobody has painted yet.
const bareGround = "#8d8478"

// NewSpec returns what a new piece starts from: a square board, a swipe.
func NewSpec(set Settings, product int64, start time.Time) Spec {
	return Spec{
		Support: surface.Panel, Outline: OutlineRectangle, Width: 400, Height: 400, Corners: 6, Count: 1,
		Edge: surface.Open, EdgeHeight: 3, Depth: 20, Sides: surface.Sides(set.School(SchoolSides)), BackMask: true, Sealed: true,
		Ground: bareGround, Film: 1.6, ProductID: product, Technique: "swipe", Colours: startingColours("swipe"),
		Second: SecondClear, SecondFilm: 1.2, Top: true, TopFilm: 1.6, MouldDepth: 10,
		Room: set.Room, Start: start, Silicone: set.School(SchoolSilicone) == "few",
	}
}

// startingColours is an invented palette to begin with, by technique.
func startingColours(tech string) []Colour {
	base := Colour{ID: "c1", Name: "Harbour grey", Role: RoleBase, Swatch: "#5d6b73", Share: 0.50, Load: 0.03}
	deep := Colour{ID: "c2", Name: "Deep tarn", Role: RoleAccent, Swatch: "#17455c", Share: 0.22, Load: 0.03}
	warm := Colour{ID: "c3", Name: "Copper leaf", Role: RoleAccent, Swatch: "#a8642f", Share: 0.13, Load: 0.03}
	white := Colour{ID: "c4", Name: "Lacing white", Role: RoleWhite, Swatch: "#f4f3ee", Share: 0.15, Load: 0.04}
	switch tech {
	case "cell":
		base.Share, deep.Share, warm.Share, white.Share = 0.45, 0.22, 0.13, 0.20
	case "flow":
		base.Share, deep.Share, warm.Share, white.Share = 0.30, 0.30, 0.20, 0.20
	}
	return []Colour{base, deep, warm, white}
}

var specFields = Fields[Spec]{
	textField("name", "Name", func(s *Spec) *string { return &s.Name }, 80, true),
	textField("brief", "Brief", func(s *Spec) *string { return &s.Brief }, 4000, false),
	choiceField("support", "Made of", func(s *Spec) *surface.Support { return &s.Support },
		surface.Canvas, surface.Panel, surface.Cradled, surface.Tile, surface.Tray, surface.TableTop, surface.MouldSlab),
	choiceField("outline", "Outline", func(s *Spec) *Outline { return &s.Outline },
		OutlineRectangle, OutlineRound, OutlineOval, OutlineRegular, OutlinePolygon, OutlineDrawn),
	sizeField(),
	countField("corners", "Sides of the outline", func(s *Spec) *int { return &s.Corners }, 3, 64),
	pointsField(),
	pathField(),
	countField("count", "Boards like this", func(s *Spec) *int { return &s.Count }, 1, 24),
	moreField(),
	choiceField("edge", "Edge", func(s *Spec) *surface.Edge { return &s.Edge }, surface.Open, surface.Rim, surface.Dam),
	lengthField("edge_height", "Rim or dam stands", func(s *Spec) *units.Length { return &s.EdgeHeight }, 0.5, 100),
	lengthField("depth", "Depth of the sides", func(s *Spec) *units.Length { return &s.Depth }, 0, 150),
	choiceField("sides", "Sides", func(s *Spec) *surface.Sides { return &s.Sides },
		surface.SidesRunOver, surface.SidesTaped, surface.SidesPainted),
	boolField("back_mask", "Back masked", func(s *Spec) *bool { return &s.BackMask }),
	boolField("sealed", "Face sealed", func(s *Spec) *bool { return &s.Sealed }),
	volumeField("texture", "Texture takes", func(s *Spec) *units.Volume { return &s.Texture }, 0, 20_000),
	volumeField("inclusions", "Inclusions displace", func(s *Spec) *units.Volume { return &s.Inclusions }, 0, 20_000),
	lengthField("mould_depth", "Depth of the mould", func(s *Spec) *units.Length { return &s.MouldDepth }, 1, 150),
	massField("mould_water", "or water it holds", func(s *Spec) *units.Mass { return &s.MouldWater }, 0, 100_000),
	swatchField("ground", "Under the resin", func(s *Spec) *string { return &s.Ground }),
	filmField("film", "Film", func(s *Spec) *units.Length { return &s.Film }, 0.2, 25),
	productField(),
	Field[Spec]{"technique", "Technique",
		func(s *Spec, _ units.System) string { return s.Technique },
		func(s *Spec, text string, _ units.System) (string, error) {
			if _, ok := technique.Find(text); !ok && !ownTechnique(text) { // a studio's own is looked up when the piece is reckoned
				return "", fmt.Errorf("there is no technique %q", text)
			}
			s.Technique = text
			return "", nil
		}},
	choiceField("second", "Second coat", func(s *Spec) *Second { return &s.Second }, SecondNone, SecondColours, SecondClear),
	filmField("second_film", "Second film", func(s *Spec) *units.Length { return &s.SecondFilm }, 0.2, 25),
	boolField("top", "Top coat", func(s *Spec) *bool { return &s.Top }),
	filmField("top_film", "Top film", func(s *Spec) *units.Length { return &s.TopFilm }, 0.2, 25),
	volumeField("reserve", "Clear reserve", func(s *Spec) *units.Volume { return &s.Reserve }, 0, 20_000),
	boolField("silicone", "Silicone in the accents", func(s *Spec) *bool { return &s.Silicone }),
	temperatureField("room", "Room", func(s *Spec) *units.Temperature { return &s.Room }, 5, 45),
	momentField("start", "First pour", func(s *Spec) *time.Time { return &s.Start }),
	dayField("due", "Ready by", func(s *Spec) *time.Time { return &s.Due }),
	choiceField("state", "State", func(s *Spec) *PieceState { return &s.State }, StateOpen, StateIdea, StateDone),
}

// fields returns the table for this spec: its own values and those of each of
// its colours.
func (s *Spec) fields() Fields[Spec] {
	all := append(Fields[Spec](nil), specFields...)
	for _, c := range s.Colours {
		at := func(id string) func(*Spec) *Colour {
			return func(s *Spec) *Colour { return s.colour(id) }
		}(c.ID)
		key := "colour." + c.ID + "."
		all = append(all,
			textField(key+"name", "Colour", func(s *Spec) *string { return &at(s).Name }, 60, true),
			choiceField(key+"role", "Role", func(s *Spec) *Role { return &at(s).Role }, RoleClear, RoleWhite, RoleBase, RoleAccent),
			swatchField(key+"swatch", "Swatch", func(s *Spec) *string { return &at(s).Swatch }),
			shareField(key+"share", "Share", func(s *Spec) *float64 { return &at(s).Share }, 100),
			idField(key+"pigment", "Pigment", func(s *Spec) *int64 { return &at(s).Pigment }),
			shareField(key+"load", "Pigment", func(s *Spec) *float64 { return &at(s).Load }, 0.5),
		)
	}
	return all
}

// colour returns the colour with the id, or a throw-away one when another
// page removed it, so that a late edit of it changes nothing.
func (s *Spec) colour(id string) *Colour {
	for i := range s.Colours {
		if s.Colours[i].ID == id {
			return &s.Colours[i]
		}
	}
	return &Colour{}
}

// Values returns the spec as typed text.
func (s Spec) Values(sys units.System) map[string]string { return s.fields().values(&s, sys) }

func sizeField() Field[Spec] {
	return Field[Spec]{"size", "Size",
		func(s *Spec, sys units.System) string {
			if s.Outline == OutlineRound || s.Outline == OutlineRegular {
				return s.Width.Text(sys)
			}
			return s.Width.Text(sys) + " × " + s.Height.Text(sys)
		},
		func(s *Spec, text string, sys units.System) (string, error) {
			w, h, err := units.ParseSize(text, bareLength(sys))
			if err != nil {
				return "", err
			}
			for _, l := range []units.Length{w.Value, h.Value} {
				if err := between(l, 10, 5000, func(l units.Length) string { return l.Text(sys) }); err != nil {
					return "", err
				}
			}
			if s.Outline == OutlineDrawn && s.Width > 0 { // a drawing keeps its proportions
				h.Value = s.Height * w.Value / s.Width
			}
			s.Width, s.Height = w.Value, h.Value
			return w.Note, nil
		}}
}

// pointsField reads corners as "0,0 300,0 150,200" in millimetres, or in the
// unit that ends the text.
func pointsField() Field[Spec] {
	return Field[Spec]{"points", "Corners",
		func(s *Spec, _ units.System) string {
			parts := make([]string, len(s.Points))
			for i, p := range s.Points {
				parts[i] = units.Fixed(p.X, 2) + "," + units.Fixed(p.Y, 2)
			}
			return strings.Join(parts, " ")
		},
		func(s *Spec, text string, _ units.System) (string, error) {
			points, err := ParsePoints(text)
			if err == nil {
				_, err = surface.Polygon(points)
			}
			if err != nil {
				return "", err
			}
			s.Points = points
			return "corners in mm", nil
		}}
}

var besideComma = regexp.MustCompile(`\s*,\s*`)

// ParsePoints reads corners in mm as "0,0 300,0 150,200"; blanks beside the
// comma do no harm.
func ParsePoints(text string) ([]surface.Point, error) {
	var points []surface.Point
	for pair := range strings.FieldsSeq(besideComma.ReplaceAllString(strings.ReplaceAll(text, ";", " "), ",")) {
		x, y, ok := strings.Cut(pair, ",")
		px, errX := strconv.ParseFloat(x, 64)
		py, errY := strconv.ParseFloat(y, 64)
		if !ok || errX != nil || errY != nil {
			return nil, fmt.Errorf("%q is not a corner; write corners as 0,0 300,0 150,200", pair)
		}
		points = append(points, surface.Point{X: px, Y: py})
	}
	return points, nil
}

func pathField() Field[Spec] {
	return Field[Spec]{"path", "Drawn outline",
		func(s *Spec, _ units.System) string { return s.Path },
		func(s *Spec, text string, _ units.System) (string, error) {
			text = strings.TrimSpace(text)
			shape, err := surface.Outline(text)
			if err != nil {
				return "", err
			}
			box := shape.Bounds()
			s.Path, s.Width, s.Height = text, box.Width(), box.Height()
			return fmt.Sprintf("read as %s × %s", box.Width().Text(units.Metric), box.Height().Text(units.Metric)), nil
		}}
}

// moreField reads further boards as "2 × 40 x 60 cm; 30 x 30 cm".
func moreField() Field[Spec] {
	return Field[Spec]{"more", "More boards of the set",
		func(s *Spec, sys units.System) string {
			parts := make([]string, len(s.More))
			for i, m := range s.More {
				parts[i] = m.Width.Text(sys) + " × " + m.Height.Text(sys)
				if m.Count > 1 {
					parts[i] = fmt.Sprintf("%d of %s", m.Count, parts[i])
				}
			}
			return strings.Join(parts, "; ")
		},
		func(s *Spec, text string, sys units.System) (string, error) {
			var more []Size
			for part := range strings.SplitSeq(text, ";") {
				part = strings.TrimSpace(part)
				if part == "" {
					continue
				}
				size := Size{Count: 1}
				if n, rest, ok := strings.Cut(part, " of "); ok {
					count, err := strconv.Atoi(strings.TrimSpace(n))
					if err != nil || count < 1 || count > 24 {
						return "", fmt.Errorf("%q is not a number of boards; write 2 of 40 x 60 cm", n)
					}
					size.Count, part = count, rest
				}
				w, h, err := units.ParseSize(part, bareLength(sys))
				if err != nil {
					return "", err
				}
				if min(w.Value, h.Value) < 10 || max(w.Value, h.Value) > 5000 {
					return "", errors.New("a board measures between 1 cm and 5 m")
				}
				size.Width, size.Height = w.Value, h.Value
				more = append(more, size)
			}
			if len(more) > 24 {
				return "", errors.New("a set has at most 24 further sizes")
			}
			s.More = more
			return "", nil
		}}
}

func productField() Field[Spec] {
	f := idField("product", "Resin", func(s *Spec) *int64 { return &s.ProductID })
	set := f.Set
	f.Set = func(s *Spec, text string, sys units.System) (string, error) {
		if text == "0" {
			return "", errors.New("choose a resin from the shelf")
		}
		return set(s, text, sys)
	}
	return f
}

// idField is a choice of something on the shelf, 0 for nothing.
func idField(key, label string, at func(*Spec) *int64) Field[Spec] {
	return Field[Spec]{key, label,
		func(s *Spec, _ units.System) string { return strconv.FormatInt(*at(s), 10) },
		func(s *Spec, text string, _ units.System) (string, error) {
			id, err := strconv.ParseInt(text, 10, 64)
			if err != nil || id < 0 {
				return "", errors.New("choose one from the shelf")
			}
			*at(s) = id
			return "", nil
		}}
}

// Shape returns the outline of one board of the piece.
func (s Spec) Shape() (surface.Shape, error) {
	switch s.Outline {
	case OutlineRound:
		return surface.Circle(s.Width)
	case OutlineOval:
		return surface.Ellipse(s.Width, s.Height)
	case OutlineRegular:
		return surface.Regular(s.Corners, s.Width)
	case OutlinePolygon:
		if len(s.Points) == 0 {
			return surface.Shape{}, errors.New("type the corners of the board, for example 0,0 300,0 150,200")
		}
		return surface.Polygon(s.Points)
	case OutlineDrawn:
		if s.Path == "" {
			return surface.Shape{}, errors.New("type the outline or upload an SVG drawing of it")
		}
		drawn, err := surface.Outline(s.Path)
		if err != nil || s.Width <= 0 {
			return drawn, err
		}
		return drawn.Scaled(float64(s.Width / drawn.Bounds().Width()))
	}
	return surface.Rectangle(s.Width, s.Height)
}

// Boards returns all boards of the piece, the equal ones first.
func (s Spec) Boards() ([]surface.Shape, error) {
	first, err := s.Shape()
	if err != nil {
		return nil, err
	}
	var boards []surface.Shape
	for range max(1, s.Count) {
		boards = append(boards, first)
	}
	for _, m := range s.More {
		r, err := surface.Rectangle(m.Width, m.Height)
		if err != nil {
			return nil, err
		}
		for range max(1, m.Count) {
			boards = append(boards, r)
		}
	}
	return boards, nil
}
