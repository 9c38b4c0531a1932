package calc

import (
	"fmt"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/portion"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/resin"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// Product is a data sheet, wherever one stands in a request.
type Product struct {
	WorkingMin float64 `json:"working_min" default:"45" exclusiveMinimum:"0" description:"Film working time at 25 °C."`
	HardH      float64 `json:"hard_h" default:"24" exclusiveMinimum:"0" description:"Hard time at 25 °C."`
	Viscosity  float64 `json:"viscosity_mpas" default:"1000" exclusiveMinimum:"0" description:"Fresh mixed viscosity at 25 °C."`
	RatioA     float64 `json:"ratio_a" default:"1" exclusiveMinimum:"0"`
	RatioB     float64 `json:"ratio_b" default:"1" exclusiveMinimum:"0"`
	By         string  `json:"by" default:"volume" enum:"volume,weight" description:"How the ratio is meant."`
	DensityA   float64 `json:"density_a_kg_m3" default:"1130" exclusiveMinimum:"0"`
	DensityB   float64 `json:"density_b_kg_m3" default:"1000" exclusiveMinimum:"0"`
	Tolerance  float64 `json:"tolerance" default:"0.02" minimum:"0" description:"Off-ratio the product forgives."`
}

func (p Product) core() (resin.Product, error) {
	q := resin.Product{
		RatioA: p.RatioA, RatioB: p.RatioB, By: resin.Measure(p.By),
		DensityA: units.Density(p.DensityA), DensityB: units.Density(p.DensityB),
		Viscosity:      units.Viscosity(p.Viscosity),
		WorkingMinutes: p.WorkingMin, HardHours: p.HardH, Tolerance: p.Tolerance,
	}
	return q, at("product", q.Check())
}

// kinetics returns the product's clock constants.
func (p Product) kinetics() (cure.Kinetics, error) {
	core, err := p.core()
	if err != nil {
		return cure.Kinetics{}, err
	}
	k, err := cure.Calibrate(core.WorkingMinutes, core.HardHours)
	return k, at("product.hard_h", err)
}

type mixRequest struct {
	Product Product  `json:"product" required:"true" ask:"Resin" as:"sheet"`
	TotalML *float64 `json:"total_ml,omitempty" exclusiveMinimum:"0" ask:"Total" start:"300 mL"`
	TotalG  *float64 `json:"total_g,omitempty" exclusiveMinimum:"0"`
}

type mixAnswer struct {
	AML     float64 `json:"a_ml" say:"A by volume"`
	BML     float64 `json:"b_ml" say:"B by volume"`
	AG      float64 `json:"a_g" say:"Part A" lead:"true"`
	BG      float64 `json:"b_g" say:"Part B" lead:"true"`
	TotalML float64 `json:"total_ml"`
	TotalG  float64 `json:"total_g" say:"Weighs"`
	Density float64 `json:"density_kg_m3" say:"Mixed density"`
}

type correctRequest struct {
	Product Product `json:"product" required:"true" ask:"Resin" as:"sheet"`
	A       float64 `json:"poured_a_g" required:"true" exclusiveMinimum:"0" ask:"A poured" start:"31 g"`
	B       float64 `json:"poured_b_g" required:"true" minimum:"0" ask:"B poured" start:"10 g"`
}

type correctAnswer struct {
	OffRatio float64 `json:"off_ratio" description:"B per A against the target, minus 1." say:"Off ratio" as:"signed" lead:"true"`
	Within   bool    `json:"within_tolerance" say:"Within tolerance"`
	AddA     float64 `json:"add_a_g" say:"Add A" lead:"true"`
	AddB     float64 `json:"add_b_g" say:"Add B" lead:"true"`
	Total    float64 `json:"total_g" description:"After the addition." say:"Then it weighs"`
}

type portionRequest struct {
	Product   Product `json:"product" required:"true" ask:"Resin" as:"sheet"`
	Coat      float64 `json:"coat_ml" required:"true" exclusiveMinimum:"0" ask:"Coat" start:"400 mL"`
	CupLoss   float64 `json:"cup_loss_ml" default:"3" minimum:"0" ask:"Stays in a cup"`
	ScaleStep float64 `json:"scale_step_g" default:"0.1" exclusiveMinimum:"0" ask:"Scale reads to"`
	Cups      []struct {
		Name  string  `json:"name" required:"true"`
		Share float64 `json:"share" required:"true" minimum:"0"`
	} `json:"cups" required:"true" minItems:"1" maxItems:"200" ask:"Cups and shares" as:"cups" start:"base 50; sea 30; white 20"`
}

type portionAnswer struct {
	Cups []portionCup `json:"cups"`
	A    float64      `json:"a_g" say:"All A" lead:"true"`
	B    float64      `json:"b_g" say:"All B" lead:"true"`
}

type portionCup struct {
	Name     string  `json:"name" say:"Cup"`
	ML       float64 `json:"ml"`
	A        float64 `json:"a_g" say:"A"`
	B        float64 `json:"b_g" say:"B"`
	OffRatio bool    `json:"off_ratio" description:"The scale's step is too coarse for this cup."`
}

func mix(r mixRequest) (mixAnswer, error) {
	p, err := r.Product.core()
	if err != nil {
		return mixAnswer{}, err
	}
	var b resin.Batch
	switch {
	case r.TotalML != nil && r.TotalG != nil:
		return mixAnswer{}, FieldError{"total_g", msg.ID("give the total in mL or in g, not both")}
	case r.TotalML != nil:
		b, err = p.Volume(units.Volume(*r.TotalML))
		err = at("total_ml", err)
	case r.TotalG != nil:
		b, err = p.Mass(units.Mass(*r.TotalG))
		err = at("total_g", err)
	default:
		err = refusal.New("give the total in mL or in g")
		err = at("total_ml", err)
	}
	return mixAnswer{
		float64(b.A.Volume), float64(b.B.Volume), float64(b.A.Mass), float64(b.B.Mass),
		float64(b.Volume()), float64(b.Mass()), float64(p.Density()),
	}, err
}

func portionCups(r portionRequest) (portionAnswer, error) {
	p, err := r.Product.core()
	if err != nil {
		return portionAnswer{}, err
	}
	shares := make([]portion.Share, len(r.Cups))
	for i, c := range r.Cups {
		name := c.Name
		if name == "" {
			name = fmt.Sprintf("cup %d", i+1)
		}
		shares[i] = portion.Share{Name: name, Share: c.Share}
	}
	mixed, err := portion.Cups(p, units.Volume(r.Coat), units.Volume(r.CupLoss), units.Mass(r.ScaleStep), shares)
	a := portionAnswer{A: float64(mixed.A), B: float64(mixed.B), Cups: make([]portionCup, len(mixed.Cups))}
	for i, c := range mixed.Cups {
		a.Cups[i] = portionCup{c.Name, float64(c.Volume), float64(c.A), float64(c.B), c.OffRatio}
	}
	return a, at("cups", err)
}

func init() {
	define("mix", "Parts A and B of a batch", mix).asks(Page{
		Group: Mixing, Question: "How much A and B?",
		Words:  "The ratio as printed, turned into weights by the densities of the parts.",
		Source: "2:1 by volume of 1130 and 970 kg/m³ is 2.330:1 by weight.",
	})
	define("correct", "Off-ratio and the least addition that cures it", func(r correctRequest) (correctAnswer, error) {
		p, err := r.Product.core()
		if err != nil {
			return correctAnswer{}, err
		}
		c, err := p.Correct(units.Mass(r.A), units.Mass(r.B))
		return correctAnswer{c.OffRatio, c.Within, float64(c.AddA), float64(c.AddB), float64(c.Total)}, at("poured_a_g", err)
	}).asks(Page{
		Group: Mixing, Question: "I poured too much. What now?",
		Words: "B per A against the target; add the other part, never guess. Scooping out is allowed only " +
			"before the parts touch.",
		Source: "Common practice: two or three grams off in a small batch leave it sticky.",
	})
	define("portion", "A coat divided among cups and rounded to the scale", portionCups).asks(Page{
		Group: Mixing, Question: "How do I divide a coat among cups?",
		Words: "Cup = share × coat + what stays in the cup; rounded to the scale by largest remainder, so " +
			"that the cups add up.",
		Source: "Largest remainder; conservation is tested.",
	})
}
