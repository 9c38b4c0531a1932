package preview

import (
	"bytes"
	"context"
	"image"
	"image/png"
	"math"
	"slices"
	"sync"
	"time"

	"jevvo/internal/core/flow"
	"jevvo/internal/core/geom"
	"jevvo/internal/core/preview"
	"jevvo/internal/core/refusal"
	"jevvo/internal/exchange/still"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/recovery"
)

// A Play is a coat being calculated, frame by frame.
type Play struct {
	Key   string
	Piece int64
	Coat  string
	Name  string   // of the piece
	lang  msg.Lang // of what is written under a picture
	Scene *preview.Scene
	Times []float64     // s since mixing began, of all frames
	Takes time.Duration // it will, by how long the last one took

	day    time.Time
	look   string
	fine   bool // on twice the cells
	cancel context.CancelFunc
	ctx    context.Context

	mu      sync.Mutex
	frames  []*Frame
	err     error
	ended   bool
	waiting bool // for its turn
	watched int  // by so many
	changed chan struct{}

	moving sync.Once
	film   []byte
	broken error
}

// A Frame is the board at a moment.
type Frame struct {
	At      float64
	Picture []byte // PNG, up to four by four points a cell, clear beside the face
	sharp   []byte // PNG of all points there are, of the last frame; nil of others
	Relief  []byte // PNG, grey: the film over Deepest, a point a cell
	Sample  flow.Sample
	Visible []float64 // share of the face that shows each cup
	Ground  float64   // and the ground
	Opens   []flow.Opening
	columns flow.Snapshot
	seen    *flow.Glance // what its picture stands on; nil of those before the last
}

// frames is how many a play has at most; scale is how many points a cell has at most in a
// picture; patience is how long it may be calculated.
const (
	frames   = 72
	scale    = 4
	patience = 4 * time.Minute
)

func newPlay(key string, v View, s *preview.Scene, today time.Time) *Play {
	p := &Play{
		Key:     key,
		Piece:   v.Piece.ID,
		Coat:    v.Coat.ID,
		Name:    v.Piece.Name,
		day:     today,
		lang:    v.Agenda.Book.Settings.Lang(),
		look:    Look(v.Plan, v.Coat),
		fine:    v.Tried.Fine,
		Scene:   s,
		Times:   s.Frames(frames),
		changed: make(chan struct{}),
	}
	p.ctx, p.cancel = context.WithTimeout(context.Background(), patience)
	return p
}

// run calculates the frames, when it is its turn, and hands a whole play on.
func (p *Play) run(turn chan struct{}, whole func(*Play, time.Duration)) {
	defer p.cancel()
	p.tell(func() { p.waiting = true })
	select {
	case turn <- struct{}{}:
		defer func() { <-turn }()
	case <-p.ctx.Done():
		p.end(p.ctx.Err())
		return
	}
	p.tell(func() { p.waiting = false })
	began := time.Now()
	p.end(recovery.Do(func() error {
		err := p.calculate()
		if err == nil {
			whole(p, time.Since(began))
		}
		return err
	}))
}

func (p *Play) calculate() error {
	r, err := flow.Begin(p.ctx, p.Scene.Scene)
	if err != nil {
		return err
	}
	for n, at := range p.Times {
		if err := r.To(p.ctx, at); err != nil {
			return err
		}
		f, err := p.frame(r, n)
		if err != nil {
			return err
		}
		p.tell(func() {
			if n > 0 && p.frames[n-1].seen != f.seen {
				p.frames[n-1].seen = nil // of no more use
			}
			p.frames = append(p.frames, f)
		})
	}
	return nil
}

// tell changes the play and wakes those who wait.
func (p *Play) tell(do func()) {
	p.mu.Lock()
	defer p.mu.Unlock()
	do()
	close(p.changed)
	p.changed = make(chan struct{})
}

