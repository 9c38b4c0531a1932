package colour_test

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/units"
)

func ExampleBlend() {
	mixed, err := colour.Blend([]colour.Part{{Reflectance: colour.MustHex("#1c4fa0"), Amount: 1},
		{Reflectance: colour.MustHex("#f2d21b"), Amount: 1}})
	lab := mixed.Lab()
	fmt.Println("blue and yellow make green:", lab.A < -10, err)
	// Output: blue and yellow make green: true <nil>
}

// The 34 pairs of Sharma, Wu & Dalal 2005, table 1 (published): L, a, b twice
// and the difference.
func TestSharmaPairs(t *testing.T) {
	for i, p := range [][7]float64{
		{50, 2.6772, -79.7751, 50, 0, -82.7485, 2.0425}, {50, 3.1571, -77.2803, 50, 0, -82.7485, 2.8615},
		{50, 2.8361, -74.0200, 50, 0, -82.7485, 3.4412},
		{50, -1.3802, -84.2814, 50, 0, -82.7485, 1.0000}, {50, -1.1848, -84.8006, 50, 0, -82.7485, 1.0000},
		{50, -0.9009, -85.5211, 50, 0, -82.7485, 1.0000},
		{50, 0, 0, 50, -1, 2, 2.3669}, {50, -1, 2, 50, 0, 0, 2.3669}, {50, 2.4900, -0.0010, 50, -2.4900, 0.0009, 7.1792},
		{50, 2.4900, -0.0010, 50, -2.4900, 0.0010, 7.1792},
		{50, 2.4900, -0.0010, 50, -2.4900, 0.0011, 7.2195}, {50, 2.4900, -0.0010, 50, -2.4900, 0.0012, 7.2195},
		{50, -0.0010, 2.4900, 50, 0.0009, -2.4900, 4.8045},
		{50, -0.0010, 2.4900, 50, 0.0010, -2.4900, 4.8045}, {50, -0.0010, 2.4900, 50, 0.0011, -2.4900, 4.7461},
		{50, 2.5, 0, 50, 0, -2.5, 4.3065},
		{50, 2.5, 0, 73, 25, -18, 27.1492}, {50, 2.5, 0, 61, -5, 29, 22.8977}, {50, 2.5, 0, 56, -27, -3, 31.9030},
		{50, 2.5, 0, 58, 24, 15, 19.4535},
		{50, 2.5, 0, 50, 3.1736, 0.5854, 1.0000}, {50, 2.5, 0, 50, 3.2972, 0, 1.0000},
		{50, 2.5, 0, 50, 1.8634, 0.5757, 1.0000}, {50, 2.5, 0, 50, 3.2592, 0.3350, 1.0000},
		{60.2574, -34.0099, 36.2677, 60.4626, -34.1751, 39.4387, 1.2644},
		{63.0109, -31.0961, -5.8663, 62.8187, -29.7946, -4.0864, 1.2630},
		{61.2901, 3.7196, -5.3901, 61.4292, 2.2480, -4.9620, 1.8731},
		{35.0831, -44.1164, 3.7933, 35.0232, -40.0716, 1.5901, 1.8645},
		{22.7233, 20.0904, -46.6940, 23.0331, 14.9730, -42.5619, 2.0373},
		{36.4612, 47.8580, 18.3852, 36.2715, 50.5065, 21.2231, 1.4146},
		{90.8027, -2.0831, 1.4410, 91.1528, -1.6435, 0.0447, 1.4441},
		{90.9257, -0.5406, -0.9208, 88.6381, -0.8985, -0.7239, 1.5381},
		{6.7747, -0.2908, -2.4247, 5.8714, -0.0985, -2.2286, 0.6377},
		{2.0776, 0.0795, -1.1350, 0.9033, -0.0636, -0.5514, 0.9082},
	} {
		a, b := colour.Lab{L: p[0], A: p[1], B: p[2]}, colour.Lab{L: p[3], A: p[4], B: p[5]}
		assert.InDelta(t, p[6], colour.Difference(a, b), 5e-5, "pair %d", i+1)
		assert.InDelta(t, p[6], colour.Difference(b, a), 5e-5, "pair %d, the other way round", i+1)
	}
}

