package studio

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"time"

	"jevvo/internal/core/schedule"
	"jevvo/internal/store"
)

// mostPlanned is how many open pieces are planned at once; those due first.
const mostPlanned = 150

// Days is the plan of all open pieces.
type Days struct {
	Now, Base time.Time
	Settings  Settings
	Tasks     []PlannedTask // in order of time
	Pieces    []DayPiece
	Late      int // minutes, summed over pieces
	LastEnd   time.Time
	Bound     time.Time
	Proven    bool
	Reasons   []string // why pieces are late, or what had to be given up
	Repairs   []string // windows that were missed, and what to do
	LeftOut   []string // pieces that cannot be planned at all
	Changed   []Change // since the plan of an earlier day
	Since     string
	More      bool // there are more open pieces than are planned
}

// A PlannedTask is a task with its time.
type PlannedTask struct {
	TaskInfo
	PieceID   int64
	Piece     string
	Swatch    string
	Start     time.Time
	End       time.Time
	Hands     int
	Done      bool
	Pinned    bool
	NotBefore time.Time // of its window; zero for none
	NotAfter  time.Time
	Late      bool
}

// A DayPiece is a piece of the plan as a whole.
type DayPiece struct {
	ID      int64
	Name    string
	Swatch  string
	Due     time.Time
	End     time.Time
	Late    time.Duration
	ShelfIn time.Time // its stay on the shelf
	ShelfTo time.Time
	Plan    Plan
}

// A Change is a task that has moved since an earlier day.
type Change struct {
	Piece, Task string
	Was, Is     time.Time // zero when it was not, or is no longer, there
}

// dayOptions are what a what-if changes; the zero value plans what is.
type dayOptions struct {
	settings func(*Settings)
	spec     func(spec *Spec, late bool)
	hours    func(set Settings, day time.Time) (from, to time.Time, ok bool)
	late     map[int64]bool
}

// dayProblem is the schedule with all that is needed to read it back.
type dayProblem struct {
	problem schedule.Problem
	base    time.Time
	set     Settings
	pieces  []Piece
	plans   []Plan
	infos   [][]TaskInfo
	repairs []string
	notes   []string
	leftOut []string
	letGo   map[string]bool // pins that cannot be kept, by piece and task
	more    bool
}

// Days plans all open pieces as they stand now.
func (s *Studio) Days(ctx context.Context) (Days, error) {
	d, err := s.days(ctx, dayOptions{})
	if err != nil {
		return d, err
	}
	return d, s.sinceYesterday(ctx, &d)
}

func (s *Studio) days(ctx context.Context, o dayOptions) (Days, error) {
	g, err := s.gather(ctx, o)
	if err != nil {
		return Days{}, err
	}
	plan, reasons, err := s.settle(ctx, &g)
	if err != nil {
		return Days{}, err
	}
	return g.read(plan, reasons, s.now()), nil
}

// gather lays all open pieces out as one problem.
func (s *Studio) gather(ctx context.Context, o dayOptions) (dayProblem, error) {
	set, err := s.Settings(ctx)
	if err != nil {
		return dayProblem{}, err
	}
	if o.settings != nil {
		o.settings(&set)
	}
	rows, err := s.store.OpenPieces(ctx, mostPlanned+1)
	if err != nil {
		return dayProblem{}, err
	}
	now := s.now().Local()
	y, m, d := now.Date()
	g := dayProblem{base: time.Date(y, m, d, 0, 0, 0, 0, now.Location()), set: set, more: len(rows) > mostPlanned}
	marks, err := s.store.TaskMarks(ctx)
	if err != nil {
		return g, err
	}
	var extra func(time.Time) (time.Time, time.Time, bool)
	if o.hours != nil {
		extra = func(day time.Time) (time.Time, time.Time, bool) { return o.hours(set, day) }
	}
	g.problem.Open = set.openHours(g.base, extra)
	classes := set.ShelfClasses()
	for _, c := range classes {
		g.problem.Shelf = append(g.problem.Shelf, c.Count)
	}
	for _, row := range rows[:min(len(rows), mostPlanned)] {
		p, err := decodePiece(row)
		if err != nil {
			return g, err
		}
		if o.spec != nil {
			p.Spec = clone(p.Spec)
			o.spec(&p.Spec, o.late[p.ID])
		}
		if err := s.addPiece(ctx, &g, p, set, marks, now); err != nil {
			return g, err
		}
	}
	return g, nil
}

