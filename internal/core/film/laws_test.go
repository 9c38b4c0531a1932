package film_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/integrate/quad"
	"pgregory.net/rapid"

	"jevvo/internal/core/film"
	"jevvo/internal/core/units"
)

// Huppert's similarity profile satisfies h²h′ = −(3ν/g)·h·x/(5t)·… at the
// front, which integrates to h³ = (3/10)(3ν/gt)(X² − x²) for a line and
// h³ = (3/16)(3ν/gt)(R² − r²) for a puddle (Huppert 1982, published). The volume
// under it must be the volume poured: a check of the constants that knows
// nothing of them.
func TestTheVolumeUnderTheProfileIsTheVolumePoured(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		poured := rapid.Float64Range(1, 500).Draw(t, "mL")
		seconds := rapid.Float64Range(1, 3000).Draw(t, "s")
		mu := rapid.Float64Range(200, 5000).Draw(t, "mPa·s")
		l := film.Liquid{Viscosity: units.Viscosity(mu), Density: 1100, SurfaceTension: 40}
		nu := mu / 1000 / 1100
		front, err := film.LineHalfWidth(units.Volume(poured), 300, l, seconds)
		require.NoError(t, err)
		height := func(share, edge, at float64) float64 {
			return math.Cbrt(share * 3 * nu / (film.Gravity * seconds) * (edge*edge - at*at))
		}
		x := front.Metres()
		area := 2 * quad.Fixed(func(u float64) float64 { // x = X·sin u takes the edge out of the integrand
			return height(0.3, x, x*math.Sin(u)) * x * math.Cos(u)
		}, 0, math.Pi/2, 60, nil, 0)
		assert.InEpsilon(t, poured, area*0.3*1e6, 1e-3, "a line, both ways")
		edge, err := film.PuddleRadius(units.Volume(poured), l, seconds)
		require.NoError(t, err)
		r := edge.Metres()
		volume := quad.Fixed(func(u float64) float64 {
			at := r * math.Sin(u)
			return height(3./16, r, at) * 2 * math.Pi * at * r * math.Cos(u)
		}, 0, math.Pi/2, 60, nil, 0)
		assert.InEpsilon(t, poured, volume*1e6, 1e-3, "a puddle")
	})
}

// Orchard's exact film: −1.36735 1/s at 1.6 mm, 1 Pa·s and 20 mm (published
// formula at a worked point); long waves level as the thin film does, short
// ones as deep liquid does, (ρg + γk²)/(2μk).
func TestLevellingOfAnyWave(t *testing.T) {
	rate, err := film.OrchardRate(20, 1.6, resin)
	require.NoError(t, err)
	assert.InDelta(t, 1.36735, rate, 5e-6)
	thin, err := film.LevellingRate(2000, 1.6, resin)
	require.NoError(t, err)
	long, err := film.OrchardRate(2000, 1.6, resin)
	require.NoError(t, err)
	assert.InEpsilon(t, thin, long, 1e-4)
	k := 2 * math.Pi / 0.002
	deep, err := film.OrchardRate(2, 100, resin)
	require.NoError(t, err)
	assert.InEpsilon(t, (1100*film.Gravity+0.04*k*k)/(2*k), deep, 1e-9)
	rapid.Check(t, func(t *rapid.T) { // the series joins the formula
		wave := units.Length(rapid.Float64Range(900, 1100).Draw(t, "mm"))
		a, err := film.OrchardRate(wave, 1.6, resin)
		require.NoError(t, err)
		b, err := film.OrchardRate(wave*1.0001, 1.6, resin)
		require.NoError(t, err)
		assert.Greater(t, a, b, "shorter waves level sooner")
		assert.InEpsilon(t, a, b, 1e-3)
	})
	_, err = film.OrchardRate(0, 1.6, resin)
	assert.Error(t, err)
}

