package journal

import (
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"slices"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/diagnose"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/learn"
	"jevvo/internal/web/frame"
	"jevvo/internal/words"
)

func (a *area) findings(c *gin.Context) error {
	f, err := a.Studio.Learn.Findings(c.Request.Context())
	if err != nil {
		return err
	}
	return a.Show(c, http.StatusOK, "findings", frame.Page{Title: msg.ID("Findings"), Nav: "journal", Data: f})
}

func (a *area) calibrate(c *gin.Context) error {
	if err := a.Studio.Learn.Calibrate(c.Request.Context(), c.PostForm("forecast"),
		c.PostForm("back") == "yes"); err != nil {
		return err
	}
	return frame.Go(c, "/findings#forecasts")
}

// A faultsPage is what is seen, what it comes of, and what to do.
type faultsPage struct {
	learn.Case
	Sys    units.System
	Faults []group
	Causes []likely
	Wrong  *form.Refused
	Base   string // address of the page, without its query
	Piece  bool   // of a coat, whose record speaks
	Said   msg.ID // what was done
}

// A group is the faults of one place on the board.
type group struct {
	Where  msg.ID
	Faults []diagnose.Fault
}

// A likely is a cause with the reasons in words.
type likely struct {
	diagnose.Cause
	Share   float64
	For     []msg.Text
	Against []msg.Text
}

// Bar is how long its bar is, of 100.
func (l likely) Bar() float64 { return 100 * l.Share }

// Saw reports whether a fault is chosen.
func (p faultsPage) Saw(id string) bool { return slices.Contains(p.Seen, id) }

// SeenFaults are those that are seen.
func (p faultsPage) SeenFaults() []diagnose.Fault {
	var out []diagnose.Fault
	for _, id := range p.Seen {
		if f, ok := diagnose.FindFault(id); ok {
			out = append(out, f)
		}
	}
	return out
}

// Prevention is the change to the plan, made by one press, that avoids a cause.
func (faultsPage) Prevention(c diagnose.Cause) msg.ID { return learn.Prevention(c) }

// With is the page's query with one more answer; "" takes it back.
func (p faultsPage) With(question, answer string) string {
	q := p.query()
	q.Del("yes")
	q.Del("no")
	for id, yes := range p.Answers {
		if id != question {
			q.Add(map[bool]string{true: "yes", false: "no"}[yes], id)
		}
	}
	if answer != "" {
		q.Add(answer, question)
	}
	return p.Base + "?" + q.Encode() + "#causes"
}

func (p faultsPage) query() url.Values {
	q := url.Values{}
	for _, s := range p.Seen {
		q.Add("seen", s)
	}
	if p.Coat != nil {
		q.Set("coat", p.Coat.ID)
	}
	for id, yes := range p.Answers {
		q.Add(map[bool]string{true: "yes", false: "no"}[yes], id)
	}
	return q
}

// Safety are the cautions of a remedy.
func (faultsPage) Safety(r diagnose.Remedy) []technique.Safety {
	return technique.SafetyNotes(r.Safety...)
}

// Wait is when a remedy may begin.
func (faultsPage) Wait(r diagnose.Remedy) msg.Text {
	switch {
	case r.WaitH != r.WaitH: // not known
		return msg.ID("once it is hard")
	case r.WaitH > 0:
		return msg.F("in about %s", words.Spoken(60*r.WaitH))
	}
	return msg.ID("now")
}

// byPlace groups the faults as they are chosen from.
func byPlace() []group {
	var out []group
	for _, where := range []diagnose.Where{diagnose.Everywhere, diagnose.Spots, diagnose.Patterns, diagnose.Edges,
		diagnose.Elsewhere} {
		g := group{Where: msg.ID(where)}
		for _, f := range diagnose.Faults {
			if f.Where == where {
				g.Faults = append(g.Faults, f)
			}
		}
		out = append(out, g)
	}
	return out
}

// unlikely is below which probability a cause is not shown.
const unlikely = 0.02

// likelies puts the causes into words.
func likelies(d diagnose.Diagnosis, sys units.System) []likely {
	var out []likely
	for _, l := range d.Causes {
		if l.Probability < unlikely {
			continue
		}
		row := likely{Cause: l.Cause, Share: l.Probability}
		for _, b := range l.Because {
			if text := words.Because(b, sys); text != nil && b.For {
				row.For = append(row.For, text)
			} else if text != nil {
				row.Against = append(row.Against, text)
			}
		}
		out = append(out, row)
	}
	return out
}

// answers reads what was answered.
func answers(c *gin.Context) map[string]bool {
	out := map[string]bool{}
	for _, id := range c.QueryArray("yes") {
		out[id] = true
	}
	for _, id := range c.QueryArray("no") {
		out[id] = false
	}
	return out
}

