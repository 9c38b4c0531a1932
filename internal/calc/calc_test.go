package calc_test

import (
	"bytes"
	"encoding/json"
	"errors"
	"math"
	"strings"
	"testing"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/calc"
	"jevvo/internal/msg"
)

// answer runs a calculator and reads its answer.
func answer(t *testing.T, name, in string) map[string]any {
	t.Helper()
	out, err := calc.Run(t.Context(), name, strings.NewReader(in))
	require.NoError(t, err, "%s %s", name, in)
	var m map[string]any
	require.NoError(t, json.Unmarshal(out, &m))
	return m
}

// pick follows a path such as "shims_mm.sw" or "lots_ml.0".
func pick(t *testing.T, v any, path string) any {
	t.Helper()
	for step := range strings.SplitSeq(path, ".") {
		switch x := v.(type) {
		case map[string]any:
			require.Contains(t, x, step)
			v = x[step]
		case []any:
			i := int(step[0] - '0')
			require.Less(t, i, len(x))
			v = x[i]
		}
	}
	return v
}

// Check values, each with where it is from; a regression value is one of our own
// model, kept so that a change of it is seen.
func TestWorkedValues(t *testing.T) {
	const area18 = "209031.84" // 18 × 18 in
	cases := []struct {
		source, name, in, path string
		want, within           float64
	}{
		{"common practice: 12 US fl oz on 18×18 in is 1.70 mm", "coat",
			`{"area_mm2":` + area18 + `,"film_mm":1.6977,"cups":0}`, "total_ml", 354.88, 0.02},
		{"de Gennes et al. ch. 2", "puddle-height", `{}`, "capillary_length_mm", 1.926, 5e-4},
		{"de Gennes et al. ch. 2", "puddle-height", `{}`, "height_mm", 1.63, 5e-3},
		{"de Gennes et al. ch. 2", "puddle-height", `{}`, "pinned_height_mm", 2.72, 5e-3},
		{"Jeffreys 1930", "sides", `{"viscosity_mpas":1000,"depth_mm":20,"at_s":60}`, "film_um", 175.8, 0.05},
		{"Jeffreys 1930", "sides", `{"viscosity_mpas":1000,"depth_mm":20,"at_s":1800}`, "film_um", 32.1, 0.05},
		{"common practice: 30 g A needs 10 g B at 3:1", "mix",
			`{"product":{"ratio_a":3,"ratio_b":1,"by":"weight"},"total_g":40}`, "b_g", 10, 1e-9},
		{"common practice: 31 g A needs 10.33 g B at 3:1", "correct",
			`{"product":{"ratio_a":3,"ratio_b":1,"by":"weight"},"poured_a_g":31,"poured_b_g":10}`, "add_b_g", 1. / 3, 1e-9},
		{"common practice: 300 mL at 2:1 is 200 + 100", "mix", `{"product":{"ratio_a":2,"ratio_b":1},"total_ml":300}`, "a_ml",
			200, 1e-9},
		{"worked example: 2:1 by volume is 2.330:1 by weight", "mix",
			`{"product":{"ratio_a":2,"ratio_b":1,"density_a_kg_m3":1130,"density_b_kg_m3":970},"total_g":333}`, "a_g", 233, 0.01},
		{"worked example: weighed as 2:1 it gets 16.5 % too much", "correct",
			`{"product":{"ratio_a":2,"ratio_b":1,"density_a_kg_m3":1130,"density_b_kg_m3":970},"poured_a_g":200,"poured_b_g":100}`, "off_ratio", 0.165, 5e-4},
		{"Nusselt film: 5°, 1.6 mm, 1 Pa·s is 0.80 mm/s", "level",
			`{"width_mm":600,"height_mm":400,"tilt_x_deg":5,"tilt_y_deg":0,"film_mm":1.6}`, "drift_mm_per_min", 48.1, 0.2},
		{"trigonometry: 0.2° over 600 mm is 2.1 mm", "level",
			`{"width_mm":600,"height_mm":400,"tilt_x_deg":0.2,"tilt_y_deg":0,"film_mm":1.6}`, "drop_x_mm", 2.094, 1e-3},
		{"regression value of the model", "clock",
			`{"product":{"working_min":45,"hard_h":24},"room":[{"at_min":0,"temp_c":25}]}`, "k_per_s", 1.5049e-4, 5e-9},
		{"regression value of the model", "clock",
			`{"product":{"working_min":45,"hard_h":24},"room":[{"at_min":0,"temp_c":25}]}`, "n", 3.0679, 5e-5},
		{"regression value of the model", "clock",
			`{"product":{"working_min":45,"hard_h":24},"room":[{"at_min":0,"temp_c":25}]}`, "gel_min", 4.41 * 60, 0.4},
		{"regression value of the model", "clock",
			`{"product":{"working_min":60,"hard_h":24},"room":[{"at_min":0,"temp_c":25}]}`, "gel_min", 5.26 * 60, 0.4},
		{"regression value of the model", "cup", `{"product":{"working_min":45,"hard_h":24},"mass_g":150}`, "use_by_min",
			14.7, 0.06},
		{"regression value of the model", "cup", `{"product":{"working_min":45,"hard_h":24},"mass_g":150}`, "gel_min", 37.2,
			0.06},
		{"regression value of the model", "cup", `{"product":{"working_min":45,"hard_h":24},"mass_g":150}`, "peak_c", 72,
			0.5},
		{"regression value of the model", "cup", `{"product":{"working_min":45,"hard_h":24},"mass_g":150}`, "peak_at_min", 36,
			0.5},
		{"Huppert 1982", "line", `{"volume_ml":10,"length_mm":300,"viscosity_mpas":1000,"at_s":[10,60,300]}`,
			"half_width_mm.0", 15.6, 0.05},
		{"Huppert 1982", "line", `{"volume_ml":10,"length_mm":300,"viscosity_mpas":1000,"at_s":[10,60,300]}`,
			"half_width_mm.2", 30.9, 0.05},
		{"Huppert 1982", "puddle", `{"volume_ml":50,"viscosity_mpas":1000,"at_s":[10,60,300]}`, "radius_mm.0", 80.9, 0.05},
		{"Huppert 1982", "puddle", `{"volume_ml":50,"viscosity_mpas":1000,"at_s":[10,60,300]}`, "radius_mm.2", 123.8, 0.05},
		{"Orchard 1962", "levelling", `{"wavelength_mm":20,"film_mm":1.6,"viscosity_mpas":1000}`, "rate_per_s", 1.986, 5e-4},
		{"Orchard 1962", "levelling", `{"wavelength_mm":600,"film_mm":1.6,"viscosity_mpas":1000}`, "half_life_s", 429, 0.5},
		{"Stokes", "settle", `{"particle_um":50,"particle_kg_m3":3600,"viscosity_mpas":1000}`, "speed_um_s", 3.41, 5e-3},
		{"Stokes", "settle", `{"particle_um":1000,"particle_kg_m3":0,"viscosity_mpas":1000}`, "speed_um_s", -599, 0.5},
		{"regression value of the model", "slab", `{"product":{"working_min":45,"hard_h":24},"depth_mm":10}`, "gel_min",
			175.7, 0.06},
		{"regression value of the model", "slab", `{"product":{"working_min":45,"hard_h":24},"depth_mm":20,"faces":1}`,
			"peak_c", 80.9, 0.06},
		{"regression value of the model", "slab", `{"product":{"working_min":45,"hard_h":24},"depth_mm":50}`, "peak_at_min",
			45.1, 0.06},
		{"Magnus, WMO constants", "dew-point", `{"air_c":20,"humidity_share":0.5}`, "dew_point_c", 9.27, 0.02},
		{"Jeffreys 1930", "tilt", `{"film_mm":50,"length_mm":600,"tilt_deg":20,"at_s":180,"viscosity_mpas":1600}`, "film_mm",
			0.80, 0.005},
		{"Carslaw & Jaeger", "torch", `{"flux_kw_m2":60,"dwell_s":2}`, "surface_c", 25 + 152, 0.5},
		{"Carslaw & Jaeger", "torch", `{"flux_kw_m2":25,"dwell_s":2}`, "surface_c", 25 + 63, 0.5},
		{"Orchard 1962, exact", "cells",
			`{"lower":{"film_mm":0.8,"viscosity_mpas":1000,"density_kg_m3":1100},"upper":{"film_mm":0.8,"viscosity_mpas":1000,"density_kg_m3":1100},"wavelength_mm":20}`, "growth_at_wavelength_per_s", -1.36735, 5e-6},
		{"regression value of the model", "cells",
			`{"lower":{"film_mm":1.2,"viscosity_mpas":1000,"density_kg_m3":1100},"upper":{"film_mm":0.4,"viscosity_mpas":1000,"density_kg_m3":1160}}`, "spacing_mm", 2.23, 6e-3},
		{"regression value of the model: e-fold 30 s", "cells",
			`{"lower":{"film_mm":1.2,"viscosity_mpas":1000,"density_kg_m3":1100},"upper":{"film_mm":0.4,"viscosity_mpas":1000,"density_kg_m3":1160}}`, "growth_per_s", 1. / 30, 4e-4},
		{"regression value of the model: silicone", "cells",
			`{"lower":{"film_mm":1.2,"viscosity_mpas":1000,"density_kg_m3":1100},"upper":{"film_mm":0.4,"viscosity_mpas":1000,"density_kg_m3":1160},"interface_mn_m":0.5}`, "spacing_mm", 8.5, 0.05},
		{"regression value of the model (Kubelka 1948)", "opacity", `{"k_per_mm":[0.02],"s_per_mm":[4],"film_mm":1.6}`,
			"contrast_ratio", 0.957, 5e-4},
		{"regression value of the model (Kubelka 1948)", "opacity", `{"k_per_mm":[0.02],"s_per_mm":[0.56],"film_mm":1.6}`,
			"over_white.0", 0.7875, 5e-5},
		{"regression value of the model (Kubelka 1948)", "film-colour",
			`{"k_per_mm":[0.02],"s_per_mm":[0.56],"film_mm":1.6,"backing":[0]}`, "reflectance.0", 0.4601, 5e-5},
		{"Sharma, Wu & Dalal 2005, pair 25", "delta-e",
			`{"lab1":[60.2574,-34.0099,36.2677],"lab2":[60.4626,-34.1751,39.4387]}`, "ciede2000", 1.2644, 5e-5},
		{"CIE 15: white has L 100", "blend", `{"parts":[{"srgb":"#ffffff","amount":2}]}`, "lab.0", 100, 1e-6},
	}
	for _, c := range cases {
		got := pick(t, answer(t, c.name, c.in), c.path)
		assert.InDelta(t, c.want, got, c.within, "%s %s: %s", c.name, c.path, c.source)
	}
}

