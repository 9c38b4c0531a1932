package plan

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/school"
	"jevvo/internal/core/technique"
	"jevvo/internal/msg"
)

// A TaskKind is the kind of a task of the plan.
type TaskKind string

// The kinds of tasks.
const (
	TaskPrepare TaskKind = "prepare"
	TaskPour    TaskKind = "pour"
	TaskLook    TaskKind = "look"
	TaskTape    TaskKind = "tape"
	TaskBetween TaskKind = "between"
	TaskFinish  TaskKind = "finish"
	TaskDeliver TaskKind = "deliver"
)

// DeliverKey is the key of the moment a piece may go.
const DeliverKey = "deliver"

// PourKey is the key of the task that pours a coat.
func PourKey(coat string) string { return coat + pourSuffix }

const pourSuffix = ":pour"

// Poured returns the coat that a task pours, false for one that pours none.
func Poured(task string) (coat string, ok bool) { return strings.CutSuffix(task, pourSuffix) }

// TapeKey is the key of the task that pulls a coat's tape.
func TapeKey(coat string) string { return coat + ":tape" }

// LookKey is the key of an attendance to look for bubbles.
func LookKey(coat string, round int) string { return fmt.Sprintf("%s:look%d", coat, round) }

// NoMax stands for a wait that may be as long as it likes.
const NoMax = -1

// Why is the reason for a wait.
type Why string

// The reasons of waits.
const (
	WhyDries   Why = "dries"
	WhyHard    Why = "hard"
	WhyTacky   Why = "tacky"
	WhyFirm    Why = "firm"
	WhyCured   Why = "cured"
	WhySoft    Why = "soft set"
	WhyHour    Why = "an hour"
	WhyMinutes Why = "its minutes"
	WhyRuns    Why = "while it runs"
	WhyNextDay Why = "next day, warm air"
	WhyBubbles Why = "bubbles"
	WhyCool    Why = "cool again"
)

// A Wait runs from the end of another task of the piece to the start of this,
// in minutes; Max NoMax for none.
type Wait struct {
	After    int // place of the other task
	Min, Max int
	Why      Why
	What     msg.Text // what dries
}

// A Task is something a piece asks of the painter's hands, with its waits.
type Task struct {
	Key    string // stable: layer and stage
	Kind   TaskKind
	Layer  string
	Coat   string   // id of the coat it belongs to, "" for none
	What   msg.Text // name of the preparation or the technique
	N, Of  int      // which time of how many
	Do     msg.Text
	Safety []string
	Hands  int
	Waits  []Wait
	Take   bool // from its start the piece holds its place on the rack
	Free   bool // until its end
	Mix    string
}

// Which is the task's name, with which of several times it is.
func (t Task) Which() msg.Text {
	if t.Of > 1 {
		return msg.F("%s, %d of %d", t.What, t.N, t.Of)
	}
	return t.What
}

// taskList builds a piece's tasks one after the other.
type taskList struct {
	plan  *Plan
	tasks []Task
	// last is the task the next layer waits for, with how long and why.
	last    int
	dry     int // minutes before anything else
	what    msg.Text
	pending []Wait // of all that must be dry before resin
	below   *Coat  // the coat below
	pour    int    // its pour
}

// RoundUp takes minutes up to five.
func RoundUp(m float64) int { return int(math.Ceil(m/5-1e-9)) * 5 }

// tasksOf lays a piece's layers out as tasks with their waits.
func tasksOf(p *Plan) []Task {
	l := &taskList{plan: p, last: -1, pour: -1}
	for _, layer := range p.Layers {
		switch layer.Kind {
		case Prepare, Finish:
			l.prepare(layer)
		case Between:
			l.between(layer)
		case Resin:
			l.coat(layer)
		}
	}
	l.deliver()
	return l.tasks
}

func (l *taskList) add(t Task) int {
	l.tasks = append(l.tasks, t)
	return len(l.tasks) - 1
}

// follow is the wait after what came before: of resin, all paint and glue that
// is not dry through.
func (l *taskList) follow(resin bool) []Wait {
	var out []Wait
	if l.last >= 0 {
		out = append(out, Wait{After: l.last, Min: l.dry, Max: NoMax, Why: WhyDries, What: l.what})
	}
	if resin {
		out = append(out, l.pending...)
		l.pending = nil
	}
	return out
}

// dries says how long a task's work dries before other work and before resin.
func (l *taskList) dries(task, other, resin int, what msg.Text) {
	l.last, l.dry, l.what = task, other, what
	if resin > 0 {
		l.pending = append(l.pending, Wait{After: task, Min: resin, Max: NoMax, Why: WhyDries, What: what})
	}
}

// since is how long after a coat was covered a moment lies.
func since(c *Coat, t time.Time) float64 { return math.Max(0, t.Sub(c.Covered).Minutes()) }

