package surface

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/geom"
	"jevvo/internal/core/units"
)

// bow is the area an arc cuts off with its chord, by plane geometry: turned and
// squeezed to the unit circle, a chord of length c subtends θ = 2·asin(c/2) and
// cuts off (θ − sin θ)/2. Radii too short for the chord are grown to it.
func bow(to geom.Point, rx, ry, turn float64, large bool) float64 {
	sin, cos := math.Sincos(-turn)
	x, y := (cos*to.X-sin*to.Y)/rx, (sin*to.X+cos*to.Y)/ry
	chord := math.Hypot(x, y)
	if chord >= 2 {
		return math.Pi / 2 * rx * ry * chord * chord / 4
	}
	theta := 2 * math.Asin(chord/2)
	if large {
		theta = 2*math.Pi - theta
	}
	return rx * ry * (theta - math.Sin(theta)) / 2
}

// An arc of a path closed by its chord has the area plane geometry gives it,
// whatever its radii, turn and flags; the other sweep lies on the other side.
func TestArcsAgainstPlaneGeometry(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		v := func(name string, lo, hi float64) float64 { return rapid.Float64Range(lo, hi).Draw(t, name) }
		to := geom.At(v("x", 20, 90), v("y", -90, 90))
		rx, ry, turn := v("rx", 15, 120), v("ry", 15, 120), v("turn", -180, 180)
		large := rapid.Bool().Draw(t, "large")
		want := bow(to, rx, ry, turn*math.Pi/180, large)
		if want < 5 {
			return
		}
		for sweep := range 2 {
			flag := 0
			if large {
				flag = 1
			}
			s, err := Outline(fmt.Sprintf("M0 0A%v %v %v %d %d %v %vZ", rx, ry, turn, flag, sweep, to.X, to.Y))
			require.NoError(t, err)
			assert.InEpsilon(t, want, float64(s.Area()), 1e-6)
			// On a page y grows down: a sweep of 1 turns clockwise, so the bow lies
			// to the left of the chord as it is seen walking along it.
			mid, n := to.Scale(0.5), geom.At(to.Y, -to.X).Scale(1e-3)
			if sweep == 0 {
				n = n.Scale(-1)
			}
			box := s.Bounds()
			assert.True(t, s.Inside(mid.Add(n).Sub(geom.At(box.MinX, box.MinY))))
		}
	})
}

// Every way to write the same outline gives the same board (SVG 2, 9.3).
func TestPathsWrittenInMoreThanOneWay(t *testing.T) {
	same := map[string][]string{
		"M0 0L100 0L100 50L0 50Z": {"m0,0h100v50h-100z", "M0 0 100 0 100 50 0 50Z", "m0 0 100 0 0 50-100 0z",
			"M0 0H1e2V5E1H0Z", "M0 0H+1e+2V500e-1H0z",
			"M.0 0H100.V50H-0Z", "M 0\n0\tH 100\rV 50 , H 0 Z", "M0 0H0100V0.05e3H0Z", "M10 10Z M0 0H100V50H0Z",
			"M0 0H100H100V50H0V0", "M0 0H100V50H0L1e-9 0"},
		"M0 0C30 60 70 60 100 0C130-60 170-60 200 0V100H0Z": {"M0 0C30 60 70 60 100 0S170-60 200 0V100H0Z",
			"M0 0c30 60 70 60 100 0s70-60 100 0v100h-200z"},
		"M0 0Q50 80 100 0Q150-80 200 0V120H0Z": {"M0 0Q50 80 100 0T200 0V120H0Z",
			"M0 0q50 80 100 0t100 0v120h-200z"},
		"M0 0L60 0A30 40 0 0 1 60 80L0 80Z": {"M0 0H60A30 40 0 01 60 80H0Z", "M0 0h60a30,40,0,0,1,0,80h-60z",
			"M0 0H60A-30-40 360 0 1 60 80H0Z"},
		"M0 0L60 0L60 80L0 80Z": {"M0 0H60A0 40 0 0 1 60 80H0Z", "M0 0H60A40 0 0 0 1 60 80H0Z",
			"M0 0A9 9 0 0 1 0 0H60V80H0Z"},
		// a smooth curve after none begins at its pen
		"M0 0L50 50L0 100Z": {"M0 0S50 50 50 50S0 100 0 100Z"},
	}
	for plain, others := range same {
		want, err := Outline(plain)
		require.NoError(t, err, plain)
		for _, path := range others {
			got, err := Outline(path)
			require.NoError(t, err, path)
			assert.InDelta(t, float64(want.Area()), float64(got.Area()), 1e-6*float64(want.Area()), path)
			assert.InDelta(t, float64(want.Perimeter()), float64(got.Perimeter()), 1e-6*float64(want.Perimeter()), path)
			assert.Equal(t, want.Bounds(), got.Bounds(), path)
		}
	}
	for _, bad := range []string{"M0 0H", "M0 0H+", "M0 0H1e", "M0 0H1e+", "M0 0H1.2.3", "M0 0HV", "M0 0A5 5 0 0",
		"M0 0A5 5 0 0 1 5", "M0 0A5", "M0 0C1 1 2 2 3", "M0 0H20001V1Z", "M0 0H10V10 5Z5"} {
		_, err := Outline(bad)
		assert.Error(t, err, "%q", bad)
	}
}