// The windows of a 45 min product against common practice: rest a quarter of
// an hour before dragging, forty minutes of swiping, tape at 4–6 h, recoat
// next day, cured about 72 h.
func TestClockWindowsMatchCommonPractice(t *testing.T) {
	a := answer(t, "clock", `{"product":{"working_min":45,"hard_h":24},"room":[{"at_min":0,"temp_c":25}],"until_h":100}`)
	from := map[string]float64{}
	for _, w := range a["windows"].([]any) {
		w := w.(map[string]any)
		from[w["name"].(string)] = w["from_min"].(float64)
	}
	assert.InDelta(t, 15, from["Holding"], 1.5)
	assert.InDelta(t, 45, pick(t, a["windows"], "1.to_min"), 1e-6) // Lacing ends at the working time
	assert.True(t, from["Soft set"] > 4*60 && from["Soft set"] < 6*60)
	assert.InDelta(t, 24*60, from["Hard"], 1e-6)
	assert.InDelta(t, 77*60, from["Cured"], 60)
	assert.NotContains(t, from, "Heat-ready", "30 days lie beyond until_h")
}

func TestOptionalFieldsTakeTheirDefaults(t *testing.T) {
	short := answer(t, "stages", `{"total_ml":1500,"max_lot_ml":400}`)
	full := answer(t, "stages", `{"total_ml":1500,"max_lot_ml":400,"step_ml":5}`)
	assert.Equal(t, full, short)
	assert.Equal(t, []any{375., 375., 375., 375.}, short["lots_ml"])
	assert.Equal(t,
		answer(t, "coat", `{"area_mm2":1e5,"film_mm":1.6}`),
		answer(t, "coat", `{"area_mm2":1e5,"film_mm":1.6,"cups":1,"cup_loss_ml":3,"run_off_share":0}`))
	assert.Equal(t, 0., answer(t, "coat", `{"area_mm2":1e5,"film_mm":1.6,"cups":0}`)["cup_loss_ml"],
		"an explicit 0 is kept")
}

