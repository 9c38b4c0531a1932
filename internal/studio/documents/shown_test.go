package documents_test

import (
	"bytes"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/studio/billing"
	"jevvo/internal/studio/documents"
	"jevvo/internal/studiotest"
)

// photo is a picture of one colour, as PNG.
func photo(t *testing.T, w, h int, c color.Color) *bytes.Reader {
	t.Helper()
	m := image.NewNRGBA(image.Rect(0, 0, w, h))
	for i := range w * h {
		m.Set(i%w, i/w, c)
	}
	var b bytes.Buffer
	require.NoError(t, png.Encode(&b, m))
	return bytes.NewReader(b.Bytes())
}

func sizeOf(t *testing.T, data []byte) image.Point {
	t.Helper()
	m, err := jpeg.DecodeConfig(bytes.NewReader(data))
	require.NoError(t, err)
	return image.Pt(m.Width, m.Height)
}

// A quote shows each board, every test tile with what the boards cost like it and which was chosen,
// and the boards on the client's wall; an invoice shows the boards alone. The longer side of a
// photograph is 600 pixels on paper, and a small one stays as it is.
func TestAQuoteShowsTilesAndTheWall(t *testing.T) {
	r := studiotest.Open(t)
	c, p := r.Ordered(t)
	_, n, err := r.Commissions.Save(r.Ctx(), c.ID, r.Deal(t, c.ID).Rev, map[string]string{"place": "the stair"})
	require.NoError(t, err)
	require.True(t, n.OK())
	for _, name := range []string{"Tile one", "Tile two"} {
		tile, err := r.Commissions.AddTile(r.Ctx(), c.ID, name, "swipe")
		require.NoError(t, err)
		require.NoError(t, r.Commissions.ChooseTile(r.Ctx(), c.ID, tile.ID, ""))
	}
	room, err := r.Wall.AddRoom(r.Ctx(), c.ID, photo(t, 1600, 1200, color.Gray{200}))
	require.NoError(t, err)
	asked, err := r.Wall.Read(r.Ctx(), map[string]string{"room": "1", "corners": "0.25,0.5 0.75,0.5", "width": "1 m"},
		[]string{"1"})
	require.NoError(t, err)
	asked.Room, asked.Pieces = room, []int64{p.ID}
	_, err = r.Wall.Hang(r.Ctx(), c.ID, asked)
	require.NoError(t, err)

	quote, err := r.Documents.Make(r.Ctx(), c.ID, billing.Quote, "en", "")
	require.NoError(t, err)
	require.Len(t, quote.Pictures, 1)
	assert.Equal(t, p.Name+", 20 cm × 30 cm", quote.Pictures[0].Caption)
	require.Len(t, quote.Options, 3)
	chosen := []bool{false, true, false}
	names := []string{"Tile one", "Tile two", "the stair"}
	for i, o := range quote.Options {
		assert.Equal(t, names[i], o.Name)
		assert.Equal(t, chosen[i], o.Chosen)
		assert.Equal(t, i < 2, o.Amount != "", "%s: what is on a wall has no price", o.Name)
		assert.NotEmpty(t, o.JPEG)
	}
	assert.Equal(t, image.Pt(600, 450), sizeOf(t, quote.Options[2].JPEG))
	invoice, err := r.Documents.Make(r.Ctx(), c.ID, billing.Invoice, "en", "")
	require.NoError(t, err)
	assert.Len(t, invoice.Pictures, 1)
	assert.Empty(t, invoice.Options)
	for name, want := range map[string][]byte{"b0": quote.Pictures[0].JPEG, "o0": quote.Options[0].JPEG,
		"o2": quote.Options[2].JPEG, "b1": nil, "o3": nil, "b-1": nil, "bx": nil, "x0": nil, "": nil, "logo": nil} {
		data, ok := quote.Shown(name)
		assert.Equal(t, want != nil, ok, name)
		assert.Equal(t, want, data, name)
	}
}

// The logo stands on what is made after it was chosen, what is transparent in it as white; taken away
// it stays on what was made with it.
func TestTheLogoIsThatOfItsDay(t *testing.T) {
	r := studiotest.Open(t)
	c, _ := r.Ordered(t)
	quote := func() documents.Kept {
		p, err := r.Documents.Make(r.Ctx(), c.ID, billing.Quote, "en-US", "")
		require.NoError(t, err)
		return p
	}
	bare := quote()
	require.NoError(t, r.Documents.SetLogo(r.Ctx(), photo(t, 60, 40, color.NRGBA{})))
	with := quote()
	require.NoError(t, r.Documents.SetLogo(r.Ctx(), nil))
	for id, has := range map[int64]bool{bare.ID: false, with.ID: true, quote().ID: false} {
		kept, err := r.Documents.Kept(r.Ctx(), id)
		require.NoError(t, err)
		data, ok := kept.Shown("logo")
		require.Equal(t, has, ok)
		if has {
			m, err := jpeg.Decode(bytes.NewReader(data))
			require.NoError(t, err)
			assert.Equal(t, image.Pt(60, 40), m.Bounds().Size())
			red, _, _, _ := m.At(30, 20).RGBA()
			assert.Greater(t, red, uint32(0xf000), "white")
		}
		pdf, err := r.Documents.PDF(r.Ctx(), id)
		require.NoError(t, err)
		assert.True(t, bytes.HasPrefix(pdf, []byte("%PDF-")))
		assert.Contains(t, string(pdf), "612", "letter paper is 612 points wide")
	}
	_, err := r.Documents.Kept(r.Ctx(), 999)
	assert.Error(t, err)
}

// A document goes to one address that can be one, and to no other text.
func TestAnAddressToSendTo(t *testing.T) {
	r := studiotest.Open(t)
	c, _ := r.Ordered(t)
	p, err := r.Documents.Make(r.Ctx(), c.ID, billing.Quote, "en", "")
	require.NoError(t, err)
	for _, to := range []string{"", "maren", "@example.org", "maren@", "a@example.org, b@example.org", "a b@example.org"} {
		assert.ErrorContains(t, r.Documents.Send(r.Ctx(), p.ID, to, ""), "not an address", to)
	}
	assert.Error(t, r.Documents.Send(r.Ctx(), 999, "maren@example.org", ""))
}
