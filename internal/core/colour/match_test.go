package colour_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"sort"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/colour"
)

// shelf is n invented pigments, opaque and transparent in turn.
func shelf(tb testing.TB, n int) []colour.Candidate {
	tb.Helper()
	random := rand.New(rand.NewPCG(60, 1))
	out := make([]colour.Candidate, n)
	for i := range out {
		hex := fmt.Sprintf("#%02x%02x%02x", 20+random.IntN(216), 20+random.IntN(216), 20+random.IntN(216))
		rgb, err := colour.ParseHex(hex)
		require.NoError(tb, err)
		s, err := rgb.Reflectance()
		require.NoError(tb, err)
		if i%3 == 2 {
			out[i].Optics, err = colour.FromWash(s, 0.02, 1.6)
		} else {
			out[i].Optics, err = colour.FromMasstone(s, 0.3+2*random.Float64())
		}
		require.NoError(tb, err)
		out[i].Limit = 0.06
	}
	return out
}

// brute tries everything with the plain sums and no short cut.
func brute(q colour.Query, shelf []colour.Candidate) []float64 {
	best := map[string]float64{}
	var walk func(from, left int, set []int, steps []int)
	judge := func(set, steps []int) {
		var doses []colour.Dose
		for i, c := range set {
			load := q.Load * float64(steps[i]) / float64(q.Steps)
			if load > shelf[c].Limit+1e-9 {
				return
			}
			doses = append(doses, colour.Dose{Optics: shelf[c].Optics, Load: load})
		}
		d := colour.Difference(q.Target, colour.Cup(doses).Over(q.Backing, q.Film).Lab())
		key := fmt.Sprint(set)
		if old, ok := best[key]; !ok || d < old {
			best[key] = d
		}
	}
	walk = func(from, left int, set, steps []int) {
		if left == 0 {
			judge(set, steps)
			return
		}
		if len(set) == 3 {
			return
		}
		for i := from; i < len(shelf); i++ {
			for n := 1; n <= left; n++ {
				walk(i+1, left-n, append(set, i), append(steps, n))
			}
		}
	}
	walk(0, q.Steps, nil, nil)
	all := make([]float64, 0, len(best))
	for _, d := range best {
		all = append(all, d)
	}
	sort.Float64s(all)
	return all
}

func TestMatchIsBruteForce(t *testing.T) {
	pigments := shelf(t, 13)
	random := rand.New(rand.NewPCG(3, 9))
	for range 12 {
		q := colour.Query{
			Target:  colour.Lab{L: 15 + 75*random.Float64(), A: 80*random.Float64() - 40, B: 80*random.Float64() - 40},
			Backing: colour.Flat(0.1 + 0.7*random.Float64()), Film: 1.6, Load: 0.04, Steps: 6, Best: 3,
		}
		want := brute(q, pigments)
		got, err := colour.Match(q, pigments)
		require.NoError(t, err)
		require.Len(t, got, 3)
		for i, r := range got {
			assert.InDelta(t, want[i], r.Difference, 1e-9)
		}
		refined, err := colour.Refine(q, got[0], pigments, []int{0, 1}, 0.08)
		require.NoError(t, err)
		assert.LessOrEqual(t, refined.Difference, got[0].Difference)
		load := 0.0
		for _, p := range refined.Parts {
			assert.LessOrEqual(t, p.Load, 0.06)
			load += p.Load
		}
		assert.LessOrEqual(t, load, 0.08+1e-12)
	}
}

func TestMatchFindsWhatWasMixed(t *testing.T) {
	pigments := shelf(t, 20)
	doses := []colour.Dose{{Optics: pigments[4].Optics, Load: 0.02}, {Optics: pigments[9].Optics, Load: 0.015}, {Optics: pigments[16].Optics, Load: 0.005}}
	target := colour.Cup(doses).Over(colour.Flat(0.3), 1.6).Lab()
	got, err := colour.Match(colour.Query{Target: target, Backing: colour.Flat(0.3), Film: 1.6}, pigments)
	require.NoError(t, err)
	assert.InDelta(t, 0, got[0].Difference, 1e-9)
	_, err = colour.Match(colour.Query{Target: target, Film: 1.6}, nil)
	assert.Error(t, err)
	_, err = colour.Match(colour.Query{Target: target}, pigments)
	assert.Error(t, err)
}

