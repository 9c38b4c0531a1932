package web

import (
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"jevvo/internal/calc"
	"jevvo/internal/core/resin"
	"jevvo/internal/core/units"
	"jevvo/internal/studio"
)

func (s *Server) sumRoutes(e *gin.Engine) {
	e.GET("/sums", s.listSums)
	e.GET("/sums/:name", s.showSum)
	e.POST("/sums/:name", s.showSum)
}

type sumGroup struct {
	Name string
	Sums []sum
}

func (s *Server) listSums(c *gin.Context) {
	var groups []sumGroup
	for _, x := range sums {
		if n := len(groups); n == 0 || groups[n-1].Name != x.Group {
			groups = append(groups, sumGroup{Name: x.Group})
		}
		last := &groups[len(groups)-1]
		last.Sums = append(last.Sums, x)
	}
	s.show(c, http.StatusOK, "sums", Page{Title: "Sums", Nav: "sums", Data: groups})
}

// A sumPage is one sum with what was typed and what came out.
type sumPage struct {
	Sum      sum
	Values   map[string]string
	Notices  studio.Notices
	Products []studio.Product
	Lead     []sumLine
	Rest     []sumLine
	Failed   string
	Live     bool   // only the answer is sent
	Request  string // the JSON that was reckoned, for one's own scripts
}

// A sumLine is one figure, or one row of figures for a list.
type sumLine struct {
	Label  string
	Values []sumValue
}

type sumValue struct{ Text, Other string }

