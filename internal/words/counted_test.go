package words_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"jevvo/internal/msg"
	"jevvo/internal/words"
)

func TestAmountsAreCountedAndReadBack(t *testing.T) {
	for _, c := range []struct {
		v               float64
		unit            string
		english, german string
	}{
		{1, "drops", "1 drop", "1 Tropfen"}, {2, "drops", "2 drops", "2 Tropfen"}, {1, "pairs", "1 pair", "1 Paar"},
		{54, "pieces", "54 pieces", "54 Stück"},
		{22.4, "m", "22.4 m", "22,4 m"}, {1, "sheets", "1 sheet", "1 Blatt"}, {1.5, "sheets", "1.5 sheets", "1,5 Blätter"},
		{-4.7, "g", "-4.7 g", "-4,7 g"},
	} {
		assert.Equal(t, c.english, words.Counted(c.v, 1, c.unit).In(msg.English))
		assert.Equal(t, c.german, words.Counted(c.v, 1, c.unit).In(german))
		number, _, _ := strings.Cut(c.german, " ")
		assert.Equal(t, number, words.Uncounted(c.german, c.unit))
		assert.Equal(t, number, words.Uncounted(number, c.unit))
	}
	assert.Equal(t, "3", words.Uncounted("3 drops", "drops"), "English is read in German too")
	assert.Equal(t, "12,5", words.Amount("12.5").In(german))
}