// afterHard waits until the coat below is hard.
func (l *taskList) afterHard(waits []Wait) []Wait {
	if l.below == nil {
		return waits
	}
	return append(waits, Wait{After: l.pour, Min: RoundUp(since(l.below, l.below.Windows[cure.Hard].From)), Max: NoMax,
		Why: WhyHard})
}

// afterFirm waits until the coat below can be worked on without resin: print-free.
func (l *taskList) afterFirm(waits []Wait) []Wait {
	if l.below == nil {
		return waits
	}
	return append(waits, Wait{After: l.pour, Min: RoundUp(since(l.below, l.below.Windows[cure.Firm].From)), Max: NoMax,
		Why: WhyFirm})
}

// scuffing is how long a layer scuffs what lies under it.
func (l *taskList) scuffing(layer Layer) float64 {
	if !l.plan.Scuffs(layer.ID) {
		return 0
	}
	return technique.Scuff.Minutes(technique.Job{Face: l.plan.Face})
}

func (l *taskList) prepare(layer Layer) {
	prep, ok := technique.FindPreparation(layer.What)
	if !ok {
		return
	}
	kind := TaskPrepare
	if layer.Kind == Finish {
		kind = TaskFinish
	}
	times := max(1, layer.Times)
	for n := 1; n <= times; n++ {
		at := l.add(Task{Key: fmt.Sprintf("%s:%d", layer.ID, n), Layer: layer.ID, Kind: kind, What: prep.Name, N: n,
			Of: times, Do: prep.Do,
			Safety: prep.Safety, Hands: RoundUp(prep.Minutes(l.plan.Face)), Waits: l.afterHard(l.follow(false))})
		l.dries(at, int(prep.Dry), int(prep.BeforeResin), prep.Name)
	}
}

// ownStep is a task of the painter's own; over resin it waits until that can be
// touched.
func (l *taskList) ownStep(layer Layer) {
	s := layer.Step
	do := s.Note
	if s.Caution != "" {
		do = strings.TrimSpace(do + " Caution: " + s.Caution)
	}
	at := l.add(Task{Key: layer.ID + ":1", Layer: layer.ID, Kind: TaskBetween, What: msg.Own(s.Name), N: 1, Of: 1,
		Do:    msg.Own(do),
		Hands: max(5, RoundUp(s.Minutes+l.scuffing(layer))), Waits: l.afterFirm(l.follow(false))})
	l.dries(at, RoundUp(s.Dry), RoundUp(s.Dry), msg.Own(s.Name))
}

func (l *taskList) between(layer Layer) {
	if layer.Step != nil {
		l.ownStep(layer)
		return
	}
	t, ok := l.plan.Context.Book.Find(layer.What)
	if !ok {
		return
	}
	hands, dry := t.Handwork(technique.Job{Face: l.plan.Face, Cups: 1})
	var safety []string
	for _, s := range t.Steps {
		safety = append(safety, s.Safety...)
	}
	do := msg.Text(t.Summary)
	if l.plan.Scuffs(layer.ID) {
		do, safety = msg.Sentences(technique.Scuff.Do, do), append(slices.Clone(technique.Scuff.Safety), safety...)
	}
	at := l.add(Task{Key: layer.ID + ":1", Layer: layer.ID, Kind: TaskBetween, What: t.Name, N: 1, Of: 1, Do: do,
		Safety: safety,
		Hands:  RoundUp(hands + l.scuffing(layer)), Waits: l.afterFirm(l.follow(false))})
	l.dries(at, RoundUp(dry), RoundUp(math.Max(dry, t.BeforeResin)), t.Name)
}

// rounds are the attendances to look for bubbles, in minutes after the pour.
var rounds = []struct{ from, to int }{{10, 25}, {40, 75}}

// tapeHands is how long pulling tape takes (common practice).
const tapeHands = 10

// letGoSlack is how many minutes later a side may still be let go to run (common
// practice).
const letGoSlack = 10

func (l *taskList) coat(layer Layer) {
	p := l.plan
	c := p.Coat(layer.ID)
	l.readied(c)
	waits := l.follow(true)
	if l.below != nil {
		waits = append(waits, l.recoat(c))
	}
	task := Task{Key: PourKey(c.ID), Layer: c.ID, Kind: TaskPour, Coat: c.ID, What: c.Technique.Name, N: 1, Of: 1,
		Do:     c.Technique.Summary,
		Safety: []string{"gloves", "respirator", "flame"}, Hands: RoundUp(c.Covered.Sub(c.Start).Minutes()), Waits: waits,
		Mix: l.mixKey(c), Take: l.below == nil}
	pour := l.add(task)
	for n, r := range rounds {
		if n < c.rounds() {
			l.add(Task{Key: LookKey(c.ID, n+1), Layer: c.ID, Kind: TaskLook, Coat: c.ID, N: n + 1, Of: len(rounds),
				Safety: []string{"flame"}, Hands: 5,
				Waits: []Wait{{After: pour, Min: r.from, Max: r.to, Why: WhyBubbles}}})
		}
	}
	if p.Spec.Taped() {
		l.add(Task{Key: TapeKey(c.ID), Layer: c.ID, Kind: TaskTape, Coat: c.ID, N: 1, Of: 1, Hands: tapeHands,
			Waits: []Wait{l.tape(pour, c)}})
	}
	l.last, l.dry, l.what = -1, 0, nil
	l.below, l.pour = c, pour
}

