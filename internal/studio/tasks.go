package studio

import (
	"fmt"
	"math"
	"time"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/schedule"
	"jevvo/internal/core/technique"
)

// A TaskKind is what a task of the plan is.
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

// A TaskInfo is a task of a piece in words; its place in the list is that of
// the task in the schedule's piece.
type TaskInfo struct {
	Key    string // stable: layer and stage
	Name   string
	Kind   TaskKind
	Coat   string // key of the coat it belongs to
	Amount string
	Do     string
	Safety []string
}

// taskList builds a piece's tasks one after the other.
type taskList struct {
	plan  *Plan
	infos []TaskInfo
	tasks []schedule.Task
	// last is the task the next layer waits for, with how long and why.
	last    int
	dry     int // minutes before anything else
	why     string
	pending []schedule.Wait // of all that must be dry before resin
	recoat  *CoatPlan       // the coat below
	pour    int             // its pour
}

// roundUp takes minutes up to five.
func roundUp(m float64) int { return int(math.Ceil(m/5-1e-9)) * 5 }

// Tasks lays a piece's coat plan out as tasks with their waits.
func (p *Plan) Tasks() ([]TaskInfo, []schedule.Task) {
	l := &taskList{plan: p, last: -1, pour: -1}
	for _, layer := range p.Piece.CoatPlanOf(p.Settings) {
		switch layer.Kind {
		case LayerPrepare, LayerFinish:
			l.prepare(layer)
		case LayerBetween:
			l.between(layer)
		case LayerCoat:
			l.coat(layer)
		}
	}
	l.deliver()
	return l.infos, l.tasks
}

func (l *taskList) add(info TaskInfo, task schedule.Task) int {
	task.ID = info.Name
	l.infos, l.tasks = append(l.infos, info), append(l.tasks, task)
	return len(l.tasks) - 1
}

// follow is the wait after what came before: of resin, all paint and glue that
// is not dry through.
func (l *taskList) follow(resin bool) []schedule.Wait {
	var out []schedule.Wait
	if l.last >= 0 {
		out = append(out, schedule.Wait{After: l.last, Min: l.dry, Max: schedule.NoMax, Why: l.why})
	}
	if resin {
		out = append(out, l.pending...)
		l.pending = nil
	}
	return out
}

// dries says how long a task's work dries before other work and before resin.
func (l *taskList) dries(task, other, resin int, why string) {
	l.last, l.dry, l.why = task, other, why
	if resin > 0 {
		l.pending = append(l.pending, schedule.Wait{After: task, Min: resin, Max: schedule.NoMax, Why: why})
	}
}

// afterHard waits until the coat below is hard.
func (l *taskList) afterHard(waits []schedule.Wait) []schedule.Wait {
	if l.recoat == nil {
		return waits
	}
	least := roundUp(math.Max(0, l.recoat.Windows[cure.Hard].From.Sub(l.recoat.Covered).Minutes()))
	return append(waits, schedule.Wait{After: l.pour, Min: least, Max: schedule.NoMax, Why: "hard"})
}

func (l *taskList) prepare(layer Layer) {
	prep, ok := technique.FindPreparation(layer.What)
	if !ok {
		return
	}
	kind := TaskPrepare
	if layer.Kind == LayerFinish {
		kind = TaskFinish
	}
	for n := 1; n <= max(1, layer.Times); n++ {
		waits := l.follow(false)
		if layer.Kind == LayerFinish {
			waits = l.afterHard(waits)
		}
		name := prep.Name
		if layer.Times > 1 {
			name = fmt.Sprintf("%s, %d of %d", prep.Name, n, layer.Times)
		}
		at := l.add(TaskInfo{Key: fmt.Sprintf("%s:%d", layer.ID, n), Name: name, Kind: kind, Do: prep.Do, Safety: prep.Safety},
			schedule.Task{Hands: roundUp(prep.Minutes(l.plan.Face)), Waits: waits})
		l.dries(at, int(prep.Dry), int(prep.BeforeResin), prep.Name+" dries")
	}
}

