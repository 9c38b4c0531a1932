// Package jump finds anything in the studio by a part of its name.
package jump

import (
	"context"
	"embed"
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/diagnose"
	"jevvo/internal/msg"
	"jevvo/internal/studio/commissions"
	"jevvo/internal/studio/journal"
	"jevvo/internal/web/calculators"
	"jevvo/internal/web/frame"
	journalpages "jevvo/internal/web/journal"
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
	a.GET("/jump", a.jump)
	return nil
}

// A link is one place to go to.
type link struct {
	Name msg.Text
	Kind msg.Text
	URL  string
}

// Bounds of the list shown.
const (
	most     = 12
	ofAKind  = 6
	barePage = "page"
	// mostPalettes are looked through, the newest
	mostPalettes = 200
)

// jump finds anything by a part of its name, and what to do with a piece by that and the
// piece’s: “bench ferry”.
func (a *area) jump(c *gin.Context) error {
	links, err := a.links(c.Request.Context(), strings.TrimSpace(c.Query("q")))
	if err != nil {
		return err
	}
	if !frame.FromHTMX(c) && len(links) > 0 {
		return frame.Go(c, links[0].URL)
	}
	return a.Part(c, http.StatusOK, "jump", "main", links)
}

func (a *area) links(ctx context.Context, find string) ([]link, error) {
	links, err := a.todo(ctx, find)
	if err != nil {
		return nil, err
	}
	low := strings.ToLower(find)
	l := msg.LangOf(ctx)
	add := func(name msg.Text, kind msg.ID, url string) {
		if len(links) < most && (strings.Contains(strings.ToLower(msg.Say(name, msg.English)), low) ||
			strings.Contains(strings.ToLower(msg.Say(name, l)), low)) {
			links = append(links, link{name, kind, url})
		}
	}
	pieces, _, err := a.Studio.Pieces.Pieces(ctx, find, ofAKind, 0)
	if err != nil {
		return nil, err
	}
	for _, p := range pieces {
		add(msg.Own(p.Name), "piece", frame.Piece(p.ID))
	}
	orders, _, err := a.Studio.Commissions.List(ctx, commissions.Filter{Find: find}, ofAKind, 0)
	if err != nil {
		return nil, err
	}
	for _, o := range orders {
		add(msg.Own(o.Name), "commission", "/commissions/"+strconv.FormatInt(o.ID, 10))
	}
	clients := map[string]bool{}
	for _, o := range orders {
		if o.Client != "" && !clients[o.Client] {
			clients[o.Client] = true
			add(msg.Own(o.Client), "client", "/client?"+url.Values{"name": {o.Client}}.Encode())
		}
	}
	book, err := a.Studio.Materials.Book(ctx)
	if err != nil {
		return nil, err
	}
	for _, p := range book.Resins {
		add(msg.Own(p.Name), "resin", "/materials/"+strconv.FormatInt(p.ID, 10))
	}
	for _, p := range book.Paints {
		add(msg.Own(p.Name), "pigment", "/pigments/"+strconv.FormatInt(p.ID, 10))
	}
	goods, err := a.Studio.Stock.Goods(ctx)
	if err != nil {
		return nil, err
	}
	for _, g := range goods {
		add(msg.Own(g.Name), "goods", "/stock/goods/"+strconv.FormatInt(g.ID, 10))
	}
	palettes, _, err := a.Studio.Colours.Palettes(ctx, mostPalettes, 0)
	if err != nil {
		return nil, err
	}
	for _, p := range palettes {
		add(msg.Own(p.Name), "palette", "/palettes/"+strconv.FormatInt(p.ID, 10))
	}
	for _, t := range book.Techniques() {
		add(t.Name, "technique", "/techniques/"+t.ID)
	}
	for _, q := range calculators.Questions() {
		add(q.Text, "calculator", "/calculators/"+q.Name)
	}
	for _, f := range diagnose.Faults {
		add(f.Name, "fault", "/faults/"+f.ID)
	}
	for _, t := range words.Glossary {
		add(t.Word, "word", "/glossary#"+t.Anchor())
	}
	for _, p := range places {
		add(p.Name, barePage, p.URL)
	}
	return a.happened(ctx, find, links)
}

// happened adds what the journal has of it, by its words.
func (a *area) happened(ctx context.Context, find string, links []link) ([]link, error) {
	if find == "" {
		return links, nil
	}
	entries, _, err := a.Studio.Journal.Find(ctx, journal.Asked{Find: find})
	if err != nil {
		return nil, err
	}
	for _, e := range entries {
		if len(links) >= most || e.Kind == "piece" || e.Kind == "commission" { // found by their names
			continue
		}
		words := e.Title
		if e.Body != "" {
			words += ": " + e.Body
		}
		links = append(links, link{msg.Own(shortened(words)), msg.Own(e.Kind), journalpages.Leads(e)})
	}
	return links, nil
}

// shortened cuts a text for a list.
func shortened(text string) string {
	const most = 80
	if r := []rune(text); len(r) > most {
		return string(r[:most-1]) + "…"
	}
	return text
}

var places = []link{
	{Name: msg.ID("Today"), URL: "/"},
	{Name: msg.ID("Days"), URL: "/days"},
	{Name: msg.ID("Commissions"), URL: "/commissions"},
	{Name: msg.ID("New commission"), URL: "/commissions/new"},
	{Name: msg.ID("Outbox"), URL: "/outbox"},
	{Name: msg.ID("New piece"), URL: "/pieces/new"},
	{Name: msg.ID("Pieces"), URL: "/pieces"},
	{Name: msg.ID("Bench: what is wet"), URL: "/bench"},
	{Name: msg.ID("Devices: scale and room"), URL: "/devices"},
	{Name: msg.ID("Palette from a picture"), URL: "/palettes"},
	{Name: msg.ID("Techniques"), URL: "/techniques"},
	{Name: msg.ID("Resins"), URL: "/materials"},
	{Name: msg.ID("Pigments"), URL: "/materials/pigments"},
	{Name: msg.ID("Stock: what you have"), URL: "/stock"},
	{Name: msg.ID("To order"), URL: "/stock/orders"},
	{Name: msg.ID("Money and documents"), URL: "/settings/money"},
	{Name: msg.ID("The year: income and costs"), URL: "/year"},
	{Name: msg.ID("A first test tile"), URL: "/first"},
	{Name: msg.ID("Words of the trade"), URL: "/glossary"},
	{Name: msg.ID("Help"), URL: "/help"},
	{Name: msg.ID("Labels"), URL: "/labels"},
	{Name: msg.ID("Calculators"), URL: "/calculators"},
	{Name: msg.ID("Settings"), URL: "/settings"},
	{Name: msg.ID("Journal"), URL: "/journal"},
	{Name: msg.ID("Findings"), URL: "/findings"},
	{Name: msg.ID("Faults: what is wrong?"), URL: "/faults"},
}
