package web_test

import (
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/plan"
	"jevvo/internal/web/frame"
)

// What a camera may hand over and is not kept is said in clear words, and the day
// goes on.
func TestPhotographsThatAreNotKept(t *testing.T) {
	s := open(t)
	p := s.piece(map[string]string{})
	at := s.post(frame.Piece(p.ID, "/bench/"+plan.FirstCoat), map[string]string{"anyway": "yes"}).Header().Get("Location")
	require.NotEmpty(t, at)
	for name, x := range map[string]struct {
		content []byte
		says    string
	}{
		"phone.heic": {append([]byte("\x00\x00\x00\x18ftypheic\x00\x00\x00\x00"), make([]byte, 64)...), "HEIC"},
		"large.jpg":  {make([]byte, 50<<20), "larger than 48 MB"},
		"words.jpg":  {[]byte("a board, drying"), "not a JPEG or PNG"},
		"cut.jpg":    {[]byte("\xff\xd8\xff\xe0\x00\x10JFIF"), "cut off"},
	} {
		res := s.upload(at+"/photo", "photo", name, x.content)
		assert.Equal(t, http.StatusUnprocessableEntity, res.Code, name)
		assert.Contains(t, plainText(res.Body.String()), x.says, name)
	}
	assert.Equal(t, http.StatusUnprocessableEntity, s.post(at+"/photo", nil).Code, "the camera was refused: nothing came")
	assert.NotContains(t, s.get(at), "Photograph of", "nothing was kept")
	require.Equal(t, http.StatusSeeOther, s.upload(at+"/photo", "photo", "wet.png", halves(t, shore[0], shore[1])).Code)
	assert.Contains(t, s.get(at), "Photograph of 08:00, before")
}
