package preview

import (
	"context"
	"math"
	"net/url"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/preview"
	"jevvo/internal/web/frame"
)

func (a *area) make(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	return a.changed(c, typed, func(v preview.View) error {
		h, err := hand(typed, v.Agenda.Book.Settings.Units)
		if err != nil {
			return err
		}
		return a.Studio.Preview.Make(c.Request.Context(), v, h)
	})
}

// hand reads a move as it was typed.
func hand(typed map[string]string, sys units.System) (preview.Hand, error) {
	h := preview.Hand{Kind: typed["kind"], Cup: typed["cup"]}
	rule, _ := preview.RuleOf(h.Kind)
	var err error
	if h.Minute, err = number(typed, "minute", 0); err != nil {
		return h, err
	}
	if rule.Points > 0 {
		if h.Points, err = pieces.ParsePoints(typed["points"]); err != nil {
			return h, &form.Refused{Field: "points", Err: err}
		}
	}
	if rule.Pours {
		bare := "ml"
		if sys == units.US {
			bare = "floz"
		}
		v, err := units.ParseVolume(typed["amount"], bare)
		if err != nil {
			return h, &form.Refused{Field: "amount", Err: err}
		}
		h.Amount = v.Value
	}
	if rule.Sided() {
		h.Side = typed["side"]
	}
	if rule.Tilts {
		if h.Tilt[0], err = number(typed, "tilt_x", 0); err != nil {
			return h, err
		}
		if h.Tilt[1], err = number(typed, "tilt_y", 0); err != nil {
			return h, err
		}
	}
	h.For, err = number(typed, "for", 0)
	return h, err
}

func number(typed map[string]string, field string, usual float64) (float64, error) {
	text := strings.TrimSpace(typed[field])
	if text == "" {
		return usual, nil
	}
	v, err := strconv.ParseFloat(strings.Replace(text, ",", ".", 1), 64)
	if err != nil || math.IsNaN(v) || math.IsInf(v, 0) {
		return 0, form.Refusef(field, "%q is not a number", text)
	}
	return v, nil
}

// A change is one of what was tried on a coat.
type change func(ctx context.Context, piece int64, coat string) error

// change answers a change that needs nothing typed.
func (a *area) change(do change) frame.Handler {
	return func(c *gin.Context) error {
		typed, err := frame.Typed(c)
		if err != nil {
			return err
		}
		return a.changed(c, typed, func(v preview.View) error {
			return do(c.Request.Context(), v.Piece.ID, v.Coat.ID)
		})
	}
}

func (a *area) set(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	return a.changed(c, typed, func(v preview.View) error {
		way, err := wayOf(typed)
		if err != nil {
			return err
		}
		return a.Studio.Preview.Set(c.Request.Context(), v.Piece.ID, v.Coat.ID, way)
	})
}

// wayOf reads how a coat is to be played.
func wayOf(typed map[string]string) (preview.Way, error) {
	w := preview.Way{
		Plain:  typed["own"] == "no",
		Turned: typed["turned"] == "yes",
		Fine:   typed["fine"] == "yes",
		Apart:  typed["apart"] == "yes",
	}
	seed, err := number(typed, "seed", 1)
	if err != nil {
		return w, err
	}
	if !(seed >= 0 && seed < 1e9) {
		return w, form.Refusef("seed", "a random result has a number from 0 up")
	}
	w.Seed = uint64(seed)
	white, err := number(typed, "white", 0)
	if err != nil {
		return w, err
	}
	w.White, w.Order = int64(white), typed["order"]
	lean, err := number(typed, "lean", 0)
	if err != nil {
		return w, err
	}
	w.Lean = int(lean)
	for field, to := range map[string]*float64{"later": &w.Later, "bed": &w.Bed, "wide": &w.Wide} {
		if *to, err = number(typed, field, 0); err != nil {
			return w, err
		}
	}
	return w, nil
}

// wayFields are a way as a form or an address has it.
func wayFields(w preview.Way) url.Values {
	v := url.Values{"seed": {strconv.FormatUint(w.Seed, 10)}}
	for field, of := range map[string]float64{
		"later": w.Later, "bed": w.Bed, "wide": w.Wide, "white": float64(w.White), "lean": float64(w.Lean),
	} {
		if of != 0 {
			v.Set(field, strconv.FormatFloat(of, 'f', -1, 64))
		}
	}
	if w.Order != "" {
		v.Set("order", w.Order)
	}
	if w.Plain {
		v.Set("own", "no")
	}
	if w.Turned {
		v.Set("turned", "yes")
	}
	if w.Fine {
		v.Set("fine", "yes")
	}
	if w.Apart {
		v.Set("apart", "yes")
	}
	return v
}
