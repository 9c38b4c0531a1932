package pieces

import (
	"net/http"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/technique"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/web/frame"
	"jevvo/internal/words"
)

// A moveRow is a move of the coat that is shown, with its place on the clock.
type moveRow struct {
	technique.Move
	Name     msg.Text
	Cup      msg.Text // name of the cup it pours
	Swatch   string
	Begins   bool // a round
	Round    int  // from 1
	Laid     bool // it has its place on the clock
	From, To float64
	Late     float64
	Window   string
	Live     bool
	Material msg.Text
	CoatID   string
}

// Moves are those of the coat that is shown, in order.
func (p piecePage) Moves() []moveRow {
	if p.Coat == nil {
		return nil
	}
	var out []moveRow
	for r, round := range p.Piece.Spec.Moves(p.Plan.Context, p.CoatID) {
		for k, m := range round.Moves {
			row := moveRow{Move: m, Begins: k == 0, Round: r + 1, Live: p.Live, CoatID: p.CoatID, Name: msg.ID(m.Kind)}
			if rule, ok := m.Kind.Rule(); ok {
				row.Name = rule.Name
			}
			p.place(&row)
			out = append(out, row)
		}
	}
	return out
}

// place finds a move among the steps of the coat.
func (p piecePage) place(row *moveRow) {
	if cup := p.Coat.Cup(row.Move.Cup); cup != nil {
		row.Cup, row.Swatch = words.Filled(cup.Colour.Name), cup.Swatch()
	}
	if m, ok := technique.FindMaterial(row.Move.Material); ok {
		row.Material = m.Name
	}
	for _, s := range p.Coat.Fit.Steps {
		if !slices.Contains(s.Moves, row.ID) {
			continue
		}
		if !row.Laid {
			row.Laid, row.From, row.Name, row.Window = true, s.From, s.Name, string(s.Step.Window)
		}
		row.To, row.Late = s.To, max(row.Late, s.Late)
	}
}

// MoveKinds are the moves that can be added, in their groups.
func (p piecePage) MoveKinds() []moveGroup {
	groups := []moveGroup{{Name: "Pour"}, {Name: "Work"}, {Name: "Lay on"}, {Name: "Warm"}, {Name: "Wait"}}
	for _, r := range technique.MoveRules {
		at := &groups[1]
		switch {
		case r.Pours:
			at = &groups[0]
		case r.Material != "":
			at = &groups[2]
		case r.Heats:
			at = &groups[3]
		case r.Waiting || r.Gesture == "" && !r.Alone:
			at = &groups[4]
		}
		at.Moves = append(at.Moves, r)
	}
	return groups
}

// A moveGroup is moves of one kind.
type moveGroup struct {
	Name  msg.ID
	Moves []technique.MoveRule
}

// OwnMoves reports whether the moves of the coat that is shown are its own.
func (p piecePage) OwnMoves() bool {
	c := p.Piece.Coat(p.CoatID)
	return c != nil && len(c.Rounds) > 0
}

// Sealable reports whether a clear coat would seal the piece.
func (p piecePage) Sealable() bool {
	trial := p.Piece.Spec.Clone()
	return p.Plan != nil && p.Coat != nil && !p.Poured() && trial.Seal(p.Plan.Context)
}

// movesFact names the moves in order, those of one name in a row once.
func (p piecePage) movesFact() msg.Text {
	var names []msg.Text
	rows := p.Moves()
	for i := 0; i < len(rows); {
		n := 1
		for i+n < len(rows) && !rows[i+n].Begins && rows[i+n].Kind == rows[i].Kind {
			n++
		}
		name := msg.Lower(rows[i].Name)
		if n > 1 {
			name = msg.F("%s %d times", name, n)
		}
		names, i = append(names, name), i+n
	}
	return msg.Capital(msg.Join(", ", names...))
}

