package prices

import (
	"strings"

	"github.com/shopspring/decimal"

	"jevvo/internal/core/money"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
)

// An areaUnit is a unit that a face is priced by.
type areaUnit struct {
	shown string
	dm2   decimal.Decimal // square decimetres in it
	names []string        // as it is typed, without blanks and points
}

var areaUnits = []areaUnit{
	{"dm²", decimal.NewFromInt(1), []string{"dm²", "dm2", "sqdm"}},
	{"in²", decimal.New(64516, -6), []string{"sqin", "in²", "in2"}}, // 25.4 mm squared, exact
	{"cm²", decimal.New(1, -2), []string{"cm²", "cm2", "sqcm"}},
	{"m²", decimal.NewFromInt(100), []string{"m²", "m2", "sqm", "qm"}},
	{"ft²", decimal.New(9290304, -6), []string{"sqft", "ft²", "ft2"}}, // 144 square inches
}

// usualArea is the unit a studio thinks in.
func usualArea(sys units.System) areaUnit {
	if sys == units.US {
		return areaUnits[1]
	}
	return areaUnits[0]
}

// perAreaDigits are those of a price of an area as it is kept: a cent of a square inch comes back.
const perAreaDigits = 8

// perArea is the price of a face by its area: 4.00 / dm², or 0.50 / in²; bare it is by the studio's
// own unit. It is kept by the square decimetre.
func perArea(key string, label msg.ID, at func(*Terms) *decimal.Decimal) form.Field[Terms] {
	return form.Field[Terms]{Key: key, Label: label, Kind: form.Line, Say: form.Figures,
		Get: func(t *Terms, sys units.System) string { return areaPrice(*at(t), sys) },
		Set: func(t *Terms, text string, sys units.System) (msg.Text, error) {
			v, note, err := parseAreaPrice(text, sys)
			if err == nil {
				*at(t) = v
			}
			return note, err
		}}
}

func areaPrice(v decimal.Decimal, sys units.System) string {
	u := usualArea(sys)
	return u.price(v) + " / " + u.shown
}

// price is a price by the square decimetre as one by the unit.
func (u areaUnit) price(v decimal.Decimal) string {
	v, _ = decimal.NewFromString(v.Mul(u.dm2).Round(4).String()) // without noughts at its end
	return v.StringFixed(max(2, -v.Exponent()))
}

func parseAreaPrice(text string, sys units.System) (decimal.Decimal, msg.Text, error) {
	amount, of, said := strings.Cut(strings.NewReplacer(" per ", "/", " je ", "/", " pro ", "/").Replace(text), "/")
	u := usualArea(sys)
	if said {
		name := strings.ToLower(strings.NewReplacer(" ", "", ".", "", "\u00a0", "").Replace(of))
		found := false
		for _, other := range areaUnits {
			for _, n := range other.names {
				if n == name {
					u, found = other, true
				}
			}
		}
		if !found {
			return decimal.Zero, nil, refusal.New("%q is not a unit of area; write 4.00 / dm² or 0.50 / in²",
				strings.TrimSpace(of))
		}
	}
	v, note, err := money.Parse(amount, 4)
	return v.DivRound(u.dm2, perAreaDigits), note, err
}

// areaText is the area of faces, in dm², in the unit a studio thinks in.
func areaText(dm2 decimal.Decimal, sys units.System) string {
	u := usualArea(sys)
	return dm2.DivRound(u.dm2, 1).StringFixed(1) + " " + u.shown
}
