package cure_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/integrate/quad"
	"pgregory.net/rapid"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/units"
)

// The ageing by passes against an independent integrator, gonum's Gauss–Legendre rule
// on each stretch between two passes.
func TestHurriedAgainstAnIndependentIntegrator(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		depth := units.Length(rapid.Float64Range(0.6, 6).Draw(t, "mm"))
		temp := units.Temperature(rapid.Float64Range(12, 34).Draw(t, "°C"))
		faces := rapid.IntRange(1, 2).Draw(t, "faces")
		var passes []cure.Pass
		edges, at := []float64{}, 0.0
		for range rapid.IntRange(1, 8).Draw(t, "passes") {
			at += rapid.Float64Range(0.2, 12).Draw(t, "after")
			passes, edges = append(
				passes,
				cure.Pass{Minute: at, Heat: rapid.Float64Range(2, 40).Draw(t, "kJ/m²")},
			), append(
				edges,
				at,
			)
		}
		until := at + rapid.Float64Range(0.1, 30).Draw(t, "until")
		edges = append(edges, until)
		want := 0.0
		for k := 1; k < len(edges); k++ {
			want += quad.Fixed(func(x float64) float64 {
				return cure.RateFactor(temp+cure.Excess(passes, depth, faces, x))/cure.RateFactor(temp) - 1
			}, edges[k-1], edges[k], 40, quad.Legendre{}, 0)
		}
		got := cure.Hurried(passes, depth, faces, cure.Constant(temp), until)
		assert.InDelta(t, want, got, 0.01*want+0.02)
	})
}

// What a pass brings leaves by the faces: ∫n·U·ΔT dt over all time is the heat, by the
// balance of the slab (handbook 4).
func TestAPassGivesBackItsHeat(t *testing.T) {
	for _, faces := range []int{1, 2} {
		passes := []cure.Pass{{Minute: 1, Heat: 20}}
		lost := quad.Fixed(func(x float64) float64 {
			return float64(faces) * 9 * 60 * float64(cure.Excess(passes, 1.6, faces, x)) / 1000
		}, 1, 200, 400, quad.Legendre{}, 0)
		assert.InEpsilon(t, 20, lost, 1e-3, "kJ/m² with U 9 W/m²K")
	}
}

// A film warmed by one pass ages as a slab of the same start: the sum of the slab with
// its own balance, of a film too thin to heat itself.
func TestAPassAgesLikeAWarmSlab(t *testing.T) {
	k, err := cure.Calibrate(45, 24)
	require.NoError(t, err)
	room, depth := cure.Constant(24), units.Length(3.2) // a thinner one follows its room at once
	passes := []cure.Pass{{Minute: 0, Heat: 40}}
	start := 24 + cure.Excess(passes, depth, 2, 0)
	assert.InDelta(t, 40000.0/(1100*1900*0.0032), float64(start)-24, 1e-9, "K: q over ρ·c·h")
	warm, err := k.ClockIn(cure.Slab{Depth: depth, Faces: 2, Start: start, Room: room})
	require.NoError(t, err)
	plain, err := k.ClockIn(cure.Slab{Depth: depth, Faces: 2, Start: 24, Room: room})
	require.NoError(t, err)
	hurried := cure.Hurried(passes, depth, 2, room, 30)
	assert.InEpsilon(t, warm.Equivalent(30)-plain.Equivalent(30), plain.Equivalent(1+hurried)-plain.Equivalent(1), 0.05)
}

// Heat only hurries, more of it hurries more, and nothing is hurried before it came.
func TestHeatOnlyHurries(t *testing.T) {
	room := cure.Constant(22)
	one := []cure.Pass{{Minute: 5, Heat: 20}}
	assert.Zero(t, cure.Hurried(nil, 1.6, 2, room, 40))
	assert.Zero(t, cure.Hurried(one, 1.6, 2, room, 5))
	assert.Zero(t, cure.Excess(one, 1.6, 2, 4.9))
	two := append(one, cure.Pass{Minute: 6, Heat: 20})
	a, b := cure.Hurried(one, 1.6, 2, room, 40), cure.Hurried(two, 1.6, 2, room, 40)
	assert.Greater(t, a, 0.0)
	assert.Greater(t, b, 2*a, "the second comes on a warm film")
}
