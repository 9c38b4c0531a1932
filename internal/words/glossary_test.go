package words_test

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"jevvo/internal/core/cure"
	"jevvo/internal/msg"
	"jevvo/internal/words"
)

// Every window that stands on a clock is explained, and the list is by letter.
func TestTheGlossaryHasEveryWindow(t *testing.T) {
	assert.True(t, slices.IsSortedFunc(words.Glossary,
		func(a, b words.Term) int {
			return strings.Compare(strings.ToLower(string(a.Word)), strings.ToLower(string(b.Word)))
		}))
	for _, phase := range []cure.Phase{cure.Runny, cure.Lacing, cure.Holding, cure.Stringy, cure.SoftSet, cure.Tacky,
		cure.Hard, cure.Cured} {
		assert.True(t, slices.ContainsFunc(words.Glossary, func(term words.Term) bool { return term.Word == msg.ID(phase) }),
			"%s", phase)
	}
}
