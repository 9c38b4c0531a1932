// Package labels prints labels with a QR code for boards, cups, bottles and places, and
// shows what one says that was scanned: the thing, and what to do with it next.
package labels

import (
	"context"
	"embed"
	"fmt"
	"html/template"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/material"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/units"
	"jevvo/internal/exchange/qr"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/stock"
	"jevvo/internal/studio/weighing"
	"jevvo/internal/web/drawing"
	"jevvo/internal/web/frame"
	"jevvo/internal/words"
)

//go:embed all:templates
var templates embed.FS

type area struct{ *frame.Area }

// Routes adds the area to the frame.
func Routes(f *frame.Frame) error {
	pages, err := f.Area(templates)
	if err != nil {
		return err
	}
	a := &area{pages}
	a.GET("/pieces/:id/labels", a.ofPiece)
	a.GET("/labels", a.ofMaterials)
	a.GET("/scan/piece/:id", a.piece)
	a.GET("/scan/cup/:id/:coat/:cup", a.cup)
	a.GET("/scan/resin/:id", a.resin)
	a.GET("/scan/pigment/:id", a.pigment)
	a.GET("/scan/place/:n", a.place)
	return nil
}

// A Label is one to print.
type Label struct {
	Kind   msg.Text // what it goes on
	Name   msg.Text
	Swatch string
	Lines  []msg.Text
	QR     template.HTML
}

// A sheet is a page of labels.
type sheet struct {
	Title  msg.Text
	Back   string
	Here   bool // a telephone cannot open them: the program answers this computer only
	Groups []group
}

type group struct {
	Name   msg.Text
	Labels []Label
}

// base is the address labels begin with.
func (a *area) base(c *gin.Context) (address string, here bool) {
	if a.LAN != nil && len(a.LAN.Addresses) > 0 {
		return a.LAN.Addresses[0], false
	}
	return "http://" + c.Request.Host, true
}

func (a *area) label(c *gin.Context, l Label, path string) (Label, error) {
	base, _ := a.base(c)
	svg, err := qr.SVG(base+path, msg.F("Opens %s", l.Name).In(msg.LangOf(c.Request.Context())))
	l.QR = template.HTML(svg) // drawn by this program
	return l, err
}

func (a *area) view(ctx context.Context, id int64) (agenda.View, error) {
	p, err := a.Studio.Pieces.Piece(ctx, id)
	if err != nil {
		return agenda.View{}, err
	}
	return a.Studio.Agenda.Plan(ctx, p)
}

// ofPiece are the labels of a piece: its boards, and every cup of its coats.
func (a *area) ofPiece(c *gin.Context) error {
	v, err := a.view(c.Request.Context(), frame.ID(c))
	if err != nil {
		return err
	}
	page := sheet{Title: msg.F("Labels: %s", v.Name), Back: frame.Piece(v.ID)}
	_, page.Here = a.base(c)
	if page.Groups, err = a.groupsOf(c, v); err != nil {
		return err
	}
	return a.Show(c, http.StatusOK, "labels", frame.Page{Title: page.Title, Nav: "pieces", Data: page})
}

// ofPieces are the labels of several pieces, one after the other.
func (a *area) ofPieces(c *gin.Context, ids []string) error {
	page := sheet{Title: msg.ID("Labels of the selected pieces"), Back: "/pieces"}
	_, page.Here = a.base(c)
	for _, id := range ids {
		v, err := a.view(c.Request.Context(), frame.Number(id))
		if err != nil {
			return err
		}
		groups, err := a.groupsOf(c, v)
		if err != nil {
			return err
		}
		page.Groups = append(page.Groups, groups...)
	}
	return a.Show(c, http.StatusOK, "labels", frame.Page{Title: page.Title, Nav: "pieces", Data: page})
}

