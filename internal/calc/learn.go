package calc

import (
	"context"
	"errors"
	"math"

	"github.com/creasty/defaults"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/diagnose"
	"jevvo/internal/core/findings"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
	"jevvo/internal/words"
)

type findingsRequest struct {
	Yes   int     `json:"yes" required:"true" minimum:"0" maximum:"1000000"`
	Of    int     `json:"of" required:"true" minimum:"0" maximum:"1000000"`
	Level float64 `json:"level" default:"0.9" exclusiveMinimum:"0" exclusiveMaximum:"1"`
}

type findingsAnswer struct {
	Mean float64 `json:"mean"`
	Low  float64 `json:"low"`
	High float64 `json:"high"`
}

func share(r findingsRequest) (findingsAnswer, error) {
	c := findings.Count{Yes: r.Yes, Of: r.Of}
	low, high, err := c.Interval(r.Level)
	return findingsAnswer{c.Share().Mean(), low, high}, at("yes", err)
}

type faultsRequest struct {
	Seen    []string        `json:"seen" required:"true" minItems:"1" maxItems:"10"`
	Record  faultsRecord    `json:"record"`
	Answers map[string]bool `json:"answers"`
}

// faultsRecord is the record of a coat; all of it may be left out.
type faultsRecord struct {
	OffRatio   *float64      `json:"off_ratio,omitempty" description:"B per A against the product's, less 1."`
	Tolerance  *float64      `json:"tolerance,omitempty" exclusiveMinimum:"0"`
	MixMin     *float64      `json:"mix_min,omitempty" minimum:"0"`
	ProductMin *float64      `json:"product_mix_min,omitempty" exclusiveMinimum:"0"`
	Product    *Product      `json:"product,omitempty"`
	Room       []roomReading `json:"room,omitempty" maxItems:"100000"`
	HoursSince *float64      `json:"hours_since,omitempty" minimum:"0" maximum:"100000"`
	Batch      *float64      `json:"lot_g,omitempty" exclusiveMinimum:"0" maximum:"1e6"`
	Silicone   *bool         `json:"silicone_below,omitempty"`
	Degreased  *bool         `json:"degreased,omitempty"`
	Wood       *bool         `json:"wood,omitempty"`
	Primed     *bool         `json:"primed,omitempty"`
	Passes     *int          `json:"heat_passes,omitempty" minimum:"0"`
	Dwell      *float64      `json:"longest_dwell_s,omitempty" minimum:"0" maximum:"600"`
	Flux       *float64      `json:"flux_kw_m2,omitempty" exclusiveMinimum:"0" maximum:"1000"`
	Film       *float64      `json:"film_mm,omitempty" exclusiveMinimum:"0"`
	Puddle     *float64      `json:"puddle_mm,omitempty" exclusiveMinimum:"0"`
	LevelDrop  *float64      `json:"level_drop_mm,omitempty"`
	Load       *float64      `json:"load_share_of_limit,omitempty" minimum:"0"`
	MovedAfter *float64      `json:"moved_after_c,omitempty" minimum:"1" description:"Thickening when it was last worked."`
	Rest       *float64      `json:"rest_min,omitempty" minimum:"0"`
	Hiding     *float64      `json:"hiding,omitempty" minimum:"0" maximum:"1"`
	Cover      *bool         `json:"cover,omitempty"`
	SprayWait  *float64      `json:"spray_wait_h,omitempty" minimum:"0"`
	TapePulled *float64      `json:"tape_pulled_alpha,omitempty" minimum:"0" maximum:"1"`
	Scuffed    *bool         `json:"scuffed,omitempty"`
	Recoat     *float64      `json:"recoat_alpha,omitempty" minimum:"0" maximum:"1"`
	Damp       *bool         `json:"damp,omitempty"`
}

type faultsAnswer struct {
	Causes   []faultsCause  `json:"causes"`
	Ask      *faultsAsk     `json:"ask" nullable:"true"`
	Remedies []faultsRemedy `json:"remedies"`
}

type faultsCause struct {
	ID          string   `json:"id"`
	Name        string   `json:"name"`
	Probability float64  `json:"probability"`
	Because     []string `json:"because"`
}

type faultsAsk struct {
	ID       string `json:"id"`
	Question string `json:"question"`
}

