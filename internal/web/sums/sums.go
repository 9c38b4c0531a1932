// Package sums is every calculator as a page: typed in the painter's units,
// answered by the same code as the command line and the API.
package sums

import (
	"context"
	"embed"
	"encoding/json"
	"errors"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"jevvo/internal/calc"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/resin"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/web/frame"
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
	a.GET("/sums", a.list)
	a.GET("/sums/:name", a.show)
	a.POST("/sums/:name", a.show)
	return nil
}

// A Question is what a sum answers, for those who look for it by name.
type Question struct {
	Name string
	Text msg.ID
}

// Questions are all of them.
func Questions() []Question {
	out := make([]Question, len(table))
	for i, x := range table {
		out[i] = Question{x.Name, x.Question}
	}
	return out
}

type group struct {
	Name msg.ID
	Sums []sum
}

func (a *area) list(c *gin.Context) error {
	var groups []group
	for _, x := range table {
		if n := len(groups); n == 0 || groups[n-1].Name != x.Group {
			groups = append(groups, group{Name: x.Group})
		}
		last := &groups[len(groups)-1]
		last.Sums = append(last.Sums, x)
	}
	return a.Show(c, http.StatusOK, "sums", frame.Page{Title: msg.ID("Sums"), Nav: "sums", Data: groups})
}

// A page is one sum with what was typed and what came out.
type page struct {
	Sum     sum
	Fields  []form.View
	Lead    []line
	Rest    []line
	Failed  msg.Text
	Live    bool   // only the answer is sent
	Request string // the JSON that was reckoned, for one's own scripts

	values   map[string]string
	notices  form.Notices
	products []plan.Product
}

// A line is one figure, or one row of figures for a list.
type line struct {
	Label  msg.ID
	Values []value
}

type value struct {
	Text  msg.Text
	Other msg.Text
}

func (a *area) show(c *gin.Context) error {
	x, ok := findSum(c.Param("name"))
	if !ok {
		return frame.Missing
	}
	book, err := a.Studio.Shelf.Book(c.Request.Context())
	if err != nil {
		return err
	}
	p := page{Sum: x, values: map[string]string{}, notices: form.NewNotices(), products: book.Resins}
	for _, f := range x.Fields {
		p.values[f.Key] = f.Start
	}
	if c.Request.Method == http.MethodPost {
		typed, err := frame.Typed(c)
		if err != nil {
			return err
		}
		for k, v := range typed {
			p.values[k] = v
		}
	}
	p.reckon(c.Request.Context(), book.Settings.Units)
	p.views(book.Settings.Lang())
	status := http.StatusOK
	if !p.notices.OK() || p.Failed != nil {
		status = http.StatusUnprocessableEntity
	}
	if frame.FromHTMX(c) {
		p.Live = true
		return a.Part(c, status, "sum", "answer", p)
	}
	return a.Show(c, status, "sum", frame.Page{Title: x.Question, Nav: "sums", Data: p})
}

// views are the fields as the frame draws them.
func (p *page) views(l msg.Lang) {
	if p.Sum.Product {
		v := form.View{Key: "product", Label: msg.ID("Resin"), Kind: form.Choose, Value: p.values["product"],
			Error: p.notices.Errors["product"]}
		for _, x := range p.products {
			if !x.Retired {
				v.Options = append(v.Options, form.Option{Value: strconv.FormatInt(x.ID, 10), Label: msg.Own(x.Name)})
			}
		}
		p.Fields = append(p.Fields, v)
	}
	for _, f := range p.Sum.Fields {
		v := form.View{Key: f.Key, Label: f.Label, Kind: form.Line, Value: l.Figures(p.values[f.Key]), For: f.Show,
			Error: p.notices.Errors[f.Key], Note: p.notices.Notes[f.Key]}
		if f.Kind == "choice" {
			v.Kind, v.Options = form.Choose, form.Plain(f.Options...)
		}
		p.Fields = append(p.Fields, v)
	}
}

// reckon turns the typed values into a request, runs it and lays out the
// answer.
func (p *page) reckon(ctx context.Context, sys units.System) {
	request := map[string]any{}
	for _, f := range p.Sum.Fields {
		if !p.wanted(f) {
			continue
		}
		v, note, err := readKind(f.Kind, p.values[f.Key], sys)
		if err != nil {
			p.notices.Refuse(f.Key, msg.Of(err))
			continue
		}
		if note != nil {
			p.notices.Notes[f.Key] = note
		}
		put(request, f.Key, v)
	}
	if p.Sum.Product {
		request["product"] = p.product()
	}
	if !p.notices.OK() {
		return
	}
	body, err := json.Marshal(request)
	if err != nil {
		p.Failed = msg.ID("these values cannot be reckoned")
		return
	}
	p.Request = string(body)
	out, err := calc.Run(ctx, p.Sum.Name, strings.NewReader(p.Request))
	if err != nil {
		p.refuse(err)
		return
	}
	var answer any
	if err := json.Unmarshal(out, &answer); err != nil {
		p.Failed = msg.ID("the answer cannot be read")
		return
	}
	for _, o := range p.Sum.Outputs {
		l := line{Label: o.Label, Values: showKind(o.Kind, dig(answer, o.Path), sys)}
		if o.Lead {
			p.Lead = append(p.Lead, l)
		} else {
			p.Rest = append(p.Rest, l)
		}
	}
}

// wanted reports whether a field applies to the choices made.
func (p *page) wanted(f sumField) bool {
	key, values, ok := strings.Cut(f.Show, ":")
	return !ok || strings.Contains(","+values+",", ","+p.values[key]+",")
}

func (p *page) product() any {
	id := p.values["product"]
	for _, x := range p.products {
		if strconv.FormatInt(x.ID, 10) == id || id == "" {
			return sheetOf(x.Product)
		}
	}
	p.notices.Refuse("product", msg.ID("choose a resin from the shelf"))
	return nil
}

// sheetOf is a product as the calculators take it.
func sheetOf(p resin.Product) calc.Product {
	return calc.Product{
		WorkingMin: p.WorkingMinutes, HardH: p.HardHours, Viscosity: float64(p.Viscosity), RatioA: p.RatioA, RatioB: p.RatioB,
		By: string(p.By), DensityA: float64(p.DensityA), DensityB: float64(p.DensityB), Tolerance: p.Tolerance,
	}
}

// refuse puts a problem of the calculator beside the field it is about.
func (p *page) refuse(err error) {
	var problem *calc.Problem
	if !errors.As(err, &problem) {
		p.Failed = msg.Of(err)
		return
	}
	for _, e := range problem.Errors {
		found := false
		for _, f := range p.Sum.Fields {
			if f.Key == e.Field || strings.HasPrefix(e.Field, f.Key+"[") {
				p.notices.Refuse(f.Key, e.Message)
				found = true
			}
		}
		if !found {
			p.Failed = msg.Join(" ", msg.Own(e.Field), e.Message)
		}
	}
}