// Single-band checks of Kubelka's film.
func TestSingleBandFilms(t *testing.T) {
	for _, x := range []struct {
		s, mm               float64
		black, white, ratio float64
	}{{4, 1.6, 0.8460, 0.8838, 0.957}, {0.56, 1.6, 0.4601, 0.7875, 0.584}, {0.56, 50, 0.7661, 0.7661, 1.000}} {
		b, w, r, err := colour.Opacity([]float64{0.02}, []float64{x.s}, units.Length(x.mm))
		require.NoError(t, err)
		assert.InDelta(t, x.black, b[0], 5e-5)
		assert.InDelta(t, x.white, w[0], 5e-5)
		assert.InDelta(t, x.ratio, r, 5e-4)
	}
}

func optics(k, s float64) colour.Optics { return colour.Optics{K: colour.Flat(k), S: colour.Flat(s)} }

// Limits of Kubelka 1948 (published): no scattering is Lambert–Beer through
// the film and back; an infinite film is 1 + K/S − √((K/S)² + 2K/S); without
// absorption R₀ = SX/(1 + SX); no thickness shows the backing.
func TestKubelkaLimits(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		k, s := rapid.Float64Range(0.001, 5).Draw(t, "K"), rapid.Float64Range(0.001, 20).Draw(t, "S")
		x, g := rapid.Float64Range(0.05, 5).Draw(t, "mm"), rapid.Float64Range(0, 1).Draw(t, "backing")
		one := func(o colour.Optics, mm float64) float64 { return o.Over(colour.Flat(g), units.Length(mm))[10] }
		assert.InDelta(t, g*math.Exp(-2*k*x), one(optics(k, 0), x), 1e-9)
		assert.InDelta(t, 1+k/s-math.Sqrt(k*k/s/s+2*k/s), one(optics(k, s), 1e6), 1e-9)
		assert.InDelta(t, 1+k/s-math.Sqrt(k*k/s/s+2*k/s), colour.Infinite(k/s), 1e-9)
		assert.InDelta(t, s*x/(1+s*x), optics(0, s).Over(colour.Flat(0), units.Length(x))[0], 1e-6)
		assert.InDelta(t, g, one(optics(k, s), 0), 1e-12)
		assert.InDelta(t, g, one(optics(0, 0), x), 1e-9)
		r := one(optics(k, s), x)
		assert.True(t, r >= 0 && r <= 1)
		// Two films laid on each other are one film of their thickness.
		half := optics(k, s).Over(colour.Flat(g), units.Length(x/2))
		assert.InDelta(t, r, optics(k, s).Over(half, units.Length(x/2))[10], 1e-9)
	})
}

// Thicker never hides less.
func TestHidingGrowsWithTheFilm(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		o := optics(rapid.Float64Range(0, 2).Draw(t, "K"), rapid.Float64Range(0.01, 10).Draw(t, "S"))
		x := rapid.Float64Range(0.05, 4).Draw(t, "mm")
		assert.GreaterOrEqual(t, o.Contrast(units.Length(x*1.2)), o.Contrast(units.Length(x))-1e-12)
	})
	for ratio, want := range map[float64]colour.Hiding{0.3: colour.Transparent, 0.5: colour.Translucent,
		0.95: colour.NearlyOpaque, 0.98: colour.Opaque} {
		assert.Equal(t, want, colour.HidingOf(ratio))
	}
	assert.Equal(t, 1.0, optics(1e5, 0).Contrast(1), "black hides")
}