func TestRefusals(t *testing.T) {
	product := `"product":{}`
	cases := []struct {
		name, in string
		status   int
		field    string
	}{
		{"coat", `{`, 400, ""},
		{"coat", ``, 400, ""},
		{"coat", `{"area_mm2":1,"film_mm":1} trailing`, 400, ""},
		{"coat", `{"area_mm2":NaN,"film_mm":1}`, 400, ""},
		{"coat", `[]`, 422, ""},
		{"coat", `{"film_mm":1.6}`, 422, "area_mm2"},
		{"coat", `{"area_mm2":0,"film_mm":1.6}`, 422, "area_mm2"},
		{"coat", `{"area_mm2":-5,"film_mm":1.6}`, 422, "area_mm2"},
		{"coat", `{"area_mm2":1e999,"film_mm":1.6}`, 422, "area_mm2"},
		{"coat", `{"area_mm2":"big","film_mm":1.6}`, 422, "area_mm2"},
		{"coat", `{"area_mm2":1e5,"film_mm":1.6,"run_off_share":1}`, 422, "run_off_share"},
		{"coat", `{"area_mm2":1e5,"film_mm":1.6,"cups":1.5}`, 422, "cups"},
		{"surface", `{"shape":"blob"}`, 422, "shape"},
		{"surface", `{"shape":"rectangle","width_mm":10}`, 422, "height_mm"},
		{"surface", `{"shape":"polygon","points_mm":[[0,0],[10,10],[10,0],[0,10]]}`, 422, "points_mm"},
		{"surface", `{"shape":"ellipse","width_mm":300,"height_mm":1e-9}`, 422, "height_mm"},
		{"surface", `{"shape":"polygon","points_mm":[[0,0],[100],[50,80]]}`, 422, "points_mm[1]"},
		{"surface", `{"shape":"polygon","points_mm":[[0,0],[100,0,7],[50,80]]}`, 422, "points_mm[1]"},
		{"surface", `{"shape":"outline","svg_path":"M0 0L10 0L10 10"}`, 422, "svg_path"},
		{"mix", `{` + product + `}`, 422, "total_ml"},
		{"mix", `{` + product + `,"total_ml":1,"total_g":1}`, 422, "total_g"},
		{"mix", `{"product":{"by":"eye"},"total_ml":1}`, 422, "product.by"},
		{"clock", `{"product":{"working_min":60,"hard_h":1},"room":[{"at_min":0,"temp_c":25}]}`, 422, "product.hard_h"},
		{"clock", `{` + product + `,"room":[]}`, 422, "room"},
		{"clock", `{` + product + `,"room":[{"at_min":0,"temp_c":200}]}`, 422, "room[0].temp_c"},
		{"portion", `{` + product + `,"coat_ml":100,"cups":[{"name":"a","share":0}]}`, 422, "cups"},
		{"portion", `{` + product + `,"coat_ml":100,"cups":[{"name":"a","share":-1}]}`, 422, "cups[0].share"},
		{"level", `{"width_mm":1,"height_mm":1,"tilt_x_deg":0,"film_mm":1}`, 422, "tilt_y_deg"},
		{"opacity", `{"k_per_mm":[0.02],"s_per_mm":[1,2],"film_mm":1.6}`, 422, "s_per_mm"},
		{"opacity", `{"k_per_mm":[-1],"s_per_mm":[1],"film_mm":1.6}`, 422, "k_per_mm[0]"},
		{"film-colour", `{"k_per_mm":[1],"s_per_mm":[1],"film_mm":1.6,"backing":[1.5]}`, 422, "backing[0]"},
		{"film-colour", `{"k_per_mm":[1],"s_per_mm":[1],"film_mm":-1,"backing":[1]}`, 422, "film_mm"},
		{"delta-e", `{"lab1":[50,0],"lab2":[50,0,0]}`, 422, "lab1"},
		{"delta-e", `{"lab1":[50,0,0],"lab2":[500,0,0]}`, 422, "lab2"},
		{"blend", `{"parts":[]}`, 422, "parts"},
		{"blend", `{"parts":[{"srgb":"red","amount":1}]}`, 422, "parts[0].srgb"},
		{"blend", `{"parts":[{"srgb":"#112233","amount":0}]}`, 422, "parts"},
		{"nothing", `{}`, 404, ""},
	}
	for _, c := range cases {
		_, err := calc.Run(t.Context(), c.name, strings.NewReader(c.in))
		var p *calc.Problem
		require.ErrorAs(t, err, &p, "%s %s", c.name, c.in)
		assert.Equal(t, c.status, p.Status, "%s %s", c.name, c.in)
		if c.field != "" {
			require.NotEmpty(t, p.Errors, "%s %s", c.name, c.in)
			assert.Equal(t, c.field, p.Errors[0].Field, "%s %s", c.name, c.in)
			assert.NotEmpty(t, p.Errors[0].Message)
		}
		assert.True(t, json.Valid(p.JSON(msg.English)))
	}
}

