package commissions

import (
	"context"
	"errors"
	"fmt"
	"strings"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/materials"
	"jevvo/internal/studio/pieces"
)

// Sizes of what a commission is begun with.
const (
	tileSide  = 100 * units.Millimetre // a usual test tile (common practice)
	tileDepth = 4 * units.Millimetre
)

// brief is the client's wishes and exclusions, for a piece's own brief.
func (c Commission) brief() msg.Text {
	var said []msg.Text
	if c.Wanted != "" {
		said = append(said, msg.F("Wanted: %s.", strings.TrimSuffix(c.Wanted, ".")))
	}
	if c.Unwanted != "" {
		said = append(said, msg.F("Avoid: %s.", strings.TrimSuffix(c.Unwanted, ".")))
	}
	return msg.Sentences(said...)
}

// AddTile gives a commission a test tile with a recipe of its own.
func (s *Service) AddTile(ctx context.Context, id int64, name, tech string) (pieces.Piece, error) {
	spec, b, err := s.pieces.Proposed(ctx, "")
	if err != nil {
		return pieces.Piece{}, err
	}
	var p pieces.Piece
	err = s.store.Write(ctx, "keep the test tile", func(tx *store.Tx) error {
		c, err := read(ctx, tx.Reader, id)
		if err != nil {
			return err
		}
		tiles, err := tilesOf(ctx, tx, id)
		if err != nil {
			return err
		}
		if name == "" {
			name = msg.F("%s, tile %d", pieces.Shorten(c.Name, 60), tiles+1).In(b.Settings.Lang())
		}
		first := spec.Layers[0]
		if t, ok := b.Techniques().Find(tech); ok && !t.Between {
			first = plan.NewCoat(b.Context, plan.FirstCoat, t, first.Coat.Product, first.Coat.Amount.Film)
		}
		if err := pieces.Wish(first.Coat, c.Wanted, c.Unwanted, b); err != nil {
			return err
		}
		spec.Name, spec.Brief = pieces.Shorten(name, 80), pieces.Shorten(msg.Say(c.brief(), b.Settings.Lang()), 4000)
		spec.Stand(surface.Tile)
		spec.Width, spec.Height, spec.Depth, spec.BackMask = tileSide, tileSide, tileDepth, false
		spec.Layers = []plan.Layer{first}
		spec.Commission, spec.Tile = id, true
		if p, err = pieces.AddTo(ctx, tx, spec, s.now()); err != nil {
			return err
		}
		if c.State != Asked {
			return nil
		}
		c.State = Testing
		return tx.SaveForGood(ctx, store.Commissions, id, c.Rev, c.Name, c)
	})
	return p, err
}

// tilesOf counts the test tiles of a commission.
func tilesOf(ctx context.Context, tx *store.Tx, id int64) (n int, err error) {
	rows, err := tx.PiecesOf(ctx, id)
	for _, row := range rows {
		p, broken := pieces.Decode(row)
		if broken == nil && p.Tile {
			n++
		}
	}
	return n, err
}

// ChooseTile records which test tile the client chose, and why.
func (s *Service) ChooseTile(ctx context.Context, id, tile int64, why string) error {
	return s.store.Write(ctx, "keep the choice", func(tx *store.Tx) error {
		c, err := read(ctx, tx.Reader, id)
		if err != nil {
			return err
		}
		row, err := tx.Piece(ctx, tile)
		if err != nil {
			return err
		}
		p, err := pieces.Decode(row)
		if err != nil {
			return err
		}
		if p.Commission != id || !p.Tile {
			return form.Refusef("tile", "choose one of this commission's test tiles")
		}
		c.Chosen, c.Why, c.Shown, c.State = tile, pieces.Shorten(why, 1000), s.now(), Chosen
		return tx.SaveForGood(ctx, store.Commissions, id, c.Rev, c.Name, c)
	})
}

// BoardsFromTile plans the boards of a commission from the chosen tile's
// recipe at equal film and load: one piece of so many boards, so that all of a
// set come from the same lots, poured from now on.
func (s *Service) BoardsFromTile(ctx context.Context, id int64, typed map[string]string) (pieces.Piece, form.Notices,
	error) {
	b, err := s.materials.Book(ctx)
	if err != nil {
		return pieces.Piece{}, form.Notices{}, err
	}
	var p pieces.Piece
	var n form.Notices
	err = s.store.Write(ctx, "keep the boards", func(tx *store.Tx) error {
		c, err := read(ctx, tx.Reader, id)
		if err != nil {
			return err
		}
		row, err := tx.Piece(ctx, c.Chosen)
		if c.Chosen == 0 || errors.Is(err, store.ErrNotFound) {
			return form.Refusef("tile", "choose a test tile first")
		}
		if err != nil {
			return err
		}
		tile, err := pieces.Decode(row)
		if err != nil {
			return err
		}
		values := map[string]string{}
		for k, v := range typed {
			values[k] = v
		}
		if values["name"] == "" {
			values["name"] = pieces.Shorten(c.Name, 80)
		}
		var spec plan.Spec
		if spec, n = pieces.Rescaled(tile.Spec, values, b); !n.OK() {
			return nil
		}
		spec = s.pieces.Fresh(spec)
		spec.Tile, spec.Commission, spec.Due, spec.BackMask = false, id, c.Due, true
		if p, err = pieces.AddTo(ctx, tx, spec, s.now()); err != nil {
			return err
		}
		c.State = Making
		return tx.SaveForGood(ctx, store.Commissions, id, c.Rev, c.Name, c)
	})
	return p, n, err
}

// Like is a board of the size and number of another, made as a tile is; false for a
// tile that cannot be made so large.
func Like(tile, board plan.Spec, b *materials.Book) (plan.Spec, bool) {
	typed := map[string]string{"name": board.Name, "size": fmt.Sprintf("%.3f mm x %.3f mm", float64(board.Width),
		float64(board.Height)), "count": fmt.Sprint(max(1,
		board.Count)), "depth": fmt.Sprintf("%.3f mm", float64(board.Depth))}
	spec, n := pieces.Rescaled(tile, typed, b)
	if !n.OK() || len(spec.Layers) == 0 || spec.Layers[0].Coat == nil {
		return spec, false
	}
	spec.Tile = false
	return spec, true
}
