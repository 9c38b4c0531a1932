package calc_test

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/calc"
)

// The worked price of core/money, as strings and as numbers.
func TestPriceRow(t *testing.T) {
	for _, in := range []string{
		`{"materials":[{"name":"kit","cost":"40.50"},{"name":"pigment","cost":12.25}],"hours":6,"hour_rate":"28","overhead_share":0.1,"margin_share":0.3,"discount_share":0.05,"delivery":18,"tax_share":0.19}`,
		`{"materials":[{"cost":40.5},{"cost":"12.25"}],"hours":"6","hour_rate":28,"overhead_share":0.1,"margin_share":0.3,"discount_share":0.05,"delivery":"18.00","tax_share":0.19,"deposit_share":0.5}`,
	} {
		out, err := calc.Run(t.Context(), "price", strings.NewReader(in))
		require.NoError(t, err)
		assert.JSONEq(t, `{"cost":"242.83","net":"347.55","discount":"17.35","delivery":"18.00","tax":"66.03","gross":"413.58","deposit":"206.79","remainder":"206.79"}`, string(out))
	}
	for _, bad := range []string{
		`{"margin_share":0.6,"gallery_share":0.4}`, `{"tax_share":1.2}`, `{"materials":[{"cost":-1}]}`, `{"materials":[{"cost":"-1"}]}`, `{"materials":[{"cost":"12,50"}]}`, `{"materials":[{"cost":"a"}]}`, `{"materials":[{}]}`,
		`{"hours":"NaN"}`, `{"currency_digits":7}`, `{"delivery":1e300}`, `{"delivery":"` + strings.Repeat("9", 99) + `"}`,
	} {
		_, err := calc.Run(t.Context(), "price", strings.NewReader(bad))
		var p *calc.Problem
		require.ErrorAs(t, err, &p, bad)
		assert.Equal(t, 422, p.Status, bad)
	}
}

func TestStockRow(t *testing.T) {
	out, err := calc.Run(t.Context(), "stock",
		strings.NewReader(`{"entries":[{"at":"2026-03-01","kind":"buy","amount":1000},{"at":"2026-02-28T09:30","kind":"use","amount":50},{"at":"2026-03-01","kind":"use","amount":300},{"at":"2026-03-02","kind":"leftover","amount":20}],
		"reserved":[{"at":"2026-03-20","amount":400},{"at":"2026-03-10","amount":300}],"lead_days":7,"today":"2026-03-02"}`))
	require.NoError(t, err)
	var got map[string]any
	require.NoError(t, json.Unmarshal(out, &got))
	assert.Equal(t, map[string]any{"on_hand": 670.0, "free": -30.0, "short_on": "2026-03-20", "order_by": "2026-03-13"},
		got)
	out, err = calc.Run(t.Context(), "stock", strings.NewReader(`{"entries":[],"today":"2026-03-02"}`))
	require.NoError(t, err)
	assert.JSONEq(t, `{"on_hand":0,"free":0,"short_on":null,"order_by":null}`, string(out))
	for _, bad := range []string{`{"entries":[]}`,
		`{"entries":[{"at":"soon","kind":"buy","amount":1}],"today":"2026-03-02"}`, `{"entries":[{"at":"2026-03-02","kind":"steal","amount":1}],"today":"2026-03-02"}`,
		`{"entries":[{"at":"2026-03-02","kind":"buy","amount":-1}],"today":"2026-03-02"}`, `{"entries":[],"today":"2026-02-30"}`} {
		_, err := calc.Run(t.Context(), "stock", strings.NewReader(bad))
		var p *calc.Problem
		require.ErrorAs(t, err, &p, bad)
		assert.Equal(t, 422, p.Status, bad)
	}
}
