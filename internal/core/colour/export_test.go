package colour

// ObserverAt returns the table's entry for a band.
func ObserverAt(i int) XYZ { return observer[i] }

// RawWhite returns the white point of the tables before they are scaled.
func RawWhite() (sum XYZ) {
	for i, o := range observer {
		sum.X, sum.Y, sum.Z = sum.X+o.X*daylight[i], sum.Y+o.Y*daylight[i], sum.Z+o.Z*daylight[i]
	}
	return sum
}

// Wavelength returns the middle of band i in nm.
func Wavelength(i int) float64 { return 380 + 10*float64(i) }

// MustHex is the reflectance of a colour written in a test.
func MustHex(s string) Spectrum {
	c, err := ParseHex(s)
	if err != nil {
		panic(err)
	}
	r, err := c.Reflectance()
	if err != nil {
		panic(err)
	}
	return r
}

// Descend is the last part of a match by itself.
func (q Query) Descend(r Recipe, candidates []Candidate) Recipe {
	q, err := q.check()
	if err != nil {
		panic(err)
	}
	return q.descend(r, candidates)
}

// LeastLoad is the least of a pigment in a recipe.
const LeastLoad = leastLoad
