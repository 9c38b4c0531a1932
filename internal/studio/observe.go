package studio

import (
	"context"
	"errors"
	"fmt"
	"time"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/units"
	"jevvo/internal/store"
)

// A Seen is one observation of a resin in this studio.
type Seen struct {
	cure.Observation
	At time.Time
}

// mostSeen bounds what is kept of a resin.
const mostSeen = 200

// Kinetics returns the product's clock: this studio's own once it was fitted
// and is in use, the sheet's otherwise.
func (p Product) Kinetics() (cure.Kinetics, error) {
	if p.UseOwn && len(p.Seen) > 0 {
		if fit, err := p.Refit(); err == nil {
			return fit.Kinetics, nil
		}
	}
	return cure.Calibrate(p.WorkingMinutes, p.HardHours)
}

// Refit fits the product's times to what was observed.
func (p Product) Refit() (cure.Refit, error) {
	seen := make([]cure.Observation, len(p.Seen))
	for i, s := range p.Seen {
		seen[i] = s.Observation
	}
	return cure.Recalibrate(p.WorkingMinutes, p.HardHours, seen)
}

// A Comparison is one sign by the sheet and by this studio, at 25 °C.
type Comparison struct {
	Sign       cure.Sign
	Sheet, Own float64 // minutes
}

// Compare lays the sheet beside the studio's own fit, sign by sign.
func (p Product) Compare() ([]Comparison, cure.Refit, error) {
	sheet, err := cure.Calibrate(p.WorkingMinutes, p.HardHours)
	if err != nil {
		return nil, cure.Refit{}, err
	}
	fit, err := p.Refit()
	if err != nil {
		return nil, fit, err
	}
	var out []Comparison
	for _, s := range cure.Signs {
		out = append(out, Comparison{s, sheet.Seconds(s.Alpha) / 60, fit.Kinetics.Seconds(s.Alpha) / 60})
	}
	return out, fit, nil
}

// an observation as it is typed.
type seenForm struct {
	sign string
	at   float64
	room units.Temperature
}

var seenFields = Fields[seenForm]{
	choiceField("sign", "What was seen", func(f *seenForm) *string { return &f.sign }, signKeys()...),
	minutesField("after", "After the parts met", "min", func(f *seenForm) *float64 { return &f.at }, 1, 60*24*60),
	temperatureField("seen_room", "Room meanwhile", func(f *seenForm) *units.Temperature { return &f.room }, 5, 45),
}

func signKeys() []string {
	out := make([]string, len(cure.Signs))
	for i, s := range cure.Signs {
		out[i] = s.Key
	}
	return out
}

// Observe keeps an observation of a resin.
func (s *Studio) Observe(ctx context.Context, id int64, typed map[string]string) (Product, Notices, error) {
	n := newNotices()
	p, err := s.Product(ctx, id)
	if err != nil {
		return p, n, err
	}
	set, err := s.Settings(ctx)
	if err != nil {
		return p, n, err
	}
	var f seenForm
	for _, field := range seenFields {
		if _, err := field.Set(&f, typed[field.Key], set.Units); err != nil {
			n.Errors[field.Key] = err.Error()
		}
	}
	if n.OK() && len(p.Seen) >= mostSeen {
		n.Errors["sign"] = fmt.Sprintf("%d observations are kept; take old ones out first", mostSeen)
	}
	if !n.OK() {
		return p, n, nil
	}
	p.Seen = append(p.Seen, Seen{cure.Observation{Sign: f.sign, Minute: f.at, Room: f.room}, s.now()})
	return p, n, s.store.UpdateItem(ctx, store.Resins, id, p.Rev, p.Name, p, p.Retired)
}

// ForgetSeen takes an observation out.
func (s *Studio) ForgetSeen(ctx context.Context, id int64, at int) error {
	p, err := s.Product(ctx, id)
	if err != nil {
		return err
	}
	if at < 0 || at >= len(p.Seen) {
		return store.ErrNotFound
	}
	p.Seen = append(p.Seen[:at], p.Seen[at+1:]...)
	return s.store.UpdateItem(ctx, store.Resins, id, p.Rev, p.Name, p, p.Retired)
}

// UseOwnTimes makes the studio's own fit the product's clock, or the sheet
// again.
func (s *Studio) UseOwnTimes(ctx context.Context, id int64, own bool) error {
	p, err := s.Product(ctx, id)
	if err != nil {
		return err
	}
	if own && len(p.Seen) == 0 {
		return &RefusedError{errors.New("nothing was observed yet")}
	}
	p.UseOwn = own
	return s.store.UpdateItem(ctx, store.Resins, id, p.Rev, p.Name, p, p.Retired)
}

// Words says what the sign was.
func (s Seen) Words() string {
	sign, _ := cure.SignOf(s.Sign)
	return sign.Words
}
