package commissions_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/studio/pieces"
	"jevvo/internal/studiotest"
)

// Tiles are numbered among themselves, however many boards there are.
func TestTilesAreNumbered(t *testing.T) {
	r := studiotest.Open(t)
	com, _, err := r.Commissions.Save(r.Ctx(), 0, 0, map[string]string{"name": "Wall"})
	require.NoError(t, err)
	for _, want := range []string{"Wall, tile 1", "Wall, tile 2"} {
		tile, err := r.Commissions.AddTile(r.Ctx(), com.ID, "", "swipe")
		require.NoError(t, err)
		assert.Equal(t, want, tile.Name)
		_, err = r.Commissions.AddBoard(r.Ctx(), com.ID)
		require.NoError(t, err)
	}
}

// A tile, and a board made without one, are planned in the pigments in stock that the client's words
// name, with a white where the technique laces; what is to be avoided is not used, and unknown words
// leave the cups as they were.
func TestTilesAndBoardsAreInTheColoursWanted(t *testing.T) {
	for _, c := range []struct{ wanted, unwanted, technique, cups string }{
		{"deep tarn, a little rust, no gold", "", "swipe", "Deep tarn, Sluice rust, Lacing white"},
		{"Eelgrass and wet sand", "", "flow", "Eelgrass, Wet sand, Lacing white"},
		{"slate, rust", "anything like rust", "swipe", "Slate, Lacing white"},
		{"lacing white", "", "swipe", "Base, First colour, Second colour, White"},
		{"slate", "lacing white", "swipe", "Slate, Soft white"},
		{"octarine", "", "swipe", "Base, First colour, Second colour, White"},
	} {
		r := studiotest.Open(t)
		com, n, err := r.Commissions.Save(r.Ctx(), 0, 0, map[string]string{"name": "Wall", "wanted": c.wanted,
			"unwanted": c.unwanted})
		require.NoError(t, err)
		require.True(t, n.OK())
		tile, err := r.Commissions.AddTile(r.Ctx(), com.ID, "", c.technique)
		require.NoError(t, err)
		made := []pieces.Piece{tile}
		if c.technique == "swipe" { // which a board begins with
			board, err := r.Commissions.AddBoard(r.Ctx(), com.ID)
			require.NoError(t, err)
			assert.Equal(t, tile.Brief, board.Brief)
			made = append(made, board)
		}
		for _, p := range made {
			cups, sum := []string{}, 0.0
			for _, cup := range p.First().Coat.Colours {
				cups = append(cups, cup.Name)
				sum += cup.Share
			}
			assert.Equal(t, c.cups, strings.Join(cups, ", "), c.wanted)
			assert.InDelta(t, 1, sum, 1e-9)
		}
	}
}
