package agenda

import (
	"context"
	"errors"
	"maps"
	"runtime"
	"slices"
	"sync"
	"time"

	"jevvo/internal/core/calendar"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/schedule"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/materials"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/recovery"
	"jevvo/internal/words"
)

// planDays is how far ahead days are planned.
const planDays = 500

// A scene is all open pieces laid out as one problem, with all that is needed
// to read it back.
type scene struct {
	now, base time.Time
	book      *materials.Book
	marks     map[int64][]store.TaskMark
	happens   map[int64]map[string]plan.Happened
	problem   schedule.Problem
	list      []entry
	notes     []Note
	more      int
}

// An entry is one piece of a scene.
type entry struct {
	pieces.Piece
	base   *plan.Plan // as it was calculated, before the agenda
	plan   *plan.Plan // as it is laid now
	timing plan.Timing
	letGo  map[string]bool // pins that cannot be kept
	loose  bool            // its windows were given up
	notes  []Note
}

// A Change is one thing that is otherwise in a what-if.
type Change struct {
	Context func(*plan.Context)                        // of the studio
	Piece   func(spec *plan.Spec, id int64) (did bool) // of a piece
}

// gather reads all open pieces and lays them out; changes make a what-if.
func (s *Service) gather(ctx context.Context, st inputs, changes []Change) (*scene, error) {
	now := s.now().Local()
	y, m, d := now.Date()
	g := &scene{now: now, base: time.Date(y, m, d, 0, 0, 0, 0, now.Location()), book: st.book, happens: st.happens,
		marks: st.marks}
	rows, err := s.store.OpenPieces(ctx, Most+1)
	if err != nil {
		return nil, err
	}
	if len(rows) > Most {
		g.more, rows = len(rows)-Most, rows[:Most]
	}
	if len(changes) > 0 {
		changed := *st.book.Context
		book := *st.book
		book.Context = &changed
		for _, c := range changes {
			if c.Context != nil {
				c.Context(book.Context)
			}
		}
		g.book = &book
	}
	list := make([]pieces.Piece, 0, len(rows))
	for _, row := range rows {
		p, err := pieces.Decode(row)
		if err != nil {
			return nil, err
		}
		list = append(list, p)
	}
	s.calculate(ctx, g, list, changes)
	g.open()
	for i := range g.list {
		g.put(i)
	}
	return g, nil
}

// calculate evaluates the pieces on all cores; one that cannot be is left out and
// said.
func (s *Service) calculate(ctx context.Context, g *scene, list []pieces.Piece, changes []Change) {
	out := make([]*plan.Plan, len(list))
	errs := make([]error, len(list))
	var wg sync.WaitGroup
	next := make(chan int)
	for range runtime.GOMAXPROCS(0) {
		wg.Go(func() {
			for i := range next {
				errs[i] = recovery.Do(func() (err error) {
					out[i], err = s.changed(ctx, g.book, &list[i], changes)
					return err
				})
			}
		})
	}
	for i := range list {
		next <- i
	}
	close(next)
	wg.Wait()
	tasks := 0
	for i, p := range list {
		if errs[i] != nil {
			g.notes = append(g.notes, Note{Code: NotCalculated, Piece: p.ID, Name: p.Name, Err: reason(errs[i])})
			continue
		}
		if tasks += len(out[i].Tasks); tasks > schedule.MaxTasks {
			g.more++ // those due first are planned
			continue
		}
		timing := plan.Timing{Happened: happened(out[i], g.happens[p.ID], g.marks[p.ID])}
		g.list = append(g.list, entry{Piece: p, base: out[i], plan: out[i].At(timing), timing: timing})
	}
}

// changed evaluates a piece with the changes to try.
func (s *Service) changed(ctx context.Context, b *materials.Book, p *pieces.Piece, changes []Change) (*plan.Plan,
	error) {
	if len(changes) == 0 {
		return s.evaluate(ctx, *p, b)
	}
	p.Spec = p.Spec.Clone()
	for _, c := range changes {
		if c.Piece != nil {
			c.Piece(&p.Spec, p.ID)
		}
	}
	return plan.Evaluate(p.Spec, b.Context, plan.Timing{})
}

// reason is why a piece was not calculated, as a painter reads it.
func reason(err error) error {
	var r *plan.Refusal
	if errors.As(err, &r) {
		return r.Err
	}
	return refusal.New("something broke; the log has the details")
}

// happened joins what bench days say of a piece with what was ticked off.
func happened(calculated *plan.Plan, benches map[string]plan.Happened,
	marks []store.TaskMark) map[string]plan.Happened {
	out := map[string]plan.Happened{}
	maps.Copy(out, benches)
	for _, m := range marks {
		if _, known := out[m.Task]; known || m.Kind != store.MarkDone {
			continue
		}
		at := m.At.Local()
		h := plan.Happened{Start: at, End: at, Done: true}
		if t := calculated.Task(m.Task); t != nil {
			h.Start = at.Add(-time.Duration(t.Hands) * time.Minute)
		}
		out[m.Task] = h
	}
	return out
}

// open lays the opening hours and the rack out.
func (g *scene) open() {
	for _, o := range g.book.Calendar.Stretches(g.base, planDays) {
		g.problem.Open = append(g.problem.Open, schedule.Interval{From: g.minute(o.From), To: g.minute(o.To)})
	}
	g.problem.Open = schedule.Union(g.problem.Open)
	for _, c := range g.book.Settings.Rack {
		g.problem.Rack = append(g.problem.Rack, c.Count)
	}
	g.problem.Pieces = make([]schedule.Piece, len(g.list))
}

func (g *scene) minute(t time.Time) int { return int(t.Sub(g.base).Minutes()) }

func (g *scene) at(minute int) time.Time { return g.base.Add(time.Duration(minute) * time.Minute) }

