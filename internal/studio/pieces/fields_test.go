package pieces_test

import (
	"math"
	"testing"

	"jevvo/internal/studio/pieces"
)

func FuzzParsePoints(f *testing.F) {
	f.Add("0,0 300,0 150,200")
	f.Add("1 , 2;3,4")
	f.Add("nan,inf")
	f.Fuzz(func(t *testing.T, text string) {
		points, err := pieces.ParsePoints(text)
		if err != nil {
			return
		}
		for _, p := range points {
			if math.IsNaN(p.X+p.Y) || math.IsInf(p.X, 0) || math.IsInf(p.Y, 0) {
				t.Fatalf("%q read as %v", text, points)
			}
		}
	})
}
