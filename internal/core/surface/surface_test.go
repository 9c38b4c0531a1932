package surface_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/geom"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/units"
)

func ExampleRectangle() {
	board, err := surface.Rectangle(18*units.Inch, 18*units.Inch)
	fmt.Printf("%.0f mm² %.1f mm %v\n", board.Area().SquareMillimetres(), board.Perimeter().Millimetres(), err)
	// Output: 209032 mm² 1828.8 mm <nil>
}

// Closed forms of plane geometry (published: any handbook of mathematics).
func TestClosedForms(t *testing.T) {
	outline := func(path string) surface.Shape {
		s, err := surface.Outline(path)
		require.NoError(t, err, path)
		return s
	}
	must := func(s surface.Shape, err error) surface.Shape {
		require.NoError(t, err)
		return s
	}
	cases := []struct {
		name            string
		shape           surface.Shape
		area, perimeter float64
	}{
		{"rectangle", must(surface.Rectangle(300, 200)), 60000, 1000},
		{"circle", must(surface.Circle(300)), math.Pi * 150 * 150, math.Pi * 300},
		// Perimeter of the 2:1 ellipse with semi-axes 2 and 1 is 9.688448220547675
		// (from memory of the usual worked example, 4·2·E(3/4)).
		{"ellipse", must(surface.Ellipse(400, 200)), math.Pi * 200 * 100, 968.8448220547675},
		{"hexagon", must(surface.Regular(6, 200)), 3 * math.Sqrt(3) / 2 * 100 * 100, 600},
		{"triangle", must(surface.Polygon([]geom.Point{{X: 0, Y: 0}, {X: 300, Y: 0}, {X: 0, Y: 400}})), 60000, 1200},
		{"square with a round hole", outline("M0 0H300V300H0Z M140 150a10 10 0 1 0 20 0a10 10 0 1 0 -20 0Z"),
			90000 - math.Pi*100, 1200 + 20*math.Pi},
		{"hole in any direction", outline("M0 0H300V300H0Z M100 100H200V200H100Z"), 80000, 1600},
		{"island in a hole", outline("M0 0H300V300H0Z M50 50V250H250V50Z M100 100H200V200H100Z"), 90000 - 40000 + 10000,
			1200 + 800 + 400},
		{"half round by an arc", outline("M0 0A100 100 0 0 1 200 0Z"), math.Pi * 100 * 100 / 2, math.Pi*100 + 200},
		{"elliptic arc turned by 30°", outline("M0 0a100 50 30 1 0 1e-9 0Z"), math.Pi * 100 * 50, 484.42241102738},
		// A parabola segment has two thirds of its box (Archimedes).
		{"quadratic", outline("M0 0Q50 100 100 0Z"), 2. / 3 * 100 * 50, 0},
		{"smooth quadratic and relative moves", outline("m10 10 q50 100 100 0 t100 0 v100 h-200 z"), 200 * 100, 0},
		{"cubic straight line", outline("M0 0C100 0 200 0 300 0V100H0Z"), 30000, 800},
		{"smooth cubic", outline("M0 0C0 50 50 50 50 0S100 -50 100 0V200H0Z"), 20000, 0},
		{"no spaces, exponents", outline("M0,0L1e2,0,100-50-0-50z"), 5000, 300},
	}
	for _, c := range cases {
		assert.InEpsilon(t, c.area, float64(c.shape.Area()), 1e-6, c.name)
		if c.perimeter > 0 {
			assert.InEpsilon(t, c.perimeter, float64(c.shape.Perimeter()), 1e-6, c.name)
		}
		assert.InDelta(t, 20*float64(c.shape.Perimeter()), float64(c.shape.SideArea(20)), 1e-6, c.name)
	}
}

