package units

// MixedDensity returns the density of parts by weight w (any scale) with
// densities rho, mixing without shrinkage: 1/ρ = Σ wᵢ/ρᵢ with Σ wᵢ = 1. It
// returns 0 when there is nothing to mix.
func MixedDensity(w []float64, rho []Density) Density {
	mass, volume := 0.0, 0.0
	for i, x := range w {
		mass += x
		volume += x / float64(rho[i])
	}
	if !(volume > 0) {
		return 0
	}
	return Density(mass / volume)
}
