package materials_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studiotest"
)

// The last change of a pigment is taken back and made again; one that was never changed has
// nothing to take back, and a name somebody else has meanwhile is not taken from it.
func TestAChangeIsTakenBack(t *testing.T) {
	r := studiotest.Open(t)
	p, n, err := r.Materials.SavePigment(r.Ctx(), 0, 0, map[string]string{"name": "Sedge", "swatch": "#55705a"})
	require.NoError(t, err)
	require.True(t, n.OK())
	has, err := r.Materials.Changed(r.Ctx(), store.Pigments, p.ID)
	require.NoError(t, err)
	assert.False(t, has)
	assert.ErrorIs(t, r.Materials.TakeBack(r.Ctx(), store.Pigments, p.ID), store.ErrNotFound)

	_, n, err = r.Materials.SavePigment(r.Ctx(), p.ID, 1, map[string]string{"name": "Sedge, dark", "swatch": "#2d3b2f"})
	require.NoError(t, err)
	require.True(t, n.OK())
	require.NoError(t, r.Materials.TakeBack(r.Ctx(), store.Pigments, p.ID))
	was, err := r.Materials.Pigment(r.Ctx(), p.ID)
	require.NoError(t, err)
	assert.Equal(t, "Sedge", was.Name)
	assert.Equal(t, "#55705a", was.Swatch)
	require.NoError(t, r.Materials.TakeBack(r.Ctx(), store.Pigments, p.ID))
	again, err := r.Materials.Pigment(r.Ctx(), p.ID)
	require.NoError(t, err)
	assert.Equal(t, "Sedge, dark", again.Name)

	_, n, err = r.Materials.SavePigment(r.Ctx(), 0, 0, map[string]string{"name": "sedge"})
	require.NoError(t, err)
	require.True(t, n.OK())
	var refused *form.Refused
	require.ErrorAs(t, r.Materials.TakeBack(r.Ctx(), store.Pigments, p.ID), &refused)
	again, err = r.Materials.Pigment(r.Ctx(), p.ID)
	require.NoError(t, err)
	assert.Equal(t, "Sedge, dark", again.Name, "nothing was changed")
}

// So is the last change of a technique of the studio's own; a built-in one has none.
func TestATechniquesChangeIsTakenBack(t *testing.T) {
	r := studiotest.Open(t)
	own, err := r.Materials.CopyTechnique(r.Ctx(), "swipe", msg.English)
	require.NoError(t, err)
	steps := func() (names []string) {
		tech, _, err := r.Materials.Technique(r.Ctx(), own)
		require.NoError(t, err)
		for _, s := range tech.Steps {
			names = append(names, string(s.Name))
		}
		return names
	}
	before := steps()
	require.NoError(t, r.Materials.ChangeStep(r.Ctx(), own, 1, "up"))
	require.NotEqual(t, before, steps())
	has, err := r.Materials.TechniqueChanged(r.Ctx(), own)
	require.NoError(t, err)
	assert.True(t, has)
	require.NoError(t, r.Materials.TakeTechniqueBack(r.Ctx(), own))
	assert.Equal(t, before, steps())
	assert.ErrorIs(t, r.Materials.TakeTechniqueBack(r.Ctx(), "swipe"), store.ErrNotFound)
}

// Settings are taken back as a whole, and made again.
func TestSettingsAreTakenBack(t *testing.T) {
	r := studiotest.Open(t)
	for _, hours := range []string{"mon-fri 09:00-17:00", "tue-sat 10:00-18:00"} {
		_, n, err := r.Setup.Edit(r.Ctx(), map[string]string{"hours": hours})
		require.NoError(t, err)
		require.True(t, n.OK())
	}
	for _, want := range []string{"mon-fri 09:00-17:00", "tue-sat 10:00-18:00"} {
		require.NoError(t, r.Setup.TakeBack(r.Ctx()))
		set, err := r.Setup.Settings(r.Ctx())
		require.NoError(t, err)
		assert.Equal(t, want, set.Calendar.Week.String())
	}
	_, err := r.Setup.SayDay(r.Ctx(), "2026-12-24 closed", r.Clock.T)
	require.NoError(t, err)
	var refused *form.Refused
	assert.ErrorAs(t, r.Setup.TakeBack(r.Ctx()), &refused, "a day that was said since is not lost")
}
