package preview

import (
	"context"
	"fmt"
	"net/url"
	"time"

	"jevvo/internal/core/plan"
	"jevvo/internal/store"
)

// Stills are the looks of the coats of a piece that were played to the end, by
// coat.
type Stills map[string]string

// Address is where the still of a coat is that still looks as it did when it was
// played; "" without one.
func (s Stills) Address(piece int64, p *plan.Plan, c *plan.Coat) string {
	look, ok := s[c.ID]
	if !ok || look != Look(p, c) {
		return ""
	}
	return fmt.Sprintf("/pieces/%d/preview/still.png?%s", piece, url.Values{"coat": {c.ID}, "look": {look}}.Encode())
}

// Stills are those of some pieces.
func (s *Service) Stills(ctx context.Context, pieces ...int64) (map[int64]Stills, error) {
	list, err := s.store.Stills(ctx, pieces)
	if err != nil {
		return nil, err
	}
	out := map[int64]Stills{}
	for _, st := range list {
		if out[st.Piece] == nil {
			out[st.Piece] = Stills{}
		}
		out[st.Piece][st.Coat] = st.Look
	}
	return out, nil
}

// StillPicture is how a coat looked at the end of its last preview, a PNG.
func (s *Service) StillPicture(ctx context.Context, piece int64, coat string) ([]byte, error) {
	return s.store.StillPicture(ctx, piece, coat)
}

// keepStill keeps the end of a play, for wherever its board is drawn small. A piece
// that was thrown away meanwhile needs none.
func (s *Service) keepStill(p *Play) {
	f, _ := p.Frame(len(p.Times) - 1)
	ctx, stop := context.WithTimeout(context.Background(), 10*time.Second)
	defer stop()
	_ = s.store.Write(ctx, "keep a still", func(tx *store.Tx) error {
		return tx.KeepStill(ctx, store.Still{Piece: p.Piece, Coat: p.Coat, Look: p.look}, f.Picture, s.now())
	})
}
