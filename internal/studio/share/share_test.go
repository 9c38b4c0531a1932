package share_test

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/plan"
	"jevvo/internal/msg"
	"jevvo/internal/studio/share"
	"jevvo/internal/studiotest"
)

// A piece goes to another studio with what it stands on, and is the same board there:
// the same amounts to weigh out. Taken in twice, no material is doubled.
func TestAPieceIsShared(t *testing.T) {
	here, there := studiotest.Open(t), studiotest.Open(t)
	ctx := t.Context()
	own, err := here.Materials.CopyTechnique(ctx, "swipe", msg.English)
	require.NoError(t, err)
	resin, n, err := here.Materials.SaveProduct(ctx, 0, 0,
		map[string]string{"name": "Loaned resin", "working": "33 min", "ratio": "2:1"})
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	p, n, err := here.Pieces.Create(ctx, map[string]string{"name": "Heron"})
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	p, err = here.Pieces.Change(ctx, p.ID, func(s *plan.Spec) error {
		s.Layers[0].What, s.Layers[0].Coat.Product = own, resin.ID
		s.Layers[0].Coat.Colours[0].Pigment, s.Layers[0].Coat.Colours[0].Load = 3, 0.02
		s.Commission = 7
		return nil
	})
	require.NoError(t, err)
	data, name, err := here.Share.Write(ctx, share.Piece, fmt.Sprint(p.ID))
	require.NoError(t, err)
	assert.Equal(t, "heron.jevvo.json", name)
	before, err := there.Materials.Book(ctx)
	require.NoError(t, err)
	resins, pigments := len(before.Resins), len(before.Context.Pigments)
	for range 2 {
		got, err := there.Share.Take(ctx, data)
		require.NoError(t, err)
		assert.Equal(t, "Heron", got.Name)
		list, _, err := there.Pieces.Pieces(ctx, "Heron", 1, 0)
		require.NoError(t, err)
		assert.Zero(t, list[0].Commission, "the client stays")
		a, err := here.Agenda.Alone(ctx, p)
		require.NoError(t, err)
		b, err := there.Agenda.Alone(ctx, list[0])
		require.NoError(t, err)
		for k := range a.Coats {
			assert.Equal(t, a.Coats[k].A, b.Coats[k].A)
			assert.Equal(t, a.Coats[k].B, b.Coats[k].B)
			assert.Equal(t, a.Coats[k].Technique.Name, b.Coats[k].Technique.Name)
		}
	}
	after, err := there.Materials.Book(ctx)
	require.NoError(t, err)
	assert.Equal(t, resins+1, len(after.Resins))
	assert.Equal(t, pigments, len(after.Context.Pigments))
}

// Resins, pigments and techniques go by themselves; a name in use gets a number.
func TestMaterialsAreShared(t *testing.T) {
	here, there := studiotest.Open(t), studiotest.Open(t)
	ctx := t.Context()
	for _, one := range []struct {
		kind share.Kind
		id   string
	}{{share.Resin, "1"}, {share.Pigment, "2"}, {share.Technique, "swipe"}} {
		data, _, err := here.Share.Write(ctx, one.kind, one.id)
		require.NoError(t, err)
		got, err := there.Share.Take(ctx, data)
		require.NoError(t, err, string(data))
		assert.Equal(t, one.kind, got.Kind)
		var f map[string]any
		require.NoError(t, json.Unmarshal(data, &f))
		for _, of := range []string{"resins", "pigments", "techniques"} {
			for _, doc := range f[of].(map[string]any) {
				doc.(map[string]any)["WorkingMinutes"], doc.(map[string]any)["Light"], doc.(map[string]any)["Summary"] = 31, 2,
					"another"
			}
		}
		changed, err := json.Marshal(f)
		require.NoError(t, err)
		again, err := there.Share.Take(ctx, changed)
		require.NoError(t, err)
		assert.Equal(t, got.Name+" (2)", again.Name)
	}
	_, _, err := here.Share.Write(ctx, "palette", "1")
	require.Error(t, err)
	_, _, err = here.Share.Write(ctx, share.Resin, "999")
	require.Error(t, err)
}

// What cannot be is refused in words, and nothing of it is kept.
func TestForeignFilesAreRefused(t *testing.T) {
	s := studiotest.Open(t)
	ctx := t.Context()
	good, _, err := s.Share.Write(ctx, share.Resin, "1")
	require.NoError(t, err)
	piece := func(change func(doc map[string]any)) string {
		p, _, err := s.Pieces.Create(ctx, map[string]string{"name": "Heron"})
		require.NoError(t, err)
		data, _, err := s.Share.Write(ctx, share.Piece, fmt.Sprint(p.ID))
		require.NoError(t, err)
		var f map[string]any
		require.NoError(t, json.Unmarshal(data, &f))
		change(f)
		out, err := json.Marshal(f)
		require.NoError(t, err)
		return string(out)
	}
	own, err := s.Materials.Book(ctx)
	require.NoError(t, err)
	for _, bad := range []string{
		"", "nonsense", "{}", "[]", `{"jevvo":"piece","format":1}`, `{"jevvo":"resin","format":1}`,
		`{"jevvo":"palette","format":1}`, `{"jevvo":"piece","format":99}`,
		strings.Replace(string(good), `"RatioA": `, `"RatioA": -`, 1), strings.Replace(string(good), `"MixMinutes": `,
			`"MixMinutes": 1e9`, 1),
		piece(func(f map[string]any) { delete(f, "resins") }),
		piece(func(f map[string]any) { f["piece"].(map[string]any)["Width"] = -5 }),
		piece(func(f map[string]any) { f["piece"].(map[string]any)["Name"] = strings.Repeat("x", 500) }),
		strings.Repeat(" ", share.MaxBytes+1),
	} {
		_, err := s.Share.Take(ctx, []byte(bad))
		require.Error(t, err, bad[:min(len(bad), 300)])
		assert.NotContains(t, err.Error(), "json:")
	}
	after, err := s.Materials.Book(ctx)
	require.NoError(t, err)
	assert.Equal(t, len(own.Resins), len(after.Resins))
}

func FuzzTake(f *testing.F) {
	s := studiotest.Open(f)
	for kind, id := range map[share.Kind]string{share.Resin: "1", share.Pigment: "2", share.Technique: "swipe"} {
		data, _, err := s.Share.Write(f.Context(), kind, id)
		require.NoError(f, err)
		f.Add(data)
	}
	f.Add([]byte(`{"jevvo":"piece","format":1,"piece":{"V":2,"Layers":[{"What":"own-9"}]}}`))
	f.Fuzz(func(t *testing.T, data []byte) { _, _ = s.Share.Take(t.Context(), data) })
}
