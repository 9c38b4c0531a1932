// Package labels prints labels with a QR code for boards, cups, bottles and places, and
// shows what one says that was scanned: the thing, and what to do with it next.
package labels

import (
	"context"
	"embed"
	"errors"
	"fmt"
	"html/template"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/units"
	"jevvo/internal/exchange/qr"
	"jevvo/internal/form"
	"jevvo/internal/store"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/session"
	"jevvo/internal/studio/stock"
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
	a.GET("/labels", a.ofShelf)
	a.GET("/scan/piece/:id", a.piece)
	a.GET("/scan/cup/:id/:coat/:cup", a.cup)
	a.GET("/scan/resin/:id", a.resin)
	a.GET("/scan/pigment/:id", a.pigment)
	a.GET("/scan/place/:n", a.place)
	return nil
}

// A Label is one to print.
type Label struct {
	Kind   string // what it goes on
	Name   string
	Swatch string
	Lines  []string
	QR     template.HTML
}

// A sheet is a page of labels.
type sheet struct {
	Title  string
	Back   string
	Here   bool // a telephone cannot open them: the program answers this computer only
	Groups []group
}

type group struct {
	Name   string
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
	svg, err := qr.SVG(base+path, "Opens "+l.Name)
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
	sys := v.Agenda.Book.Settings.Units
	page := sheet{Title: words.F("Labels: %s", v.Name), Back: frame.Piece(v.ID)}
	_, page.Here = a.base(c)
	boards := group{Name: "Boards"}
	kind := "Board"
	if v.Tile {
		boards.Name, kind = "Test tile", "Test tile"
	}
	for i := range v.Boards {
		l := Label{Kind: kind, Name: v.Name, Swatch: v.Plan.Widest(), Lines: []string{sizeOf(v.Boards[i], sys)}}
		if n := len(v.Boards); n > 1 {
			l.Kind = fmt.Sprintf("%s %d of %d", kind, i+1, n)
		}
		if !v.Due.IsZero() {
			l.Lines = append(l.Lines, "due "+words.Date(v.Due.Local(), "2 Jan 2006"))
		}
		if l, err = a.label(c, l, fmt.Sprintf("/scan/piece/%d", v.ID)); err != nil {
			return err
		}
		boards.Labels = append(boards.Labels, l)
	}
	page.Groups = append(page.Groups, boards)
	for i := range v.Coats {
		coat := &v.Coats[i]
		g := group{Name: words.Coat(coat)}
		for _, cup := range coat.Cups {
			l := Label{Kind: "Cup", Name: cup.Colour.Name, Swatch: cup.Swatch(),
				Lines: []string{v.Name + ", " + words.Lower(words.Coat(coat)), cupText(cup, sys)}}
			if l, err = a.label(c, l, fmt.Sprintf("/scan/cup/%d/%s/%s", v.ID, coat.ID, cup.Colour.ID)); err != nil {
				return err
			}
			g.Labels = append(g.Labels, l)
		}
		page.Groups = append(page.Groups, g)
	}
	return a.Show(c, http.StatusOK, "labels", frame.Page{Title: page.Title, Nav: "pieces", Data: page})
}

func sizeOf(s surface.Shape, sys units.System) string {
	b := s.Bounds()
	return b.Width().Text(sys) + " × " + b.Height().Text(sys)
}

func cupText(cup plan.Cup, sys units.System) string {
	return fmt.Sprintf("A %s, B %s", cup.A.Mass.Text(sys), cup.B.Mass.Text(sys))
}

