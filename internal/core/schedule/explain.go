package schedule

import (
	"context"
	"sync"

	"jevvo/internal/msg"
)

// ReasonCode names what stands in the way of a plan.
type ReasonCode string

// The codes. What each carries besides its piece is named behind it.
const (
	LateByHours  ReasonCode = "late-by-hours"  // late by itself: open day and night it would be in time
	LateByWork   ReasonCode = "late-by-work"   // late by itself: its work alone takes longer
	LateByWaits  ReasonCode = "late-by-waits"  // late by itself: its waits last; the longest: Task, After, Minutes, Why
	LateByRack   ReasonCode = "late-by-rack"   // in time alone; with more level places less would be late
	LateByHands  ReasonCode = "late-by-hands"  // in time alone; the other pieces take the hands first
	NeverOpen    ReasonCode = "never-open"     // no opening hours at all
	InACircle    ReasonCode = "in-a-circle"    // Circle: tasks that wait for one another
	TaskTooLong  ReasonCode = "task-too-long"  // Task, Minutes; Most: the longest open stretch
	TooFewPlaces ReasonCode = "too-few-places" // Minutes: places it needs; Most: those there are
	WindowShut   ReasonCode = "window-shut"    // Task must start within Minutes after After
	WaitsShut    ReasonCode = "waits-shut"     // no hours let it keep its waits
	InTheWay     ReasonCode = "in-the-way"     // each could be planned alone
)

// A Reason says what stands in the way of a plan.
type Reason struct {
	Code        ReasonCode
	Piece       int // −1 for none in particular
	Task, After int
	Minutes     int
	Most        int
	Why         msg.Text
	Circle      []int
}

// Explain says why a problem has no plan, or why its best plan is late. Each
// suspicion is proved by planning again without what is suspected. An error is that of
// a context that ended.
func Explain(ctx context.Context, p Problem, plan Plan, feasible bool, s Settings) ([]Reason, error) {
	if !feasible {
		return p.impossible(ctx)
	}
	if plan.Late == 0 {
		return nil, nil
	}
	var out []Reason
	n := newNetwork(ctx, p)
	rival := sync.OnceValue(func() ReasonCode { return p.rival(ctx, s, plan) }) // it takes a whole plan to know
	for i, piece := range p.Pieces {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		end := plan.End(p, i)
		if end <= piece.Due {
			continue
		}
		starts, ok := n.alone(i)
		if !ok {
			continue
		}
		alone := 0
		for k, t := range piece.Tasks {
			alone = max(alone, starts[k]+t.Hands)
		}
		if alone > piece.Due {
			out = append(out, p.why(ctx, i))
		} else {
			out = append(out, Reason{Code: rival(), Piece: i})
		}
	}
	return out, ctx.Err()
}

// only is the problem of one of its pieces, on hours of its own.
func (p Problem) only(piece Piece, open []Interval) Problem {
	p.Pieces, p.Open = []Piece{piece}, open
	return p
}

// End is when a piece is finished.
func (pl Plan) End(p Problem, i int) int {
	end := 0
	for k, t := range p.Pieces[i].Tasks {
		end = max(end, pl.Starts[i][k]+t.Hands)
	}
	return end
}

// why names what binds a piece that is late by itself: its waits, or hours.
func (p Problem) why(ctx context.Context, i int) Reason {
	always := p.only(p.Pieces[i], []Interval{{0, MaxMinutes}})
	if free, ok := newNetwork(ctx, always).alone(0); ok {
		end := 0
		for k, t := range p.Pieces[i].Tasks {
			end = max(end, free[k]+t.Hands)
		}
		if end <= p.Pieces[i].Due {
			return Reason{Code: LateByHours, Piece: i}
		}
	}
	r := Reason{Code: LateByWork, Piece: i, Minutes: -1}
	for k, t := range p.Pieces[i].Tasks {
		for _, w := range t.Waits {
			if w.Min > r.Minutes {
				r = Reason{Code: LateByWaits, Piece: i, Task: k, After: w.After, Minutes: w.Min, Why: w.Why}
			}
		}
	}
	return r
}

// rival says what the others take away: places on the rack or hands.
func (p Problem) rival(ctx context.Context, s Settings, plan Plan) ReasonCode {
	if len(p.Rack) > 0 {
		roomy := p
		roomy.Rack = make([]int, len(p.Rack))
		for i := range roomy.Rack {
			roomy.Rack[i] = len(p.Pieces) * 24
		}
		if other, err := Solve(ctx, roomy, s); err == nil && other.Late < plan.Late {
			return LateByRack
		}
	}
	return LateByHands
}

// impossible says what keeps a problem from having any plan.
func (p Problem) impossible(ctx context.Context) ([]Reason, error) {
	if len(p.Open) == 0 {
		return []Reason{{Code: NeverOpen, Piece: -1}}, nil
	}
	longest := 0
	for _, o := range p.Open {
		longest = max(longest, o.To-o.From)
	}
	var out []Reason
	for i, piece := range p.Pieces {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		if c := piece.Circle(); c != nil {
			out = append(out, Reason{Code: InACircle, Piece: i, Circle: c})
			continue
		}
		before := len(out)
		for k, t := range piece.Tasks {
			if t.Fixed == nil && t.Hands > longest {
				out = append(out, Reason{Code: TaskTooLong, Piece: i, Task: k, Minutes: t.Hands, Most: longest})
			}
		}
		if take, _ := piece.stay(); take >= 0 && len(p.Rack) > 0 && piece.places() > p.Rack[piece.Rack] {
			out = append(out, Reason{Code: TooFewPlaces, Piece: i, Minutes: piece.places(), Most: p.Rack[piece.Rack]})
		}
		if len(out) == before {
			out = append(out, p.window(ctx, i)...)
		}
	}
	if len(out) == 0 {
		out = append(out, Reason{Code: InTheWay, Piece: -1})
	}
	return out, ctx.Err()
}

// window finds the longest wait of a piece that no opening hours let it keep.
func (p Problem) window(ctx context.Context, i int) []Reason {
	piece := p.Pieces[i]
	if _, ok := newNetwork(ctx, p.only(piece, p.Open)).alone(0); ok {
		return nil
	}
	var out []Reason
	for k, t := range piece.Tasks {
		for w, wait := range t.Waits {
			if wait.Max == NoMax {
				continue
			}
			if ctx.Err() != nil {
				return nil
			}
			loose := piece
			loose.Tasks = append([]Task(nil), piece.Tasks...)
			loose.Tasks[k].Waits = append([]Wait(nil), t.Waits...)
			loose.Tasks[k].Waits[w].Max = NoMax
			if _, ok := newNetwork(ctx, p.only(loose, p.Open)).alone(0); ok {
				out = append(out, Reason{Code: WindowShut, Piece: i, Task: k, After: wait.After, Minutes: wait.Max})
			}
		}
	}
	if len(out) == 0 {
		out = append(out, Reason{Code: WaitsShut, Piece: i})
	}
	return out
}