func (s *Server) showSum(c *gin.Context) {
	x, ok := findSum(c.Param("name"))
	if !ok {
		s.fail(c, errNoPage)
		return
	}
	set, err := s.studio.Settings(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	page := sumPage{Sum: x, Values: map[string]string{}, Notices: studio.Notices{Errors: map[string]string{}, Notes: map[string]string{}}}
	for _, f := range x.Fields {
		page.Values[f.Key] = f.Start
	}
	if page.Products, err = s.studio.Products(c.Request.Context()); err != nil {
		s.fail(c, err)
		return
	}
	if c.Request.Method == http.MethodPost {
		values, ok := s.typed(c)
		if !ok {
			return
		}
		for k, v := range values {
			page.Values[k] = v
		}
	}
	page.reckon(set.Units)
	status := http.StatusOK
	if !page.Notices.OK() || page.Failed != "" {
		status = http.StatusUnprocessableEntity
	}
	if fromHTMX(c) {
		page.Live = true
		s.fragment(c, http.StatusOK, "sum", "answer", page)
		return
	}
	s.show(c, status, "sum", Page{Title: x.Question, Nav: "sums", Data: page})
}

// reckon turns the typed values into a request, runs it and lays out the
// answer.
func (p *sumPage) reckon(sys units.System) {
	request := map[string]any{}
	for _, f := range p.Sum.Fields {
		if !p.wanted(f) {
			continue
		}
		v, note, err := readKind(f.Kind, p.Values[f.Key], sys)
		if err != nil {
			p.Notices.Errors[f.Key] = err.Error()
			continue
		}
		if note != "" {
			p.Notices.Notes[f.Key] = note
		}
		put(request, f.Key, v)
	}
	if p.Sum.Product {
		request["product"] = p.product()
	}
	if !p.Notices.OK() {
		return
	}
	body, err := json.Marshal(request)
	if err != nil {
		p.Failed = "these values cannot be reckoned"
		return
	}
	p.Request = string(body)
	out, err := calc.Run(p.Sum.Name, strings.NewReader(p.Request))
	if err != nil {
		p.refuse(err)
		return
	}
	var answer any
	if err := json.Unmarshal(out, &answer); err != nil {
		p.Failed = "the answer cannot be read"
		return
	}
	for _, o := range p.Sum.Outputs {
		line := sumLine{Label: o.Label, Values: showKind(o.Kind, dig(answer, o.Path), sys)}
		if o.Lead {
			p.Lead = append(p.Lead, line)
		} else {
			p.Rest = append(p.Rest, line)
		}
	}
}

// wanted reports whether a field applies to the choices made.
func (p *sumPage) wanted(f sumField) bool {
	key, values, ok := strings.Cut(f.Show, ":")
	return !ok || strings.Contains(","+values+",", ","+p.Values[key]+",")
}

func (p *sumPage) product() any {
	id := p.Values["product"]
	for _, x := range p.Products {
		if strconv.FormatInt(x.ID, 10) == id || id == "" {
			return sheetOf(x.Product)
		}
	}
	p.Notices.Errors["product"] = "choose a resin from the shelf"
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
func (p *sumPage) refuse(err error) {
	var problem *calc.Problem
	if !errors.As(err, &problem) {
		p.Failed = err.Error()
		return
	}
	for _, e := range problem.Errors {
		found := false
		for _, f := range p.Sum.Fields {
			if f.Key == e.Field || strings.HasPrefix(e.Field, f.Key+"[") {
				p.Notices.Errors[f.Key], found = e.Message, true
			}
		}
		if !found {
			p.Failed = strings.TrimSpace(e.Field + " " + e.Message)
		}
	}
}

// put sets a value under a dotted key.
func put(m map[string]any, key string, v any) {
	head, rest, nested := strings.Cut(key, ".")
	if !nested {
		m[key] = v
		return
	}
	inner, ok := m[head].(map[string]any)
	if !ok {
		inner = map[string]any{}
		m[head] = inner
	}
	put(inner, rest, v)
}

// dig follows a dotted path; through a list it collects from every entry.
func dig(v any, path string) []any {
	if path == "" {
		if list, ok := v.([]any); ok {
			return list
		}
		return []any{v}
	}
	head, rest, _ := strings.Cut(path, ".")
	switch x := v.(type) {
	case map[string]any:
		return dig(x[head], rest)
	case []any:
		var out []any
		for _, e := range x {
			out = append(out, dig(e, path)...)
		}
		return out
	}
	return nil
}

// readKind reads a typed value into what the calculator takes.
func readKind(kind, text string, sys units.System) (v any, note string, err error) {
	bare := map[bool][3]string{false: {"cm", "ml", "C"}, true: {"in", "floz", "F"}}[sys == units.US]
	switch kind {
	case "length":
		r, err := units.ParseLength(text, bare[0])
		return float64(r.Value), r.Note, err
	case "film":
		r, err := units.ParseLength(text, "mm")
		return float64(r.Value), r.Note, err
	case "size":
		w, h, err := units.ParseSize(text, bare[0])
		return float64(w.Value.Times(h.Value)), w.Note, err
	case "volume":
		r, err := units.ParseVolume(text, bare[1])
		return float64(r.Value), r.Note, err
	case "mass":
		r, err := units.ParseMass(text, "g")
		return float64(r.Value), r.Note, err
	case "density":
		r, err := units.ParseDensity(text, "kg/m3")
		return float64(r.Value), r.Note, err
	case "viscosity":
		r, err := units.ParseViscosity(text, "mpas")
		return float64(r.Value), r.Note, err
	case "angle":
		r, err := units.ParseAngle(text, "deg")
		return float64(r.Value), r.Note, err
	case "temperature":
		r, err := units.ParseTemperature(text, bare[2])
		return float64(r.Value), r.Note, err
	case "room":
		r, err := units.ParseTemperature(text, bare[2])
		return []any{map[string]any{"at_min": 0, "temp_c": float64(r.Value)}}, r.Note, err
	case "share":
		v, err := units.ParseShare(text)
		return v, "", err
	case "number":
		v, err := units.ParseNumber(text)
		return v, "", err
	case "seconds":
		r, err := units.ParseMinutes(text, "s")
		return r.Value * 60, r.Note, err
	case "times":
		return readTimes(text)
	case "points":
		return readPoints(text)
	case "cups":
		return readCups(text)
	}
	return text, "", nil
}

func readTimes(text string) (any, string, error) {
	var out []float64
	for part := range strings.SplitSeq(text, ",") {
		r, err := units.ParseMinutes(part, "s")
		if err != nil {
			return nil, "", err
		}
		out = append(out, r.Value*60)
	}
	return out, "", nil
}

func readPoints(text string) (any, string, error) {
	points, err := studio.ParsePoints(text)
	if err != nil {
		return nil, "", err
	}
	out := make([][2]float64, len(points))
	for i, p := range points {
		out[i] = [2]float64{p.X, p.Y}
	}
	return out, "", nil
}

// readCups reads "base 50; sea 30; white 20".
func readCups(text string) (any, string, error) {
	var out []map[string]any
	for part := range strings.SplitSeq(text, ";") {
		part = strings.TrimSpace(part)
		if part == "" {
			continue
		}
		i := strings.LastIndexByte(part, ' ')
		share, err := units.ParseShare(part[i+1:])
		if i < 0 || err != nil {
			return nil, "", fmt.Errorf("%q is not a cup; write cups as base 50; sea 30; white 20", part)
		}
		out = append(out, map[string]any{"name": strings.TrimSpace(part[:i]), "share": share})
	}
	return out, "", nil
}

// showKind prints values of the answer in both systems.
func showKind(kind string, values []any, sys units.System) []sumValue {
	out := make([]sumValue, len(values))
	for i, v := range values {
		out[i] = showOne(kind, v, sys)
	}
	return out
}

func showOne(kind string, v any, sys units.System) sumValue {
	f, isNumber := v.(float64)
	if !isNumber {
		switch x := v.(type) {
		case bool:
			return sumValue{Text: map[bool]string{true: "yes", false: "no"}[x]}
		case string:
			return sumValue{Text: x}
		}
		return sumValue{Text: "–"}
	}
	both := func(text func(units.System) string) sumValue { return sumValue{text(sys), text(sys.Other())} }
	switch kind {
	case "length":
		return both(units.Length(f).Text)
	case "film":
		return both(units.Length(f).Film)
	case "micron":
		return both((units.Length(f) * units.Micrometre).Film)
	case "area":
		return both(units.Area(f).Text)
	case "volume":
		return both(units.Volume(f).Text)
	case "mass":
		return sumValue{fmt.Sprintf("%.2f g", f), units.Mass(f).Ounces()}
	case "temperature":
		return both(units.Temperature(f).Text)
	case "density":
		return sumValue{Text: units.Fixed(f, 1) + " kg/m³"}
	case "minutes":
		return sumValue{Text: studio.Spoken(f)}
	case "seconds":
		return sumValue{Text: studio.Spoken(f / 60)}
	case "signed":
		return sumValue{Text: fmt.Sprintf("%+.1f %%", f*100)}
	}
	return sumValue{Text: strconv.FormatFloat(f, 'g', 4, 64)}
}
