package calc

import (
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"image"
	"io"
	"math"
	"slices"

	"github.com/creasty/defaults"

	"jevvo/internal/core/flow"
	"jevvo/internal/core/geom"
)

type flowRequest struct {
	Board     surfaceRequest `json:"board" required:"true"`
	Edge      string         `json:"edge" default:"open" enum:"open,dam"`
	Dam       float64        `json:"dam_mm" default:"5" exclusiveMinimum:"0" maximum:"200"`
	Cell      *float64       `json:"cell_mm,omitempty" nullable:"true" exclusiveMinimum:"0" maximum:"1000" description:"Default: 256 cells on the longer side."`
	Product   *Product       `json:"product,omitempty" description:"A resin that thickens; without it one of constant viscosity."`
	Viscosity float64        `json:"viscosity_mpas" default:"1000" exclusiveMinimum:"0" maximum:"1e9"`
	Density   float64        `json:"density_kg_m3" default:"1100" exclusiveMinimum:"0" maximum:"1e5"`
	Room      []roomReading  `json:"room,omitempty" maxItems:"1000" description:"Default: 25 °C."`
	Tension   float64        `json:"surface_tension_mn_m" default:"40" minimum:"0" maximum:"1000"`
	Contact   float64        `json:"contact_angle_deg" default:"50" minimum:"0" maximum:"90" description:"0: a wetted board, on which nothing pins."`
	Ground    string         `json:"ground_srgb" default:"#ffffff"`
	Begun     *flowStart     `json:"start,omitempty"`
	Moves     []flowMove     `json:"moves" maxItems:"400"`
	Samples   []float64      `json:"sample_s" required:"true" minItems:"1" maxItems:"200"`
	Probes    [][]float64    `json:"probes_mm,omitempty" maxItems:"500"`
	Seed      uint64         `json:"seed" default:"1"`
	Cells     bool           `json:"cells" default:"true" description:"Whether instabilities grow."`
}

type roomReading struct {
	At   float64 `json:"at_min" required:"true"`
	Temp float64 `json:"temp_c" required:"true" minimum:"-20" maximum:"80"`
}

type flowStart struct {
	Film   float64 `json:"film_mm" default:"0" minimum:"0" maximum:"200"`
	SRGB   string  `json:"srgb" default:"#808080"`
	Ripple float64 `json:"ripple_mm" default:"0" minimum:"0" maximum:"200"`
	Wave   float64 `json:"ripple_wavelength_mm" default:"100" exclusiveMinimum:"0" maximum:"20000"`
}

type flowMove struct {
	At      float64     `json:"at_s" minimum:"0" maximum:"604800"`
	Move    string      `json:"move" required:"true"`
	Points  [][]float64 `json:"points_mm,omitempty" maxItems:"5000"`
	Place   []float64   `json:"at_mm,omitempty" maxItems:"2"`
	From    []float64   `json:"from_mm,omitempty" maxItems:"2"`
	To      []float64   `json:"to_mm,omitempty" maxItems:"2"`
	Volume  float64     `json:"volume_ml,omitempty" minimum:"0"`
	For     float64     `json:"for_s,omitempty" minimum:"0"`
	Film    float64     `json:"film_mm,omitempty" minimum:"0"`
	Width   float64     `json:"width_mm,omitempty" minimum:"0"`
	Radius  float64     `json:"radius_mm,omitempty" minimum:"0"`
	Gap     float64     `json:"gap_mm,omitempty" minimum:"0"`
	Depth   float64     `json:"depth_mm,omitempty" minimum:"0"`
	Speed   float64     `json:"speed_mm_s,omitempty" minimum:"0"`
	Shear   float64     `json:"shear_pa,omitempty" minimum:"0"`
	ToC     float64     `json:"to_c,omitempty"`
	Count   int         `json:"count,omitempty" minimum:"0"`
	XDeg    float64     `json:"x_deg,omitempty"`
	YDeg    float64     `json:"y_deg,omitempty"`
	Side    string      `json:"side,omitempty"`
	SRGB    string      `json:"srgb,omitempty"`
	Density float64     `json:"density_kg_m3,omitempty" minimum:"0"`
	Hiding  *float64    `json:"hiding_per_mm,omitempty" minimum:"0" maximum:"10000"`
}

type flowAnswer struct {
	Samples []flowSample `json:"samples"`
	Cells   []flowCells  `json:"cells"`
	Grid    flowGrid     `json:"grid"`
	Steps   int          `json:"steps"`
}

type flowSample struct {
	At      float64            `json:"at_s"`
	OnBoard float64            `json:"on_board_ml"`
	RunOff  float64            `json:"run_off_ml"`
	Sides   float64            `json:"sides_ml"`
	Film    flowFilm           `json:"film_mm"`
	Probes  []flowProbe        `json:"probes"`
	Visible map[string]float64 `json:"visible"`
	Cups    map[string]float64 `json:"cups_ml" description:"On the board."`
}

type flowFilm struct {
	Min  float64 `json:"min"`
	Mean float64 `json:"mean"`
	Max  float64 `json:"max"`
}

type flowProbe struct {
	Film    float64    `json:"film_mm"`
	Surface [2]float64 `json:"surface_mm_s"`
	SRGB    string     `json:"srgb"`
}

