package colour

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/mat"
	"pgregory.net/rapid"

	"jevvo/internal/core/units"
)

// smooth is a spectrum that is alike in each three bands, so that a third of them
// tells all.
func smooth(r *rand.Rand, least, most float64) (s Spectrum) {
	for i := 0; i < Bands; i += 3 {
		v := least + (most-least)*r.Float64()
		s[i], s[i+1], s[i+2] = v, v, v
	}
	return s
}

func candidatesFor(r *rand.Rand, n int) []Candidate {
	out := make([]Candidate, n)
	for i := range out {
		out[i] = Candidate{Optics: Optics{K: smooth(r, 0, 200), S: smooth(r, 0, 150)}, Limit: 0.02 + 0.04*r.Float64()}
	}
	return out
}

func queryFor(r *rand.Rand) Query {
	return Query{Target: Lab{20 + 60*r.Float64(), 80*r.Float64() - 40, 80*r.Float64() - 40}, Backing: smooth(r, 0.05, 0.9),
		Film: units.Length(0.3 + 2*r.Float64()), Surface: Finish(r.Float64()), Best: 3}
}

// The table and its series against the library's exponential.
func TestFadingIsTheExponential(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		x := rapid.Float64Range(0, 45).Draw(t, "x")
		require.InDelta(t, math.Exp(-x), fading(x), 1e-12*math.Exp(-x)+1e-17)
	})
	assert.Zero(t, fading(fadingEnd))
	assert.Equal(t, 1.0, fading(0))
}

// The film of the search is Kubelka's, as the rest of the program has it.
func TestTheSearchHasKubelkasFilm(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		k, s := rapid.Float64Range(1e-6, 50).Draw(t, "k"), rapid.Float64Range(0, 50).Draw(t, "s")
		mm, under := rapid.Float64Range(0.01, 5).Draw(t, "mm"), rapid.Float64Range(0, 1).Draw(t, "under")
		require.InDelta(t, film(k, s, mm, under), tinted(k, s, mm, under), 1e-9)
	})
}

// One, two and three equations against gonum.
func TestSolveThree(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(1, 3).Draw(t, "n")
		m, rhs := mat.NewDense(n, n, nil), mat.NewVecDense(n, nil)
		var a [3][4]float64
		for i := range n {
			for k := range n {
				a[i][k] = rapid.Float64Range(-1, 1).Draw(t, "a")
			}
			a[i][i] += 4
			a[i][3] = rapid.Float64Range(-10, 10).Draw(t, "b")
			m.SetRow(i, a[i][:n])
			rhs.SetVec(i, a[i][3])
		}
		var want mat.VecDense
		require.NoError(t, want.SolveVec(m, rhs))
		got := solve3(a, n)
		for i := range n {
			require.InDelta(t, want.AtVec(i), got[i], 1e-10)
		}
	})
}

// The screening and the refining see the colour that the cup on the board has.
func TestTheSearchSeesTheFilm(t *testing.T) {
	for seed := range uint64(40) {
		r := rand.New(rand.NewPCG(seed, 7))
		owned, q := candidatesFor(r, 5), queryFor(r)
		screened := &screener{q: q, lab: q.Target}
		screened.prepare(owned)
		f := newFitter(q, owned)
		s := fit{n: 3, set: [3]int{0, 2, 4}, u: [3]float64{0.1 + 0.2*r.Float64(), 0.3 * r.Float64(), 0.01 + 0.2*r.Float64()}}
		x := [3]float64{math.Log(s.u[0]), math.Log(s.u[1]), math.Log(s.u[2])}
		seen := q.judge(s.parts(owned), owned).Lab
		lab := f.lab(&s, &x)
		assert.InDelta(t, 0, math.Sqrt(gap(seen, lab)), 2e-4)
		assert.InDelta(t, gap(q.Target, lab), screened.far(s.set, s.u), 1e-6*(1+gap(q.Target, lab)))
		assert.InDelta(t, leastLoad/owned[2].Limit, f.low[2], 1e-15)
	}
}

