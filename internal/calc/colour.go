package calc

import (
	"fmt"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// Film holds the fields that film-colour and opacity share; it is exported so that
// its fields are seen through embedding.
type Film struct {
	K    []float64 `json:"k_per_mm" required:"true" minItems:"1" maxItems:"100000" description:"Absorption, one value a band."`
	S    []float64 `json:"s_per_mm" required:"true" minItems:"1" maxItems:"100000" description:"Scattering, one value a band."`
	Film float64   `json:"film_mm" required:"true" minimum:"0"`
}

type filmColourRequest struct {
	Film
	Backing []float64 `json:"backing" required:"true" minItems:"1" description:"Reflectance of what lies below, one value a band."`
}

type filmColourAnswer struct {
	Reflectance []float64 `json:"reflectance"`
}

type opacityAnswer struct {
	OverBlack []float64 `json:"over_black"`
	OverWhite []float64 `json:"over_white" description:"Over a white of 0.80."`
	Contrast  float64   `json:"contrast_ratio" description:"Y by CIE 1931 2° and D65 for 36 bands of 380–730 nm; plain mean otherwise."`
}

type deltaERequest struct {
	Lab1 [3]float64 `json:"lab1" required:"true" minItems:"3" maxItems:"3"`
	Lab2 [3]float64 `json:"lab2" required:"true" minItems:"3" maxItems:"3"`
}

type deltaEAnswer struct {
	CIEDE2000 float64 `json:"ciede2000"`
}

type blendRequest struct {
	Parts []struct {
		SRGB   string  `json:"srgb" required:"true" pattern:"^#[0-9a-fA-F]{6}$"`
		Amount float64 `json:"amount" required:"true" minimum:"0"`
	} `json:"parts" required:"true" minItems:"1" maxItems:"100"`
}

type blendAnswer struct {
	SRGB string     `json:"srgb"`
	Lab  [3]float64 `json:"lab"`
}

// check names the field whose bands or values cannot be.
func (f Film) check(backing []float64) error {
	if len(f.S) != len(f.K) {
		return FieldError{"s_per_mm", msg.F("has %d bands, k_per_mm has %d", len(f.S), len(f.K))}
	}
	if backing != nil && len(backing) != len(f.K) {
		return FieldError{"backing", msg.F("has %d bands, k_per_mm has %d", len(backing), len(f.K))}
	}
	for i := range f.K {
		switch {
		case f.K[i] < 0:
			return FieldError{fmt.Sprintf("k_per_mm[%d]", i), msg.ID("cannot be negative")}
		case f.S[i] < 0:
			return FieldError{fmt.Sprintf("s_per_mm[%d]", i), msg.ID("cannot be negative")}
		case backing != nil && (backing[i] < 0 || backing[i] > 1):
			return FieldError{fmt.Sprintf("backing[%d]", i), msg.ID("lies between 0 and 1")}
		}
	}
	return nil
}

func blend(r blendRequest) (blendAnswer, error) {
	parts := make([]colour.Part, len(r.Parts))
	for i, p := range r.Parts {
		field := fmt.Sprintf("parts[%d].srgb", i)
		c, err := colour.ParseHex(p.SRGB)
		if err != nil {
			return blendAnswer{}, at(field, err)
		}
		s, err := c.Reflectance()
		if err != nil {
			return blendAnswer{}, at(field, err)
		}
		parts[i] = colour.Part{Reflectance: s, Amount: p.Amount}
	}
	mixed, err := colour.Blend(parts)
	if err != nil {
		return blendAnswer{}, at("parts", err)
	}
	lab := mixed.Lab()
	return blendAnswer{mixed.XYZ().RGB().Hex(), [3]float64{lab.L, lab.A, lab.B}}, nil
}

func init() {
	define("film-colour", "What a film looks like over its backing", func(r filmColourRequest) (filmColourAnswer, error) {
		if err := r.check(r.Backing); err != nil {
			return filmColourAnswer{}, err
		}
		v, err := colour.Film(r.K, r.S, r.Backing, units.Length(r.Film.Film))
		return filmColourAnswer{v}, err
	})
	define("opacity", "How well a film hides", func(r Film) (opacityAnswer, error) {
		if err := r.check(nil); err != nil {
			return opacityAnswer{}, err
		}
		black, white, contrast, err := colour.Opacity(r.K, r.S, units.Length(r.Film))
		return opacityAnswer{black, white, contrast}, err
	})
	define("delta-e", "Colour difference CIEDE2000", func(r deltaERequest) (deltaEAnswer, error) {
		for i, l := range [][3]float64{r.Lab1, r.Lab2} {
			if l[0] < 0 || l[0] > 100.5 {
				return deltaEAnswer{}, at(fmt.Sprintf("lab%d", i+1), refusal.New("lightness lies between 0 and 100"))
			}
		}
		lab := func(v [3]float64) colour.Lab { return colour.Lab{L: v[0], A: v[1], B: v[2]} }
		return deltaEAnswer{colour.Difference(lab(r.Lab1), lab(r.Lab2))}, nil
	})
	define("blend", "What opaque colours mix to", blend)
}