// A film drawn over black and white gives back the K and S it was made of,
// through whatever surface it is seen.
func TestDrawdownInverts(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		k, s := rapid.Float64Range(0.005, 1).Draw(t, "K"), rapid.Float64Range(0.05, 2).Draw(t, "S")
		x, white := units.Length(rapid.Float64Range(0.1, 1).Draw(t, "mm")), rapid.Float64Range(0.6, 0.95).Draw(t, "white")
		film := colour.Finish(rapid.Float64Range(0, 1).Draw(t, "gloss"))
		chart, black := colour.Flat(white), film.Out(colour.Flat(0))
		o := optics(k, s)
		got, err := colour.Drawdown(film.Out(o.Over(film.In(black), x)), film.Out(o.Over(film.In(chart), x)), chart, x, film)
		require.NoError(t, err)
		assert.InEpsilon(t, k, got.K[5], 1e-3)
		assert.InEpsilon(t, s, got.S[5], 1e-3)
	})
	bare := colour.Surface{}
	clear, err := colour.Drawdown(colour.Flat(0), colour.Flat(0.8*math.Exp(-2*0.3)), colour.Flat(0.8), 1, bare)
	require.NoError(t, err)
	assert.InDelta(t, 0.3, clear.K[0], 1e-9, "an ink: no scattering")
	_, err = colour.Drawdown(colour.Flat(0.5), colour.Flat(0.3), colour.Flat(0.8), 1, bare)
	assert.ErrorContains(t, err, "mixed up")
	_, err = colour.Drawdown(colour.Flat(0.1), colour.Flat(0.9), colour.Flat(0.5), 1, bare)
	assert.ErrorContains(t, err, "brighter")
	_, err = colour.Drawdown(colour.Flat(0.1), colour.Flat(0.3), colour.Flat(0.8), 0, bare)
	assert.Error(t, err)
}

// Drawdowns as they are typed, by swatches of eight bits, of every pigment from a
// wash to one that hides: none that a person can see to be right is refused, and
// what is solved draws the same film again.
func TestDrawdownsBySwatchAreNotRefused(t *testing.T) {
	sum, n := 0.0, 0.0
	rapid.Check(t, func(t *rapid.T) {
		hex := fmt.Sprintf("#%06x", rapid.IntRange(0, 0xffffff).Draw(t, "swatch"))
		rgb, err := colour.ParseHex(hex)
		require.NoError(t, err)
		swatch, err := rgb.Reflectance()
		require.NoError(t, err)
		full, err := colour.FromMasstone(swatch, rapid.Float64Range(0.05, 3).Draw(t, "strength"), colour.Surface{})
		require.NoError(t, err)
		cup := colour.Cup([]colour.Dose{{Optics: full,
			Load: rapid.SampledFrom([]float64{0.005, 0.01, 0.02, 0.05}).Draw(t, "load")}})
		x := rapid.SampledFrom([]units.Length{0.1, 0.2, 0.3, 1.6}).Draw(t, "mm")
		typed := func(s colour.Spectrum) colour.Spectrum {
			back, err := colour.ParseHex(s.XYZ().RGB().Hex())
			require.NoError(t, err)
			out, err := back.Reflectance()
			require.NoError(t, err)
			return out
		}
		chart := typed(colour.Flat(0.8))
		black, white := typed(cup.Over(colour.Flat(0), x)), typed(cup.Over(colour.Flat(0.8), x))
		got, err := colour.Drawdown(black, white, chart, x, colour.Surface{})
		require.NoError(t, err)
		for _, d := range []float64{colour.Difference(black.Lab(), got.Over(colour.Flat(0), x).Lab()),
			colour.Difference(white.Lab(), got.Over(chart, x).Lab())} {
			assert.Less(t, d, 15.0, "a near black, read off eight bits, is the worst")
			sum, n = sum+d, n+1
		}
	})
	assert.Less(t, sum/n, 1.5, "on average they come back to what the eye sees")
	hides := optics(0.5, 50)
	got, err := colour.Drawdown(hides.Over(colour.Flat(0), 50), hides.Over(colour.Flat(0.8), 50), colour.Flat(0.8), 50,
		colour.Surface{})
	require.NoError(t, err, "a film that hides tells K/S, and that it scatters enough")
	assert.InEpsilon(t, 0.01, got.K[3]/got.S[3], 1e-6)
	assert.GreaterOrEqual(t, got.Contrast(50), 0.98)
}

