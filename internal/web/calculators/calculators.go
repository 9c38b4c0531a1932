// Package calculators is every calculator as a page: typed in the painter's units,
// answered by the same code as the command line and the API.
package calculators

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
	"jevvo/internal/core/material"
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
	a.GET("/calculators", a.list)
	a.GET("/calculators/:name", a.show)
	a.POST("/calculators/:name", a.show)
	return nil
}

// A Question is the question a calculator answers, for search by name.
type Question struct {
	Name string
	Text msg.ID
}

// Questions are all of them.
func Questions() []Question {
	var out []Question
	for _, g := range calc.Groups {
		for _, c := range calc.Pages()[g] {
			out = append(out, Question{c.Name, c.Page.Question})
		}
	}
	return out
}

// A group is the entries under one heading of the list.
type group struct {
	Name        msg.ID
	Calculators []*calc.Calculator
}

func (a *area) list(c *gin.Context) error {
	var groups []group
	for _, g := range calc.Groups {
		groups = append(groups, group{g.Name(), calc.Pages()[g]})
	}
	return a.Show(c, http.StatusOK, "calculators", frame.Page{Title: msg.ID("Calculators"), Nav: "calculators",
		Data: groups})
}

// A page is one calculator with what was typed and what came out.
type page struct {
	Calculator *calc.Calculator
	Fields     []form.View
	Lead       []line
	Rest       []line
	List       []line // the columns of the list the answer has
	Failed     msg.Text
	Live       bool   // only the answer is sent
	Request    string // the JSON that was calculated, for one's own scripts

	values   map[string]string
	notices  form.Notices
	products []material.Product
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
	x, ok := calc.Find(c.Param("name"))
	if !ok || x.Page == nil {
		return frame.Missing
	}
	book, err := a.Studio.Materials.Book(c.Request.Context())
	if err != nil {
		return err
	}
	p := page{Calculator: x, values: map[string]string{}, notices: form.NewNotices(), products: book.Resins}
	for _, f := range x.Page.Fields {
		p.values[f.Key] = start(f, book.Settings.Units)
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
	p.calculate(c.Request.Context(), book.Settings.Units)
	p.views(book.Settings.Lang())
	status := http.StatusOK
	if !p.notices.OK() || p.Failed != nil {
		status = http.StatusUnprocessableEntity
	}
	if frame.FromHTMX(c) {
		p.Live = true
		return a.Part(c, status, "calculator", "answer", p)
	}
	return a.Show(c, status, "calculator", frame.Page{Title: x.Page.Question, Nav: "calculators", Data: p})
}

// views are the fields as the frame draws them.
func (p *page) views(l msg.Lang) {
	for _, f := range p.Calculator.Page.Fields {
		v := form.View{Key: f.Key, Label: f.Label, Kind: form.Line, Value: l.Figures(p.values[f.Key]), For: f.When,
			Error: p.notices.Errors[f.Key], Note: p.notices.Notes[f.Key]}
		switch f.Kind {
		case calc.Choice:
			v.Kind, v.Options = form.Choose, form.Plain(f.Options...)
		case calc.Sheet:
			v.Kind, v.Value, v.Options = form.Choose, p.values[f.Key], p.resins()
		}
		p.Fields = append(p.Fields, v)
	}
}

// resins are those that are owned.
func (p *page) resins() []form.Option {
	var out []form.Option
	for _, x := range p.products {
		if !x.Retired {
			out = append(out, form.Option{Value: strconv.FormatInt(x.ID, 10), Label: msg.Own(x.Name)})
		}
	}
	return out
}

// calculate turns the typed values into a request, runs it and lays out the
// answer.
func (p *page) calculate(ctx context.Context, sys units.System) {
	request := map[string]any{}
	for _, f := range p.Calculator.Page.Fields {
		if !p.wanted(f) {
			continue
		}
		if f.Kind == calc.Sheet {
			put(request, f.Key, p.product(f.Key))
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
	if !p.notices.OK() {
		return
	}
	body, err := json.Marshal(request)
	if err != nil {
		p.Failed = msg.ID("these values cannot be calculated")
		return
	}
	p.Request = string(body)
	out, err := calc.Run(ctx, p.Calculator.Name, strings.NewReader(p.Request))
	if err != nil {
		p.refuse(err)
		return
	}
	var answer any
	if err := json.Unmarshal(out, &answer); err != nil {
		p.Failed = msg.ID("the answer cannot be read")
		return
	}
	for _, o := range p.Calculator.Page.Figures {
		l := line{Label: o.Label, Values: showKind(o.Kind, dig(answer, o.Path), sys)}
		if inList(answer, o.Path) {
			p.List = append(p.List, l)
		} else if o.Lead {
			p.Lead = append(p.Lead, l)
		} else {
			p.Rest = append(p.Rest, l)
		}
	}
}

// Rows are those of the list.
func (p page) Rows() [][]value {
	if len(p.List) == 0 {
		return nil
	}
	out := make([][]value, len(p.List[0].Values))
	for i := range out {
		for _, l := range p.List {
			out[i] = append(out[i], l.Values[i])
		}
	}
	return out
}

// wanted reports whether a field applies to the choices made.
func (p *page) wanted(f calc.Field) bool {
	key, values, ok := strings.Cut(f.When, ":")
	return !ok || strings.Contains(","+values+",", ","+p.values[key]+",")
}

func (p *page) product(key string) any {
	id := p.values[key]
	for _, x := range p.products {
		if strconv.FormatInt(x.ID, 10) == id || id == "" {
			return sheetOf(x.Product)
		}
	}
	p.notices.Refuse(key, msg.ID("choose one of your resins"))
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
		for _, f := range p.Calculator.Page.Fields {
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
