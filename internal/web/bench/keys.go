package bench

import (
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/core/wet"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/bench"
	"jevvo/internal/studio/session"
	"jevvo/internal/web/frame"
	"jevvo/internal/words"
)

// panels are the panels opened by the keys of a bench screen.
var panels = map[string]bool{"more": true, "move": true, "wrong": true, "heat": true, "else": true}

// A keyed is the effect of a key on a bench day.
type keyed func(c *gin.Context, id int64, rehearsal bool) (session.Bench, error)

// keyRoutes adds what nobody planned to a bench day or a rehearsal.
func (a *area) keyRoutes(at string, rehearsal bool) {
	a.GET(at+"/:id/panels/:name", a.panel(rehearsal))
	a.GET(at+"/:id/advice", a.advice(rehearsal))
	a.POST(at+"/:id/stop", a.press(rehearsal, func(*gin.Context) session.Press { return session.StopHere }))
	s := a.Studio.Bench
	for path, do := range map[string]keyed{
		"/more": func(c *gin.Context, id int64, rehearsal bool) (session.Bench, error) {
			cup, amount := c.PostForm("cup"), c.PostForm("amount")
			if pressed := c.PostForm("more"); pressed != "" {
				cup, amount, _ = strings.Cut(pressed, " ")
			}
			return s.More(c.Request.Context(), id, rehearsal, cup, amount, spotOf(c))
		},
		"/move": func(c *gin.Context, id int64, rehearsal bool) (session.Bench, error) {
			return s.AddMove(c.Request.Context(), id, rehearsal, technique.MoveKind(c.PostForm("move")), spotOf(c))
		},
		"/mend": func(c *gin.Context, id int64, rehearsal bool) (session.Bench, error) {
			return s.Mend(c.Request.Context(), id, rehearsal, c.PostForm("complaint"), spotOf(c), c.PostForm("work"))
		},
		"/outcome": func(c *gin.Context, id int64, rehearsal bool) (session.Bench, error) {
			return s.Outcome(c.Request.Context(), id, rehearsal, c.PostForm("outcome"))
		},
		"/heat": func(c *gin.Context, id int64, rehearsal bool) (session.Bench, error) {
			seconds, err := strconv.ParseFloat(c.PostForm("seconds"), 64)
			if err != nil && c.PostForm("seconds") != "" {
				return session.Bench{}, form.Refusef("seconds", "a pass takes up to ten minutes")
			}
			return s.Heat(c.Request.Context(), id, rehearsal, spotOf(c), seconds)
		},
		"/alone": func(c *gin.Context, id int64, rehearsal bool) (session.Bench, error) {
			return s.LeaveAlone(c.Request.Context(), id, rehearsal, spotOf(c))
		},
		"/happened": func(c *gin.Context, id int64, rehearsal bool) (session.Bench, error) {
			return s.Happened(c.Request.Context(), id, rehearsal, c.PostForm("what"), c.PostForm("value"))
		},
		"/by-eye": func(c *gin.Context, id int64, rehearsal bool) (session.Bench, error) {
			return s.ByEye(c.Request.Context(), id, rehearsal, c.PostForm("cup"), c.PostForm("clear"), c.PostForm("full"))
		},
	} {
		a.POST(at+"/:id"+path, func(c *gin.Context) error {
			b, err := do(c, frame.ID(c), rehearsal)
			return a.pressed(c, b, rehearsal, err)
		})
	}
}

func spotOf(c *gin.Context) technique.Place { return technique.Place(c.PostForm("place")) }

// panel sends what a key opens, as it stands now.
func (a *area) panel(rehearsal bool) frame.Handler {
	return func(c *gin.Context) error {
		b, err := a.Studio.Bench.Log().Bench(c.Request.Context(), frame.ID(c), rehearsal)
		if err != nil {
			return err
		}
		page, err := a.screen(c.Request.Context(), b)
		if err != nil {
			return err
		}
		name := c.Param("name")
		if !panels[name] {
			return form.Refusef("name", "there is no such panel")
		}
		return a.Part(c, http.StatusOK, "bench", "panel-"+name, page)
	}
}

// An advicePage is the answer to a complaint.
type advicePage struct {
	Advice wet.Advice
	Place  technique.Place
	Base   string
	Wrong  msg.Text
}

// advice answers a complaint.
func (a *area) advice(rehearsal bool) frame.Handler {
	return func(c *gin.Context) error {
		place := technique.Place(c.Query("place"))
		said, b, err := a.Studio.Bench.Advice(c.Request.Context(), frame.ID(c), rehearsal, c.Query("complaint"), place)
		page := advicePage{Advice: said, Place: place}
		if err != nil {
			status, text, known := frame.Status(err)
			if !known || status == http.StatusNotFound {
				return err
			}
			page.Wrong = text
			return a.Part(c, status, "bench", "bench-advice", page)
		}
		page.Base = base(b)
		return a.Part(c, http.StatusOK, "bench", "bench-advice", page)
	}
}

// Spots are the nine places of the board.
func (p screenPage) Spots() []technique.Place { return technique.Spots }

// An amount is one that is said with the hand, with what it is at this film.
type amount struct {
	Name msg.ID
	Text string
	Said msg.Text
}

