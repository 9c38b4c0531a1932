// Package wall hangs the boards of a commission on a photograph of the room they are
// for, in true scale and perspective.
package wall

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"io"
	"strconv"
	"strings"
	"time"

	"jevvo/internal/core/geom"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
	"jevvo/internal/exchange/picture"
	"jevvo/internal/form"
	"jevvo/internal/store"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/commissions"
	"jevvo/internal/studio/journal"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/renders"
	"jevvo/internal/studio/setup"
)

// A Service hangs boards.
type Service struct {
	store       *store.Store
	setup       *setup.Service
	commissions *commissions.Service
	pieces      *pieces.Service
	agenda      *agenda.Service
	looks       *renders.Service
	journal     *journal.Service
	desk        *picture.Desk
	now         func() time.Time
}

// New returns the service.
func New(db *store.Store, set *setup.Service, cs *commissions.Service, ps *pieces.Service, ag *agenda.Service,
	lk *renders.Service, j *journal.Service, desk *picture.Desk, now func() time.Time) *Service {
	return &Service{db, set, cs, ps, ag, lk, j, desk, now}
}

// AddRoom keeps a photograph of the room.
func (s *Service) AddRoom(ctx context.Context, commission int64, r io.Reader) (int64, error) {
	if _, err := s.commissions.Commission(ctx, commission); err != nil {
		return 0, err
	}
	jpeg, err := s.desk.Reduce(ctx, r)
	if err != nil {
		return 0, &form.Refused{Field: "room", Err: err}
	}
	id := int64(0)
	return id, s.store.Write(ctx, "keep the room", func(tx *store.Tx) error {
		id, err = tx.AddPicture(ctx, store.WallPictures, commission, jpeg, s.now())
		return err
	})
}

// Rooms returns the photographs of rooms of a commission, and what was hung in them.
func (s *Service) Rooms(ctx context.Context, commission int64) (rooms, hung []int64, err error) {
	if rooms, err = s.store.Pictures(ctx, store.WallPictures, commission); err != nil {
		return nil, nil, err
	}
	hung, err = s.store.Pictures(ctx, store.HungPictures, commission)
	return rooms, hung, err
}

// Room returns a photograph of a room as JPEG.
func (s *Service) Room(ctx context.Context, commission, id int64) ([]byte, error) {
	return s.store.Picture(ctx, store.WallPictures, commission, id)
}

// Hung returns a room with what was hung in it, as JPEG.
func (s *Service) Hung(ctx context.Context, commission, id int64) ([]byte, error) {
	return s.store.Picture(ctx, store.HungPictures, commission, id)
}

// Newest returns the newest of them, nil when there is none.
func (s *Service) Newest(ctx context.Context, commission int64) ([]byte, error) {
	list, err := s.store.Pictures(ctx, store.HungPictures, commission)
	if err != nil || len(list) == 0 {
		return nil, err
	}
	return s.Hung(ctx, commission, list[len(list)-1])
}

// Asked is how boards are to be hung.
type Asked struct {
	Room int64
	// four of a patch on the wall, from the upper left clockwise, or the two ends of a known length, in shares of the
	// photograph
	Corners []geom.Point
	Width   units.Length // of the patch, or the known length
	Height  units.Length // of the patch
	Right   units.Length // of the middle of what hangs, from the middle of the patch
	Down    units.Length
	Gap     units.Length
	Pieces  []int64         // from left to right
	Photos  map[int64]int64 // photographs that stand for pieces
}

// Read reads how boards are to be hung as it is typed; pieces are ids.
func (s *Service) Read(ctx context.Context, typed map[string]string, pieces []string) (Asked, error) {
	set, err := s.setup.Settings(ctx)
	if err != nil {
		return Asked{}, err
	}
	a := Asked{Gap: 50, Photos: map[int64]int64{}}
	if a.Room, err = strconv.ParseInt(typed["room"], 10, 64); err != nil {
		return a, form.Refusef("room", "choose a photograph of the room first")
	}
	for part := range strings.FieldsSeq(typed["corners"]) {
		x, y, _ := strings.Cut(part, ",")
		px, err1 := strconv.ParseFloat(x, 64)
		py, err2 := strconv.ParseFloat(y, 64)
		if err1 != nil || err2 != nil || !(px >= -1 && px <= 2 && py >= -1 && py <= 2) {
			return a, form.Refusef("corners",
				"set the four corners of a patch you know the size of, or the two ends of one length")
		}
		a.Corners = append(a.Corners, geom.At(px, py))
	}
	if n := len(a.Corners); n != 2 && n != 4 {
		return a, form.Refusef("corners",
			"set the four corners of a patch you know the size of, or the two ends of one length")
	}
	for key, at := range map[string]*units.Length{"width": &a.Width, "height": &a.Height, "right": &a.Right,
		"down": &a.Down, "gap": &a.Gap} {
		text := strings.TrimSpace(typed[key])
		if text == "" || key == "height" && len(a.Corners) == 2 {
			continue
		}
		sign := units.Length(1)
		if rest, ok := strings.CutPrefix(text, "-"); ok && (key == "right" || key == "down") {
			sign, text = -1, rest
		}
		r, err := units.ParseLength(text, form.BareLength(set.Units))
		if err != nil {
			return a, &form.Refused{Field: key, Err: err}
		}
		if r.Value < 0 || r.Value > 20_000 {
			return a, form.Refusef(key, "a wall is at most 20 m")
		}
		*at = sign * r.Value
	}
	if a.Width < 10 || len(a.Corners) == 4 && a.Height < 10 {
		return a, form.Refusef("width", "enter the size of the patch, or the length")
	}
	for _, text := range pieces {
		id, err := strconv.ParseInt(text, 10, 64)
		if err != nil {
			return a, form.Refusef("pieces", "choose what hangs there")
		}
		a.Pieces = append(a.Pieces, id)
		if photo, err := strconv.ParseInt(typed["photo."+text], 10, 64); err == nil && photo > 0 {
			a.Photos[id] = photo
		}
	}
	if len(a.Pieces) == 0 {
		return a, form.Refusef("pieces", "choose what hangs there")
	}
	return a, nil
}