type faultsRemedy struct {
	ID   string   `json:"id"`
	Name string   `json:"name"`
	Wait *float64 `json:"wait_h" nullable:"true" description:"Until it may begin; null when that is not known."`
}

// core is the record as the diagnosis reads it.
func (r faultsRecord) core() (diagnose.Record, error) {
	out := diagnose.Record{
		OffRatio: r.OffRatio, Tolerance: r.Tolerance, MixMin: r.MixMin, ProductMin: r.ProductMin, HoursSince: r.HoursSince,
		Silicone: r.Silicone, Degreased: r.Degreased, Wood: r.Wood, Primed: r.Primed, HeatPasses: r.Passes,
		LongestDwell: r.Dwell, Flux: r.Flux,
		Film: (*units.Length)(r.Film), Puddle: (*units.Length)(r.Puddle), LevelDrop: (*units.Length)(r.LevelDrop),
		LoadShare: r.Load, MovedAfter: r.MovedAfter, RestMin: r.Rest, Hiding: r.Hiding, Cover: r.Cover,
		SprayWait:  r.SprayWait,
		TapePulled: r.TapePulled, Scuffed: r.Scuffed, RecoatAt: r.Recoat, Damp: r.Damp,
	}
	if len(r.Room) > 0 {
		readings := make([]cure.Reading, len(r.Room))
		for i, x := range r.Room {
			readings[i] = cure.Reading{Minute: x.At, Temperature: units.Temperature(x.Temp)}
		}
		room, err := cure.NewRoom(readings)
		if err != nil {
			return out, at("record.room", err)
		}
		out.Room = &room
	}
	if r.Product == nil {
		return out, nil
	}
	if err := defaults.Set(r.Product); err != nil { // an optional object is not filled in by itself
		return out, err
	}
	k, err := r.Product.kinetics()
	if err != nil {
		return out, err
	}
	out.Kinetics = &k
	if out.Tolerance == nil {
		out.Tolerance = &r.Product.Tolerance
	}
	return out, r.cup(&out, k)
}

// cup foretells what became of the largest batch in its cup.
func (r faultsRecord) cup(out *diagnose.Record, k cure.Kinetics) error {
	if r.Batch == nil {
		return nil
	}
	room := units.Temperature(25)
	if out.Room != nil {
		room = out.Room.At(0)
	}
	f, err := k.InCup(units.Mass(*r.Batch), room, room)
	out.Cup = &diagnose.CupHeat{Mass: units.Mass(*r.Batch), Peak: f.Peak}
	return at("record.lot_g", err)
}

func faults(ctx context.Context, r faultsRequest) (faultsAnswer, error) {
	record, err := r.Record.core()
	if err != nil {
		return faultsAnswer{}, err
	}
	d, err := diagnose.Of(diagnose.Case{Seen: r.Seen, Record: record, Answers: r.Answers})
	var unknown diagnose.UnknownError
	if errors.As(err, &unknown) {
		return faultsAnswer{}, at(unknown.Field, err)
	} else if err != nil {
		return faultsAnswer{}, at("record", err)
	}
	lang := msg.LangOf(ctx)
	out := faultsAnswer{Causes: []faultsCause{}, Remedies: []faultsRemedy{}}
	for _, l := range d.Causes {
		c := faultsCause{l.Cause.ID, l.Cause.Name.In(lang), l.Probability, []string{}}
		for _, b := range l.Because {
			if text := words.Because(b, units.Metric); text != nil {
				c.Because = append(c.Because, text.In(lang))
			}
		}
		out.Causes = append(out.Causes, c)
	}
	if d.Ask != nil {
		out.Ask = &faultsAsk{d.Ask.ID, d.Ask.Text.In(lang)}
	}
	for _, m := range d.Remedies {
		remedy := faultsRemedy{ID: m.ID, Name: m.Name.In(lang)}
		if !math.IsNaN(m.WaitH) {
			remedy.Wait = &m.WaitH
		}
		out.Remedies = append(out.Remedies, remedy)
	}
	return out, nil
}

func init() {
	define("findings", "How often something happens, and how sure that is", share)
	defineLong("faults", "Likely causes of what is seen on a coat, and what to do", faults)
}