// ofShelf are the labels of bottles and places.
func (a *area) ofShelf(c *gin.Context) error {
	b, err := a.Studio.Shelf.Book(c.Request.Context())
	if err != nil {
		return err
	}
	page := sheet{Title: "Labels for the shelf", Back: "/shelf"}
	_, page.Here = a.base(c)
	resins, pigments, places := group{Name: "Resins"}, group{Name: "Pigments"}, group{Name: "Level places"}
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
		ratio := words.F("A : B %s : %s by %s", units.Fixed(p.RatioA, 3), units.Fixed(p.RatioB, 3), words.T(string(p.By)))
		for _, part := range []string{"part A", "part B"} {
			add(&resins, Label{Kind: words.F("Resin, %s", words.T(part)), Name: p.Name,
				Lines: []string{ratio, "gloves, goggles, air: see its safety sheet"}}, fmt.Sprintf("/scan/resin/%d", p.ID))
		}
	}
	for _, id := range sortedPigments(b.Context.Pigments) {
		p := b.Context.Pigments[id]
		add(&pigments, Label{Kind: "Pigment", Name: p.Name, Swatch: p.Swatch}, fmt.Sprintf("/scan/pigment/%d", id))
	}
	n := 0
	for _, class := range b.Settings.Shelf {
		for range class.Count {
			n++
			add(&places, Label{Kind: "Place", Name: words.F("Place %d", n),
				Lines: []string{class.Width.Text(b.Settings.Units) + " × " + class.Height.Text(b.Settings.Units),
					"level, covered"}}, fmt.Sprintf("/scan/place/%d", n))
		}
	}
	if err != nil {
		return err
	}
	page.Groups = []group{resins, pigments, places}
	return a.Show(c, http.StatusOK, "labels", frame.Page{Title: page.Title, Nav: "shelf", Data: page})
}

func sortedPigments(of map[int64]plan.Pigment) []int64 {
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
	Kind, Name, Swatch string
	Board              *drawing.Boards
	Next               string // what to do, in words
	When               time.Time
	Do                 string
	Safety             []string
	Facts              [][2]string
	Ways               []way
	Done               *done // the next task, to be ticked off
}

// A way is a place to go on, the first the likeliest.
type way struct{ Words, Address, Icon string }

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
	s := scanned{Kind: "Board", Name: v.Name, Board: &board}
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
			s.Ways = append(s.Ways, way{"Weigh out", at + "/weigh", "scale"}, way{"To the bench", at + "/bench", "play"})
		} else {
			s.Done = &done{v.ID, t.Key, c.Request.URL.Path}
		}
		break
	}
	if runs != "" {
		s.Next, s.Do, s.Done = "It is at the bench now", "", nil
		s.Ways = []way{{"On with it", runs, "play"}}
	}
	if s.Next == "" {
		s.Next = "Nothing more is planned for it"
	}
	s.Ways = append(s.Ways, way{"Photograph and result", at + "/result", "camera"}, way{"The piece", at, "layers"})
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
		s := scanned{Kind: "Cup", Name: cup.Colour.Name, Swatch: cup.Swatch(),
			Next: v.Name + ", " + words.Lower(words.Coat(coat))}
		s.Facts = [][2]string{{"Part A", cup.A.Mass.Text(sys)}, {"Part B", cup.B.Mass.Text(sys)}}
		for _, d := range cup.Doses() {
			if p, ok := v.Plan.Context.Pigments[d.Pigment]; ok {
				s.Facts = append(s.Facts, [2]string{p.Name, d.Mass.Text(sys) + by(words.Measure(p, d.Mass))})
			}
		}
		at, err := a.weighing(ctx, v.ID, coat.ID)
		s.Ways = []way{{"Weigh this cup", at, "scale"}, {"All cups of the coat", frame.Piece(v.ID, "/card"), "printer"}}
		if err != nil {
			return err
		}
		return a.show(c, s)
	}
	return store.ErrNotFound
}

func by(measure string) string {
	if measure == "" {
		return ""
	}
	return ", " + measure
}

// weighing is the address of the weigh-out of a coat that goes on, else where one is
// begun.
func (a *area) weighing(ctx context.Context, piece int64, coat string) (string, error) {
	list, err := a.Studio.Bench.Log().WeighingsOf(ctx, piece)
	i := slices.IndexFunc(list, func(w session.Weighing) bool { return w.Coat == coat && !w.Done })
	if err != nil || i < 0 {
		return frame.Piece(piece, "/weigh"), err
	}
	return fmt.Sprintf("/weighings/%d", list[i].ID), nil
}

