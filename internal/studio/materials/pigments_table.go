package materials

import (
	"fmt"
	"strings"

	"github.com/shopspring/decimal"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/material"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
)

// builtInPigments are the pigments of a new studio, all of it
// invented, in every form: name, maker group, form, swatch, hiding strength
// (0 for a transparent one), particle in µm, its density in kg/m³, share of
// solids by mass in the bottle (from memory of usual pastes, tints and inks),
// lightfastness, price. The bottle's density follows. White's strength follows the rule that two drops in
// two fluid ounces look opaque in the cup (common practice), and titanium dioxide's in a thin film, 0.6 m²/g.
const builtInPigments = `Lacing white|Fernhow|paste|#f6f5f1|3.0|0.3|4200|0.5|8|9.50
Soft white|Fernhow|paste|#f3f0e6|2.2|0.3|4200|0.4|8|8.50
Bone|Fernhow|paste|#e3d8c3|1.0|0.5|3600|0.38|8|8.50
Wet sand|Fernhow|paste|#a08c74|0.9|0.6|3200|0.35|8|8.50
Harbour grey|Fernhow|paste|#5d6b73|0.9|0.5|3000|0.35|8|8.50
Brine|Fernhow|paste|#8fa9ad|1.0|0.4|3400|0.38|8|8.50
Slate|Fernhow|paste|#3d4a54|0.8|0.5|2900|0.33|8|8.50
Lamp soot|Fernhow|paste|#17181a|0.5|0.1|1800|0.18|8|7.90
Deep tarn|Fernhow|paste|#17455c|0.6|0.2|1600|0.2|7|9.90
Eelgrass|Fernhow|paste|#55705a|0.7|0.6|2600|0.25|7|9.20
Sluice rust|Fernhow|paste|#9c4f2d|0.9|0.4|4900|0.4|8|8.90
Mustard seed|Fernhow|paste|#c99a2e|0.8|0.4|4100|0.38|7|9.20
Rowan red|Fernhow|paste|#a12a2b|0.6|0.3|1700|0.22|6|10.40
Opal tint|Brackenhay|tint|#dfe7e6|0.7|0.3|3900|0.15|8|6.80
Ink-blue tint|Brackenhay|tint|#244f8f|0|0.1|1500|0.08|6|6.80
Amber tint|Brackenhay|tint|#d08a2a|0|0.1|1500|0.08|5|6.80
Kelp tint|Brackenhay|tint|#3f6b46|0|0.1|1500|0.08|6|6.80
Squall ink|Tidemark|ink|#2c6f9b|0|0.1|1100|0.06|5|7.40
Sloe ink|Tidemark|ink|#5a3b7c|0|0.1|1100|0.06|4|7.40
Pearl shimmer|Wenlow|mica|#dcd6c8|0.30|25|3000|1|8|5.60
Copper shimmer|Wenlow|mica|#a8642f|0.30|25|3100|1|8|5.60
Bronze dust|Wenlow|metal|#9a7338|0.80|20|8500|1|6|8.20
Quicksheen|Wenlow|chrome|#a9adb0|0.90|12|2700|0.15|6|12.90
Studio acrylic red|Marram|acrylic|#b23a34|0.5|0.4|2200|0.2|6|3.90
Nightglow|Marram|glow|#d9e2c0|0.05|50|3600|1|7|14.50
Fine flake silver|Marram|glitter|#b9bcbf|0.10|200|1400|1|7|4.20`

// pigmentLine reads one line of the table.
func pigmentLine(line string) (material.Pigment, error) {
	f := strings.Split(line, "|")
	if len(f) != 10 {
		return material.Pigment{}, refusal.New("the pigment %q needs ten columns", line)
	}
	p := NewPigment()
	p.Name, p.Maker, p.Form, p.Swatch = f[0], f[1], colour.Form(f[2]), f[3]
	rule, ok := colour.RuleOf(p.Form)
	if !ok {
		return p, refusal.New("the pigment %q has no known form", p.Name)
	}
	p.LoadLimit, p.Spoon, p.Flammable = rule.LoadLimit, rule.Spoon, rule.Flammable
	var micron, density float64
	if _, err := fmt.Sscan(f[4], &p.Scatter); err != nil {
		return p, err
	}
	var price string
	if _, err := fmt.Sscan(strings.Join(f[5:], " "), &micron, &density, &p.Solids, &p.Light, &price); err != nil {
		return p, err
	}
	var err error
	if p.Price, err = decimal.NewFromString(price); err != nil {
		return p, err
	}
	p.Clear = p.Scatter == 0
	if p.Clear {
		p.Scatter = NewPigment().Scatter // once it is made opaque by hand
	}
	p.Particle, p.Density = units.Length(micron)*units.Micrometre, units.Density(density)
	if p.Spoon == 0 {
		p.Liquid = material.Bottled(p.Solids, p.Density, rule.Carrier)
	}
	return p, nil
}
