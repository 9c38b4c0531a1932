package calculators

import (
	"encoding/json"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/calc"
	"jevvo/internal/core/material"
	"jevvo/internal/core/resin"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
)

// elsewhere are the calculators whose answer a painter finds on other pages.
var elsewhere = map[string]string{
	"blend": "the mixer", "delta-e": "the mixer", "film-colour": "the mixer", "opacity": "the mixer",
	"faults": "faults", "findings": "findings", "flow": "the preview", "plan": "a piece", "price": "a price",
	"schedule": "days", "stock": "stock",
}

// A calculator is shown: by a page of its own, or by one of the program's.
func TestEveryCalculatorIsShown(t *testing.T) {
	asked := map[string]bool{}
	for _, q := range Questions() {
		asked[q.Name] = true
	}
	for _, name := range calc.Names() {
		assert.True(t, asked[name] != (elsewhere[name] != ""), name)
	}
}

// started is the page of a calculator as it opens.
func started(c *calc.Calculator, sys units.System) page {
	owned := resin.Product{RatioA: 1, RatioB: 1, By: resin.ByVolume, DensityA: 1130, DensityB: 1000, Viscosity: 900,
		WorkingMinutes: 40, HardHours: 20, Tolerance: 0.02}
	p := page{Calculator: c, values: map[string]string{}, notices: form.NewNotices(),
		products: []material.Product{{ID: 3, Name: "Ferry clear", Product: owned}}}
	for _, f := range c.Page.Fields {
		p.values[f.Key] = start(f, sys)
	}
	return p
}

// Every page opens with an answer, in both systems of units: each field has what it starts with,
// is read as it stands, and every figure has a value.
func TestEveryPageOpensWithItsAnswer(t *testing.T) {
	for _, cs := range calc.Pages() {
		for _, c := range cs {
			for _, sys := range []units.System{units.Metric, units.US} {
				p := started(c, sys)
				p.calculate(t.Context(), sys)
				require.Nil(t, p.Failed, "%s: %v", c.Name, p.Failed)
				require.True(t, p.notices.OK(), "%s: %v", c.Name, p.notices.Errors)
				assert.NotEmpty(t, append(p.Lead, p.List...), c.Name)
				if sys == units.US {
					for _, f := range c.Page.Fields {
						assert.NotRegexp(t, `\d ?(mm|cm|mL|°C)$`, p.values[f.Key], "%s: %s", c.Name, f.Key)
					}
				}
				lines := slices.Concat(p.Lead, p.Rest, p.List)
				assert.Len(t, lines, len(c.Page.Figures), c.Name)
				for _, l := range lines {
					assert.NotEmpty(t, l.Values, "%s: %s", c.Name, l.Label)
				}
			}
		}
	}
}

// What a request needs is asked, or the page could never answer.
func TestWhatIsRequiredIsAsked(t *testing.T) {
	for _, cs := range calc.Pages() {
		for _, c := range cs {
			_, err := c.Run(t.Context(), []byte("{}"))
			var p *calc.Problem
			if err == nil {
				continue
			}
			require.ErrorAs(t, err, &p)
			for _, e := range p.Errors {
				asked := false
				for _, f := range c.Page.Fields {
					asked = asked || f.Key == e.Field || strings.HasPrefix(f.Key, e.Field+".")
				}
				assert.True(t, asked, "%s needs %s", c.Name, e.Field)
			}
		}
	}
}

// A field is typed and a figure printed by the unit in its name, in the studio's units.
func TestAFieldIsReadByItsUnit(t *testing.T) {
	for _, x := range []struct {
		sum, key, typed string
		sys             units.System
		want            float64
	}{
		{"coat", "film_mm", "0.1 in", units.Metric, 2.54},
		{"stages", "total_ml", "1.5 L", units.Metric, 1500},
		{"stages", "total_ml", "10", units.US, 295.735}, // 10 US fl oz
		{"coat", "run_off_share", "12 %", units.Metric, 0.12},
		{"dew-point", "air_c", "68", units.US, 20},
		{"sides", "at_s", "2 min", units.Metric, 120},
		{"level", "tilt_x_deg", "0.5°", units.Metric, 0.5},
	} {
		c, ok := calc.Find(x.sum)
		require.True(t, ok)
		p := started(c, x.sys)
		p.values[x.key] = x.typed
		p.calculate(t.Context(), x.sys)
		require.True(t, p.notices.OK(), "%v", p.notices.Errors)
		var sent map[string]any
		require.NoError(t, json.Unmarshal([]byte(p.Request), &sent))
		assert.InDelta(t, x.want, sent[x.key], 0.01, "%s as %s", x.typed, x.key)
	}
	assert.Equal(t, "0.90 mm", msg.Say(showOne("film", 0.9, units.Metric).Text, msg.English))
	assert.Equal(t, "3 mL", start(calc.Field{Kind: "volume", Default: "3"}, units.Metric))
	assert.Equal(t, "50°", start(calc.Field{Kind: "angle", Default: "50"}, units.US))
	assert.Equal(t, "70 °F", start(calc.Field{Kind: "room", Start: "21 °C"}, units.US))
}