// A film and a load at which it neither hides nor vanishes are proposed.
func TestADrawdownIsProposed(t *testing.T) {
	white, err := colour.FromMasstone(colour.Flat(0.9), 2.4, colour.Surface{})
	require.NoError(t, err)
	weak, err := colour.FromMasstone(colour.Flat(0.3), 0.15, colour.Surface{})
	require.NoError(t, err)
	strong, faint := colour.AdviseDrawdown(white, 0.06), colour.AdviseDrawdown(weak, 0.06)
	for _, a := range []colour.DrawdownAdvice{strong, faint} {
		assert.InDelta(t, 0.6, a.Contrast, 0.25)
	}
	assert.Less(t, float64(strong.Film)*strong.Load, float64(faint.Film)*faint.Load)
}

// Saunderson 1942 (published) at its ends, one way and back, and what a painter
// would say: an opaque cup keeps its swatch, a clear tint over white is as dark
// as it is seen, a matt black is never black.
func TestSurfaces(t *testing.T) {
	matt := colour.Finish(0)
	assert.InDelta(t, 1, matt.Out(colour.Flat(1))[0], 1e-12)
	assert.InDelta(t, 0.04, matt.Out(colour.Flat(0))[0], 1e-12)
	assert.InDelta(t, 0.04+0.96*0.4*0.5/(1-0.3), matt.Out(colour.Flat(0.5))[0], 1e-12)
	assert.Zero(t, colour.Finish(1).Out(colour.Flat(0))[0], "a mirror throws the first reflection aside")
	rapid.Check(t, func(t *rapid.T) {
		s := colour.Finish(rapid.Float64Range(0, 1).Draw(t, "gloss"))
		r := colour.Flat(rapid.Float64Range(0, 0.99).Draw(t, "R"))
		assert.InDelta(t, r[0], s.In(s.Out(r))[0], 1e-9)
		assert.LessOrEqual(t, s.Out(r)[0], r[0]+0.04+1e-12)
	})
	gloss := colour.Finish(1)
	rgb, err := colour.ParseHex("#9c4f2d")
	require.NoError(t, err)
	swatch, err := rgb.Reflectance()
	require.NoError(t, err)
	opaque, err := colour.FromMasstone(swatch, 0.9, gloss)
	require.NoError(t, err)
	film := gloss.Out(colour.Cup([]colour.Dose{{Optics: opaque, Load: 0.06}}).Over(gloss.In(colour.Flat(0.8)), 50))
	assert.Less(t, colour.Difference(swatch.Lab(), film.Lab()), 0.6)
	wash, err := colour.FromWash(swatch, 0.02, 1.6, gloss)
	require.NoError(t, err)
	tint := gloss.Out(colour.Cup([]colour.Dose{{Optics: wash, Load: 0.02}}).Over(gloss.In(colour.Flat(0.8)), 1.6))
	assert.Less(t, colour.Difference(swatch.Lab(), tint.Lab()), 1.0)
	plain, err := colour.FromWash(swatch, 0.02, 1.6, colour.Surface{})
	require.NoError(t, err)
	assert.Less(t, gloss.Out(colour.Cup([]colour.Dose{{Optics: plain, Load: 0.02}}).Over(gloss.In(colour.Flat(0.8)),
		1.6)).Lab().L, swatch.Lab().L-3,
		"light that is thrown back inside passes the tint again")
}

// Every colour of the screen comes back from its own reflectance to the last
// digit but one, and the reflectance stays inside 0..1.
func TestReflectanceRoundTrip(t *testing.T) {
	steps := []int{0, 51, 102, 153, 204, 255}
	for _, r := range steps {
		for _, g := range steps {
			for _, b := range steps {
				hex := fmt.Sprintf("#%02x%02x%02x", r, g, b)
				c, err := colour.ParseHex(hex)
				require.NoError(t, err)
				s, err := c.Reflectance()
				require.NoError(t, err, hex)
				for _, v := range s {
					require.True(t, v >= 0 && v <= 1, hex)
				}
				assert.Less(t, colour.Difference(c.XYZ().Lab(), s.Lab()), 0.7, hex)
			}
		}
	}
}