// One map after the other is the map of both (SVG 2, 8).
func TestMapsFollowEachOther(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		draw := func(name string) (m Affine) {
			for i := range m {
				m[i] = rapid.Float64Range(-9, 9).Draw(t, name)
			}
			return m
		}
		first, then := draw("first"), draw("then")
		p := geom.At(rapid.Float64Range(-9, 9).Draw(t, "x"), rapid.Float64Range(-9, 9).Draw(t, "y"))
		one, two := then.Then(first).point(p), then.point(first.point(p))
		assert.InDelta(t, two.X, one.X, 1e-9)
		assert.InDelta(t, two.Y, one.Y, 1e-9)
		v := first.point(p).Sub(first.point(geom.Point{}))
		assert.InDelta(t, 0, v.Sub(first.vector(p)).Norm(), 1e-9)
	})
	for _, bad := range []float64{math.NaN(), math.Inf(1), 1.1e9} {
		_, err := Compose([]Part{{"M0 0H9V9Z", Affine{1, 0, 0, 1, bad, 0}}})
		assert.Error(t, err)
	}
}

// A drawing of many short edges, somewhere on the page: whether two cross is what
// comparing every pair says, and the place named is where they do.
func TestShortEdgesAgainstEveryPair(t *testing.T) {
	crossed := 0
	for seed := range uint64(400) {
		r := rand.New(rand.NewPCG(seed, 3))
		n, size := 60+r.IntN(200), math.Pow(10, -1+4*r.Float64())
		corner := geom.At(size*(r.Float64()-0.5)*9, size*(r.Float64()-0.5)*9)
		rough := 2 * math.Pi / float64(n) * 1.4
		line := make([]geom.Point, n)
		box := geom.NoBox()
		for i := range line { // a ring whose points stray by about their distance
			a := 2*math.Pi*float64(i)/float64(n) + rough*(r.Float64()-0.5)
			rad := 0.35 + 0.1*math.Sin(3*a) + rough*0.3*(r.Float64()-0.5)
			line[i] = corner.Add(geom.At(0.5+rad*math.Cos(a), 0.3*(0.5+rad*math.Sin(a))).Scale(size))
			box.Cover(line[i])
		}
		want := 0
		for i := range n {
			for j := i + 2; j < n; j++ {
				if (j+1)%n != i && crosses(line[i], line[(i+1)%n], line[j], line[(j+1)%n]) {
					want++
				}
			}
		}
		at, got := crossing([][]geom.Point{line}, box)
		require.Equal(t, want > 0, got, "seed %d", seed)
		if got {
			crossed++
			near := 0
			for i := range n {
				a, d := line[i], line[(i+1)%n].Sub(line[i])
				if math.Abs(at.Sub(a).Cross(d)) <= 1e-9*size*d.Norm() && at.Sub(a).Dot(d) >= -1e-9*size*size &&
					at.Sub(a).Dot(d) <= d.Dot(d)+1e-9*size*size {
					near++
				}
			}
			assert.GreaterOrEqual(t, near, 2, "seed %d: two edges pass there", seed)
		}
	}
	assert.True(t, crossed > 50 && crossed < 350, "%d of 400 cross", crossed)
}