// addPiece lays one piece out; one that cannot be reckoned is left out and
// said.
func (s *Studio) addPiece(ctx context.Context, g *dayProblem, p Piece, set Settings, marks []store.TaskMark, now time.Time) error {
	plan, err := s.planWith(ctx, p, set, nil, false)
	var refused *RefusedError
	if errors.As(err, &refused) {
		g.leftOut = append(g.leftOut, fmt.Sprintf("%s cannot be reckoned: %s", p.Name, refused.Err))
		return nil
	}
	if err != nil {
		return err
	}
	benches, err := s.BenchesOf(ctx, p.ID, false)
	if err != nil {
		return err
	}
	g.put(len(g.pieces), p, plan, happenedAt(benches), marks, now)
	return nil
}

// planWith reckons a piece under some settings, its coats starting when they
// are planned to; loose gives up windows that cannot be kept.
func (s *Studio) planWith(ctx context.Context, p Piece, set Settings, starts map[string]time.Time, loose bool) (Plan, error) {
	plan, err := s.planUnder(ctx, p, set, starts, true)
	plan.looseTape, plan.looseRecoat = loose, loose
	return plan, err
}

// put adds a piece's tasks to the problem, or replaces them.
func (g *dayProblem) put(at int, p Piece, plan Plan, happened map[string]Happened, marks []store.TaskMark, now time.Time) {
	infos, tasks := plan.Tasks()
	piece := schedule.Piece{ID: p.Name, Due: schedule.NoDue, Tasks: tasks}
	if !p.Due.IsZero() {
		piece.Due = g.minute(p.Due)
	}
	g.onShelf(&piece, plan)
	current := roundUp(now.Sub(g.base).Minutes())
	for i := range piece.Tasks {
		t := &piece.Tasks[i]
		t.NotIn = current
		if t.Take && p.Start.After(now) {
			t.NotIn = g.minute(p.Start)
		}
		if h, ok := happened[infos[i].Key]; ok {
			from := g.minute(h.Start)
			t.Fixed, t.Done = &from, h.Done
			if h.Done {
				t.Hands = max(0, g.minute(h.End)-from)
			}
		}
	}
	for _, m := range marks {
		if m.Piece != p.ID {
			continue
		}
		for i := range piece.Tasks {
			t := &piece.Tasks[i]
			if infos[i].Key != m.Task || t.Done {
				continue
			}
			minute := g.minute(m.At)
			if m.Kind == store.MarkDone {
				minute -= t.Hands
				t.Fixed, t.Done = &minute, true
			} else if t.Fixed == nil && minute >= current && !g.letGo[pinKey(p.ID, m.Task)] {
				t.Fixed = &minute
			}
		}
	}
	g.missed(&piece, infos, current)
	if at == len(g.pieces) {
		g.pieces, g.plans, g.infos = append(g.pieces, p), append(g.plans, plan), append(g.infos, infos)
		g.problem.Pieces = append(g.problem.Pieces, piece)
		return
	}
	g.plans[at], g.infos[at], g.problem.Pieces[at] = plan, infos, piece
}

func pinKey(piece int64, task string) string { return fmt.Sprintf("%d/%s", piece, task) }

// unpin lets the pins of a piece go and reports whether there were any.
func (g *dayProblem) unpin(i int, marks []store.TaskMark) bool {
	any := false
	for _, m := range marks {
		key := pinKey(m.Piece, m.Task)
		if m.Kind != store.MarkPin || m.Piece != g.pieces[i].ID || g.letGo[key] {
			continue
		}
		if g.letGo == nil {
			g.letGo = map[string]bool{}
		}
		g.letGo[key] = true
		for k, info := range g.infos[i] {
			if info.Key == m.Task && !g.problem.Pieces[i].Tasks[k].Done {
				any = true
				g.note(fmt.Sprintf("%s, %s cannot lie at %s: its waits or the other work do not allow it. The pin was let go.",
					g.pieces[i].Name, lower(info.Name), m.At.Local().Format("Mon 2 Jan 15:04")))
			}
		}
	}
	return any
}

func (g *dayProblem) minute(t time.Time) int { return int(t.Sub(g.base).Minutes()) }

func (g *dayProblem) at(minute int) time.Time {
	return g.base.Add(time.Duration(minute) * time.Minute)
}