// Every set of one, two and three is screened once, at the best point of its
// scatter, nearest first.
func TestEverySetIsScreened(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 3))
	owned, q := candidatesFor(r, 6), queryFor(r)
	sets, err := screen(t.Context(), q, owned)
	require.NoError(t, err)
	require.Len(t, sets, 6+15+20)
	m := &screener{q: q, lab: q.Target}
	m.prepare(owned)
	seen, counts := map[[3]int]bool{}, map[int]int{}
	for i, s := range sets {
		assert.False(t, seen[s.set])
		seen[s.set] = true
		counts[s.n]++
		best := math.Inf(1)
		for _, all := range scatterUsed {
			for _, p := range [][][3]float64{nil, scatterOne, scatterTwo, scatterThree}[s.n] {
				best = math.Min(best, m.far(s.set, [3]float64{all * p[0], all * p[1], all * p[2]}))
			}
		}
		assert.Equal(t, best, s.difference)
		assert.Equal(t, best, m.far(s.set, s.u))
		if i > 0 {
			assert.GreaterOrEqual(t, s.difference, sets[i-1].difference)
		}
	}
	assert.Equal(t, map[int]int{1: 6, 2: 15, 3: 20}, counts)
}

// One move is (JᵀJ + d·diag JᵀJ)δ = Jᵀr (Marquardt 1963), J by central differences
// and the system by gonum, as long as no limit stands in the way.
func TestAStepIsMarquardts(t *testing.T) {
	compared := 0
	for seed := range uint64(60) {
		r := rand.New(rand.NewPCG(seed, 11))
		owned, q := candidatesFor(r, 3), queryFor(r)
		f := newFitter(q, owned)
		n := 1 + int(seed%3)
		s, x := fit{n: n, set: [3]int{0, 1, 2}}, [3]float64{}
		for i := range n {
			x[i] = math.Log(0.1 + 0.15*r.Float64())
		}
		now, damp := f.lab(&s, &x), 0.5+2*r.Float64()
		j, rhs := mat.NewDense(3, n, nil), mat.NewVecDense(3,
			[]float64{q.Target.L - now.L, q.Target.A - now.A, q.Target.B - now.B})
		for i := range n {
			up, down := x, x
			up[i] += 1e-4
			down[i] -= 1e-4
			a, b := f.lab(&s, &up), f.lab(&s, &down)
			j.SetCol(i, []float64{(a.L - b.L) / 2e-4, (a.A - b.A) / 2e-4, (a.B - b.B) / 2e-4})
		}
		var square mat.Dense
		square.Mul(j.T(), j)
		for i := range n {
			square.Set(i, i, square.At(i, i)*(1+damp))
		}
		var side, want mat.VecDense
		side.MulVec(j.T(), rhs)
		require.NoError(t, want.SolveVec(&square, &side))
		got, free, sum := f.step(&s, x, now, damp), true, 0.0
		for i := range n {
			to := x[i] + want.AtVec(i)
			free = free && math.Abs(want.AtVec(i)) < 1.5 && to < 0 && to > math.Log(f.low[i])
			sum += math.Exp(to)
		}
		total := 0.0
		for i := range n {
			total += math.Exp(got[i])
			assert.LessOrEqual(t, math.Abs(got[i]-x[i]), 1.5+math.Log(3))
			if free && sum < 1 {
				assert.InDelta(t, want.AtVec(i), got[i]-x[i], 2e-3*(1+math.Abs(want.AtVec(i))))
				compared++
			}
		}
		assert.LessOrEqual(t, total, 1+1e-9, "together within the limits")
	}
	assert.Greater(t, compared, 40)
}

// Steps too far are cut: 1.5 in the logarithm, the least load, and all limits
// together.
func TestStepsKeepTheLimits(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 5))
	owned, q := candidatesFor(r, 3), queryFor(r)
	f := newFitter(q, owned)
	s := fit{n: 1, set: [3]int{0, 0, 0}}
	low := math.Log(f.low[0])
	for _, target := range []Lab{{0, 0, 0}, {100, 0, 0}, {50, 90, 90}, {50, -90, -90}} {
		f.q.Target = target
		for _, x := range []float64{low, low + 0.01, -3, -0.01, 0} {
			at := [3]float64{x}
			got := f.step(&s, at, f.lab(&s, &at), 1e-6)
			assert.GreaterOrEqual(t, got[0], low)
			assert.LessOrEqual(t, got[0], 0.0)
			assert.LessOrEqual(t, math.Abs(got[0]-x), 1.5+1e-12)
		}
	}
	two := fit{n: 2, set: [3]int{0, 1, 1}}
	at := [3]float64{math.Log(0.9), math.Log(0.9)}
	got := f.step(&two, at, f.lab(&two, &at), 1e9)
	assert.InDelta(t, 1, math.Exp(got[0])+math.Exp(got[1]), 1e-9)
	assert.InDelta(t, got[0], got[1], 1e-6, "shared alike")
}

