// Package piecefile is the piece document: one open JSON format of a piece, its
// board and its layers, for calculators, scripts and other programs. Units stand
// in the names of the fields; what is left out is as a painter finds it on a new
// piece, and [Document.Spec] says what was taken.
//
//	{"name": "Ebb", "support": "panel",
//	 "board": {"shape": "rectangle", "width_mm": 400, "height_mm": 300},
//	 "layers": [{"kind": "coat", "technique": "swipe", "film_mm": 1.6}]}
package piecefile

import "jevvo/internal/core/surface"

// Version is that of the documents written today.
const Version = 1

// A Document is a piece.
type Document struct {
	Version    int     `json:"version,omitempty" default:"1" minimum:"1" maximum:"1" description:"Of this format."`
	Name       string  `json:"name,omitempty" maxLength:"80"`
	Support    string  `json:"support,omitempty" enum:",panel,cradled,canvas,tray,table,tile,slab,other" description:"What the board is; panel when left out."`
	Board      Board   `json:"board" required:"true"`
	Count      int     `json:"count,omitempty" default:"1" minimum:"1" maximum:"24" description:"Equal boards poured together."`
	Edge       Edge    `json:"edge,omitempty" description:"As the support usually has when left out."`
	EdgeHeight float64 `json:"edge_height_mm,omitempty" minimum:"0" maximum:"150" description:"How far a dam or a rim stands above the face."`
	Sides      string  `json:"sides,omitempty" enum:",run-over,taped,painted"`
	Sealed     *bool   `json:"sealed,omitempty" nullable:"true" description:"Whether the face comes sealed and primed."`
	Ground     string  `json:"ground_srgb,omitempty" pattern:"^(|#[0-9a-fA-F]{6})$" description:"Colour under the resin."`
	Layers     []Layer `json:"layers" required:"true" minItems:"1" maxItems:"32"`
}

// Edge is the edge treatment of the board.
type Edge string

// Enum are the edges there are, and "" for the support's usual one.
func (Edge) Enum() []any {
	out := []any{""}
	for _, r := range surface.Edges {
		out = append(out, string(r.Edge))
	}
	return out
}

// A Board is the outline of one board; lengths in mm.
type Board struct {
	Shape    string      `json:"shape" required:"true" enum:"rectangle,circle,ellipse,polygon,outline"`
	Width    *float64    `json:"width_mm,omitempty" exclusiveMinimum:"0" maximum:"5000" description:"rectangle, ellipse"`
	Height   *float64    `json:"height_mm,omitempty" exclusiveMinimum:"0" maximum:"5000" description:"rectangle, ellipse"`
	Diameter *float64    `json:"diameter_mm,omitempty" exclusiveMinimum:"0" maximum:"5000" description:"circle"`
	Points   [][]float64 `json:"points_mm,omitempty" maxItems:"10000" description:"polygon corners [x, y]"`
	Path     *string     `json:"svg_path,omitempty" description:"outline: SVG path data in mm; holes by even-odd"`
	Side     float64     `json:"side_mm,omitempty" default:"0" minimum:"0" maximum:"150" description:"Depth of the sides."`
}