// onShelf gives the piece its class of places; a board that fits none is
// planned without one, and said.
func (g *dayProblem) onShelf(piece *schedule.Piece, plan Plan) {
	classes := g.set.ShelfClasses()
	if len(classes) == 0 {
		return
	}
	class := 0
	for _, b := range plan.Boards {
		c := fits(classes, b)
		if c < 0 {
			g.note(fmt.Sprintf("%s fits no place on the shelf; it is planned as if it lay elsewhere.", piece.ID))
			class = -1
			break
		}
		class = max(class, c)
	}
	if class >= 0 && len(plan.Boards) > classes[class].Count {
		g.note(fmt.Sprintf("%s needs %d places; the shelf has %d that fit. It is planned as if it lay elsewhere.", piece.ID, len(plan.Boards), classes[class].Count))
		class = -1
	}
	if class < 0 {
		for i := range piece.Tasks {
			piece.Tasks[i].Take, piece.Tasks[i].Free = false, false
		}
		return
	}
	piece.Shelf, piece.Places = class, len(plan.Boards)
}

func (g *dayProblem) note(text string) {
	if !slices.Contains(g.notes, text) {
		g.notes = append(g.notes, text)
	}
}

// missed gives up windows that closed while their task was not done, and says
// the repair.
func (g *dayProblem) missed(piece *schedule.Piece, infos []TaskInfo, now int) {
	for i := range piece.Tasks {
		t := &piece.Tasks[i]
		if t.Done {
			continue
		}
		for w := range t.Waits {
			wait := &t.Waits[w]
			before := piece.Tasks[wait.After]
			if wait.Max == schedule.NoMax || !before.Done || before.Fixed == nil {
				continue
			}
			closes := *before.Fixed + before.Hands + wait.Max
			if closes >= now {
				continue
			}
			wait.Max = schedule.NoMax
			repair := ""
			switch infos[i].Kind {
			case TaskLook: // nothing to repair: it is too late to see
				t.Fixed, t.Done, t.Hands = &closes, true, 0
			case TaskTape:
				repair = "warm the edge with air and pull it slowly; trim what tears"
			case TaskPour:
				repair = "the tacky hours are over: wait for hard, scuff and wipe, then pour"
			default:
				repair = "do it as soon as you can"
			}
			if repair != "" {
				g.repairs = append(g.repairs, fmt.Sprintf("%s: %s was to be done by %s. Now %s.", piece.ID, lower(t.ID), g.at(closes).Format("Mon 15:04"), repair))
			}
		}
	}
}

// read turns a schedule back into days.
func (g *dayProblem) read(plan schedule.Plan, reasons []string, now time.Time) Days {
	d := Days{Now: now.Local(), Base: g.base, Settings: g.set, Late: plan.Late, Proven: plan.Proven, Reasons: reasons,
		Repairs: g.repairs, LeftOut: g.leftOut, More: g.more, LastEnd: g.at(plan.LastEnd), Bound: g.at(plan.Bound)}
	for i, p := range g.pieces {
		piece := g.problem.Pieces[i]
		view := DayPiece{ID: p.ID, Name: p.Name, Due: p.Due, Plan: g.plans[i], Swatch: swatchOfPlan(g.plans[i])}
		for k, t := range piece.Tasks {
			start := plan.Starts[i][k]
			task := PlannedTask{TaskInfo: g.infos[i][k], PieceID: p.ID, Piece: p.Name, Swatch: view.Swatch, Start: g.at(start),
				End: g.at(start + t.Hands), Hands: t.Hands, Done: t.Done, Pinned: t.Fixed != nil && !t.Done}
			for _, w := range t.Waits {
				end := plan.Starts[i][w.After] + piece.Tasks[w.After].Hands
				if from := g.at(end + w.Min); w.Max != schedule.NoMax && from.After(task.NotBefore) {
					task.NotBefore, task.NotAfter = from, g.at(end+w.Max)
				}
			}
			if t.Take {
				view.ShelfIn = task.Start
			}
			if t.Free {
				view.ShelfTo = task.End
			}
			if task.End.After(view.End) {
				view.End = task.End
			}
			d.Tasks = append(d.Tasks, task)
		}
		if !p.Due.IsZero() && view.End.After(p.Due) {
			view.Late = view.End.Sub(p.Due)
		}
		d.Pieces = append(d.Pieces, view)
	}
	late := map[int64]bool{}
	for _, p := range d.Pieces {
		late[p.ID] = p.Late > 0
	}
	for i := range d.Tasks {
		d.Tasks[i].Late = late[d.Tasks[i].PieceID]
	}
	slices.SortStableFunc(d.Tasks, func(a, b PlannedTask) int { return a.Start.Compare(b.Start) })
	return d
}

// swatchOfPlan is the colour a piece is known by on the days: its widest.
func swatchOfPlan(p Plan) string {
	best, swatch := -1.0, "#888888"
	for _, c := range p.Coats[0].Cups {
		if c.Share > best {
			best, swatch = c.Share, c.Swatch()
		}
	}
	return swatch
}