// The observer's table against the multi-lobe fit of Wyman, Sloan & Shirley
// (JCGT 2013, published), and the white point against IEC 61966-2-1.
func TestObserverTable(t *testing.T) {
	lobe := func(l, m, s1, s2 float64) float64 {
		s := s1
		if l > m {
			s = s2
		}
		return math.Exp(-0.5 * (l - m) * (l - m) / (s * s))
	}
	for i := range colour.Bands {
		l := colour.Wavelength(i)
		o := colour.ObserverAt(i)
		assert.InDelta(t, 1.056*lobe(l, 599.8, 37.9, 31.0)+0.362*lobe(l, 442.0, 16.0, 26.7)-0.065*lobe(l, 501.1, 20.4, 26.2),
			o.X, 0.03, "x̄ at %g nm", l)
		assert.InDelta(t, 0.821*lobe(l, 568.8, 46.9, 40.5)+0.286*lobe(l, 530.9, 16.3, 31.1), o.Y, 0.02, "ȳ at %g nm", l)
		assert.InDelta(t, 1.217*lobe(l, 437.0, 11.8, 36.0)+0.681*lobe(l, 459.0, 26.0, 13.8), o.Z, 0.06, "z̄ at %g nm", l)
	}
	raw := colour.RawWhite()
	assert.InEpsilon(t, 0.95047, raw.X/raw.Y, 1e-3)
	assert.InEpsilon(t, 1.08883, raw.Z/raw.Y, 1e-3)
	assert.InDelta(t, 100, colour.Flat(1).Lab().L, 1e-9)
	assert.InDelta(t, 0, colour.Flat(0.5).Lab().Chroma(), 1e-9)
}

func TestBlendLaws(t *testing.T) {
	red, white, black := colour.MustHex("#b03020"), colour.MustHex("#f4f3ee"), colour.MustHex("#1a1a1c")
	same, err := colour.Blend([]colour.Part{{red, 3}, {red, 1}})
	require.NoError(t, err)
	assert.InDelta(t, 0, colour.Difference(red.Lab(), same.Lab()), 1e-6, "a colour with itself stays itself")
	ab, err := colour.Blend([]colour.Part{{red, 1}, {white, 2}})
	require.NoError(t, err)
	ba, err := colour.Blend([]colour.Part{{white, 20}, {red, 10}})
	require.NoError(t, err)
	assert.InDelta(t, 0, colour.Difference(ab.Lab(), ba.Lab()), 1e-9, "order and scale do not matter")
	grey, err := colour.Blend([]colour.Part{{black, 1}, {white, 1}})
	require.NoError(t, err)
	assert.Less(t, grey.Lab().L, (black.Lab().L+white.Lab().L)/2,
		"dark colours weigh more than light ones (common practice)")
	for _, bad := range [][]colour.Part{nil, {{red, 0}}, {{red, -1}}, {{red, math.NaN()}}} {
		_, err := colour.Blend(bad)
		assert.Error(t, err)
	}
}

func TestParseHexRefuses(t *testing.T) {
	for _, s := range []string{"", "#12", "#gggggg", "red", "#1234567", "#-12345"} {
		_, err := colour.ParseHex(s)
		assert.Error(t, err, s)
	}
	for _, s := range []string{"#000000", "#ffffff", "#2a6f97", "#0a0b0c"} {
		c, err := colour.ParseHex(s)
		require.NoError(t, err)
		assert.Equal(t, s, c.Hex())
		assert.True(t, c.InGamut())
	}
}

func BenchmarkCup(b *testing.B) {
	pigments := []colour.Optics{optics(0.5, 2), optics(0.1, 6), optics(2, 0.2)}
	backing := colour.MustHex("#7a5a30")
	for b.Loop() {
		var cup colour.Optics
		for i, p := range pigments {
			cup = cup.Add(p, 0.01*float64(i+1))
		}
		seen := cup.Over(backing, 1.6)
		_ = seen.XYZ().RGB().Hex()
		_ = colour.HidingOf(cup.Contrast(1.6))
	}
}