// work is that of a play, in cells at a frame or a move: more on finer cells, as steps are
// shorter there.
func work(s *preview.Scene, frames int) float64 {
	fine := math.Max(1, float64(max(s.Grid.NX, s.Grid.NY))/preview.Usual)
	return float64(s.Grid.Len()) * float64(frames+len(s.Scene.Moves)) * fine
}

func (p *Play) end(err error) { p.tell(func() { p.ended, p.err = true, err }) }

// lasts reports whether a play is whole, or still on its way there.
func (p *Play) lasts() bool {
	p.mu.Lock()
	defer p.mu.Unlock()
	if p.ended {
		return p.err == nil
	}
	return p.ctx.Err() == nil
}

// Watch notes that somebody looks on; when the last of them leaves, a play that is not whole
// ends.
func (p *Play) Watch() (leave func()) {
	p.mu.Lock()
	defer p.mu.Unlock()
	p.watched++
	return func() {
		p.mu.Lock()
		defer p.mu.Unlock()
		if p.watched--; p.watched == 0 && !p.ended {
			p.cancel()
		}
	}
}

// State is how far a play is.
type State struct {
	Frames  int
	Waiting bool
	Ended   bool
	Err     error
}

// Wait returns when there is more than there was, or nothing to come.
func (p *Play) Wait(ctx context.Context, was State) State {
	for {
		p.mu.Lock()
		s, changed := State{len(p.frames), p.waiting, p.ended, p.err}, p.changed
		p.mu.Unlock()
		if s.Frames > was.Frames || s.Waiting != was.Waiting || s.Ended {
			return s
		}
		select {
		case <-changed:
		case <-ctx.Done():
			s.Err = ctx.Err()
			return s
		}
	}
}

// End returns when there is nothing more to come.
func (p *Play) End(ctx context.Context) State {
	var s State
	for !s.Ended && s.Err == nil {
		s = p.Wait(ctx, s)
	}
	return s
}

// Frame returns a frame that is calculated.
func (p *Play) Frame(k int) (*Frame, bool) {
	p.mu.Lock()
	defer p.mu.Unlock()
	if k < 0 || k >= len(p.frames) {
		return nil, false
	}
	return p.frames[k], true
}

// Deepest is the film that is white in a relief, in m.
const Deepest = 0.004

func (p *Play) frame(r *flow.Run, n int) (*Frame, error) {
	f := &Frame{At: r.At(), Sample: r.Sample(), Opens: r.Openings(), columns: r.Coat().Snapshot(), seen: r.Glance()}
	if last := len(p.Times) - 1; n > 0 && n < last {
		if was, _ := p.Frame(n - 1); f.seen.Same(was.seen) { // it rests: the picture is as it was
			f.Picture, f.Relief, f.Visible, f.Ground, f.seen = was.Picture, was.Relief, was.Visible, was.Ground, was.seen
			return f, nil
		}
	}
	g := p.Scene.Grid
	points := usualPoints(g)
	pix, visible, ground, err := p.Scene.Painter.Look(p.ctx, r, points)
	if err != nil {
		return nil, err
	}
	f.Visible, f.Ground = visible, ground
	if f.Picture, err = packed(pointsOf(pix, g, points)); err != nil {
		return nil, err
	}
	if n == len(p.Times)-1 {
		if f.sharp, err = pictured(p.ctx, p.Scene, r, p.Scene.Points); err != nil {
			return nil, err
		}
	}
	relief := image.NewGray(image.Rect(0, 0, g.NX, g.NY))
	for i, h := range r.Coat().Film().H() {
		relief.Pix[(g.NY-1-i/g.NX)*relief.Stride+i%g.NX] = uint8(math.Min(255, 255*h/Deepest))
	}
	f.Relief, err = packed(relief)
	return f, err
}

// Sharpest is the picture of all the points there are, or else the usual one.
func (f *Frame) Sharpest() []byte {
	if f.sharp != nil {
		return f.sharp
	}
	return f.Picture
}

// usualPoints is how many points a cell has in a picture: a fine one is no larger.
func usualPoints(g flow.Grid) int {
	return min(scale, max(1, scale*preview.Usual/max(g.NX, g.NY)))
}

