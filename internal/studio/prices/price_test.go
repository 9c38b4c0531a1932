package prices

import (
	"testing"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func dec(text string) decimal.Decimal { return decimal.RequireFromString(text) }

// Sold through a gallery that keeps 40 %, a board is listed so that as much is left as without
// one: 60 become 100 (60/0.6), not 36 and not 84; however it is priced. A price that is said
// stays as it is said.
func TestAGalleryKeepsItsShare(t *testing.T) {
	terms := Terms{
		Digits: 2, Gallery: dec("0.4"), PerArea: dec("10"), Multiple: dec("3"), HourRate: dec("25"), Margin: dec("0.2"),
	}
	c := Cost{Boards: 1, Area: dec("6"), Material: dec("20"), PlannedHours: dec("1.6"), Planned: dec("24")}
	for method, want := range map[Method][2]string{
		ByArea: {"60", "100"}, ByMaterial: {"60", "100"}, ByHour: {"60", "100"},
		ByCost: {"30", "60"}, // 24/(1 − 0.2), 24/(1 − 0.2 − 0.4)
		Own:    {"77", "77"},
	} {
		asked := Asked{Method: method, Own: dec("77")}
		plain, err := priced(terms, asked, c)
		require.NoError(t, err)
		asked.Gallery = true
		through, err := priced(terms, asked, c)
		require.NoError(t, err)
		assert.Equal(t, want[0], plain.Each.String(), "%s", method)
		assert.Equal(t, want[1], through.Each.String(), "%s through a gallery", method)
		left := through.Each.Mul(dec("0.6")).Sub(c.Planned)
		assert.True(t, left.Equal(through.Profit), "%s: %s is left, not %s", method, left, through.Profit)
	}
}