// groupsOf are the labels of a piece's boards, and of the cups of each coat.
func (a *area) groupsOf(c *gin.Context, v agenda.View) (_ []group, err error) {
	sys := v.Agenda.Book.Settings.Units
	boards := group{Name: msg.ID("Boards")}
	kind := msg.ID("Board")
	if v.Tile {
		boards.Name, kind = msg.ID("Test tile"), "Test tile"
	}
	for i := range v.Boards {
		l := Label{Kind: kind, Name: msg.Own(v.Name), Swatch: v.Plan.Widest(), Lines: []msg.Text{sizeOf(v.Boards[i], sys)}}
		if n := len(v.Boards); n > 1 {
			l.Kind = msg.F("%s %d of %d", kind, i+1, n)
		}
		if !v.Due.IsZero() {
			l.Lines = append(l.Lines, msg.F("due %s", msg.Date(v.Due.Local(), "2 Jan 2006")))
		}
		if l, err = a.label(c, l, fmt.Sprintf("/scan/piece/%d", v.ID)); err != nil {
			return nil, err
		}
		boards.Labels = append(boards.Labels, l)
	}
	groups := []group{boards}
	for i := range v.Coats {
		coat := &v.Coats[i]
		g := group{Name: words.Coat(coat)}
		for _, cup := range coat.Cups {
			l := Label{Kind: msg.ID("Cup"), Name: words.Filled(cup.Colour.Name), Swatch: cup.Swatch(),
				Lines: []msg.Text{msg.Join(", ", msg.Own(v.Name), msg.Lower(words.Coat(coat))), cupText(cup, sys)}}
			if l, err = a.label(c, l, fmt.Sprintf("/scan/cup/%d/%s/%s", v.ID, coat.ID, cup.Colour.ID)); err != nil {
				return nil, err
			}
			g.Labels = append(g.Labels, l)
		}
		groups = append(groups, g)
	}
	return groups, nil
}

func sizeOf(s surface.Shape, sys units.System) msg.Figure {
	b := s.Bounds()
	return b.Width().Text(sys) + " × " + b.Height().Text(sys)
}

func cupText(cup plan.Cup, sys units.System) msg.Text {
	return msg.F("A %s, B %s", cup.A.Mass.Text(sys), cup.B.Mass.Text(sys))
}

// ofMaterials are the labels of bottles and places, or of the pieces that are named.
func (a *area) ofMaterials(c *gin.Context) error {
	if ids := c.QueryArray("piece"); len(ids) > 0 {
		return a.ofPieces(c, ids)
	}
	b, err := a.Studio.Materials.Book(c.Request.Context())
	if err != nil {
		return err
	}
	page := sheet{Title: msg.ID("Labels for materials"), Back: "/materials"}
	_, page.Here = a.base(c)
	resins, pigments, places := group{Name: msg.ID("Resins")}, group{Name: msg.ID("Pigments")}, group{
		Name: msg.ID("Drying rack")}
	add := func(to *group, l Label, path string) {
		var made Label
		if err == nil {
			made, err = a.label(c, l, path)
			to.Labels = append(to.Labels, made)
		}
	}
	for _, p := range b.Resins {
		if p.Retired {
			continue
		}
		ratio := msg.F("A : B %s : %s by %s", msg.Figure(units.Fixed(p.RatioA, 3)), msg.Figure(units.Fixed(p.RatioB, 3)),
			msg.ID(p.By))
		for _, part := range []msg.ID{"part A", "part B"} {
			add(&resins, Label{Kind: msg.F("Resin, %s", part), Name: msg.Own(p.Name),
				Lines: []msg.Text{ratio, msg.ID("gloves, goggles, air: see its safety sheet")}}, fmt.Sprintf("/scan/resin/%d",
				p.ID))
		}
	}
	for _, id := range sortedPigments(b.Context.Pigments) {
		p := b.Context.Pigments[id]
		add(&pigments, Label{Kind: msg.ID("Pigment"), Name: msg.Own(p.Name), Swatch: p.Swatch},
			fmt.Sprintf("/scan/pigment/%d", id))
	}
	n := 0
	for _, class := range b.Settings.Rack {
		for range class.Count {
			n++
			add(&places, Label{Kind: msg.ID("Place"), Name: msg.F("Place %d", n),
				Lines: []msg.Text{class.Width.Text(b.Settings.Units) + " × " + class.Height.Text(b.Settings.Units),
					msg.ID("level, covered")}}, fmt.Sprintf("/scan/place/%d", n))
		}
	}
	if err != nil {
		return err
	}
	page.Groups = []group{resins, pigments, places}
	return a.Show(c, http.StatusOK, "labels", frame.Page{Title: page.Title, Nav: "materials", Data: page})
}

func sortedPigments(of map[int64]material.Pigment) []int64 {
	var ids []int64
	for id, p := range of {
		if !p.Retired {
			ids = append(ids, id)
		}
	}
	slices.Sort(ids)
	return ids
}

// A scanned page is a thing and what to do with it.
type scanned struct {
	Kind   msg.ID
	Name   msg.Text
	Swatch string
	Board  *drawing.Boards
	Next   msg.Text // what to do, in words
	When   time.Time
	Do     msg.Text
	Safety []string
	Facts  [][2]msg.Text
	Ways   []way
	Done   *done // the next task, to be ticked off
}

