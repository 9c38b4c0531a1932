package words_test

import (
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"

	"jevvo/internal/words"
)

// Letters of any script survive (a name like Écume rapide was once cut at its
// first byte).
func TestLettersOfAnyScript(t *testing.T) {
	for in, want := range map[string]string{"Écume rapide": "écume rapide", "Swipe": "swipe", "UV lamp": "UV lamp", "": "",
		"Ölfilm": "ölfilm", "日本": "日本", "Σ": "σ"} {
		assert.Equal(t, want, words.Lower(in))
		assert.True(t, regexp.MustCompile(`^\pL`).MatchString(in) == regexp.MustCompile(`^\pL`).MatchString(words.Lower(in)))
	}
	assert.Equal(t, "Écume", words.Capital("écume"))
}

func TestSpokenMinutes(t *testing.T) {
	for m, want := range map[float64]string{0.5: "30 s", 12.4: "12 min", 200: "3 h 20 min", 119.8: "2 h", 60 * 47: "47 h",
		29 * 1440: "29 days"} {
		assert.Equal(t, want, words.Spoken(m))
	}
	assert.Equal(t, "1 drop", words.Plural(1, "drop", "drops"))
	assert.Equal(t, "0 drops", words.Plural(0, "drop", "drops"))
	assert.Equal(t, "a, b and c", words.List([]string{"a", "b", "c"}))
}
