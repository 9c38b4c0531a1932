// Package diagnose finds likely causes of what is seen on a coat: a noisy-or network
// over tables of faults and causes, with what the record of the coat says, the one
// question that would separate the causes best, and what to do now.
//
//	d, err := diagnose.Of(diagnose.Case{Seen: []string{"sticky-all"}, Record: record})
//	d.Causes[0].Cause.ID   // "off-ratio"
//	d.Ask                  // the question to answer next
//
// A cause, when it is there, brings a fault about with a strength; several do so
// independently, and a fault may come by itself (Pearl 1988). What is not seen says
// nothing: nobody looks for everything. Strengths and priors are common practice.
package diagnose

import (
	"fmt"
	"math"
	"slices"

	"jevvo/internal/core/refusal"
	"jevvo/internal/msg"
)

// A Fault is a visible defect of a coat.
type Fault struct {
	ID    string
	Name  msg.ID
	Look  msg.ID // in plain words
	Where Where
	When  When
	Motif Motif // how it is drawn
}

// Where on the board a fault lies.
type Where string

// The places.
const (
	Everywhere Where = "all over"
	Spots      Where = "in spots"
	Edges      Where = "at edges and sides"
	Patterns   Where = "in the colours"
	Elsewhere  Where = "not on the face"
)

// When a fault shows.
type When string

// The times.
const (
	WhileWet When = "while wet"
	NextDay  When = "next day"
	Later    When = "later"
)

// Motif is the elements of a fault's picture.
type Motif string

// A Cause is a possible cause of a fault.
type Cause struct {
	ID      string
	Name    msg.ID
	Prior   float64 // share of coats that have it, with nothing known
	Prevent msg.ID  // what to do next time
	Change  Change  // of the plan, that does so
}

// Change is a change of the plan that keeps a cause away, "" where none does.
type Change string

// A link says how often a cause brings a fault about.
type link struct {
	fault, cause string
	strength     float64
}

// by itself: a fault that comes of none of the causes in the table.
const leak = 0.01

// A Question is a question or a test.
type Question struct {
	ID      string
	Text    msg.ID
	Cause   string
	Yes, No float64 // how often the answer is yes, with the cause and without
	Told    bool    // a record that speaks of the cause has told it
	Only    string  // the fault it is about; "" for any
}

// A Case is the evidence about a coat.
type Case struct {
	Seen    []string // ids of faults
	Record  Record
	Answers map[string]bool // by question
	Learned map[string]Tally
}

// A Tally is how often this studio confirmed a cause in how many of its cases.
type Tally struct{ Yes, Of int }

// A Likely is a cause with its probability and what speaks for or against it.
type Likely struct {
	Cause       Cause
	Probability float64
	Because     []Reason
}

// A Diagnosis is the answer.
type Diagnosis struct {
	Causes   []Likely // likeliest first; those that can bring about what is seen
	Ask      *Question
	Teaches  float64 // bits that its answer brings
	Remedies []Remedy
}

// mostSeen bounds how many faults are weighed at once: the sum has 2ⁿ terms.
const mostSeen = 10

// An UnknownError names what the tables do not have.
type UnknownError struct{ Field, ID string }

func (e UnknownError) Error() string { return fmt.Sprintf("there is no %q", e.ID) }

// ErrNothingSeen says that nothing is to be explained.
var ErrNothingSeen = refusal.New("choose what is seen on the coat")

// Of weighs the causes of a case.
func Of(c Case) (Diagnosis, error) {
	seen, err := c.seen()
	if err != nil {
		return Diagnosis{}, err
	}
	if err := c.Record.check(); err != nil {
		return Diagnosis{}, err
	}
	net := newNetwork(seen)
	because := net.evidence(c.Record)
	if err := net.answers(c.Answers); err != nil {
		return Diagnosis{}, err
	}
	net.learned(c.Learned)
	var d Diagnosis
	posterior := net.posterior()
	for k, cause := range net.causes {
		d.Causes = append(d.Causes, Likely{cause, posterior[k], because[cause.ID]})
	}
	slices.SortStableFunc(d.Causes, func(a, b Likely) int { return compare(b.Probability, a.Probability) })
	d.Ask, d.Teaches = net.ask(posterior, c.Answers)
	d.Remedies = remediesFor(seen, d.Causes, c.Record)
	return d, nil
}

// seen are the faults of a case, each once.
func (c Case) seen() ([]Fault, error) {
	var out []Fault
	for _, id := range c.Seen {
		f, ok := FindFault(id)
		if !ok {
			return nil, UnknownError{"seen", id}
		}
		if !slices.ContainsFunc(out, func(o Fault) bool { return o.ID == id }) {
			out = append(out, f)
		}
	}
	switch {
	case len(out) == 0:
		return nil, ErrNothingSeen
	case len(out) > mostSeen:
		return nil, refusal.New("at most %d faults are weighed at once", mostSeen)
	}
	return out, nil
}

func compare(a, b float64) int {
	switch {
	case a < b:
		return -1
	case a > b:
		return 1
	}
	return 0
}

// FindFault returns the fault with the id.
func FindFault(id string) (Fault, bool) {
	k := slices.IndexFunc(Faults, func(f Fault) bool { return f.ID == id })
	if k < 0 {
		return Fault{}, false
	}
	return Faults[k], true
}

// FindCause returns the cause with the id.
func FindCause(id string) (Cause, bool) {
	k := slices.IndexFunc(Causes, func(c Cause) bool { return c.ID == id })
	if k < 0 {
		return Cause{}, false
	}
	return Causes[k], true
}

// CausesOf returns what can bring a fault about, the strongest first.
func CausesOf(fault string) []Cause {
	var of []link
	for _, l := range links {
		if l.fault == fault {
			of = append(of, l)
		}
	}
	slices.SortStableFunc(of, func(a, b link) int { return compare(b.strength, a.strength) })
	out := make([]Cause, len(of))
	for k, l := range of {
		out[k], _ = FindCause(l.cause)
	}
	return out
}

// entropy of a yes or no, in bits.
func entropy(p float64) float64 {
	if p <= 0 || p >= 1 {
		return 0
	}
	return -(p*math.Log2(p) + (1-p)*math.Log2(1-p))
}