// A film after tilting: 20°, 180 s, 600 mm, 1.6 Pa·s leave 1.20 mm at the lower
// edge and 0.80 mm on average of a thick film (Jeffreys 1930, published; worked
// point). A thin one keeps what has not yet drained: against following every
// depth down the slope by its own speed, g·sin θ·h²/ν.
func TestTilting(t *testing.T) {
	flow := 180 / (1.6 / 1100)
	kept, err := film.Tilted(50, 600, 20, flow)
	require.NoError(t, err)
	assert.InDelta(t, 0.80, float64(kept), 0.005)
	edge, err := film.Tilted(50, 0.001, 20, flow) // a face so short that its mean is two thirds of its edge
	require.NoError(t, err)
	assert.InDelta(t, 1.2023*math.Sqrt(0.001/600)*2/3, float64(edge), 1e-5)
	rapid.Check(t, func(t *rapid.T) {
		h := rapid.Float64Range(0.3, 4).Draw(t, "mm")
		theta := rapid.Float64Range(0.5, 40).Draw(t, "°")
		flow := rapid.Float64Range(1000, 500_000).Draw(t, "s²/m²")
		got, err := film.Tilted(units.Length(h), 600, units.Angle(theta), flow)
		require.NoError(t, err)
		sum, n := 0.0, 4000
		for i := range n {
			x := 0.6 * (float64(i) + 0.5) / float64(n)
			sum += 1000 * math.Min(h/1000, math.Sqrt(x/(film.Gravity*math.Sin(theta*math.Pi/180)*flow))) / float64(n)
		}
		assert.InEpsilon(t, sum, float64(got), 2e-3)
		assert.LessOrEqual(t, float64(got), h)
		before, err := film.BeforeTilting(got, 600, units.Angle(theta), flow)
		if err == nil { // a film drained all over says nothing of what it was
			back, err := film.Tilted(before, 600, units.Angle(theta), flow)
			require.NoError(t, err)
			assert.InEpsilon(t, float64(got), float64(back), 1e-6)
		}
	})
	most, err := film.BeforeTilting(5, 600, 20, flow)
	assert.ErrorIs(t, err, film.ErrTiltTooLong)
	assert.InDelta(t, 0.80, float64(most), 0.005)
	for _, bad := range []struct {
		h     units.Length
		theta units.Angle
		flow  float64
	}{{0, 20, 1}, {1, 0, 1}, {1, 91, 1}, {1, 20, -1}} {
		_, err := film.Tilted(bad.h, 600, bad.theta, bad.flow)
		assert.Error(t, err)
		_, err = film.BeforeTilting(bad.h, 600, bad.theta, bad.flow)
		assert.Error(t, err)
	}
}

// The pattern lies on the surface, which moves half as fast again as the mean:
// Nusselt's mean of 0.80 mm/s at 5°, 1.6 mm and 1 Pa·s (published, worked point).
func TestThePatternDrifts(t *testing.T) {
	way, err := film.Drift(1.6, 5, 1100)
	require.NoError(t, err)
	assert.InDelta(t, 1.5*0.80, float64(way), 0.01)
	still, err := film.Drift(1.6, 0, 1100)
	require.NoError(t, err)
	assert.Zero(t, still)
	_, err = film.Drift(0, 1, 1)
	assert.Error(t, err)
}

// A wall draws 1.3 mm at 50° and 2.7 mm where it is wetted fully (de Gennes et
// al., ch. 2, published). The volume is what lies under the profile, integrated
// from its slope φ: z = 2·l_c·sin(φ/2), dx = dz/tan φ.
func TestMeniscus(t *testing.T) {
	for theta, climbs := range map[units.Angle]float64{50: 1.317, 0.0001: 2.724} {
		m, err := film.AgainstWall(theta, resin)
		require.NoError(t, err)
		assert.InDelta(t, climbs, float64(m.Climbs), 1e-3)
	}
	m, err := film.AgainstWall(50, resin)
	require.NoError(t, err)
	const lc = 1.9256 // mm, √(γ/ρg)
	area := quad.Fixed(func(phi float64) float64 {
		return 2 * lc * math.Sin(phi/2) * lc * math.Cos(phi/2) / math.Tan(phi)
	}, 1e-9, (90-50)*math.Pi/180, 40, nil, 0)
	assert.InEpsilon(t, area, float64(m.Volume), 1e-3, "mL for a metre is mm² of section")
	for _, bad := range []units.Angle{0, 91} {
		_, err := film.AgainstWall(bad, resin)
		assert.Error(t, err)
	}
}