func (l *taskList) between(layer Layer) {
	t, ok := l.plan.book.Find(layer.What)
	if !ok {
		return
	}
	hands, dry := 0.0, 0.0
	job := l.plan.job(l.plan.Piece.Colours)
	var safety []string
	for _, s := range t.Steps {
		if m := s.Minutes(job); s.Waiting {
			dry = math.Max(dry, m)
		} else {
			hands += m
		}
		safety = append(safety, s.Safety...)
	}
	at := l.add(TaskInfo{Key: layer.ID + ":1", Name: t.Name, Kind: TaskBetween, Do: t.Summary, Safety: safety},
		schedule.Task{Hands: roundUp(hands), Waits: l.afterHard(l.follow(false))})
	l.dries(at, roundUp(dry), roundUp(math.Max(dry, beforeSeal[t.ID])), t.Name+" dries")
}

// beforeSeal is how long between-coat work dries before resin, where that is
// longer than its own rest (common practice).
var beforeSeal = map[string]float64{"painted": 24 * 60, "masked": 24 * 60}

func (l *taskList) coat(layer Layer) {
	var c *CoatPlan
	for i := range l.plan.Coats {
		if l.plan.Coats[i].Key == layer.ID {
			c = &l.plan.Coats[i]
		}
	}
	if c == nil {
		return
	}
	waits := l.follow(true)
	if l.recoat != nil {
		waits = append(waits, l.recoatWait(*c))
	}
	task := schedule.Task{Hands: roundUp(c.Covered.Sub(c.Start).Minutes()), Waits: waits, Mix: l.mixKey(*c)}
	if l.recoat == nil {
		task.Take = true
	}
	pour := l.add(TaskInfo{Key: layer.ID + ":pour", Name: c.Name + ", " + lower(c.Technique.Name), Kind: TaskPour, Coat: c.Key,
		Amount: c.Total.Text(l.plan.Settings.Units), Do: c.Technique.Summary, Safety: []string{"gloves", "respirator", "flame"}}, task)
	for n, look := range []struct{ from, to int }{{10, 25}, {40, 75}} {
		l.add(TaskInfo{Key: fmt.Sprintf("%s:look%d", layer.ID, n+1), Name: "Look for bubbles: " + lower(c.Name), Kind: TaskLook, Coat: c.Key, Safety: []string{"flame"}},
			schedule.Task{Hands: 5, Waits: []schedule.Wait{{After: pour, Min: look.from, Max: look.to, Why: "bubbles"}}})
	}
	if l.plan.Taped() {
		l.add(TaskInfo{Key: layer.ID + ":tape", Name: "Pull the tape: " + lower(c.Name), Kind: TaskTape, Coat: c.Key, Do: "Slowly, away from the film."},
			schedule.Task{Hands: 10, Waits: []schedule.Wait{l.tapeWait(pour, *c)}})
	}
	l.last, l.dry, l.why = -1, 0, ""
	l.recoat, l.pour = c, pour
}

// recoatWait is the wait before the next coat, by the studio's school.
func (l *taskList) recoatWait(next CoatPlan) schedule.Wait {
	c := l.recoat
	prep := next.Prep.Minutes()
	if l.plan.Settings.Recoat == RecoatTacky && !l.plan.looseRecoat {
		tacky := c.Windows[cure.Tacky]
		least := math.Max(0, tacky.From.Sub(c.Covered).Minutes()-prep)
		most := math.Max(least, tacky.To.Sub(c.Covered).Minutes()-prep)
		return schedule.Wait{After: l.pour, Min: roundUp(least), Max: max(roundUp(least), int(most)), Why: "tacky"}
	}
	least := math.Max(0, c.Windows[cure.Hard].From.Sub(c.Covered).Minutes())
	return schedule.Wait{After: l.pour, Min: roundUp(least), Max: schedule.NoMax, Why: "hard"}
}

// tapeHands is how long pulling tape takes (common practice).
const tapeHands = 10