// Amounts are the amounts offered for pouring a cup.
func (p screenPage) Amounts() []amount {
	film := p.Film
	out := make([]amount, len(bench.Abouts))
	for i, about := range bench.Abouts {
		v := about.Volume(film)
		said := msg.Text(v.Text(p.Sys))
		if p.Sys == units.Metric {
			said = msg.Figure(units.Fixed(v.Millilitres(), 0) + " mL")
		}
		out[i] = amount{about.Name, form.VolumeText(v, units.Metric), said}
	}
	return out
}

// MoveKinds are the moves that can be added, but those that pour: a cup is poured by
// the key for it.
func (p screenPage) MoveKinds() []technique.MoveRule {
	var out []technique.MoveRule
	for _, r := range technique.MoveRules {
		if !r.Pours {
			out = append(out, r)
		}
	}
	return out
}

// Complaints are the problems a painter can report.
func (p screenPage) Complaints() []wet.Complaint { return wet.Complaints }

// Mishaps are the mishaps a painter can report.
func (p screenPage) Mishaps() []wet.Mishap { return wet.Mishaps }

// Asked is an example of what a mishap asks for.
func (p screenPage) Asked() map[wet.Asks]msg.Text {
	return map[wet.Asks]msg.Text{
		wet.AsksFilm:    (p.Film / 2).Film(p.Sys),
		wet.AsksShare:   msg.ID("10 %"),
		wet.AsksMinutes: msg.ID("20 min"),
		wet.AsksRoom:    p.RoomAt.Temperature.Text(p.Sys),
	}
}

// AloneNames are the places that are left alone.
func (p screenPage) AloneNames() []msg.ID {
	var out []msg.ID
	for _, at := range p.Alone() {
		out = append(out, at.Name())
	}
	return out
}

// FlameOff is in how many minutes no flame may come near the board any more.
func (p screenPage) FlameOff() float64 {
	f, ok := p.FilmAt("")
	if !ok {
		return 0
	}
	return f.FlameOff()
}

// SmallFlame reports whether somewhere only small flames may be used.
func (p screenPage) SmallFlame() bool {
	for _, w := range p.Warmths() {
		if w.Small {
			return true
		}
	}
	return false
}

// HeatCautions stand where heat is noted.
func (p screenPage) HeatCautions() []technique.Safety {
	return technique.SafetyNotes("flame", "respirator")
}

// CanStop reports whether something lies on the board and a move is left.
func (p screenPage) CanStop() bool { return len(p.Mixed) > 0 && p.MovesLeft() > 0 }

// Ask is the work whose outcome is asked for, "" for none.
func (p screenPage) Ask() msg.Text {
	if i, ok := p.Asks(); ok {
		return p.Steps[i].Name
	}
	return nil
}

// An otherwise is what went otherwise last, with what is to be done about it.
type otherwise struct {
	Name    msg.ID
	Now     msg.ID
	Verdict msg.Text
	Later   msg.ID
}

// Otherwise is what went otherwise within the last while; nil for nothing.
func (p screenPage) Otherwise() *otherwise {
	e, ok := p.Newest(session.Happening)
	m, known := wet.FindMishap(e.Text)
	if !ok || !known || p.Now.Sub(e.At) > otherwiseStands {
		return nil
	}
	return &otherwise{m.Name, m.Now, p.ShortSaid(e), m.Later}
}

// otherwiseStands is for how long what to do stands on the screen.
const otherwiseStands = 30 * time.Minute

// ShortSaid says what a shortage of hardener leaves.
func (p screenPage) ShortSaid(e session.Event) msg.Text {
	if e.Text != wet.HardenerShort || p.Product == nil {
		return nil
	}
	return words.HardenerShort(e.Value, p.Product.Tolerance)
}

// Told is an event of the day in words.
func (p screenPage) Told(e session.Event) msg.Text { return words.BenchEvent(told(e, p.Bench), p.Sys) }

// told is an event's text.
func told(e session.Event, b session.Bench) words.BenchTold {
	t := words.BenchTold{Text: e.Text, Place: e.Place}
	if e.Add != nil {
		t.Added = e.Add.Name
	}
	switch e.What {
	case session.Disliked:
		t.Kind, t.Work = words.ToldComplaint, e.Work
	case session.Happening:
		t.Kind, t.Value = words.ToldHappening, e.Value
		if c, ok := b.Cup(e.Work); ok {
			t.Cup = c.Name
		}
	case session.Stopped:
		t.Kind = words.ToldStop
	case session.LeftAlone:
		t.Kind = words.ToldAlone
	}
	return t
}

// TrialSaid is the trial of a rehearsal that waits for an answer, in words; "" for none.
func (p screenPage) TrialSaid() msg.Text {
	t := p.Trial
	if t == nil {
		return nil
	}
	if cup, ok := p.Cup(t.Cup); ok {
		return msg.F("%s has just fallen over, and more of it is wanted. What now?", cup.Name)
	}
	c, _ := wet.FindComplaint(t.Complaint)
	return msg.F("%s: %s. What now?", msg.Capital(t.Place.Name()), msg.Lower(c.Name))
}
