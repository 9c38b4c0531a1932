package commissions_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/store"
	"jevvo/internal/studio/commissions"
	"jevvo/internal/studiotest"
)

// Commissions are found by their state, beside their words.
func TestCommissionsOfAState(t *testing.T) {
	r := studiotest.Open(t)
	make := func(name string, state commissions.State) {
		_, n, err := r.Commissions.Save(r.Ctx(), 0, 0,
			map[string]string{"name": name, "client": "Tove Ansel", "state": string(state)})
		require.NoError(t, err)
		require.True(t, n.OK(), n.Errors)
	}
	make("Stairs", commissions.Asked)
	make("Hall", commissions.Testing)
	make("Porch", commissions.Testing)
	count := func(find string, state commissions.State) int {
		deals, total, err := r.Billing.Deals(r.Ctx(), store.CommissionFilter{Find: find, State: string(state)}, 10, 0)
		require.NoError(t, err)
		require.Len(t, deals, total)
		for _, d := range deals {
			require.True(t, state == "" || d.State == state)
		}
		return total
	}
	assert.Equal(t, 3, count("", ""))
	assert.Equal(t, 2, count("", commissions.Testing))
	assert.Equal(t, 1, count("hall", commissions.Testing))
	assert.Equal(t, 0, count("stairs", commissions.Testing))
}

// A tile's brief says what the client wants, and nothing of what was not asked.
func TestATileKnowsWhatIsWanted(t *testing.T) {
	r := studiotest.Open(t)
	for brief, typed := range map[string]map[string]string{
		"":                            {"name": "Pier"},
		"Wanted: slate.":              {"name": "Pier", "wanted": "slate"},
		"Avoid: gold.":                {"name": "Pier", "unwanted": "gold."},
		"Wanted: slate. Avoid: gold.": {"name": "Pier", "wanted": "slate", "unwanted": "gold"},
	} {
		c, n, err := r.Commissions.Save(r.Ctx(), 0, 0, typed)
		require.NoError(t, err)
		require.True(t, n.OK())
		tile, err := r.Commissions.AddTile(r.Ctx(), c.ID, "", "swipe")
		require.NoError(t, err)
		assert.Equal(t, brief, tile.Brief)
	}
}

// Commissions are found by what their boards are made of, by client and by the month they
// are due in, and by what was written in them, not by how it is kept.
func TestCommissionsAreFiltered(t *testing.T) {
	r := studiotest.Open(t)
	add := func(name, client, due string) commissions.Commission {
		c, n, err := r.Commissions.Save(r.Ctx(), 0, 0,
			map[string]string{"name": name, "client": client, "due": due, "notes": "opposite a window"})
		require.NoError(t, err)
		require.True(t, n.OK(), n.Errors)
		return c
	}
	stairs := add("Stairs", "Tove Ansel", "2026-04-10")
	add("Hall", "Ida Brook", "2026-05-02")
	_, err := r.Commissions.AddTile(r.Ctx(), stairs.ID, "", "flow")
	require.NoError(t, err)
	for _, c := range []struct {
		asked store.CommissionFilter
		want  []string
	}{
		{store.CommissionFilter{}, []string{"Hall", "Stairs"}},
		{store.CommissionFilter{Technique: "flow"}, []string{"Stairs"}}, {store.CommissionFilter{Technique: "veil"}, nil},
		{store.CommissionFilter{Client: "tove ansel"}, []string{"Stairs"}},
		{store.CommissionFilter{Month: "2026-05"}, []string{"Hall"}},
		{store.CommissionFilter{Month: "2026-05", Technique: "flow"}, nil},
		{store.CommissionFilter{State: "testing"}, []string{"Stairs"}},
		{store.CommissionFilter{Find: "WINDOW"}, []string{"Hall", "Stairs"}},
		{store.CommissionFilter{Find: "brook"}, []string{"Hall"}}, {store.CommissionFilter{Find: "unwanted"}, nil},
	} {
		list, n, err := r.Commissions.List(r.Ctx(), c.asked, 10, 0)
		require.NoError(t, err)
		var names []string
		for _, x := range list {
			names = append(names, x.Name)
		}
		slices.Sort(names)
		assert.Equal(t, c.want, names, c.asked)
		assert.Equal(t, len(c.want), n)
	}
	clients, months, err := r.Commissions.Choices(r.Ctx())
	require.NoError(t, err)
	assert.Equal(t, []string{"Ida Brook", "Tove Ansel"}, clients)
	assert.Equal(t, []string{"2026-05", "2026-04"}, months)
}
