package colour_test

import (
	"strings"
	"testing"

	"jevvo/internal/core/colour"
)

func FuzzParseHex(f *testing.F) {
	for _, s := range []string{"#2a6f97", "2a6f97", " #FFFFFF ", "#+12345", "0x1234", "#12_345"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		c, err := colour.ParseHex(s)
		if err != nil {
			return
		}
		if want := "#" + strings.ToLower(strings.TrimPrefix(strings.TrimSpace(s), "#")); c.Hex() != want {
			t.Fatalf("%q is shown as %s", s, c.Hex())
		}
	})
}