// A way is a place to go on, the first the likeliest.
type way struct {
	Words   msg.Text
	Address string
	Icon    string
}

type done struct {
	Piece int64
	Task  string
	Back  string
}

func (a *area) show(c *gin.Context, s scanned) error {
	return a.Show(c, http.StatusOK, "scan", frame.Page{Title: s.Name, Data: s})
}

// piece shows what is to be done with a board.
func (a *area) piece(c *gin.Context) error {
	ctx := c.Request.Context()
	v, err := a.view(ctx, frame.ID(c))
	if err != nil {
		return err
	}
	board := drawing.Of(v.Plan, &v.Coats[len(v.Coats)-1], v.ID, v.Agenda.Book.Settings.Units)
	s := scanned{Kind: "Board", Name: msg.Own(v.Name), Board: &board}
	if v.Tile {
		s.Kind = "Test tile"
	}
	runs, err := a.running(ctx, v.ID)
	if err != nil {
		return err
	}
	at := frame.Piece(v.ID)
	for _, t := range v.Agenda.TasksOf(v.ID) {
		if t.Done {
			continue
		}
		s.Next, s.When, s.Do, s.Safety = words.Task(t.Task, v.Plan), t.Start, words.TaskDo(t.Task), t.Safety
		if t.Kind == plan.TaskPour {
			s.Ways = append(s.Ways, way{msg.ID("Weigh out"), at + "/weigh", "scale"},
				way{msg.ID("To the bench"), at + "/bench", "play"})
		} else {
			s.Done = &done{v.ID, t.Key, c.Request.URL.Path}
		}
		break
	}
	if runs != "" {
		s.Next, s.Do, s.Done = msg.ID("It is at the bench now"), nil, nil
		s.Ways = []way{{msg.ID("Continue"), runs, "play"}}
	}
	if s.Next == nil {
		s.Next = msg.ID("Nothing more is planned for it")
	}
	s.Ways = append(s.Ways, way{msg.ID("Photograph and result"), at + "/result", "camera"},
		way{msg.ID("The piece"), at, "layers"})
	return a.show(c, s)
}

// running is the address of the bench day of a piece that goes on.
func (a *area) running(ctx context.Context, piece int64) (string, error) {
	list, err := a.Studio.Bench.Log().BenchesOf(ctx, piece, false)
	for _, b := range list {
		if !b.Done {
			return fmt.Sprintf("/benches/%d", b.ID), err
		}
	}
	return "", err
}

// cup shows what goes into a cup, and leads to the scale.
func (a *area) cup(c *gin.Context) error {
	ctx := c.Request.Context()
	v, err := a.view(ctx, frame.ID(c))
	if err != nil {
		return err
	}
	coat := v.Plan.Coat(c.Param("coat"))
	if coat == nil {
		return store.ErrNotFound
	}
	sys := v.Agenda.Book.Settings.Units
	for _, cup := range coat.Cups {
		if cup.Colour.ID != c.Param("cup") {
			continue
		}
		s := scanned{Kind: "Cup", Name: words.Filled(cup.Colour.Name), Swatch: cup.Swatch(),
			Next: msg.Join(", ", msg.Own(v.Name), msg.Lower(words.Coat(coat)))}
		s.Facts = [][2]msg.Text{{msg.ID("Part A"), cup.A.Mass.Text(sys)}, {msg.ID("Part B"), cup.B.Mass.Text(sys)}}
		for _, d := range cup.Doses() {
			if p, ok := v.Plan.Context.Pigments[d.Pigment]; ok {
				s.Facts = append(s.Facts, [2]msg.Text{msg.Own(p.Name),
					msg.Join(", ", d.Mass.Text(sys), words.Measure(p, d.Mass, sys))})
			}
		}
		at, err := a.weighing(ctx, v.ID, coat.ID)
		s.Ways = []way{{msg.ID("Weigh this cup"), at, "scale"},
			{msg.ID("All cups of the coat"), frame.Piece(v.ID, "/card"), "printer"}}
		if err != nil {
			return err
		}
		return a.show(c, s)
	}
	return store.ErrNotFound
}

