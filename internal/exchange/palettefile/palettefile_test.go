package palettefile_test

import (
	"bytes"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/exchange/palettefile"
)

func TestWrittenIsReadBack(t *testing.T) {
	p := palettefile.Palette{Name: "Low tide\nand more",
		Colours: []palettefile.Colour{{"Wet sand", "#a08c74"}, {"Slate\tdark", "#3d4a54"}, {"", "#000000"}}}
	var b bytes.Buffer
	require.NoError(t, palettefile.Write(&b, p))
	got, err := palettefile.Read(&b)
	require.NoError(t, err)
	assert.Equal(t, "Low tide and more", got.Name)
	assert.Equal(t, []palettefile.Colour{{"Wet sand", "#a08c74"}, {"Slate dark", "#3d4a54"}, {"", "#000000"}}, got.Colours)
}

func TestRefusesWhatIsNoPalette(t *testing.T) {
	for _, bad := range []string{"", "JASC-PAL\n", "GIMP Palette\nName: x\n", "GIMP Palette\n1 2\n",
		"GIMP Palette\n1 2 256 x\n",
		"GIMP Palette\n" + strings.Repeat("1 2 3 x\n", 300)} {
		_, err := palettefile.Read(strings.NewReader(bad))
		assert.Error(t, err, bad)
	}
	assert.Error(t, palettefile.Write(&bytes.Buffer{}, palettefile.Palette{Colours: []palettefile.Colour{{"x", "red"}}}))
}

func FuzzRead(f *testing.F) {
	f.Add("GIMP Palette\nName: a\n#\n 12 13 14\tb c\n")
	f.Fuzz(func(t *testing.T, text string) {
		p, err := palettefile.Read(strings.NewReader(text))
		if err != nil {
			return
		}
		var b bytes.Buffer
		require.NoError(t, palettefile.Write(&b, p))
		again, err := palettefile.Read(&b)
		require.NoError(t, err)
		assert.Len(t, again.Colours, len(p.Colours))
	})
}