// resin shows what is in a bottle of resin.
func (a *area) resin(c *gin.Context) error {
	b, err := a.Studio.Shelf.Book(c.Request.Context())
	if err != nil {
		return err
	}
	i := slices.IndexFunc(b.Resins, func(p plan.Product) bool { return p.ID == frame.ID(c) })
	if i < 0 {
		return store.ErrNotFound
	}
	have, err := a.Studio.Stock.Ledger(c.Request.Context())
	if err != nil {
		return err
	}
	p, sys := b.Resins[i], b.Settings.Units
	s := scanned{Kind: "Resin", Name: p.Name, Safety: []string{"gloves", "air"}}
	s.Facts = [][2]string{
		{"A : B", words.F("%s : %s by %s", units.Fixed(p.RatioA, 3), units.Fixed(p.RatioB, 3), words.T(string(p.By)))},
		{"Mix", words.Spoken(p.MixMinutes)}, {"Works for", words.F("%s at 25 °C", words.Spoken(p.WorkingMinutes))},
		{"Left", units.Volume(have.Have(stock.Thing{Kind: store.Resins, ID: p.ID})).Text(sys)},
	}
	s.Ways = []way{{"Its stock", fmt.Sprintf("/stock/of/resin-%d", p.ID), "archive"},
		{"Its sheet", fmt.Sprintf("/shelf/%d", p.ID), "flask-conical"}, {"How much does it take", "/sums/mix", "calculator"}}
	return a.show(c, s)
}

// pigment shows what is in a bottle of pigment.
func (a *area) pigment(c *gin.Context) error {
	p, err := a.Studio.Shelf.Pigment(c.Request.Context(), frame.ID(c))
	if err != nil {
		return err
	}
	s := scanned{Kind: "Pigment", Name: p.Name, Swatch: p.Swatch,
		Facts: [][2]string{{"At most", words.F("%s %% of the resin", units.Fixed(p.LoadLimit*100, 1))}}}
	s.Ways = []way{{"Its stock", fmt.Sprintf("/stock/of/pigment-%d", p.ID), "archive"},
		{"Its page", fmt.Sprintf("/pigments/%d", p.ID), "droplets"}}
	return a.show(c, s)
}

var errNoPlace = errors.New("there is no such place: the settings have fewer")

// place shows what cures on places of its size, and when one is free.
func (a *area) place(c *gin.Context) error {
	ag, err := a.Studio.Agenda.Current(c.Request.Context())
	if err != nil {
		return err
	}
	n, from := int(frame.Number(c.Param("n"))), 0
	for _, class := range ag.Book.Settings.Shelf {
		if n > from && n <= from+class.Count {
			return a.show(c, a.onPlaces(ag, n))
		}
		from += class.Count
	}
	return &form.Refused{Err: errNoPlace}
}

func (a *area) onPlaces(ag *agenda.Agenda, n int) scanned {
	s := scanned{Kind: "Level place", Name: words.F("Place %d", n), Next: "Nothing is planned to stand on the shelf now"}
	now := a.Studio.Now()
	var stands []string
	for _, p := range ag.Pieces {
		if p.ShelfIn.IsZero() || now.Before(p.ShelfIn) || !now.Before(p.ShelfTo) {
			continue
		}
		stands = append(stands, p.Name)
		s.Facts = append(s.Facts, [2]string{p.Name, words.F("until %s", words.Date(p.ShelfTo.Local(), "Mon 2 Jan 15:04"))})
		s.Ways = append(s.Ways, way{p.Name, fmt.Sprintf("/scan/piece/%d", p.ID), "chevron-right"})
	}
	if len(stands) > 0 {
		s.Next = words.F("On the shelf now: %s", strings.Join(stands, ", "))
	}
	s.Ways = append(s.Ways, way{"The days", "/days", "calendar-days"})
	return s
}