// sinceYesterday keeps the plan of the day and says what moved since the one
// before.
func (s *Studio) sinceYesterday(ctx context.Context, d *Days) error {
	today := d.Now.Format(time.DateOnly)
	kept := map[string]keptTask{}
	for _, t := range d.Tasks {
		if !t.Done && t.Kind != TaskLook {
			kept[strconv.FormatInt(t.PieceID, 10)+"/"+t.Key] = keptTask{t.Piece, t.Name, t.Start}
		}
	}
	if err := s.store.KeepPlanDay(ctx, today, kept); err != nil {
		return err
	}
	before := map[string]keptTask{}
	of, err := s.store.PlanBefore(ctx, today, &before)
	if err != nil || of == "" {
		return err
	}
	d.Since = of
	for key, was := range before {
		is, still := kept[key]
		switch {
		case !still && was.Start.After(d.Now):
			d.Changed = append(d.Changed, Change{Piece: was.Piece, Task: was.Task, Was: was.Start.Local()})
		case still && !is.Start.Equal(was.Start):
			d.Changed = append(d.Changed, Change{Piece: is.Piece, Task: is.Task, Was: was.Start.Local(), Is: is.Start})
		}
	}
	for key, is := range kept {
		if _, old := before[key]; !old {
			d.Changed = append(d.Changed, Change{Piece: is.Piece, Task: is.Task, Is: is.Start})
		}
	}
	slices.SortFunc(d.Changed, func(a, b Change) int {
		at := func(c Change) time.Time {
			if c.Is.IsZero() {
				return c.Was
			}
			return c.Is
		}
		return at(a).Compare(at(b))
	})
	return nil
}

type keptTask struct {
	Piece, Task string
	Start       time.Time
}

// Among returns the coats and the delivery of a piece as they lie among all
// pieces, and how late it would be; nothing for a piece that is not planned.
func (s *Studio) Among(ctx context.Context, piece int64) ([]PlannedTask, time.Duration, error) {
	d, err := s.days(ctx, dayOptions{})
	if err != nil {
		return nil, 0, err
	}
	var out []PlannedTask
	for _, t := range d.Tasks {
		if t.PieceID == piece && (t.Kind == TaskPour || t.Kind == TaskBetween || t.Kind == TaskDeliver) {
			out = append(out, t)
		}
	}
	for _, p := range d.Pieces {
		if p.ID == piece {
			return out, p.Late, nil
		}
	}
	return out, 0, nil
}

// MarkTask says that a task was done at a time, or takes that back (a zero
// time).
func (s *Studio) MarkTask(ctx context.Context, piece int64, task string, done time.Time) error {
	if err := s.hasTask(ctx, piece, task, done.IsZero()); err != nil {
		return err
	}
	return s.store.SetTaskMark(ctx, store.TaskMark{Piece: piece, Task: task, Kind: store.MarkDone, At: done})
}

// hasTask returns store.ErrNotFound when the plan has no such task. What is
// taken back need only have its piece: the task may be gone from the plan.
func (s *Studio) hasTask(ctx context.Context, piece int64, task string, takenBack bool) error {
	if _, err := s.Piece(ctx, piece); err != nil || takenBack {
		return err
	}
	d, err := s.days(ctx, dayOptions{})
	if err != nil {
		return err
	}
	if !slices.ContainsFunc(d.Tasks, func(t PlannedTask) bool { return t.PieceID == piece && t.Key == task }) {
		return store.ErrNotFound
	}
	return nil
}

// PinTask lays a task at a time; a zero time lets it go. A place outside the
// opening hours is refused.
func (s *Studio) PinTask(ctx context.Context, piece int64, task string, at time.Time) error {
	if err := s.hasTask(ctx, piece, task, at.IsZero()); err != nil {
		return err
	}
	if !at.IsZero() {
		set, err := s.Settings(ctx)
		if err != nil {
			return err
		}
		at = at.Local().Round(5 * time.Minute)
		from, to := set.open(at)
		switch {
		case at.Before(s.now()):
			return &RefusedError{errors.New("a task can only be laid where it is still to come")}
		case set.closedOn(at) || at.Before(from) || !at.Before(to):
			return &RefusedError{fmt.Errorf("the studio is shut at %s", at.Format("Mon 2 Jan 15:04"))}
		}
	}
	return s.store.SetTaskMark(ctx, store.TaskMark{Piece: piece, Task: task, Kind: store.MarkPin, At: at})
}
