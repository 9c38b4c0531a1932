package weighing

import (
	"math"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/resin"
	"jevvo/internal/core/school"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// A Dial is one look at the scale: what the screen says in large letters.
type Dial struct {
	Stage    Stage
	What     msg.Text // "Part A", "Part B", "Pigment"
	By       msg.Text // of a pigment: as its bottle gives it
	Net      units.Mass
	Target   units.Mass
	Left     units.Mass
	Share    float64 // of the target, for the bar
	Pour     resin.Pour
	OffRatio float64 // of the cup as it would be if this were confirmed; NaN unknown
	Within   bool
	Verdict  msg.Text
	Advice   msg.Text
	Stable   bool
	Density  units.Density // of what is poured, for those who go by marks; 0 unknown
	// Reach is the display when the target is met, Mark what the jug
	// shows.
	Reach units.Mass
	Mark  units.Volume
}

// barFull is where the target line stands on a bar of 1000.
const barFull = 800

// Bar returns how far the bar is filled, of 1000; the target is at 800.
func (d Dial) Bar() float64 { return min(max(d.Share*barFull, 0), 1000) }

// HasRatio reports whether both parts are known.
func (d Dial) HasRatio() bool { return !math.IsNaN(d.OffRatio) }

// RatioText prints the off-ratio with its sign.
func (d Dial) RatioText() msg.Text { return offText(d.OffRatio) }

// Look judges a reading.
func (w Weighing) Look(reading units.Mass, stable bool) Dial {
	c := w.Current()
	d := Dial{Stage: w.Stage, Net: reading - w.Base, Stable: stable, OffRatio: w.Product.OffRatio(c.A, c.B)}
	switch w.Stage {
	case Tare:
		vessel := msg.ID("cup")
		if c.Jug {
			vessel = "jug"
		}
		d.What, d.Net = msg.F("empty %s", vessel), reading
		d.Verdict, d.Advice = msg.F("Set the empty %s on the scale and zero it.",
			vessel), msg.ID("Put on gloves and eye protection before you open the bottles.")
		if w.Tares == school.TareNever {
			d.Verdict = msg.F("Set the empty %s on the scale and type what it shows.", vessel)
		}
		if w.ByVolume {
			d.Verdict = msg.ID("Take a clean, dry jug or cup with marks.")
		}
		return d
	case Done:
		d.What, d.Verdict = msg.ID("All cups"), msg.ID("Everything is weighed.")
		return d
	case Pigmenting:
		dye, _ := c.dye()
		d.What, d.Target, d.By = msg.ID("pigment"), c.Planned()*units.Mass(dye.Load), dye.By.Text
		if dye.Name.Text != nil {
			d.What = dye.Name
		}
	default:
		need := w.Need()
		d.What, d.Target = partWords[need.Part], need.Target
		if need.Corrects {
			d.What = msg.F("%s, correction", d.What)
		}
		d.Density = w.densityOf(need.Part)
		a, b := withNet(c, need.Part, d.Net)
		d.OffRatio = w.Product.OffRatio(a, b)
	}
	d.Left, d.Reach = d.Target-d.Net, w.shows(d.Target)
	if d.Density > 0 {
		d.Mark = w.markBefore() + d.Target.Filling(d.Density)
	}
	if d.Target > 0 {
		d.Share = float64(d.Net / d.Target)
	}
	d.Pour = resin.JudgePour(d.Net, d.Target, w.Step)
	d.Within = math.Abs(d.OffRatio) <= w.Product.Tolerance
	d.judge(w)
	return d
}

func (w Weighing) densityOf(part resin.PartName) units.Density {
	switch part {
	case resin.PartA:
		return w.Product.DensityA
	case resin.PartB:
		return w.Product.DensityB
	}
	return w.Product.Density()
}

// partWords say what is poured.
var partWords = map[resin.PartName]msg.ID{resin.PartA: "part A", resin.PartB: "part B",
	resin.Mixed: "mixed resin from the jug"}

func withNet(c Cup, part resin.PartName, net units.Mass) (a, b units.Mass) {
	switch part {
	case resin.PartA:
		return c.A + net, c.B
	case resin.PartB:
		return c.A, c.B + net
	}
	return c.A, c.B
}

// pourWords say what the hands should do.
var pourWords = map[resin.Pour]msg.ID{resin.PourOn: "Pour", resin.PourSlow: "Almost: slow down",
	resin.PourStop: "Stop: on target"}

func (d *Dial) judge(w Weighing) {
	d.Verdict = pourWords[d.Pour]
	if d.Pour == resin.PourOver {
		d.Verdict = msg.F("Over by %s", (-d.Left).Text(units.Metric))
	}
	if w.Stage == Pigmenting {
		switch {
		case w.Current().Flammable:
			d.Advice = msg.ID("Flammable while wet: no flame near this cup.")
		case d.Pour == resin.PourOver:
			d.Advice = w.overdosed(*d)
		}
		return
	}
	if d.Pour == resin.PourOver {
		d.Advice = w.overshoot(*d)
	}
}

// overdosed says what a pigment past its target does to the cup.
func (w Weighing) overdosed(d Dial) msg.Text {
	c := w.Current()
	dye, _ := c.dye()
	resin := c.Planned()
	if c.A+c.B > 0 {
		resin = c.A + c.B
	}
	if dye.Limit <= 0 || resin <= 0 {
		return msg.ID("A little more colour does no harm below the product's load limit.")
	}
	load := float64(d.Net / resin)
	if load <= dye.Limit {
		return msg.F("It is %s %% of the cup now; its limit is %s %%.", msg.Figure(units.Fixed(100*load, 1)),
			msg.Figure(units.Fixed(100*dye.Limit, 1)))
	}
	more := d.Net/units.Mass(dye.Limit) - resin
	return msg.F("It is %s %% of the cup, over its limit of %s %%: the cup may stay soft. Add %s of mixed resin, or "+
		"colour a fresh cup.",
		msg.Figure(units.Fixed(100*load, 1)), msg.Figure(units.Fixed(100*dye.Limit, 1)), more.Text(units.Metric))
}

// overshoot says what to do about a pour past its target.
func (w Weighing) overshoot(d Dial) msg.Text {
	need := w.Need()
	switch {
	case need.Part == resin.Mixed:
		return msg.ID("Confirm: the pigment is then calculated from what you really poured.")
	case need.Part == resin.PartA && !need.Corrects:
		return w.larger(d)
	case d.Within:
		return msg.F("Within the ±%s %% this product tolerates.", msg.Figure(units.Fixed(w.Product.Tolerance*100, 1)))
	}
	a, b := withNet(w.Current(), need.Part, d.Net)
	fix, err := w.Product.Correct(a, b)
	if err != nil {
		return nil
	}
	harm := undone(w.Product.OffRatio(a, b))
	part, add := "A", fix.AddA
	if fix.AddB > 0 {
		part, add = "B", fix.AddB
	}
	return msg.Sentences(harm, msg.F("Confirm, then add %s of part %s: the cup becomes %s. Scooping out is allowed "+
		"only before the parts touch.",
		add.Text(units.Metric), part, fix.Total.Text(units.Metric)))
}

// muchLarger is from which overshoot of part A on a batch is said to grow (common
// practice: a tenth is a slip of the hand).
const muchLarger = 0.10

// larger says what a batch becomes whose part A was poured past its target.
func (w Weighing) larger(d Dial) msg.Text {
	if d.Target <= 0 || d.Net < d.Target*(1+muchLarger) {
		return msg.ID("Confirm: part B is then calculated from what you really poured.")
	}
	c := w.Current()
	b := (c.A + d.Net) * units.Mass(w.Product.WeightRatio())
	return msg.F("Confirm: the batch becomes %s with %s of part B, %s %% more than planned. Scoop some out now if "+
		"that is too much; nothing has touched yet.",
		(c.A + d.Net + b).Text(units.Metric), b.Text(units.Metric), msg.Figure(units.Fixed(100*(float64(d.Net/d.Target)-1),
			0)))
}

// undone says what a wrong ratio would leave undone for good.
func undone(off float64) msg.Text {
	i, err := cure.OffRatio(off)
	if err != nil {
		return nil
	}
	part := msg.ID("hardener")
	if off < 0 {
		part = "resin"
	}
	if !i.Gels {
		return msg.F("As it stands it never cures: %s %% of the %s has nothing to react with.",
			msg.Figure(units.Fixed(100*i.Spare, 0)),
			part)
	}
	return msg.F("As it stands %s %% of the %s has nothing to react with and %s %% of the cure is missing: it stays soft.",
		msg.Figure(units.Fixed(100*i.Spare, 0)), part, msg.Figure(units.Fixed(100*(1-i.Ties), 0)))
}