// pictured is the board as it looks now, at so many points a cell, as PNG.
func pictured(ctx context.Context, s *preview.Scene, r *flow.Run, points int) ([]byte, error) {
	pix, err := s.Painter.Picture(ctx, r, points)
	if err != nil {
		return nil, err
	}
	return packed(pointsOf(pix, s.Grid, points))
}

// pointsOf is a picture of so many points a cell.
func pointsOf(pix []byte, g flow.Grid, points int) image.Image {
	w, h := g.NX*points, g.NY*points
	return &image.NRGBA{Pix: pix, Stride: 4 * w, Rect: image.Rect(0, 0, w, h)}
}

func packed(m image.Image) ([]byte, error) {
	var b bytes.Buffer
	e := png.Encoder{CompressionLevel: png.BestSpeed}
	err := e.Encode(&b, m)
	return b.Bytes(), err
}

// board is a frame ready to leave the program, with a scale, the piece's name, the
// moment and the day.
func (p *Play) board(f *Frame, picture []byte) (still.Board, error) {
	m, err := png.Decode(bytes.NewReader(picture))
	under := msg.F("%s, calculated for minute %.0f, %s", p.Name, f.At/60, msg.Date(p.day, "2 Jan 2006"))
	return still.Board{Picture: m, Wide: float64(p.Scene.Box.Width()), Words: under.In(p.lang)}, err
}

// Still is a frame as a PNG that can leave the program.
func (p *Play) Still(f *Frame) ([]byte, error) {
	b, err := p.board(f, f.Sharpest())
	if err != nil {
		return nil, err
	}
	return still.PNG(b)
}

// So many frames go into the animated picture at most, a tenth of a second each, the last
// one longer.
const (
	movingMost  = 36
	movingTenth = 100 * time.Millisecond
	movingLast  = 3 * time.Second
)

// ErrUnfinished says that a play is not whole yet.
var ErrUnfinished = form.Refusef("", "the preview is not finished yet; wait until it is")

// Moving is the whole play as an animated PNG that can leave the program; an error
// before it is whole.
func (p *Play) Moving() ([]byte, error) {
	if _, whole := p.Frame(len(p.Times) - 1); !whole {
		return nil, ErrUnfinished
	}
	p.moving.Do(func() { p.film, p.broken = p.animate() })
	return p.film, p.broken
}

func (p *Play) animate() ([]byte, error) {
	var all []still.Board
	every := (len(p.Times) + movingMost - 1) / movingMost
	for k := range p.Times {
		if (len(p.Times)-1-k)%every != 0 {
			continue
		}
		f, _ := p.Frame(k)
		b, err := p.board(f, f.Picture)
		if err != nil {
			return nil, err
		}
		b.For = movingTenth
		all = append(all, b)
	}
	all[len(all)-1].For = movingLast
	return still.Moving(all)
}

// errBeside says that a point is not on the face.
var errBeside = refusal.New("that spot is off the board")

// A Seen is a layer under the loupe, uppermost first.
type Seen struct {
	Cup    int // flow.Mixed for what was stirred
	Film   float64
	Hiding float64
}

// Loupe is the layers at a point of the board, in mm from its upper left, in a
// frame.
func (p *Play) Loupe(k int, at geom.Point) ([]Seen, error) {
	f, ok := p.Frame(k)
	if !ok {
		return nil, errBeside
	}
	i := p.Scene.Grid.CellAt(p.Scene.OnGrid(at))
	if i < 0 {
		return nil, errBeside
	}
	var out []Seen
	for _, l := range slices.Backward(f.columns.Column(i)) {
		s := Seen{Cup: l.Cup, Film: l.Film, Hiding: 1}
		if l.Cup != flow.Mixed {
			s.Hiding = p.Scene.Painter.Hiding(l.Cup, l.Film)
		}
		out = append(out, s)
	}
	return out, nil
}
