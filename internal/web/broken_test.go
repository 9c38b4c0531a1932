package web_test

import (
	"fmt"
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/plan"
	"jevvo/internal/store"
	"jevvo/internal/testsize"
)

// A piece whose resin, pigment, technique or commission is nowhere takes no other
// piece along: every page answers, the others are planned, and it says itself what it
// lacks.
func TestOneBrokenPieceTakesNoOtherAlong(t *testing.T) {
	if testsize.Raced {
		t.Skip("run whole without the race detector")
	}
	for name, spoil := range map[string]func(*plan.Spec){
		"a resin that is nowhere": func(s *plan.Spec) {
			for i := range s.Layers {
				if c := s.Layers[i].Coat; c != nil {
					c.Product = 9999
				}
			}
		},
		"a pigment that is nowhere":    func(s *plan.Spec) { s.Coat(plan.FirstCoat).Colours[0].Pigment = 9999 },
		"a technique that is nowhere":  func(s *plan.Spec) { s.Layer(plan.FirstCoat).What = "nowhere" },
		"a commission that is nowhere": func(s *plan.Spec) { s.Commission = 9999 },
		"a board without a size":       func(s *plan.Spec) { s.Width, s.Height = -1, 0 },
		"no layers":                    func(s *plan.Spec) { s.Layers = nil },
	} {
		t.Run(name, func(t *testing.T) {
			s := open(t)
			whole := s.piece(map[string]string{"name": "Whole"}).ID
			p := s.piece(map[string]string{"name": "Broken"})
			spec := p.Spec
			spoil(&spec)
			require.NoError(t, s.db.Write(t.Context(), "spoil", func(tx *store.Tx) error {
				return tx.RevisePiece(t.Context(), p.ID, p.Rev, spec.Name, spec, monday)
			}))
			for _, page := range []string{"/", "/days", "/pieces", "/commissions", "/journal", "/findings", "/bench", "/faults",
				"/materials", "/materials/pigments", "/days/ways", "/days/print", "/days.ics", fmt.Sprintf("/pieces/%d", whole)} {
				assert.Equal(t, http.StatusOK, s.do(http.MethodGet, page, nil, false).Code, page)
			}
			agenda, err := s.Agenda.Current(t.Context())
			require.NoError(t, err)
			require.NotNil(t, agenda.Of(whole))
			assert.NotEmpty(t, agenda.TasksOf(whole), "the whole one is planned")
			for _, page := range []string{"", "/run-sheet", "/card", "/cups.csv", "/rescale", "/weigh", "/bench", "/level",
				"/journal", "/faults", "/result", "/strength", "/taught"} {
				assert.Less(t, s.do(http.MethodGet, fmt.Sprintf("/pieces/%d%s", p.ID, page), nil, false).Code, 500, page)
			}
			assert.Contains(t, s.get("/days"), "Broken", "what is not planned is said")
		})
	}
}
