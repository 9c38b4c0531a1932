package paper

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// Letters take the forms of the Unicode chart "Arabic Presentation Forms-B", by the
// joining types of ArabicShaping.txt; lines are turned as in UAX #9.
func TestLinesAsTheyArePrinted(t *testing.T) {
	for line, printed := range map[string]string{
		"Slipway 3":        "Slipway 3",
		"O\u0308do\u0308n": "Ödön",
		"שלום":             "םולש",
		"Ebb שלום tide":    "Ebb םולש tide",
		// meem initial, reh final, hah initial, beh medial, alef final
		"مرحبا": "\ufe8e\ufe92\ufea3\ufeae\ufee3",
		// seen initial, lam with alef final, meem isolated
		"سلام": "\ufee1\ufefc\ufeb3",
		"لا":   "\ufefb",
		// a mark between them keeps no letters apart
		"بَب": "\ufe90\u064e\ufe91",
	} {
		assert.Equal(t, printed, visual(line), line)
	}
}
