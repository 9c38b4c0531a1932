package preview

import (
	"fmt"
	"math"

	"github.com/gin-gonic/gin"
	"github.com/shopspring/decimal"

	"jevvo/internal/core/flow"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
	"jevvo/internal/studio/preview"
	"jevvo/internal/web/frame"
	"jevvo/internal/words"
)

// A telling is a frame in words, for the browser to show.
type telling struct {
	N       int      `json:"n"`
	Minute  float64  `json:"minute"`
	At      string   `json:"at"`
	OnBoard string   `json:"on"`
	RunOff  string   `json:"off"`
	Sides   string   `json:"sides"`
	Film    string   `json:"film"`
	Thin    string   `json:"thin"`
	Visible []string `json:"visible"`
	Ground  string   `json:"ground"`
	Cells   []string `json:"cells"`
	Words   string   `json:"words"`
}

// A teller says frames in a studio's units, and what runs off in its money.
type teller struct {
	sys   units.System
	lang  msg.Lang
	costs func(ml float64) msg.Figure // "" for what is not known, or not for who asks
}

// teller is how who asks is told of a play.
func (a *area) teller(c *gin.Context, p *preview.Play) (teller, error) {
	ctx := c.Request.Context()
	settings, err := a.Studio.Setup.Settings(ctx)
	out := teller{settings.Units, settings.Lang(), func(float64) msg.Figure { return "" }}
	if who, _ := frame.VisitorOf(ctx); err != nil || !who.Sees("/pieces/:id/price") {
		return out, err
	}
	v, err := a.Studio.Preview.View(ctx, p.Piece, p.Coat)
	if err != nil {
		return out, err
	}
	each, known, err := a.Studio.Prices.PerMillilitre(ctx, v.View)
	if err != nil || !known {
		return out, err
	}
	terms, err := a.Studio.Prices.Terms(ctx)
	out.costs = func(ml float64) msg.Figure { return terms.Money().Text(each.Mul(decimal.NewFromFloat(ml))) }
	return out, err
}

// told says a frame.
func (say teller) told(p *preview.Play, n int, f *preview.Frame) telling {
	sys, in := say.sys, func(t msg.Text) string { return msg.Say(t, say.lang) }
	at, onBoard, runOff := minutes(f.At), volume(f.Sample.OnBoard, sys), amount(sum(f.Sample.Below), sys)
	thin := film(f.Sample.Thinnest, sys)
	if cost := say.costs(1e6 * sum(f.Sample.Below)); cost != "" && sum(f.Sample.Below) > noneVolume {
		runOff = msg.F("%s, %s", runOff, cost)
	}
	t := telling{N: n, Minute: f.At / 60, At: in(at), OnBoard: in(onBoard), RunOff: in(runOff),
		Sides: in(amount(sum(f.Sample.Sides), sys)), Film: in(film(f.Sample.Mean, sys)), Thin: in(thin),
		Ground: in(percent(f.Ground)), Cells: []string{}}
	for _, v := range f.Visible {
		t.Visible = append(t.Visible, in(percent(v)))
	}
	for _, o := range f.Opens {
		if !math.IsNaN(o.Seen) {
			t.Cells = append(t.Cells, in(opening(p, o, sys)))
		}
	}
	parts := []msg.Text{msg.F("At %s: %s on the board", at, onBoard)}
	if sum(f.Sample.Below) > noneVolume {
		parts = append(parts, msg.F("%s ran off", runOff))
	}
	if f.Sample.Bare > 0.005 {
		parts = append(parts, msg.F("%s of the face is bare", percent(f.Sample.Bare)))
	} else {
		parts = append(parts, msg.F("thinnest %s", thin))
	}
	words := msg.F("%s.", msg.Join(", ", parts...))
	if n == len(p.Times)-1 {
		words = msg.Sentences(words, unlike(p.Scene.RunOff, sum(f.Sample.Below), sys))
	}
	t.Words = in(words)
	return t
}

// From which difference on two amounts that run off are told apart: the plan's is what
// usually does, the one on the screen what these moves carry off.
const (
	alikeShare  = 0.3
	alikeVolume = 2e-6 // m³
	noneVolume  = 5e-7 // m³
)

// unlike says how the plan's run-off differs from what ran off on the screen, and what to
// do with it; nil where both agree.
func unlike(planned, ran float64, sys units.System) msg.Text {
	off := ran - planned
	if math.Abs(off) < math.Max(alikeVolume, alikeShare*math.Max(planned, ran)) {
		return nil
	}
	usual, much := volume([]float64{planned}, sys), volume([]float64{math.Abs(off)}, sys)
	if off > 0 {
		return msg.F(
			"The plan allows for %s: these moves carry off %s more. Mix that much more, or dam the edge.",
			usual,
			much,
		)
	}
	if ran < noneVolume {
		return msg.F("The plan allows for %s running off, as usual for the technique: here nothing does.", usual)
	}
	return msg.F("The plan allows for %s, as usual for the technique: here %s less runs off.", usual, much)
}

// opening says where cells open, as far apart as two digits carry.
func opening(p *preview.Play, o flow.Opening, sys units.System) msg.Text {
	upper, under := p.Scene.Cups[o.Upper].Colour.Name, p.Scene.Cups[o.Under].Colour.Name
	return msg.F(
		"Cells of %s on %s: about %s apart, first seen at %s",
		words.Filled(upper),
		words.Filled(under),
		units.Length(1000*o.Spacing).Text(sys),
		minutes(o.Seen),
	)
}

func minutes(seconds float64) msg.Text {
	if seconds < 90 {
		return msg.F("%.0f s", seconds)
	}
	return msg.F("%.0f min", seconds/60)
}

func percent(v float64) msg.Figure { return msg.Figure(fmt.Sprintf("%.0f %%", 100*v)) }

// film is a thickness given in m.
func film(m float64, sys units.System) msg.Figure {
	return units.Length(1000 * m).Film(sys)
}

// volume is that of all cups together, given in m³.
func volume(of []float64, sys units.System) msg.Figure {
	return units.Volume(1e6 * sum(of)).Text(sys)
}

// amount is a volume in m³ that may be next to nothing, which is said to be nothing.
func amount(v float64, sys units.System) msg.Text {
	if v < noneVolume {
		return msg.ID("nothing")
	}
	return (volume([]float64{v}, sys))
}

func sum(of []float64) float64 {
	all := 0.0
	for _, v := range of {
		all += v
	}
	return all
}