// put lays the tasks of the piece at i into the problem, anew each time.
func (g *scene) put(i int) {
	e := &g.list[i]
	e.notes = nil
	piece := schedule.Piece{ID: e.Name, Due: schedule.NoDue}
	if !e.Due.IsZero() {
		piece.Due = g.minute(e.Due)
	}
	current := plan.RoundUp(g.now.Sub(g.base).Minutes())
	poured := e.poured()
	for k, t := range e.plan.Tasks {
		task := schedule.Task{ID: t.Key, Name: words.Task(t, e.plan), Hands: t.Hands, Take: t.Take, Free: t.Free, Mix: t.Mix,
			NotIn: current}
		for _, w := range t.Waits {
			why := msg.Text(msg.ID(w.Why))
			if msg.Is(w.What) {
				why = msg.Join(" ", w.What, why)
			}
			wait := schedule.Wait{After: w.After, Min: w.Min, Max: w.Max, Why: why}
			if e.loose {
				wait.Max = schedule.NoMax
			}
			task.Waits = append(task.Waits, wait)
		}
		if t.Take && e.Start.After(g.now) {
			task.NotIn = g.minute(e.Start)
		}
		if h, ok := e.timing.Happened[t.Key]; ok {
			from := g.minute(h.Start)
			task.Fixed, task.Done, task.Begun = &from, h.Done, !h.Done
			task.Waits = nil // what has happened waits for nothing, also when it was begun too early
			if h.Done {
				task.Hands = max(0, g.minute(h.End)-from)
			}
		} else if e.overtaken(k, poured) {
			from := g.minute(e.timing.Happened[e.plan.Tasks[poured].Key].Start)
			task.Fixed, task.Done, task.Hands, task.Waits = &from, true, 0, nil
		}
		piece.Tasks = append(piece.Tasks, task)
	}
	g.pins(i, &piece, current)
	g.missed(i, &piece, current)
	g.onRack(i, &piece)
	g.problem.Pieces[i] = piece
}

// poured is the last task that pours and was begun; below nothing for none.
func (e *entry) poured() int {
	for k, t := range slices.Backward(e.plan.Tasks) {
		if _, begun := e.timing.Happened[t.Key]; begun && t.Kind == plan.TaskPour {
			return k
		}
	}
	return -1
}

// overtaken reports whether a task was to be done before a coat that was poured without
// it: there is no dam to be built under resin.
func (e *entry) overtaken(k, poured int) bool {
	t := e.plan.Tasks[k]
	_, happened := e.timing.Happened[t.Key]
	return k < poured && !happened && (t.Kind == plan.TaskPrepare || t.Kind == plan.TaskBetween)
}

// pins lays pinned tasks where the painter wants them.
func (g *scene) pins(i int, piece *schedule.Piece, current int) {
	e := &g.list[i]
	for _, m := range g.marks[e.ID] {
		for k := range piece.Tasks {
			t := &piece.Tasks[k]
			if e.plan.Tasks[k].Key != m.Task || m.Kind != store.MarkPin || t.Fixed != nil {
				continue
			}
			minute := g.minute(m.At)
			switch {
			case e.letGo[m.Task]:
				e.notes = append(e.notes, Note{Code: PinLetGo, Piece: e.ID, Name: e.Name, Task: &e.plan.Tasks[k], Plan: e.plan,
					At: m.At.Local()})
			case minute >= current:
				t.Fixed = &minute
			}
		}
	}
}

// missed gives up windows that closed while their task was not done, and says
// the repair.
func (g *scene) missed(i int, piece *schedule.Piece, now int) {
	e := &g.list[i]
	for k := range piece.Tasks {
		t := &piece.Tasks[k]
		for w := range t.Waits {
			wait := &t.Waits[w]
			before := piece.Tasks[wait.After]
			if t.Done || wait.Max == schedule.NoMax || !before.Done || before.Fixed == nil {
				continue
			}
			closes := *before.Fixed + before.Hands + wait.Max
			if closes >= now {
				continue
			}
			wait.Max = schedule.NoMax
			task := &e.plan.Tasks[k]
			code, said := missedCodes[task.Kind]
			if !said {
				code = WindowMissed
			}
			if task.Kind == plan.TaskLook { // nothing to repair: it is too late to see
				t.Fixed, t.Done, t.Hands = &closes, true, 0
				continue
			}
			e.notes = append(e.notes, Note{Code: code, Piece: e.ID, Name: e.Name, Task: task, Plan: e.plan, At: g.at(closes)})
		}
	}
}

var missedCodes = map[plan.TaskKind]NoteCode{plan.TaskTape: TapeMissed, plan.TaskPour: TackyMissed}

// onRack gives the piece its class of places; a board that fits none is
// planned without one, and said.
func (g *scene) onRack(i int, piece *schedule.Piece) {
	classes := g.book.Settings.Rack
	if len(classes) == 0 {
		return
	}
	e := &g.list[i]
	class := 0
	for _, b := range e.plan.Boards {
		c := calendar.Fits(classes, b.Bounds().Width(), b.Bounds().Height())
		if c < 0 {
			e.notes = append(e.notes, Note{Code: NoPlaceFits, Piece: e.ID, Name: e.Name})
			class = -1
			break
		}
		class = max(class, c)
	}
	if n := len(e.plan.Boards); class >= 0 && n > classes[class].Count {
		e.notes = append(e.notes, Note{Code: FewPlaces, Piece: e.ID, Name: e.Name, Need: n, Have: classes[class].Count})
		class = -1
	}
	if class < 0 {
		for k := range piece.Tasks {
			piece.Tasks[k].Take, piece.Tasks[k].Free = false, false
		}
		return
	}
	piece.Rack, piece.Places = class, len(e.plan.Boards)
}