func (a *area) moveRoutes() {
	const at = "/pieces/:id/coats/:coat/moves"
	a.POST(at, func(c *gin.Context) error {
		p, err := a.Studio.Pieces.AddMove(c.Request.Context(), frame.ID(c), c.Param("coat"), c.PostForm("what"), "")
		return a.moved(c, p, err)
	})
	a.POST(at+"/usual", func(c *gin.Context) error {
		p, err := a.Studio.Pieces.UsualMoves(c.Request.Context(), frame.ID(c), c.Param("coat"))
		return a.moved(c, p, err)
	})
	a.POST("/pieces/:id/seal", func(c *gin.Context) error {
		p, err := a.Studio.Pieces.Seal(c.Request.Context(), frame.ID(c))
		return a.moved(c, p, err)
	})
	a.POST("/pieces/:id/relief", a.relieve)
	a.GET(at+"/:move", a.moveFields)
	a.POST(at+"/:move/:how", func(c *gin.Context) error {
		ctx, id, coat, move := c.Request.Context(), frame.ID(c), c.Param("coat"), c.Param("move")
		if how := c.Param("how"); how != "place" {
			p, err := a.Studio.Pieces.ChangeMove(ctx, id, coat, how, move)
			return a.moved(c, p, err)
		}
		p, err := a.Studio.Pieces.PlaceMove(ctx, id, coat, move, c.PostForm("before"))
		return a.moved(c, p, err)
	})
}

// moved shows the piece after its moves were changed.
func (a *area) moved(c *gin.Context, p pieces.Piece, err error) error {
	if refused, ok := frame.Refusal(err); ok && frame.FromHTMX(c) {
		n := form.NewNotices()
		n.Refuse("move", msg.Of(refused))
		if p, err = a.Studio.Pieces.Piece(c.Request.Context(), frame.ID(c)); err != nil {
			return err
		}
		return a.send(c, http.StatusUnprocessableEntity, sending{Piece: p, Coat: c.Param("coat"), Anew: true, Said: n})
	}
	if err != nil {
		return err
	}
	coat := c.Param("coat")
	if coat == "" {
		coat = c.Query("coat")
	}
	if frame.FromHTMX(c) {
		return a.send(c, http.StatusOK, sending{Piece: p, Coat: coat, Anew: true})
	}
	return frame.Go(c, frame.Piece(p.ID, toPart(coat, "moves")))
}

// relieve types into the field that does what a relief says.
func (a *area) relieve(c *gin.Context) error {
	key, value, _ := strings.Cut(c.PostForm("set"), "=")
	ctx := c.Request.Context()
	was, err := a.Studio.Pieces.Piece(ctx, frame.ID(c))
	if err != nil {
		return err
	}
	p, n, err := a.Studio.Pieces.Edit(ctx, was.ID, was.Rev, map[string]string{key: value})
	if err != nil {
		return err
	}
	if !n.OK() {
		return a.send(c, http.StatusUnprocessableEntity, sending{Piece: was, Coat: c.Query("coat"), Anew: true, Said: n})
	}
	return a.moved(c, p, nil)
}

// moveFields sends what can be typed for one move.
func (a *area) moveFields(c *gin.Context) error {
	p, err := a.Studio.Pieces.Piece(c.Request.Context(), frame.ID(c))
	if err != nil {
		return err
	}
	book, err := a.Studio.Materials.Book(c.Request.Context())
	if err != nil {
		return err
	}
	spec := p.Spec
	views := pieces.Fields(spec, book).Views(&spec, book.Settings.Style(), nil, form.NewNotices(), pieces.Options(book))
	var out []form.View
	for _, name := range []string{"cup", "part", "material", "amount", "minutes", "after", "area", "place", "where",
		"optional"} {
		if v, ok := views[pieces.MoveKey(c.Param("coat"), c.Param("move"), name)]; ok {
			out = append(out, v)
		}
	}
	return a.Part(c, http.StatusOK, "piece", "move-fields", out)
}
