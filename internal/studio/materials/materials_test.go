package materials_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/material"
	"jevvo/internal/core/units"
	"jevvo/internal/studio/materials"
)

// What a new studio finds among its materials fits together: bottle, solids, their
// density and how well it hides; and a lacing white is about half solid, some
// 1 700 kg/m³ in the bottle (from memory).
func TestTheExamplesAStudioBeginsWithFitsTogether(t *testing.T) {
	pigments, err := materials.BuiltInPigments()
	require.NoError(t, err)
	require.NotEmpty(t, pigments)
	for _, p := range pigments {
		assert.Equal(t, material.DoubtFits, p.Doubt(), p.Name)
		assert.Equal(t, p, p.Filled(), "%s says what it is made of", p.Name)
		if p.Name == "Lacing white" {
			assert.InDelta(t, 0.5, p.Solids, 0.05)
			assert.InDelta(t, 1700, float64(p.Added()), 60)
		}
		if p.Spoon > 0 {
			assert.Equal(t, p.Density, p.Added(), "a powder weighs what it is")
		}
	}
	assert.Equal(t, material.DoubtFits, materials.NewPigment().Doubt(), "nor is a new entry doubted")
}

// Entries from before solids were asked are filled in: by the densities where
// the bottle was weighed, by the form where every bottle was 1 200.
func TestOlderEntriesAreFilledIn(t *testing.T) {
	old := materials.NewPigment()
	old.Density, old.Liquid, old.Solids = 4200, 1200, 0
	filled := old.Filled()
	rule, _ := colour.RuleOf(colour.Paste)
	assert.InDelta(t, rule.Solids, filled.Solids, 1e-12)
	assert.Greater(t, filled.Liquid, units.Density(1300))
	old.Liquid = 1700
	weighed := old.Filled()
	assert.Equal(t, units.Density(1700), weighed.Liquid)
	assert.InDelta(t, 0.48, weighed.Solids, 0.01)
	powder := old
	powder.Spoon, powder.Form = 2.2, colour.Mica
	assert.Equal(t, 1.0, powder.Filled().Solids)
	doc, err := json.Marshal(filled)
	require.NoError(t, err)
	var back material.Pigment
	require.NoError(t, json.Unmarshal(doc, &back))
	assert.Equal(t, filled.Solids, back.Solids)
}

// Bottle and solids say the same thing two ways, 1/ρ = Σ wᵢ/ρᵢ, and an entry in
// which they do not is doubted.
func TestDensitiesThatDoNotFitAreDoubted(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		w := rapid.Float64Range(0.02, 0.8).Draw(t, "solids")
		solid := units.Density(rapid.Float64Range(1500, 9000).Draw(t, "kg/m³"))
		bottle := material.Bottled(w, solid, 1100)
		assert.InDelta(t, w, material.SolidsOf(bottle, solid, 1100), 1e-9)
	})
	p := materials.NewPigment()
	p.Density, p.Solids = 4200, 0.5
	p.Liquid = 1150
	assert.Equal(t, material.DoubtSolids, p.Doubt())
	p.Liquid = material.Bottled(0.02, 4200, 1100)
	p.Solids, p.Scatter = 0.02, 2.4
	assert.Equal(t, material.DoubtStrong, p.Doubt(), "two per cent of solids do not hide like a lacing white")
	p.Clear = true
	assert.Equal(t, material.DoubtFits, p.Doubt(), "a transparent one hides nothing anyway")
	assert.Zero(t, material.SolidsOf(1000, 4200, 1100), "a bottle lighter than its carrier speaks of none")
}