// What is refined cannot be made nearer by a little more or less of any pigment,
// is nearer than where it began, and tells its own difference.
func TestRefinedIsNearest(t *testing.T) {
	held := 0
	for seed := range uint64(30) {
		r := rand.New(rand.NewPCG(seed, 13))
		owned, q := candidatesFor(r, 4), queryFor(r)
		mixed := fit{n: 2, set: [3]int{1, 3, 3}, u: [3]float64{0.2 + 0.3*r.Float64(), 0.05 + 0.3*r.Float64()}}
		q.Target = q.judge(mixed.parts(owned), owned).Lab
		f := newFitter(q, owned)
		begun := mixed
		begun.u[0], begun.u[1] = mixed.u[0]*0.7, mixed.u[1]*1.3
		got, ok := f.fit(begun)
		if !ok {
			continue
		}
		held++
		assert.Less(t, got.difference, 0.02, "what was mixed is found")
		assert.InDelta(t, Difference(q.Target, q.judge(got.parts(owned), owned).Lab), got.difference, 1e-3)
	}
	assert.Greater(t, held, 25)
	// a set that does without one of its pigments is another set
	r := rand.New(rand.NewPCG(1, 17))
	owned, q := candidatesFor(r, 2), queryFor(r)
	alone := fit{n: 1, set: [3]int{0, 0, 0}, u: [3]float64{0.4}}
	q.Target = q.judge(alone.parts(owned), owned).Lab
	_, ok := newFitter(q, owned).fit(fit{n: 2, set: [3]int{0, 1, 1}, u: [3]float64{0.4, 0.01}})
	assert.False(t, ok)
}

// The bounds of mud and of hues, on either side of each (our reading of common
// practice).
func TestMudAtItsBounds(t *testing.T) {
	c := func(l, chroma, degrees float64) Lab {
		return Lab{l, chroma * cosd(degrees), chroma * sind(degrees)}
	}
	for name, v := range map[string]struct {
		a, b, mixed Lab
		want        Mud
	}{
		"both coloured, half gone":         {c(60, 14, 30), c(60, 40, 210), c(60, 6.9, 0), Cancel},
		"a little more than half left":     {c(60, 14, 30), c(60, 40, 210), c(60, 7.1, 0), NoMud},
		"the weaker one is nearly grey":    {c(60, 11.9, 30), c(60, 40, 210), c(60, 5, 0), NoMud},
		"dark beside bright":               {c(27, 2, 0), c(60, 30, 90), c(30, 10, 90), Swallow},
		"the order does not matter":        {c(60, 30, 90), c(27, 2, 0), c(30, 10, 90), Swallow},
		"not so dark":                      {c(29, 2, 0), c(60, 30, 90), c(30, 10, 90), NoMud},
		"more than a third is left":        {c(27, 2, 0), c(60, 30, 90), c(30, 10.6, 90), NoMud},
		"nothing bright to take":           {c(27, 2, 0), c(60, 23.9, 90), c(30, 5, 90), NoMud},
		"a white takes half":               {c(89, 2, 0), c(60, 20, 90), c(80, 9.9, 90), WashesIn},
		"no white":                         {c(87, 2, 0), c(60, 20, 90), c(80, 9.9, 90), NoMud},
		"a white takes less than half":     {c(89, 2, 0), c(60, 20, 90), c(80, 10.1, 90), NoMud},
		"a white beside what is no colour": {c(89, 2, 0), c(60, 11.9, 90), c(80, 1, 90), NoMud},
		"the order of whites neither":      {c(60, 20, 90), c(89, 2, 0), c(80, 9.9, 90), WashesIn},
	} {
		assert.Equal(t, v.want, mud(v.a, v.b, v.mixed), name)
	}
	assert.InDelta(t, 20, apart(c(50, 10, 350), c(50, 10, 10)), 1e-9, "across 0°")
	assert.InDelta(t, 20, apart(c(50, 10, 10), c(50, 10, 350)), 1e-9)
	assert.InDelta(t, 150, apart(c(50, 3.1, 30), c(50, 60, 180)), 1e-9)
	assert.True(t, math.IsNaN(apart(c(50, 2.9, 30), c(50, 60, 180))))
	assert.True(t, math.IsNaN(apart(c(50, 60, 30), c(50, 2.9, 180))))
}