// No request, however odd, may panic or print a number that is not finite.
func FuzzRun(f *testing.F) {
	for _, s := range []string{
		`{"shape":"outline","svg_path":"M0 0H10V10Z"}`, `{"area_mm2":1e300,"film_mm":1e3}`, `{"product":{},"total_ml":1e308}`,
		`{"lower":{"film_mm":1,"viscosity_mpas":1e-300,"density_kg_m3":1},"upper":{"film_mm":1,"viscosity_mpas":1e300,"density_kg_m3":9}}`,
	} {
		f.Add(uint8(3), s)
	}
	names := calc.Names()
	f.Fuzz(func(t *testing.T, pick uint8, in string) {
		if strings.Contains(in, "until_h") || len(in) > 4096 {
			return // long clocks are legal and slow
		}
		out, err := calc.Run(t.Context(), names[int(pick)%len(names)], strings.NewReader(in))
		var p *calc.Problem
		if err != nil && !errors.As(err, &p) {
			t.Fatalf("%v is no problem object", err)
		}
		if err == nil && !json.Valid(out) {
			t.Fatalf("not JSON: %s", out)
		}
	})
}

// The portion calculator keeps every gram, whatever the step.
func TestPortionAddsUp(t *testing.T) {
	a := answer(t, "portion", `{"product":{"ratio_a":2,"ratio_b":1},"coat_ml":333,"scale_step_g":1,"cups":[{"name":"white","share":1},{"name":"sea","share":1},{"name":"sand","share":1}]}`)
	sumA, sumB := 0.0, 0.0
	for _, c := range a["cups"].([]any) {
		c := c.(map[string]any)
		sumA += c["a_g"].(float64)
		sumB += c["b_g"].(float64)
	}
	assert.Equal(t, a["a_g"], sumA)
	assert.Equal(t, a["b_g"], sumB)
	// (333 + 3·3) mL at 2:1 by volume of 1130 and 1000 kg/m³
	assert.Equal(t, math.Round(342*2./3*1.13), sumA)
	assert.Equal(t, math.Round(342/3.), sumB)
}

func TestOpenAPIDescribesEveryCalculator(t *testing.T) {
	raw, err := calc.OpenAPI("test")
	require.NoError(t, err)
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(raw))
	require.NoError(t, err)
	assert.Equal(t, "3.1.0", pick(t, doc, "openapi"))
	for _, name := range calc.Names() {
		op := doc.(map[string]any)["paths"].(map[string]any)["/api/v1/calc/"+name].(map[string]any)["post"].(map[string]any)
		responses := op["responses"].(map[string]any)
		assert.Contains(t, responses, "200", name)
		assert.Contains(t, responses["422"].(map[string]any)["content"], "application/problem+json", name)
		assert.Contains(t, op, "requestBody", name)
	}
}