func TestRefusesWhatIsNoBoard(t *testing.T) {
	for path, want := range map[string]string{
		"":                                  "empty",
		"L0 0":                              "starts with M",
		"M0 0L100 0L100 100":                "open",
		"M0 0L100 100L100 0L0 100Z":         "crosses itself",
		"M0 0H100V100H0Z M50 50H150V80H50Z": "crosses itself",
		"M0 0H100V100H0Z M0 0H100V100H0Z":   "crosses itself",
		"M0 0L100 0L50 0Z":                  "crosses itself",
		"M0 0H1e9V5Z":                       "out of reach",
		"M0 0Hx":                            "missing",
		"M0 0A10 10 0 2 0 5 5Z":             "flag",
		"M0 0L0.1 0L0 0.1Z":                 "between 1 mm and 20 m",
		"M0 0L5 5":                          "open",
		"hello":                             "starts with M",
	} {
		_, err := surface.Outline(path)
		assert.ErrorContains(t, err, want, path)
	}
	for _, bad := range []units.Length{0, -1, units.Length(math.NaN()), units.Length(math.Inf(1)), 1e9} {
		_, err := surface.Rectangle(bad, 100)
		assert.Error(t, err, "%g", float64(bad))
		_, err = surface.Circle(bad)
		assert.Error(t, err, "%g", float64(bad))
	}
	_, err := surface.Regular(2, 100)
	assert.Error(t, err)
	_, err = surface.Polygon([]geom.Point{{X: 0, Y: 0}, {X: math.NaN(), Y: 1}, {X: 3, Y: 3}})
	assert.Error(t, err)
}

// star returns a star-shaped polygon, which never crosses itself.
func star(r *rand.Rand, n int) []geom.Point {
	points := make([]geom.Point, n)
	for i := range points {
		a := 2 * math.Pi * (float64(i) + 0.8*r.Float64()) / float64(n)
		d := 50 + 200*r.Float64()
		points[i] = geom.Point{X: 300 + d*math.Cos(a), Y: 300 + d*math.Sin(a)}
	}
	return points
}

// shoelace is the textbook area of a polygon (Gauss), written independently.
func shoelace(p []geom.Point) float64 {
	sum := 0.0
	for i := range p {
		j := (i + 1) % len(p)
		sum += p[i].X*p[j].Y - p[j].X*p[i].Y
	}
	return math.Abs(sum) / 2
}

func TestPolygonLaws(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		r := rand.New(rand.NewPCG(rapid.Uint64().Draw(t, "seed"), 1))
		p := star(r, rapid.IntRange(3, 60).Draw(t, "corners"))
		s, err := surface.Polygon(p)
		require.NoError(t, err)
		assert.InEpsilon(t, shoelace(p), float64(s.Area()), 1e-9)
		f := rapid.Float64Range(0.2, 5).Draw(t, "scale")
		big, err := s.Scaled(f)
		require.NoError(t, err)
		assert.InEpsilon(t, float64(s.Area())*f*f, float64(big.Area()), 1e-9, "area grows with the square")
		assert.InEpsilon(t, float64(s.Perimeter())*f, float64(big.Perimeter()), 1e-9)
		again, err := surface.Outline(s.Data())
		require.NoError(t, err, "what is written is read back")
		assert.InEpsilon(t, float64(s.Area()), float64(again.Area()), 1e-5)
	})
}

// Two edges of a star swapped always cross.
func TestSwappedCornersCross(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 5))
	for range 200 {
		p := make([]geom.Point, 12)
		for i := range p {
			a := 2 * math.Pi * float64(i) / 12
			p[i] = geom.Point{X: 300 + 200*math.Cos(a), Y: 300 + 200*math.Sin(a)}
		}
		i := r.IntN(12)
		p[i], p[(i+1)%12] = p[(i+1)%12], p[i]
		_, err := surface.Polygon(p)
		require.ErrorContains(t, err, "crosses itself")
	}
}

func TestArcsSurviveWriting(t *testing.T) {
	c, err := surface.Circle(300)
	require.NoError(t, err)
	again, err := surface.Outline(c.Data())
	require.NoError(t, err)
	assert.InEpsilon(t, float64(c.Area()), float64(again.Area()), 1e-5)
	assert.InEpsilon(t, float64(c.Perimeter()), float64(again.Perimeter()), 1e-5)
}

func TestMoulds(t *testing.T) {
	s, err := surface.Rectangle(200, 100)
	require.NoError(t, err)
	v, err := surface.MouldByDepth(s, 10)
	require.NoError(t, err)
	assert.InDelta(t, 200, float64(v), 1e-9)
	// Water at 20 °C weighs 998.2 g a litre (CRC Handbook, from memory).
	v, err = surface.MouldByWater(998.2)
	require.NoError(t, err)
	assert.InDelta(t, 1000, float64(v), 1e-9)
	_, err = surface.MouldByWater(0)
	assert.Error(t, err)
}