// Hang hangs boards in a room and keeps the picture.
func (s *Service) Hang(ctx context.Context, commission int64, a Asked) (int64, error) {
	photo, err := s.Room(ctx, commission, a.Room)
	if err != nil {
		return 0, err
	}
	size, _, err := image.DecodeConfig(bytes.NewReader(photo))
	if err != nil {
		return 0, fmt.Errorf("read the room: %w", err)
	}
	there, back, middle, err := a.projection(float64(size.Width), float64(size.Height))
	if err != nil {
		return 0, &form.Refused{Field: "corners", Err: err}
	}
	boards, err := s.boards(ctx, commission, a, middle)
	if err != nil {
		return 0, err
	}
	jpeg, err := picture.Hang(photo, there, back, boards)
	if err != nil {
		return 0, err
	}
	id := int64(0)
	return id, s.store.Write(ctx, "keep the picture", func(tx *store.Tx) error {
		id, err = tx.AddPicture(ctx, store.HungPictures, commission, jpeg, s.now())
		return err
	})
}

// projection takes mm of the wall to pixels; the patch's upper left corner, or the
// first end of the length, is at 0, 0.
func (a Asked) projection(w, h float64) (there, back geom.Projection, middle geom.Point, err error) {
	px := make([]geom.Point, len(a.Corners))
	for i, c := range a.Corners {
		px[i] = geom.At(c.X*w, c.Y*h)
	}
	width, height := float64(a.Width), float64(a.Height)
	var on [4]geom.Point
	if len(px) == 2 {
		dx, dy := px[1].X-px[0].X, px[1].Y-px[0].Y
		on = [4]geom.Point{px[0], px[1], geom.At(px[1].X-dy, px[1].Y+dx), geom.At(px[0].X-dy, px[0].Y+dx)}
		height = width
		middle = geom.At(width/2, 0)
	} else {
		copy(on[:], px)
		middle = geom.At(width/2, height/2)
	}
	patch := [4]geom.Point{geom.At(0, 0), geom.At(width, 0), geom.At(width, height), geom.At(0, height)}
	if there, err = geom.Project(patch, on); err != nil {
		return there, back, middle, err
	}
	back, err = geom.Project(on, patch)
	return there, back, middle, err
}

// boards are the pieces side by side, each board with its gap, their middle where it is
// asked.
func (s *Service) boards(ctx context.Context, commission int64, a Asked, middle geom.Point) ([]picture.Hung, error) {
	var out []picture.Hung
	x, highest := 0.0, 0.0
	for _, id := range a.Pieces {
		list, err := s.of(ctx, commission, id, a.Photos[id])
		if err != nil {
			return nil, err
		}
		for _, l := range list {
			out = append(out, picture.Hung{Picture: l.Picture, X: x, Width: l.Width, Height: l.Height})
			x += l.Width + float64(a.Gap)
			highest = max(highest, l.Height)
		}
	}
	wide := x - float64(a.Gap)
	for i := range out {
		out[i].X += middle.X + float64(a.Right) - wide/2
		out[i].Y = middle.Y + float64(a.Down) - out[i].Height/2
	}
	return out, nil
}

// of returns the boards of a piece of the commission: as they look, or a photograph.
func (s *Service) of(ctx context.Context, commission, id, photo int64) ([]renders.Look, error) {
	p, err := s.pieces.Piece(ctx, id)
	if err != nil {
		return nil, err
	}
	if p.Commission != commission {
		return nil, form.Refusef("pieces", "%s does not belong to this commission", p.Name)
	}
	v, err := s.agenda.Plan(ctx, p)
	if err != nil {
		return nil, err
	}
	list, err := s.looks.Of(ctx, v)
	if err != nil {
		return nil, err
	}
	if len(list) == 0 {
		return nil, form.Refusef("pieces", "%s cannot be calculated, so it cannot be hung", p.Name)
	}
	if photo == 0 {
		return list, nil
	}
	data, err := s.journal.PhotoPicture(ctx, id, photo, false)
	if err != nil {
		return nil, err
	}
	m, _, err := image.Decode(bytes.NewReader(data))
	if err != nil {
		return nil, refusal.New("the photograph cannot be read")
	}
	for i := range list {
		list[i].Picture = m
	}
	return list, nil
}
