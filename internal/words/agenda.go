package words

import (
	"jevvo/internal/core/plan"
	"jevvo/internal/msg"
)

// Placed is a note of the agenda with its arguments.
type Placed struct {
	Name string
	Task *plan.Task
	Plan *plan.Plan
	Code string
	When msg.Text
	Need int
	Have int
	Err  error
}

// repairs say what to do now that a window has closed.
var repairs = map[string]msg.ID{
	"tape-missed":   "warm the edge with air and pull it slowly; trim what tears",
	"tacky-missed":  "the tacky hours are over: wait for hard, scuff and wipe, then pour",
	"window-missed": "do it as soon as you can",
}

// needs say what a wait is for, of the task that is waited for.
var needs = map[plan.Why]msg.ID{
	plan.WhyDries: "has to dry", plan.WhyHard: "has to be hard", plan.WhyTacky: "has to be tacky",
	plan.WhyCured: "has to cure",
	plan.WhyFirm:  "has to be firm",
	plan.WhySoft:  "has to be soft-set", plan.WhyHour: "needs its hour", plan.WhyMinutes: "needs its minutes",
	plan.WhyRuns:    "comes off while it runs",
	plan.WhyNextDay: "has to stand until the next day", plan.WhyBubbles: "lets its bubbles up later",
	plan.WhyCool: "has to be cool again",
}

// Obstacle says why a task cannot lie at a time.
func Obstacle(o Placed, why plan.Why) msg.Text {
	var task msg.Text
	if o.Task != nil {
		task = Task(*o.Task, o.Plan)
	}
	switch o.Code {
	case "past":
		return msg.ID("That is over.")
	case "closed":
		return msg.F("The studio is closed then; it opens %s.", o.When)
	case "closes":
		return msg.F("It would not be done before the studio closes, %s.", o.When)
	case "waits":
		return msg.F("Not before %s: %s %s.", o.When, msg.Lower(task), needs[why])
	case "window":
		return msg.F("Too late: its window after %s closes %s.", msg.Lower(task), o.When)
	}
	return msg.F("Your hands are at %s, %s, until %s.", msg.Lower(task), o.Name, o.When)
}

// Agenda says a note of the agenda.
func Agenda(n Placed) msg.Text {
	var task msg.Text
	if n.Task != nil {
		task = msg.Lower(Task(*n.Task, n.Plan))
	}
	if repair, ok := repairs[n.Code]; ok {
		return msg.F("%s: %s was to be done by %s. Now %s.", n.Name, task, n.When, repair)
	}
	switch n.Code {
	case "pin-let-go":
		return msg.F("%s, %s cannot be at %s: its waits or the other work do not allow it. It was unpinned.", n.Name,
			task,
			n.When)
	case "windows-given":
		return msg.F("%s cannot keep its windows within the opening hours; they were given up: its tape comes off next day, "+
			"its next coat waits for hard.", n.Name)
	case "no-place-fits":
		return msg.F("%s fits no place on the drying rack; it is planned as if it dried elsewhere.", n.Name)
	case "few-places":
		return msg.F("%s needs %s; the drying rack has %d that fit. It is planned as if it dried elsewhere.", n.Name,
			msg.N(n.Need, "place", "places"), n.Have)
	case "not-calculated":
		return msg.F("%s cannot be calculated: %s.", n.Name, n.Err)
	}
	return msg.F("%s cannot be planned within these hours and places.", n.Name)
}
