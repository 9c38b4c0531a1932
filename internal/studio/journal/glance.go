package journal

import (
	"context"

	"jevvo/internal/core/verdict"
	"jevvo/internal/msg"
	"jevvo/internal/words"
)

// A Glance is a piece's result, as a wall screen shows it.
type Glance struct {
	Photo  int64  // the newest of its surface, rather cured than wet; 0 for none
	Result Result // the newest; not filled where there is none
}

// Glances are those of some pieces, by piece.
func (s *Service) Glances(ctx context.Context, pieces []int64) (map[int64]Glance, error) {
	results, err := s.store.ResultsOf(ctx, pieces)
	if err != nil {
		return nil, err
	}
	photos, err := s.store.PhotosOf(ctx, pieces)
	if err != nil {
		return nil, err
	}
	out := make(map[int64]Glance, len(pieces))
	for _, row := range results {
		g := out[row.Piece]
		if g.Result, err = decode(row); err != nil {
			return nil, err
		}
		out[row.Piece] = g
	}
	for _, moment := range []string{Wet, Cured} { // of each the newest comes last
		for _, p := range photos {
			if p.Moment == moment {
				g := out[p.Piece]
				g.Photo = p.ID
				out[p.Piece] = g
			}
		}
	}
	return out, nil
}

// Verdict is the summary of a poured piece's result.
func (r Result) Verdict() words.Sentence {
	var parts []msg.Text
	if r.Mark > 0 {
		parts = append(parts, msg.F("rated %d of 5", r.Mark))
	}
	for _, a := range Agains {
		if r.Again == a.ID {
			parts = append(parts, msg.F("repeat: %s", a.Name))
		}
	}
	said := msg.F("%s.", msg.Capital(msg.Join("; ", parts...)))
	well, judged := r.Well()
	switch {
	case !judged:
		return words.Sentence{Weight: verdict.Mind, Text: msg.ID("Poured. How did it come out?")}
	case well:
		return words.Sentence{Weight: verdict.Settled, Text: said}
	}
	return words.Sentence{Weight: verdict.Mind, Text: said}
}