type flowCells struct {
	Upper   string   `json:"upper"`
	Lower   string   `json:"lower"`
	Spacing float64  `json:"spacing_mm"`
	Seen    *float64 `json:"first_seen_s" nullable:"true" description:"null before any is seen"`
}

type flowGrid struct {
	NX   int     `json:"nx"`
	NY   int     `json:"ny"`
	Cell float64 `json:"cell_mm"`
}

// calculating lets two flows be calculated at once; others wait for their turn.
var calculating = make(chan struct{}, 2)

// usualCells is how many cells a board has on its longer side.
const usualCells = 256

func runFlow(ctx context.Context, r flowRequest) (flowAnswer, error) {
	a, _, _, err := r.play(ctx)
	return a, err
}

// FlowPicture calculates a flow request and returns its answer with a picture of the
// board at the last sample, as wide as it says in mm.
func FlowPicture(ctx context.Context, in io.Reader, points int) (answer []byte, m image.Image, wide float64,
	err error) {
	var s *flowScene
	var run *flow.Run
	c := registry["flow"]
	c.run = func(ctx context.Context, body []byte) (any, error) {
		var r flowRequest
		if err := defaults.Set(&r); err != nil {
			return nil, err
		}
		if err := json.Unmarshal(body, &r); err != nil {
			return nil, err
		}
		var a flowAnswer
		a, s, run, err = r.play(ctx)
		return a, err
	}
	body, err := io.ReadAll(io.LimitReader(in, MaxBody))
	if err != nil {
		return nil, nil, 0, notJSON("the request could not be read")
	}
	if answer, err = c.Run(ctx, body); err != nil {
		return nil, nil, 0, err
	}
	scale := max(1, points/max(s.Grid.NX, s.Grid.NY))
	pix, err := s.painter.Picture(ctx, run, scale)
	if err != nil {
		return nil, nil, 0, err
	}
	picture := &image.NRGBA{Pix: pix, Stride: 4 * s.Grid.NX * scale,
		Rect: image.Rect(0, 0, s.Grid.NX*scale, s.Grid.NY*scale)}
	return answer, picture, float64(s.Grid.NX) * s.Grid.Cell * 1000, nil
}

// play calculates the samples of a request.
func (r flowRequest) play(ctx context.Context) (flowAnswer, *flowScene, *flow.Run, error) {
	select {
	case calculating <- struct{}{}:
		defer func() { <-calculating }()
	case <-ctx.Done():
		return flowAnswer{}, nil, nil, ctx.Err()
	}
	s, err := r.scene()
	if err != nil {
		return flowAnswer{}, nil, nil, err
	}
	run, err := s.start()
	if err != nil {
		return flowAnswer{}, nil, nil, err
	}
	a := flowAnswer{Samples: make([]flowSample, len(r.Samples)), Cells: []flowCells{},
		Grid: flowGrid{s.Grid.NX, s.Grid.NY, 1000 * s.Grid.Cell}}
	order := make([]int, len(r.Samples))
	for k := range order {
		order[k] = k
	}
	slices.SortStableFunc(order, func(x, y int) int { return cmp.Compare(r.Samples[x], r.Samples[y]) })
	for _, k := range order {
		if err := run.To(ctx, r.Samples[k]); err != nil {
			return flowAnswer{}, nil, nil, at("sample_s", err)
		}
		a.Samples[k] = s.sample(run, r.Probes)
	}
	for _, o := range run.Openings() {
		c := flowCells{Upper: s.names[o.Upper], Lower: s.names[o.Under], Spacing: 1000 * o.Spacing}
		if !math.IsNaN(o.Seen) {
			c.Seen = &o.Seen
		}
		a.Cells = append(a.Cells, c)
	}
	a.Steps = run.Coat().Film().Steps()
	return a, s, run, nil
}

// sample is the output at one moment.
func (s *flowScene) sample(run *flow.Run, probes [][]float64) flowSample {
	b := run.Sample()
	out := flowSample{At: b.At, Film: flowFilm{1000 * b.Thinnest, 1000 * b.Mean, 1000 * b.Deepest}, Probes: []flowProbe{},
		Visible: map[string]float64{}, Cups: map[string]float64{}}
	visible, _ := s.painter.Visible(run)
	for k, name := range s.names {
		out.OnBoard += 1e6 * b.OnBoard[k]
		out.Sides += 1e6 * b.Sides[k]
		out.RunOff += 1e6 * b.Below[k]
		out.Visible[name] = visible[k]
		out.Cups[name] = 1e6 * b.OnBoard[k]
	}
	for _, p := range probes {
		out.Probes = append(out.Probes, s.probe(run, p))
	}
	return out
}

func (s *flowScene) probe(run *flow.Run, p []float64) flowProbe {
	if len(p) != 2 {
		return flowProbe{}
	}
	at := geom.At(p[0], p[1])
	i := s.Grid.CellAt(at)
	if i < 0 {
		return flowProbe{}
	}
	x, y := run.SurfaceSpeed(i)
	c := s.painter.Colour(run, i)
	return flowProbe{1000 * run.FilmAt(at), [2]float64{1000 * x, 1000 * y}, fmt.Sprintf("#%02x%02x%02x", c[0], c[1], c[2])}
}

func init() {
	defineLong("flow", "What the film on a board does", runFlow)
}
