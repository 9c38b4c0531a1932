package setup

import (
	"testing"

	"jevvo/internal/core/units"
)

func FuzzParseMoulds(f *testing.F) {
	f.Add("coaster 25 mL; test tile 17 mL")
	f.Add("ring 1/2 fl oz")
	f.Fuzz(func(t *testing.T, text string) {
		moulds, err := parseMoulds(text)
		if err != nil {
			return
		}
		for i, m := range moulds {
			if m.Name == "" || !(m.Volume >= 1 && m.Volume <= 2000) || i > 0 && int(1000*(m.Volume-moulds[i-1].Volume)) > 0 {
				t.Fatalf("%q read as %v", text, moulds)
			}
		}
		if again, err := parseMoulds(mouldsText(moulds, units.Metric)); err != nil || len(again) != len(moulds) {
			t.Fatalf("%q is printed as %q, which is read as %v, %v", text, mouldsText(moulds, units.Metric), again, err)
		}
	})
}