// Bands of every kind come back from how they look over the chart, and bands that
// hide take their scattering from beside them.
func TestBandsOfADrawdown(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		mm := rapid.Float64Range(0.05, 1).Draw(t, "mm")
		k, s := rapid.Float64Range(0, 4).Draw(t, "k"), rapid.Float64Range(0, 4).Draw(t, "s")
		if rapid.Bool().Draw(t, "no absorption") {
			k = 0
		}
		d := drawn{mm: mm}
		r0, r := film(k, s, mm, 0), film(k, s, mm, ChartWhite)
		d.band(4, r0, r, ChartWhite)
		if d.hides[4] || r0 < 1e-4 {
			t.Skip("hides, or too clear to tell")
		}
		require.InDelta(t, k, d.optics.K[4], 1e-3*(1+k))
		require.InDelta(t, s, d.optics.S[4], 1e-3*(1+s))
	})
	clear := drawn{mm: 0.4}
	clear.band(0, 0, ChartWhite*math.Exp(-2*1.5*0.4), ChartWhite) // absorbs only: twice through
	assert.InDelta(t, 1.5, clear.optics.K[0], 1e-9)
	assert.Zero(t, clear.optics.S[0])
	clear.band(1, 0, ChartWhite*1.01, ChartWhite)
	assert.Zero(t, clear.optics.K[1])
	hid := drawn{mm: 0.4}
	hid.band(0, 0.30, 0.30+readTo*0.99, ChartWhite)
	assert.True(t, hid.hides[0])
	assert.InDelta(t, absorbed(0.30+readTo*0.495), hid.deep[0], 1e-12, "from the middle of both")
}

func TestBandsThatHideLeanOnTheirNeighbours(t *testing.T) {
	d := drawn{mm: 1}
	for i := range d.hides {
		d.hides[i] = true
	}
	assert.Zero(t, d.beside(5), "none tells")
	d.hides[10], d.optics.S[10] = false, 30
	assert.Equal(t, 30.0, d.beside(3))
	assert.Equal(t, 30.0, d.beside(30))
	d.hides[20], d.optics.S[20] = false, 50
	assert.InDelta(t, 36, d.beside(13), 1e-12, "three tenths of the way")
	assert.InDelta(t, 48, d.beside(19), 1e-12)
	d.hidden(15, 0.25)
	least := d.least(15)
	apart := func(s float64) float64 {
		return film(s*d.deep[15], s, 1, ChartWhite) - film(s*d.deep[15], s, 1, ChartBlack)
	}
	assert.Less(t, apart(least), readTo)
	assert.Greater(t, apart(least*0.99), readTo)
	d.fill()
	assert.InDelta(t, math.Max(40, least), d.optics.S[15], 1e-9)
	assert.InDelta(t, d.optics.S[15]*d.deep[15], d.optics.K[15], 1e-12)
	assert.Equal(t, 30.0, d.optics.S[10], "what told its own keeps it")
}

// CIE standard illuminant A at some wavelengths (from memory of CIE 15, table 1).
func TestWarmLampTable(t *testing.T) {
	for nm, want := range map[int]float64{380: 9.79510, 400: 14.7080, 450: 33.0859, 500: 59.8611, 560: 100, 600: 129.043,
		700: 198.261} {
		assert.InEpsilon(t, want, warmLamp[(nm-380)/10], 1e-4, "%d nm", nm)
	}
}

// Dark colours by CIE 15: L* = 903.3·Y below 0.008856, and 0 of no light.
func TestLabOfTheDark(t *testing.T) {
	assert.InDelta(t, 0, XYZ{}.Lab().L, 1e-9)
	assert.InDelta(t, 0.9033, XYZ{0.001 * White.X, 0.001 * White.Y, 0.001 * White.Z}.Lab().L, 1e-4)
	// a* = 500·7.787·X/Xn, below the bend
	assert.InDelta(t, 500*7.787*0.004, XYZ{X: 0.004 * White.X}.Lab().A, 1e-2)
}