// readied are the tasks of what is put in a mould before resin and dries there.
func (l *taskList) readied(c *Coat) {
	job := l.plan.job(c)
	for _, s := range c.Technique.Steps {
		if !s.BeforeMixing || s.Dry <= 0 || !c.uses(s.Adds) {
			continue
		}
		at := l.add(Task{Key: c.ID + ":" + s.ID, Layer: c.ID, Kind: TaskPrepare, What: s.Name, N: 1, Of: 1, Do: s.Do,
			Safety: s.Safety,
			Hands:  RoundUp(s.Minutes(job)), Waits: l.follow(false)})
		l.dries(at, RoundUp(s.Dry), RoundUp(s.Dry), s.Name)
	}
}

// uses reports whether the coat has some of one of the materials.
func (c *Coat) uses(materials []string) bool {
	return slices.ContainsFunc(c.Materials,
		func(m Material) bool { return m.Amount > 0 && slices.Contains(materials, m.ID) })
}

// rounds is how many attendances the looks of a coat need.
func (c *Coat) rounds() int {
	n := len(c.Looks())
	if n == 0 {
		return 0
	}
	return looks[n-1].round
}

// recoat is the wait before the next coat, by the studio's school.
func (l *taskList) recoat(next *Coat) Wait {
	c := l.below
	if l.plan.castOn(next) {
		return Wait{After: l.pour, Min: RoundUp(since(c, c.cool())), Max: NoMax, Why: WhyCool}
	}
	if l.plan.Context.Schools.Way(school.Recoat) == school.RecoatTacky && !l.plan.Timing.LooseRecoat &&
		!l.plan.scuffed(next) {
		prep := next.Prep.Minutes()
		tacky := c.Windows[cure.Tacky]
		least := RoundUp(math.Max(0, since(c, tacky.From)-prep))
		return Wait{After: l.pour, Min: least, Max: max(least, int(since(c, tacky.To)-prep)), Why: WhyTacky}
	}
	if l.plan.scuffed(next) {
		return Wait{After: l.pour, Min: RoundUp(since(c, l.plan.bonds(c, next))), Max: NoMax, Why: WhyFirm}
	}
	return Wait{After: l.pour, Min: RoundUp(since(c, c.Windows[cure.Hard].From)), Max: NoMax, Why: WhyHard}
}

// tape is when the tape comes off, by the studio's school.
func (l *taskList) tape(pour int, c *Coat) Wait {
	soft := c.Windows[cure.SoftSet]
	switch l.plan.tapeWay(c) {
	case school.TapeMinutes:
		at := int(c.Layer.Coat.TapeAfter)
		return Wait{After: pour, Min: max(0, at-5), Max: at + 30, Why: WhyMinutes}
	case school.TapeRuns:
		at := int(c.Layer.Coat.TapeAfter)
		return Wait{After: pour, Min: at, Max: at + letGoSlack, Why: WhyRuns}
	case school.TapeHour:
		return Wait{After: pour, Min: 55, Max: 95, Why: WhyHour}
	case school.TapeNext:
		return Wait{After: pour, Min: RoundUp(since(c, c.Windows[cure.Hard].From)), Max: NoMax, Why: WhyNextDay}
	}
	least := RoundUp(since(c, soft.From))
	return Wait{After: pour, Min: least, Max: max(least, int(since(c, soft.To))-tapeHands), Why: WhySoft}
}

// deliver is the moment the piece is cured and may go.
func (l *taskList) deliver() {
	waits := append(l.follow(false),
		Wait{After: l.pour, Min: RoundUp(since(l.below, l.below.Windows[cure.Cured].From)), Max: NoMax, Why: WhyCured})
	free := false
	for i := range l.tasks { // its place is free once it is firm and worked on
		if l.tasks[i].Kind == TaskFinish && !free {
			l.tasks[i].Free, free = true, true
		}
	}
	l.add(Task{Key: DeliverKey, Kind: TaskDeliver, Waits: waits, N: 1, Of: 1, Free: !free})
}

// mixKey says which pours can come from one mixing: the same resin, recipe and
// technique.
func (l *taskList) mixKey(c *Coat) string {
	key := fmt.Sprintf("%d/%s", c.Product.ID, c.Technique.ID)
	for _, cup := range c.Cups {
		key += fmt.Sprintf("/%s:%v", cup.Colour.Swatch, cup.Colour.Doses())
	}
	return key
}
