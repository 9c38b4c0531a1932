package words_test

import (
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"

	"jevvo/internal/msg"
	"jevvo/internal/words"
)

// Letters of any script survive (a name like Écume rapide was once cut at its
// first byte).
func TestLettersOfAnyScript(t *testing.T) {
	for in, want := range map[string]string{"Écume rapide": "écume rapide", "Swipe": "swipe", "UV lamp": "UV lamp", "": "",
		"Ölfilm": "ölfilm", "日本": "日本", "Σ": "σ"} {
		assert.Equal(t, want, msg.English.Lower(in))
		assert.True(t, regexp.MustCompile(`^\pL`).MatchString(in) == regexp.MustCompile(`^\pL`).MatchString(
			msg.English.Lower(in)))
	}
	assert.Equal(t, "Écume", msg.Capital(msg.Own("écume")).In(msg.English))
}

func TestSpokenMinutes(t *testing.T) {
	for m, want := range map[float64]string{0.5: "30 s", 12.4: "12 min", 200: "3 h 20 min", 119.8: "2 h", 60 * 47: "47 h",
		29 * 1440: "29 days"} {
		assert.Equal(t, want, words.Spoken(m).In(msg.English))
	}
	assert.Equal(t, "1 drop", msg.N(1, "drop", "drops").In(msg.English))
	assert.Equal(t, "0 drops", msg.N(0, "drop", "drops").In(msg.English))
	assert.Equal(t, "a, b and c", msg.And(msg.Owns([]string{"a", "b", "c"})...).In(msg.English))
}