// Two clusters are told apart where they are, whatever is drawn first.
func TestPaletteBeginsFarApart(t *testing.T) {
	var points []labPoint
	want := []Lab{{20, 0, 0}, {80, 10, -30}, {50, 60, 40}, {55, -50, 45}}
	for i := range 400 {
		c := want[i%4]
		points = append(points, labPoint{Lab{c.L + float64(i%3), c.A, c.B}, RGB{}})
	}
	begun := beginnings(points, 4)
	require.Len(t, begun, 4)
	near := func(c Lab) int {
		best := 0
		for i := range want {
			if c.squared(want[i]) < c.squared(want[best]) {
				best = i
			}
		}
		return best
	}
	seen := map[int]bool{}
	for _, c := range begun {
		seen[near(c)] = true
	}
	assert.Len(t, seen, 4)
	assert.Len(t, beginnings(points[:1], 4), 1, "one colour begins one group")
	groups, err := lloyd(t.Context(), points, begun)
	require.NoError(t, err)
	for _, g := range groups {
		assert.Equal(t, 100, g.n)
		assert.InDelta(t, 0, math.Sqrt(g.lab.squared(want[near(g.lab)])), 1.05)
	}
	assert.InDelta(t, gap(want[1], want[2]), want[1].squared(want[2]), 1e-12)
}

// The Jacobian of the smoothest reflectance is that of its conditions, by
// central differences.
func TestConditionsAndTheirSlopes(t *testing.T) {
	const n = Bands + 3
	r := rand.New(rand.NewPCG(2, 2))
	x := make([]float64, n)
	for i := range x {
		x[i] = r.Float64() - 0.5
	}
	target := [3]float64{0.2, 0.5, 0.7}
	at := func(x []float64) (*mat.VecDense, *mat.Dense, float64) {
		f, j := mat.NewVecDense(n, nil), mat.NewDense(n, n, nil)
		worst := conditions(x, target, f, j)
		return f, j, worst
	}
	f, j, worst := at(x)
	assert.InDelta(t, math.Max(mat.Max(f), -mat.Min(f)), worst, 1e-15)
	const h = 1e-5
	for c := range n {
		up, down := append([]float64(nil), x...), append([]float64(nil), x...)
		up[c] += h
		down[c] -= h
		a, _, _ := at(up)
		b, _, _ := at(down)
		for i := range n {
			assert.InDelta(t, (a.AtVec(i)-b.AtVec(i))/(2*h), j.At(i, c), 1e-7, "%d by %d", i, c)
		}
	}
	assert.InDelta(t, 0.5, edge(0.5, 0.1, 0), 1e-15)
	assert.InDelta(t, 0.42, edge(0.5, 0.1, 0.2), 1e-15)
	assert.InDelta(t, 1e-4, edge(0, 0.5, 0), 1e-15)
	assert.InDelta(t, 1-1e-4, edge(1, 0.5, 0), 1e-15)
}

// Limits taken together, and room made where there is too little.
func TestRoomUnderTheLimits(t *testing.T) {
	owned := []Candidate{{Limit: 0.06}, {Limit: 0.04}}
	parts := []RecipePart{{0, 0.03}, {1, 0.01}}
	assert.InDelta(t, 0.75, used(parts, owned), 1e-12)
	assert.Equal(t, parts, withRoom(parts, owned))
	full := withRoom([]RecipePart{{0, 0.09}, {1, 0.02}}, owned)
	assert.InDelta(t, 0.045, full[0].Load, 1e-12)
	assert.InDelta(t, 0.01, full[1].Load, 1e-12)
}

// What each pigment's strength may be off adds in squares.
func TestDoubtAddsInSquares(t *testing.T) {
	r := rand.New(rand.NewPCG(9, 9))
	owned, q := candidatesFor(r, 2), queryFor(r)
	owned[0].Measured = true
	rec := q.judge([]RecipePart{{0, 0.01}, {1, 0.008}}, owned)
	alone := func(i int, off float64) float64 {
		parts := []RecipePart{{0, 0.01}, {1, 0.008}}
		parts[i].Load *= 1 + off
		return Difference(rec.Lab, q.judge(parts, owned).Lab)
	}
	got := q.Doubted(rec, owned)
	assert.InDelta(t, math.Hypot(alone(0, measuredStrength), alone(1, guessedStrength)), got.Unsure, 1e-12)
	assert.False(t, got.Measured)
	owned[1].Measured = true
	assert.True(t, q.Doubted(rec, owned).Measured)
}
