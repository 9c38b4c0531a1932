package words

import (
	"fmt"

	"jevvo/internal/core/plan"
)

// Placed is what a note of the agenda is said with.
type Placed struct {
	Name string
	Task *plan.Task
	Plan *plan.Plan
	Code string
	When string
	Need int
	Have int
	Err  error
}

// repairs say what to do now that a window has closed.
var repairs = map[string]string{
	"tape-missed":   "warm the edge with air and pull it slowly; trim what tears",
	"tacky-missed":  "the tacky hours are over: wait for hard, scuff and wipe, then pour",
	"window-missed": "do it as soon as you can",
}

// Agenda says a note of the agenda.
func Agenda(n Placed) string {
	task := ""
	if n.Task != nil {
		task = Lower(Task(*n.Task, n.Plan))
	}
	if repair, ok := repairs[n.Code]; ok {
		return fmt.Sprintf("%s: %s was to be done by %s. Now %s.", n.Name, task, n.When, repair)
	}
	switch n.Code {
	case "pin-let-go":
		return fmt.Sprintf("%s, %s cannot lie at %s: its waits or the other work do not allow it. The pin was let go.", n.Name, task, n.When)
	case "windows-given":
		return fmt.Sprintf("%s cannot keep its windows within the opening hours; they were given up: its tape comes off next day, its next coat waits for hard.", n.Name)
	case "no-place-fits":
		return fmt.Sprintf("%s fits no place on the shelf; it is planned as if it lay elsewhere.", n.Name)
	case "few-places":
		return fmt.Sprintf("%s needs %s; the shelf has %d that fit. It is planned as if it lay elsewhere.", n.Name, Plural(n.Need, "place", "places"), n.Have)
	case "not-reckoned":
		return fmt.Sprintf("%s cannot be reckoned: %s.", n.Name, n.Err)
	}
	return fmt.Sprintf("%s cannot be planned within these hours and places.", n.Name)
}