// A Layer is a coat of resin, or work between coats.
type Layer struct {
	ID        string            `json:"id,omitempty" maxLength:"60"`
	Kind      string            `json:"kind,omitempty" default:"coat" enum:",coat,work"`
	Technique string            `json:"technique,omitempty" maxLength:"60" description:"Of a coat."`
	What      string            `json:"what,omitempty" maxLength:"60" description:"Of work: wash, leaf, painted, masked or own."`
	Resin     string            `json:"resin,omitempty" description:"Name of one of the resins that come with the document."`
	Film      float64           `json:"film_mm,omitempty" minimum:"0" maximum:"150"`
	Volume    float64           `json:"volume_ml,omitempty" minimum:"0" maximum:"100000" description:"Mixed resin for the whole coat."`
	Mass      float64           `json:"mass_g,omitempty" minimum:"0" maximum:"100000" description:"Mixed resin for the whole coat."`
	Mixing    string            `json:"mixing,omitempty" enum:",jug,cups" description:"In one jug and then divided, or each cup by itself."`
	Rest      *float64          `json:"rest_min,omitempty" nullable:"true" minimum:"0" maximum:"600" description:"Rest between mixing and the first pour."`
	Warm      *float64          `json:"warm_c,omitempty" nullable:"true" minimum:"20" maximum:"45" description:"Of bottles that stood in warm water."`
	Keeps     string            `json:"keeps,omitempty" maxLength:"200"`
	Reserve   float64           `json:"reserve_ml,omitempty" minimum:"0" maximum:"20000" description:"Clear kept ready beside the colours."`
	Drops     *int              `json:"silicone_drops,omitempty" nullable:"true" minimum:"0" maximum:"10" description:"In 30 mL of each cup that should open."`
	Options   map[string]string `json:"options,omitempty" description:"Choices of the technique."`
	Cups      []Cup             `json:"cups,omitempty" maxItems:"24"`
	Rounds    []Round           `json:"rounds,omitempty" maxItems:"40" description:"The technique's own moves when left out."`
}

// A Cup is one colour of a coat.
type Cup struct {
	ID      string   `json:"id,omitempty" maxLength:"40"`
	Name    string   `json:"name,omitempty" maxLength:"60"`
	Role    string   `json:"role,omitempty" default:"accent" enum:",base,accent,white,clear"`
	Share   *float64 `json:"share,omitempty" nullable:"true" minimum:"0" maximum:"1" description:"Of the coat."`
	Volume  *float64 `json:"volume_ml,omitempty" nullable:"true" minimum:"0" maximum:"100000" description:"Poured from it; instead of a share."`
	Pigment *string  `json:"pigment,omitempty" nullable:"true" description:"Name of one of the pigments that come with the document."`
	Load    *float64 `json:"load_share,omitempty" nullable:"true" minimum:"0" maximum:"0.5" description:"Pigment by mass of mixed resin."`
	Swatch  string   `json:"srgb,omitempty" pattern:"^(|#[0-9a-fA-F]{6})$"`
}

// A Round is a few moves made one after the other.
type Round struct {
	Moves []Move `json:"moves" required:"true" minItems:"1" maxItems:"60"`
}

// A Move is one thing done to the wet coat.
type Move struct {
	Move     string   `json:"move" required:"true" enum:"spread,ribbon,puddle,drizzle,swipe,blow,tilt,draw,tap,strew,mist,flick,dab,flame,hot-air,rest,look"`
	Cup      *string  `json:"cup,omitempty" nullable:"true" description:"It pours."`
	Part     *float64 `json:"part,omitempty" nullable:"true" exclusiveMinimum:"0" maximum:"1" description:"Of that cup's volume; all of it when left out. The parts of a cup add up to 1."`
	Material *string  `json:"material,omitempty" nullable:"true" description:"It lays on."`
	Grams    *float64 `json:"grams,omitempty" nullable:"true" minimum:"0" maximum:"100000" description:"Of the material: grams, millilitres or drops as it is counted."`
	Minutes  *float64 `json:"minutes,omitempty" nullable:"true" minimum:"0" maximum:"600"`
	After    *float64 `json:"after_min,omitempty" nullable:"true" minimum:"0" maximum:"600" description:"Least rest since the move before."`
	Area     *float64 `json:"area_share,omitempty" nullable:"true" exclusiveMinimum:"0" maximum:"1" description:"Part of the face it is for."`
	Place    string   `json:"place,omitempty" enum:",left,right,far,near,middle,far-left,far-right,near-left,near-right"`
	Where    string   `json:"where,omitempty" maxLength:"120"`
	Like     string   `json:"like,omitempty" maxLength:"120" description:"technique/step whose words and times it keeps."`
	Optional bool     `json:"optional,omitempty" default:"false"`
}

// An Error is a value of a document that cannot be, at its field.
type Error struct {
	Field string
	Err   error
}

func (e *Error) Error() string { return e.Field + ": " + e.Err.Error() }
func (e *Error) Unwrap() error { return e.Err }

// A Taken is a value that was left out, with what stands for it.
type Taken struct {
	Field string `json:"field"`
	Value any    `json:"value"`
}