// Trigonometry; Nusselt film.
func TestLevel(t *testing.T) {
	l, err := surface.Level(600, 400, surface.Tilt{Along: 0.2}, 1.6, 1000, 1100)
	require.NoError(t, err)
	assert.InDelta(t, 2.1, float64(l.DropAlong), 0.01)
	assert.Zero(t, float64(l.DropAcross))
	assert.False(t, l.LevelEnough(1.6))
	l, err = surface.Level(600, 400, surface.Tilt{Along: 5}, 1.6, 1000, 1100)
	require.NoError(t, err)
	assert.InDelta(t, 0.80, l.DriftMMPerS, 0.005)
}

// Raising each corner by its shim makes the board level, and one needs none.
func TestShimsLevelTheBoard(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		w, h := rapid.Float64Range(50, 2000).Draw(t, "w"), rapid.Float64Range(50, 2000).Draw(t, "h")
		a, b := rapid.Float64Range(-3, 3).Draw(t, "along"), rapid.Float64Range(-3, 3).Draw(t, "across")
		l, err := surface.Level(units.Length(w), units.Length(h), surface.Tilt{Along: units.Angle(a), Across: units.Angle(b)},
			1.6, 1000, 1100)
		require.NoError(t, err)
		tan := func(x float64) float64 { return math.Tan(x * math.Pi / 180) }
		heights := map[string]float64{
			"sw": float64(l.Shims.SW), "se": w*tan(a) + float64(l.Shims.SE),
			"nw": h*tan(b) + float64(l.Shims.NW), "ne": w*tan(a) + h*tan(b) + float64(l.Shims.NE),
		}
		lowest := math.Inf(1)
		for corner, v := range heights {
			assert.InDelta(t, heights["sw"], v, 1e-9, corner)
		}
		for _, v := range []units.Length{l.Shims.SW, l.Shims.SE, l.Shims.NW, l.Shims.NE} {
			assert.GreaterOrEqual(t, float64(v), 0.0)
			lowest = math.Min(lowest, float64(v))
		}
		assert.Zero(t, lowest)
	})
}

func FuzzOutline(f *testing.F) {
	for _, s := range []string{"M0 0H10V10Z", "M0 0A5 5 0 01 10 10Z", "M0 0C1 1 2 2 3 3S4 4 5 5Z", "m1 1q2 2 3 3t4 4z",
		"M1e308 0Z", "M0 0" + strings.Repeat("L1 1", 40)} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		shape, err := surface.Outline(s)
		if err != nil {
			return
		}
		a, p := float64(shape.Area()), float64(shape.Perimeter())
		if !(a > 0) || math.IsInf(a, 0) || !(p > 0) || math.IsInf(p, 0) {
			t.Fatalf("%q has area %g and edges %g", s, a, p)
		}
		// No closed curve encloses more than a circle of its length.
		if a > p*p/(4*math.Pi)*(1+1e-6) {
			t.Fatalf("%q: area %g is more than its edge %g can enclose", s, a, p)
		}
	})
}

// A coast is what a hand draws: many short edges that wander.
func coast(n int) []geom.Point {
	points := make([]geom.Point, n)
	for i := range points {
		a := 2 * math.Pi * float64(i) / float64(n)
		d := 250 + 40*math.Sin(7*a) + 8*math.Sin(61*a) + 0.02*math.Sin(997*a)
		points[i] = geom.Point{X: 300 + d*math.Cos(a), Y: 300 + d*math.Sin(a)}
	}
	return points
}

func BenchmarkOutline10000(b *testing.B) {
	drawn, err := surface.Polygon(coast(10_000))
	if err != nil {
		b.Fatal(err)
	}
	path := drawn.Data()
	b.Run("drawn", func(b *testing.B) {
		for b.Loop() {
			if _, err := surface.Outline(path); err != nil {
				b.Fatal(err)
			}
		}
	})
	// Ten thousand spikes of half the board's size: the worst for the grid.
	spikes := star(rand.New(rand.NewPCG(3, 3)), 10_000)
	b.Run("spikes", func(b *testing.B) {
		for b.Loop() {
			if _, err := surface.Polygon(spikes); err != nil {
				b.Fatal(err)
			}
		}
	})
}