// tapeWait is when the tape comes off, by the studio's school.
func (l *taskList) tapeWait(pour int, c CoatPlan) schedule.Wait {
	w := schedule.Wait{After: pour, Why: "soft set"}
	soft := c.Windows[cure.SoftSet]
	way := l.plan.Settings.School(SchoolTape)
	if l.plan.looseTape && way != "next" {
		way = "next"
	}
	switch way {
	case "hour":
		w.Min, w.Max, w.Why = 55, 95, "an hour"
	case "next":
		w.Min, w.Max, w.Why = roundUp(math.Max(0, c.Windows[cure.Hard].From.Sub(c.Covered).Minutes())), schedule.NoMax, "next day, warm air"
	default:
		w.Min = roundUp(math.Max(0, soft.From.Sub(c.Covered).Minutes()))
		w.Max = max(w.Min, int(soft.To.Sub(c.Covered).Minutes())-tapeHands)
	}
	return w
}

// deliver is the moment the piece is cured and may go.
func (l *taskList) deliver() {
	if l.recoat == nil {
		return
	}
	least := roundUp(math.Max(0, l.recoat.Windows[cure.Cured].From.Sub(l.recoat.Covered).Minutes()))
	waits := append(l.follow(false), schedule.Wait{After: l.pour, Min: least, Max: schedule.NoMax, Why: "cured"})
	free := false
	for i := range l.tasks { // its place is free once it is firm and worked on
		if l.infos[i].Kind == TaskFinish && !free {
			l.tasks[i].Free, free = true, true
		}
	}
	at := l.add(TaskInfo{Key: "deliver", Name: "Ready to deliver", Kind: TaskDeliver}, schedule.Task{Waits: waits})
	if !free {
		l.tasks[at].Free = true
	}
}

// mixKey says which pours can come from one mixing: the same resin, recipe and
// technique.
func (l *taskList) mixKey(c CoatPlan) string {
	key := fmt.Sprintf("%d/%s", l.plan.Product.ID, c.Technique.ID)
	for _, col := range c.Colours {
		key += fmt.Sprintf("/%s:%v", col.Swatch, col.Doses())
	}
	return key
}

// A Happened is what a bench day or the painter says of a task.
type Happened struct {
	Start, Met, End time.Time
	Done            bool
}

// happenedAt reads what was done off a piece's bench days: pours, looks and
// tape with their actual times.
func happenedAt(benches []Bench) map[string]Happened {
	out := map[string]Happened{}
	for i := len(benches) - 1; i >= 0; i-- { // the newest of a coat counts
		b := benches[i]
		lots := b.lots()
		if len(lots) == 0 {
			continue
		}
		begin := b.At
		h := Happened{Start: begin, Met: lots[0]}
		if end := b.pourEnded(); !end.IsZero() && b.pastHands() {
			h.End, h.Done = end, true
		}
		out[b.Coat+":pour"] = h
		looks := 0
		for k, s := range b.Steps {
			at, ok := b.over(k)
			if !ok {
				continue
			}
			switch s.Kind {
			case StepBubbles:
				if looks++; looks == 1 || looks == 3 {
					out[fmt.Sprintf("%s:look%d", b.Coat, (looks+1)/2)] = Happened{Start: at, End: at, Done: true}
				}
			case StepTape:
				out[b.Coat+":tape"] = Happened{Start: at, End: at, Done: true}
			}
		}
	}
	return out
}

// pastHands reports whether all work before the looks is over.
func (b Bench) pastHands() bool {
	i := b.cursor()
	return i >= len(b.Steps) || b.Steps[i].Kind == StepBubbles || b.Steps[i].Kind == StepTape
}

// over is when a step was done or left out.
func (b Bench) over(step int) (time.Time, bool) {
	for i := len(b.Events) - 1; i >= 0; i-- {
		e := b.Events[i]
		if !e.Undone && e.Step == step && (e.What == EventDone || e.What == EventSkip) {
			return e.At, true
		}
	}
	return time.Time{}, false
}