// Palettes of pictures made of known colours (arithmetic).
func TestPalette(t *testing.T) {
	var pixels []colour.Pixel
	add := func(n int, p colour.Pixel) {
		for range n {
			pixels = append(pixels, p)
		}
	}
	add(500, colour.Pixel{200, 30, 30})
	add(300, colour.Pixel{20, 60, 160})
	add(200, colour.Pixel{240, 240, 230})
	got, err := colour.Palette(pixels, 5)
	require.NoError(t, err)
	require.Len(t, got, 3, "three colours are three, however many are asked for")
	sum := 0.0
	for i, want := range []struct {
		hex   string
		share float64
	}{{"#c81e1e", 0.5}, {"#143ca0", 0.3}, {"#f0f0e6", 0.2}} {
		assert.Equal(t, want.hex, got[i].RGB.Hex())
		assert.InDelta(t, want.share, got[i].Share, 1e-9)
		sum += got[i].Share
	}
	assert.InDelta(t, 1, sum, 1e-9)

	one, err := colour.Palette([]colour.Pixel{{9, 9, 9}, {9, 9, 9}}, 4)
	require.NoError(t, err)
	assert.Len(t, one, 1)
	_, err = colour.Palette(nil, 4)
	assert.ErrorContains(t, err, "transparent")
	_, err = colour.Palette(pixels, 9)
	assert.Error(t, err)
}

// What painters say of colours that meet (common practice).
func TestMeetings(t *testing.T) {
	optics := func(hex string) colour.Optics {
		rgb, err := colour.ParseHex(hex)
		require.NoError(t, err)
		s, err := rgb.Reflectance()
		require.NoError(t, err)
		o, err := colour.FromMasstone(s, 1)
		require.NoError(t, err)
		return colour.Cup([]colour.Dose{{Optics: o, Load: 0.05}})
	}
	meet := func(a, b string) colour.Meeting {
		return colour.Meet(optics(a), optics(b), colour.Flat(0.3), 1.6)
	}
	assert.Equal(t, colour.Cancel, meet("#c05a10", "#1f5fa8").Mud, "orange and blue go to mud")
	assert.Equal(t, colour.Cancel, meet("#b02040", "#2f8a3a").Mud, "red and green go to mud")
	assert.Equal(t, colour.NoMud, meet("#1f5fa8", "#2f8a8a").Mud, "neighbours in hue stay clean")
	assert.Equal(t, colour.NoMud, meet("#e0b020", "#c05a10").Mud)
	white := meet("#f6f5f1", "#17455c")
	assert.Greater(t, white.LightDark, 50.0)
	same := meet("#17455c", "#17455c")
	assert.InDelta(t, 0, same.Difference, 1e-9)
	assert.InDelta(t, 0, same.LightDark, 1e-9)
	green := meet("#e8c81c", "#1c4fa0").Lab
	assert.Less(t, green.A, 0.0, "yellow and blue make green")
}

func TestLoadsUseUpTheirLimits(t *testing.T) {
	assert.InDelta(t, 1, colour.LoadUsed([]float64{0.03, 0.02}, []float64{0.06, 0.04}), 1e-12)
	assert.InDelta(t, 0, colour.LoadUsed(nil, nil), 1e-12)
}

func BenchmarkMatch60(b *testing.B) {
	pigments := shelf(b, 60)
	targets := []colour.Lab{{L: 35, A: 20, B: -30}, {L: 60, A: -20, B: 25}, {L: 80, A: 5, B: 12}, {L: 25, A: 30, B: 20}}
	for i := range b.N {
		_, err := colour.Match(colour.Query{Target: targets[i%len(targets)], Backing: colour.Flat(0.4), Film: 1.6}, pigments)
		require.NoError(b, err)
	}
}

// BenchmarkPalette is the palette of the 40 000 samples a picture is read as.
func BenchmarkPalette(b *testing.B) {
	random := rand.New(rand.NewPCG(1, 2))
	pixels := make([]colour.Pixel, 40_000)
	for i := range pixels {
		pixels[i] = colour.Pixel{uint8(random.IntN(256)), uint8(128 + 100*math.Sin(float64(i)/900)), uint8(random.IntN(200))}
	}
	for b.Loop() {
		_, err := colour.Palette(pixels, 8)
		require.NoError(b, err)
	}
}
