package words_test

import (
	"errors"
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"

	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
	"jevvo/internal/words"
)

func TestRefusalsOfALanguage(t *testing.T) {
	_, length := units.ParseLength("ready", "cm")
	inner := errors.New("the outline is empty")
	for _, c := range []struct {
		err             error
		english, german string
	}{
		{nil, "", ""},
		{length, `"ready" is not a length; write 18 in, 46 cm or 1.7 mm`,
			`"ready" ist nicht als eine Länge zu lesen; schreibe 46 cm, 1,7 mm oder 18 in`},
		{inner, "the outline is empty", "der Umriss ist leer"},
		{refusal.New("its board cannot be: %v", inner), "its board cannot be: the outline is empty",
			"ihre Platte geht nicht: der Umriss ist leer"},
		{refusal.New("line %d: %w", 3, inner), "line 3: the outline is empty", "Zeile 3: der Umriss ist leer"},
		{fmt.Errorf("sea.svg: %w", inner), "sea.svg: the outline is empty", "sea.svg: der Umriss ist leer"},
		{refusal.New("%q is not one of the ways", "ready"), `"ready" is not one of the ways`, `"ready" ist keine der Arten`},
		{errors.New("§ nobody knows it"), "§ nobody knows it", "§ nobody knows it"},
	} {
		words.Use(words.English)
		assert.Equal(t, c.english, words.Error(c.err))
		speak(t, words.German)
		assert.Equal(t, c.german, words.Error(c.err))
	}
	assert.ErrorIs(t, refusal.New("line %d: %w", 3, inner), inner)
}
