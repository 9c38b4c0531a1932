package colour_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/units"
)

func band(rt *rapid.T, k, s, backing, mm float64) float64 {
	r, err := colour.Film([]float64{k}, []float64{s}, []float64{backing}, units.Length(mm))
	require.NoError(rt, err)
	return r[0]
}

// dR/dX = S(1 − R)² − 2KR (Kubelka & Munk 1931): a film darkens with
// absorption and brightens with scattering, whatever lies under it. The search
// for recipes leaves out what this rules out.
func TestFilmsDarkenWithKAndBrightenWithS(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		k := rapid.Float64Range(0, 8).Draw(rt, "k")
		s := rapid.Float64Range(0, 12).Draw(rt, "s")
		backing := rapid.Float64Range(0, 1).Draw(rt, "backing")
		mm := rapid.Float64Range(0.05, 4).Draw(rt, "mm")
		more := rapid.Float64Range(0, 3).Draw(rt, "more")
		r := band(rt, k, s, backing, mm)
		require.LessOrEqual(rt, band(rt, k+more, s, backing, mm), r+1e-9)
		require.GreaterOrEqual(rt, band(rt, k, s+more, backing, mm), r-1e-9)
		require.True(rt, r >= -1e-12 && r <= 1+1e-12)
	})
}

// CIEDE2000 is at least |ΔL| over its largest S_L, because its chroma and hue
// terms together are never negative (|R_T| < 2; Sharma, Wu & Dalal 2005).
func TestDifferenceIsAtLeastThatOfLightness(t *testing.T) {
	lab := func(rt *rapid.T, name string) colour.Lab {
		return colour.Lab{L: rapid.Float64Range(0, 100).Draw(rt, name+"L"),
			A: rapid.Float64Range(-110, 110).Draw(rt, name+"a"), B: rapid.Float64Range(-110, 110).Draw(rt, name+"b")}
	}
	rapid.Check(t, func(rt *rapid.T) {
		c, d := lab(rt, "c"), lab(rt, "d")
		diff := colour.Difference(c, d)
		require.GreaterOrEqual(rt, diff, math.Abs(c.L-d.L)/1.7471-1e-9)
		require.InDelta(rt, diff, colour.Difference(d, c), 1e-9)
	})
}

// Two cups that meet do so alike from both sides, and equal ones stay equal.
func TestMeetingIsSymmetric(t *testing.T) {
	pigments := invented(t, 12)
	rapid.Check(t, func(rt *rapid.T) {
		cup := func(name string) colour.Optics {
			i := rapid.IntRange(0, len(pigments)-1).Draw(rt, name)
			return colour.Cup([]colour.Dose{{Optics: pigments[i].Optics,
				Load: rapid.Float64Range(0.001, 0.06).Draw(rt, name+" load")}})
		}
		a, b := cup("a"), cup("b")
		there, back := colour.Meet(a, b, colour.Flat(0.3), 1.6, colour.Surface{}), colour.Meet(b, a, colour.Flat(0.3), 1.6,
			colour.Surface{})
		require.InDelta(rt, there.Difference, back.Difference, 1e-9)
		require.InDelta(rt, there.Lab.L, back.Lab.L, 1e-9)
		require.Equal(rt, there.Mud, back.Mud)
		own := colour.Meet(a, a, colour.Flat(0.3), 1.6, colour.Surface{})
		require.InDelta(rt, 0, own.Difference, 1e-6)
		require.Equal(rt, colour.NoMud, own.Mud)
	})
}

// A recipe never asks a pigment for more than it bears, however strong the
// wish, and says what its own loads come to.
func TestRecipesKeepTheLimits(t *testing.T) {
	pigments := invented(t, 9)
	for i := range pigments {
		pigments[i].Limit = 0.01 * float64(1+i%3)
	}
	rapid.Check(t, func(rt *rapid.T) {
		q := colour.Query{Target: colour.Lab{L: rapid.Float64Range(10, 95).Draw(rt, "L"),
			A: rapid.Float64Range(-40, 40).Draw(rt, "a"), B: rapid.Float64Range(-40, 40).Draw(rt, "b")},
			Backing: colour.Flat(0.4), Film: 1.6}
		found, err := colour.Match(t.Context(), q, pigments)
		require.NoError(rt, err)
		for _, r := range found {
			r, err = colour.Refine(t.Context(), q, r, pigments, []int{0})
			require.NoError(rt, err)
			doses, load := []colour.Dose{}, 0.0
			for _, p := range r.Parts {
				require.LessOrEqual(rt, p.Load, pigments[p.Candidate].Limit+1e-12)
				doses = append(doses, colour.Dose{Optics: pigments[p.Candidate].Optics, Load: p.Load})
				load += p.Load / pigments[p.Candidate].Limit
			}
			require.LessOrEqual(rt, load, 1+1e-9)
			require.InDelta(rt, r.Difference, colour.Difference(q.Target, colour.Cup(doses).Over(q.Backing, q.Film).Lab()), 1e-9)
		}
	})
}

// Shares of a palette add up, and every pixel is near one of its colours.
func TestPaletteLaws(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		n := rapid.IntRange(1, 8).Draw(rt, "n")
		pixels := rapid.SliceOfN(rapid.Custom(func(rt *rapid.T) colour.Pixel {
			v := rapid.Uint8()
			return colour.Pixel{v.Draw(rt, "r"), v.Draw(rt, "g"), v.Draw(rt, "b")}
		}), 1, 60).Draw(rt, "pixels")
		got, err := colour.Palette(t.Context(), pixels, n)
		require.NoError(rt, err)
		require.LessOrEqual(rt, len(got), n)
		sum := 0.0
		for i, c := range got {
			sum += c.Share
			require.Greater(rt, c.Share, 0.0)
			for _, d := range got[:i] {
				require.GreaterOrEqual(rt, colour.Difference(c.Lab, d.Lab), 2.5, "alike colours are one")
			}
		}
		require.InDelta(rt, 1, sum, 1e-9)
		again, err := colour.Palette(t.Context(), pixels, n)
		require.NoError(rt, err)
		require.Equal(rt, got, again)
	})

}
