package money_test

import (
	"testing"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/money"
	"jevvo/internal/msg"
)

// How people write money (common practice, and the decimal signs of ISO 80000-1).
func TestMoneyAsItIsTyped(t *testing.T) {
	for text, want := range map[string]string{
		"1234.5": "1234.5", "1234,50": "1234.5", "1.234,50": "1234.5", "1,234.50": "1234.5", "1'234.50": "1234.5",
		"1 234,5": "1234.5",
		"0,125":   "", "1.234.567": "1234567", "12": "12", "0": "0", ".5": "0.5", ",5": "0.5", "5.": "5", "1,234": "1234",
		"12.345":   "12345",
		"1.234.56": "", "1,2,3": "", "-4": "", "1e9": "", "NaN": "", "": "", "12.3456": "", "10 EUR": "", "٣": "",
		"1.234,567": "", "9999999999999": "", "--1": "", "1-2": "",
	} {
		v, _, err := money.Parse(text, 2)
		if want == "" {
			assert.Error(t, err, text)
			continue
		}
		require.NoError(t, err, text)
		assert.Equal(t, want, v.String(), text)
	}
	_, note, err := money.Parse("1,234", 2)
	require.NoError(t, err)
	assert.Equal(t, "read as 1234", msg.Say(note, msg.English))
	v, note, err := money.Parse("1,234", 3)
	require.NoError(t, err)
	assert.Equal(t, "1.234", v.String(), "a currency of three digits")
	assert.Empty(t, note)
}

func TestMoneyAsItIsWritten(t *testing.T) {
	v := decimal.RequireFromString("1234567.005")
	assert.Equal(t, "1\u202f234\u202f567.01\u202fEUR", msg.Say(money.Currency{Name: "EUR", Digits: 2}.Text(v),
		msg.English))
	assert.Equal(t, "1\u202f234\u202f567", msg.Say(money.Currency{}.Text(v), msg.English))
	assert.Equal(t, "−999,500", msg.Say(money.Currency{Digits: 3,
		Comma: true}.Text(decimal.RequireFromString("-999.4999")), msg.English))
}

func FuzzParse(f *testing.F) {
	f.Add("1.234,50", 2)
	f.Add("1'2", 0)
	f.Fuzz(func(t *testing.T, text string, digits int) {
		digits = max(0, min(digits, money.MostDigits))
		v, _, err := money.Parse(text, digits)
		if err != nil {
			return
		}
		c := money.Currency{Digits: digits}
		again, _, err := money.Parse(string(c.Number(v)), digits)
		if err != nil || !again.Equal(v) {
			t.Fatalf("%q read as %s, written as %q, read as %s, %v", text, v, c.Number(v), again, err)
		}
	})
}