// Sizes on the limits are boards, those beyond are not; a regular board stands on
// a side.
func TestSizesOnTheLimit(t *testing.T) {
	for _, l := range []units.Length{1, 20_000} {
		_, err := Rectangle(l, l)
		assert.NoError(t, err)
	}
	for _, l := range []units.Length{0.999, 20_000.1} {
		_, err := Rectangle(l, 100)
		assert.Error(t, err)
	}
	for _, n := range []int{3, 4, 5, 6, 64} {
		s, err := Regular(n, 200)
		require.NoError(t, err)
		assert.InEpsilon(t, float64(n)/2*100*100*math.Sin(2*math.Pi/float64(n)), float64(s.Area()), 1e-9, "n/2·r²·sin(2π/n)")
		low := 0
		for _, p := range s.Loops()[0] {
			if math.Abs(p.Y-s.Bounds().MaxY) < 1e-6 {
				low++
			}
		}
		assert.Equal(t, 2, low, "one side of the %d lies down", n)
	}
	closed, err := Polygon([]geom.Point{geom.At(0, 0), geom.At(9, 0), geom.At(9, 9), geom.At(0, 0)})
	require.NoError(t, err, "the last point may repeat the first")
	assert.InDelta(t, 40.5, float64(closed.Area()), 1e-9)
	for _, few := range [][]geom.Point{nil, {geom.At(0, 0)}, {geom.At(0, 0), geom.At(9, 0)},
		{geom.At(0, 0), geom.At(9, 0), geom.At(0, 0)}, {geom.At(0, 0), geom.At(20_001, 0), geom.At(0, 9)},
		{geom.At(0, 0), geom.At(9, 0), geom.At(0, -20_001)}} {
		_, err := Polygon(few)
		assert.Error(t, err, "%v", few)
	}
	_, err = Polygon([]geom.Point{geom.At(-20_000, 0), geom.At(-19_000, 20_000), geom.At(-19_500, 1)})
	assert.NoError(t, err)
}

// The lie of a board by the trigonometry of both slopes together.
func TestLieOfATiltedBoard(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		a, b := rapid.Float64Range(-44, 44).Draw(t, "along"), rapid.Float64Range(-44, 44).Draw(t, "across")
		w, h := rapid.Float64Range(50, 900).Draw(t, "w"), rapid.Float64Range(50, 900).Draw(t, "h")
		l, err := Level(units.Length(w), units.Length(h), Tilt{units.Angle(a), units.Angle(b)}, 1.6, 1000, 1100)
		require.NoError(t, err)
		ta, tb := math.Tan(a*math.Pi/180), math.Tan(b*math.Pi/180)
		assert.InDelta(t, w*ta, float64(l.DropAlong), 1e-9)
		assert.InDelta(t, h*tb, float64(l.DropAcross), 1e-9)
		g := math.Hypot(ta, tb)
		drift := 1000 * 1100 * 9.80665 * (g / math.Sqrt(1+g*g)) * 0.0016 * 0.0016 / 3
		assert.InDelta(t, drift, l.DriftMMPerS, 1e-4*drift)
		// With its shim under it every corner is as high as the highest.
		highest := math.Max(0, w*ta) + math.Max(0, h*tb)
		assert.InDelta(t, highest, w*ta+h*tb+float64(l.Shims.NE), 1e-9)
		assert.InDelta(t, highest, h*tb+float64(l.Shims.NW), 1e-9)
		assert.InDelta(t, highest, w*ta+float64(l.Shims.SE), 1e-9)
		assert.InDelta(t, highest, float64(l.Shims.SW), 1e-9)
		assert.InDelta(t, math.Abs(w*ta)+math.Abs(h*tb), float64(l.WorstDrop()), 1e-9)
	})
	edge, err := Level(100, 100, Tilt{45, -45}, 0, 1000, 1100)
	require.NoError(t, err, "45° is the last that is read")
	assert.Zero(t, edge.DriftMMPerS, "no film, no drift")
	for _, bad := range []struct {
		w, h, film units.Length
		mu         units.Viscosity
		rho        units.Density
	}{{0, 1, 1, 1, 1}, {1, 0, 1, 1, 1}, {1, 1, -1, 1, 1}, {1, 1, 1, 0, 1}, {1, 1, 1, 1, 0}} {
		_, err := Level(bad.w, bad.h, Tilt{}, bad.film, bad.mu, bad.rho)
		assert.Error(t, err, "%+v", bad)
	}
	drop := Lie{DropAlong: 0.25}
	assert.True(t, drop.LevelEnough(1.25), "a fifth of the film is still level")
	assert.False(t, drop.LevelEnough(1.24))
}