// weighing is the address of the weigh-out of a coat that goes on, else where one is
// begun.
func (a *area) weighing(ctx context.Context, piece int64, coat string) (string, error) {
	list, err := a.Studio.Bench.Log().WeighingsOf(ctx, piece)
	i := slices.IndexFunc(list, func(w weighing.Weighing) bool { return w.Coat == coat && !w.Done })
	if err != nil || i < 0 {
		return frame.Piece(piece, "/weigh"), err
	}
	return fmt.Sprintf("/weighings/%d", list[i].ID), nil
}

// resin shows what is in a bottle of resin.
func (a *area) resin(c *gin.Context) error {
	b, err := a.Studio.Materials.Book(c.Request.Context())
	if err != nil {
		return err
	}
	i := slices.IndexFunc(b.Resins, func(p material.Product) bool { return p.ID == frame.ID(c) })
	if i < 0 {
		return store.ErrNotFound
	}
	have, err := a.Studio.Stock.Ledger(c.Request.Context())
	if err != nil {
		return err
	}
	p, sys := b.Resins[i], b.Settings.Units
	s := scanned{Kind: "Resin", Name: msg.Own(p.Name), Safety: []string{"gloves", "air"}}
	s.Facts = [][2]msg.Text{
		{msg.ID("A : B"), msg.F("%s : %s by %s", msg.Figure(units.Fixed(p.RatioA, 3)), msg.Figure(units.Fixed(p.RatioB, 3)),
			msg.ID(p.By))},
		{msg.ID("Mix"), words.Spoken(p.MixMinutes)},
		{msg.ID("Working time"), msg.F("%s at 25 °C", words.Spoken(p.WorkingMinutes))},
		{msg.ID("Left"), units.Volume(have.Have(stock.Thing{Kind: store.Resins, ID: p.ID})).Text(sys)},
	}
	s.Ways = []way{{msg.ID("Its stock"), fmt.Sprintf("/stock/of/resin-%d", p.ID), "archive"},
		{msg.ID("Its sheet"), fmt.Sprintf("/materials/%d", p.ID), "flask-conical"},
		{msg.ID("How much was used"), "/calculators/mix", "calculator"}}
	return a.show(c, s)
}

// pigment shows what is in a bottle of pigment.
func (a *area) pigment(c *gin.Context) error {
	p, err := a.Studio.Materials.Pigment(c.Request.Context(), frame.ID(c))
	if err != nil {
		return err
	}
	s := scanned{Kind: "Pigment", Name: msg.Own(p.Name), Swatch: p.Swatch,
		Facts: [][2]msg.Text{{msg.ID("At most"), msg.F("%s %% of the resin", msg.Figure(units.Fixed(p.LoadLimit*100, 1)))}}}
	s.Ways = []way{{msg.ID("Its stock"), fmt.Sprintf("/stock/of/pigment-%d", p.ID), "archive"},
		{msg.ID("Its page"), fmt.Sprintf("/pigments/%d", p.ID), "droplets"}}
	return a.show(c, s)
}

var errNoPlace = refusal.New("there is no such place; the settings list fewer")

// place shows what cures on places of its size, and when one is free.
func (a *area) place(c *gin.Context) error {
	ag, err := a.Studio.Agenda.Current(c.Request.Context())
	if err != nil {
		return err
	}
	n, from := int(frame.Number(c.Param("n"))), 0
	for _, class := range ag.Book.Settings.Rack {
		if n > from && n <= from+class.Count {
			return a.show(c, a.onPlaces(ag, n))
		}
		from += class.Count
	}
	return &form.Refused{Err: errNoPlace}
}

func (a *area) onPlaces(ag *agenda.Agenda, n int) scanned {
	s := scanned{Kind: "Rack place", Name: msg.F("Place %d", n),
		Next: msg.ID("Nothing is planned on the drying rack now")}
	now := a.Studio.Now()
	var stands []string
	for _, p := range ag.Pieces {
		if p.RackIn.IsZero() || now.Before(p.RackIn) || !now.Before(p.RackTo) {
			continue
		}
		stands = append(stands, p.Name)
		s.Facts = append(s.Facts, [2]msg.Text{msg.Own(p.Name),
			msg.F("until %s", msg.Date(p.RackTo.Local(), "Mon 2 Jan 15:04"))})
		s.Ways = append(s.Ways, way{msg.Own(p.Name), fmt.Sprintf("/scan/piece/%d", p.ID), "chevron-right"})
	}
	if len(stands) > 0 {
		s.Next = msg.F("On the drying rack now: %s", strings.Join(stands, ", "))
	}
	s.Ways = append(s.Ways, way{msg.ID("The days"), "/days", "calendar-days"})
	return s
}