// faults finds causes for a coat of which nothing is known.
func (a *area) faults(c *gin.Context) error {
	settings, err := a.Studio.Setup.Settings(c.Request.Context())
	if err != nil {
		return err
	}
	found, err := a.Studio.Learn.Ask(c.Request.Context(), c.QueryArray("seen"), answers(c))
	return a.showFaults(c, faultsPage{Case: found, Sys: settings.Units, Base: "/faults"}, err)
}

// pieceFaults finds causes with all the record of the coat says.
func (a *area) pieceFaults(c *gin.Context) error {
	found, err := a.Studio.Learn.Diagnose(c.Request.Context(), frame.ID(c), c.Query("coat"), c.QueryArray("seen"),
		answers(c))
	if found.Coat == nil {
		return err
	}
	page := faultsPage{Case: found, Sys: found.Agenda.Book.Settings.Units, Base: frame.Piece(frame.ID(c), "/faults"),
		Piece: true, Said: said[c.Query("done")]}
	return a.showFaults(c, page, err)
}

// said are the confirmations shown after a change.
var said = map[string]msg.ID{"remedy": "It is in the plan now, after this coat; the days are updated.",
	"confirmed": "Saved: it will be considered sooner next time."}

func (a *area) showFaults(c *gin.Context, page faultsPage, err error) error {
	status := http.StatusOK
	if err != nil {
		if !errors.As(err, &page.Wrong) {
			return err
		}
		status = http.StatusUnprocessableEntity
	}
	page.Faults, page.Causes = byPlace(), likelies(page.Diagnosis, page.Sys)
	return a.Show(c, status, "faults", frame.Page{Title: msg.ID("Faults"), Nav: "journal", Data: page})
}

func (a *area) remedy(c *gin.Context) error {
	if err := a.Studio.Learn.Remedy(c.Request.Context(), frame.ID(c), c.PostForm("coat"),
		c.PostForm("remedy")); err != nil {
		return err
	}
	return frame.Go(c, back(c, "remedy"))
}

func (a *area) confirm(c *gin.Context) error {
	if err := a.Studio.Learn.Confirm(c.Request.Context(), frame.ID(c), c.PostForm("coat"), c.PostFormArray("seen"),
		c.PostForm("cause")); err != nil {
		return err
	}
	return frame.Go(c, back(c, "confirmed"))
}

func (a *area) prevent(c *gin.Context) error {
	id, err := a.Studio.Learn.Prevent(c.Request.Context(), frame.ID(c), c.PostForm("coat"), c.PostForm("cause"))
	if err != nil {
		return err
	}
	return frame.Go(c, frame.Piece(id, "?coat="+url.QueryEscape(c.PostForm("coat"))))
}

// back is the page a fault was looked at on, as it was.
func back(c *gin.Context, done string) string {
	q := url.Values{"done": {done}, "coat": {c.PostForm("coat")}, "seen": c.PostFormArray("seen"),
		"yes": c.PostFormArray("yes"), "no": c.PostFormArray("no")}
	return frame.Piece(frame.ID(c), "/faults?", q.Encode(), "#causes")
}

// A faultPage teaches one fault.
type faultPage struct {
	diagnose.Fault
	Causes []diagnose.Cause
	Ways   []diagnose.Remedy
}

func (a *area) fault(c *gin.Context) error {
	f, ok := diagnose.FindFault(c.Param("id"))
	if !ok {
		return fmt.Errorf("find the fault %q: %w", c.Param("id"), frame.Missing)
	}
	page := faultPage{Fault: f, Causes: diagnose.CausesOf(f.ID), Ways: diagnose.RemediesOf(f.ID)}
	return a.Show(c, http.StatusOK, "fault", frame.Page{Title: f.Name, Nav: "journal", Data: page})
}

// Times says how long a remedy takes.
func (faultPage) Times(r diagnose.Remedy) msg.Text {
	var parts []msg.Text
	if r.Fixed > 0 {
		parts = append(parts, msg.F("about %s", words.Spoken(r.Fixed)))
	}
	if r.DryH > 0 {
		parts = append(parts, msg.F("then %s before the next work", words.Spoken(60*r.DryH)))
	}
	if r.Hard {
		parts = append(parts, msg.ID("once the coat is hard"))
	}
	return msg.Join(", ", parts...)
}

// taught tells what the records teach about a coat as it is planned, beside its
// plan.
func (a *area) taught(c *gin.Context) error {
	v, err := a.Studio.Journal.View(c.Request.Context(), frame.ID(c), c.Query("coat"))
	if err != nil {
		return err
	}
	told, err := a.Studio.Learn.About(c.Request.Context(), v.Plan, v.Coat)
	if err != nil {
		return err
	}
	return a.Part(c, http.StatusOK, "findings", "taught", told)
}

// taughtOf tells it of a technique.
func (a *area) taughtOf(c *gin.Context) error {
	told, err := a.Studio.Learn.OfTechnique(c.Request.Context(), c.Param("id"))
	if err != nil {
		return err
	}
	return a.Part(c, http.StatusOK, "findings", "taught", told)
}
