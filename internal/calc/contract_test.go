package calc_test

import (
	"encoding/json"
	"sort"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/calc"
)

// The published names of every request and answer field. Scripts depend on
// them: a renamed field is a broken spreadsheet.
var contract = map[string]struct{ request, example, answer string }{
	"surface": {"diameter_mm height_mm points_mm shape side_mm svg_path width_mm",
		`{"shape":"circle","diameter_mm":300}`, "area_mm2 perimeter_mm side_area_mm2"},
	"coat": {"absorbed_ml area_mm2 cup_loss_ml cups film_mm inclusions_ml run_off_share side_area_mm2 " +
		"side_film_mm texture_ml", `{"area_mm2":1e5,"film_mm":1.6}`, "cup_loss_ml face_ml run_off_ml sides_ml total_ml"},
	"puddle-height": {"contact_angle_deg density_kg_m3 surface_tension_mn_m", `{}`,
		"capillary_length_mm height_mm pinned_height_mm"},
	"mix": {"product total_g total_ml", `{"product":{},"total_ml":100}`,
		"a_g a_ml b_g b_ml density_kg_m3 total_g total_ml"},
	"correct": {"poured_a_g poured_b_g product", `{"product":{},"poured_a_g":10,"poured_b_g":10}`,
		"add_a_g add_b_g off_ratio total_g within_tolerance"},
	"stages": {"max_lot_ml step_ml total_ml", `{"total_ml":10,"max_lot_ml":5}`, "lots_ml"},
	"level": {"film_mm height_mm tilt_x_deg tilt_y_deg viscosity_mpas width_mm",
		`{"width_mm":1,"height_mm":1,"tilt_x_deg":0,"tilt_y_deg":0,"film_mm":1}`, "drift_mm_per_min drop_x_mm " +
			"drop_y_mm shims_mm"},
	"clock": {"product room step_min until_h", `{"product":{},"room":[{"at_min":0,"temp_c":25}]}`,
		"gel_min k_per_s n points stops_at_alpha windows"},
	"cup": {"mass_g product room_c start_c", `{"product":{},"mass_g":100}`,
		"gel_min peak_at_min peak_c use_by_min"},
	"slab": {"depth_mm faces product room_c start_c", `{"product":{},"depth_mm":20}`,
		"cooled_min gel_min peak_at_min peak_c safe_depth_mm working_min"},
	"dew-point": {"air_c humidity_share", `{"humidity_share":0.5}`, "board_above_c dew_point_c"},
	"tilt": {"at_s density_kg_m3 film_mm length_mm tilt_deg viscosity_mpas",
		`{"film_mm":2,"length_mm":600,"tilt_deg":20,"at_s":180,"viscosity_mpas":1600}`, "film_mm run_off_share"},
	"flow": {"board cell_mm cells contact_angle_deg dam_mm density_kg_m3 edge ground_srgb moves probes_mm " +
		"product room sample_s seed start surface_tension_mn_m viscosity_mpas",
		`{"board":{"shape":"circle","diameter_mm":100},"cell_mm":5,"moves":[{"at_s":0,"move":"bed","film_mm":1,"srgb":"#808080"}],"sample_s":[1]}`, "cells grid samples steps"},
	"line": {"at_s density_kg_m3 length_mm viscosity_mpas volume_ml",
		`{"volume_ml":1,"length_mm":1,"viscosity_mpas":1,"at_s":[1]}`, "half_width_mm"},
	"puddle": {"at_s density_kg_m3 viscosity_mpas volume_ml", `{"volume_ml":1,"viscosity_mpas":1,"at_s":[1]}`,
		"radius_mm"},
	"sides": {"at_s density_kg_m3 depth_mm viscosity_mpas", `{"viscosity_mpas":1,"depth_mm":1,"at_s":1}`,
		"film_um"},
	"levelling": {"density_kg_m3 film_mm surface_tension_mn_m viscosity_mpas wavelength_mm",
		`{"wavelength_mm":9,"film_mm":1,"viscosity_mpas":1}`, "half_life_s rate_per_s"},
	"settle": {"density_kg_m3 particle_kg_m3 particle_um viscosity_mpas",
		`{"particle_um":1,"particle_kg_m3":1,"viscosity_mpas":1}`, "speed_um_s"},
	"torch": {"dwell_s flux_kw_m2 start_c", `{"flux_kw_m2":60,"dwell_s":1}`, "max_dwell_s surface_c"},
	"film-colour": {"backing film_mm k_per_mm s_per_mm", `{"k_per_mm":[1],"s_per_mm":[1],"film_mm":1,"backing":[1]}`,
		"reflectance"},
	"opacity": {"film_mm k_per_mm s_per_mm", `{"k_per_mm":[1],"s_per_mm":[1],"film_mm":1}`,
		"contrast_ratio over_black over_white"},
	"delta-e": {"lab1 lab2", `{"lab1":[1,1,1],"lab2":[1,1,1]}`, "ciede2000"},
	"blend":   {"parts", `{"parts":[{"srgb":"#112233","amount":1}]}`, "lab srgb"},
	"cells": {"interface_mn_m lower surface_mn_m upper wavelength_mm",
		`{"lower":{"film_mm":1,"viscosity_mpas":1000,"density_kg_m3":1100},"upper":{"film_mm":1,"viscosity_mpas":1000,"density_kg_m3":1160},"wavelength_mm":5}`, "eigenvalues_per_s growth_at_wavelength_per_s growth_per_s spacing_mm"},
	"schedule": {"open pieces shelf_slots start",
		`{"start":"2026-03-02T08:00","open":[{"day":"mon","from":"08:00","to":"12:00"}],"shelf_slots":1,"pieces":[]}`, "feasible last_end late_min lower_bound_end reasons tasks"},
	"findings": {"level of yes", `{"yes":7,"of":10}`, "high low mean"},
	"faults":   {"answers record seen", `{"seen":["mud"]}`, "ask causes remedies"},
	"price": {"currency_digits delivery deposit_share discount_share gallery_share hour_rate hours margin_share " +
		"materials overhead_share tax_inclusive tax_share", `{"materials":[{"name":"kit","cost":"12.50"}]}`,
		"cost delivery deposit discount gross net remainder tax"},
	"stock": {"entries lead_days reserved today", `{"entries":[],"today":"2026-03-02"}`,
		"free on_hand order_by short_on"},
	"plan": {"cup_loss_ml people piece pigments resins room scale_step_g start",
		`{"piece":{"board":{"shape":"circle","diameter_mm":200},"layers":[{"technique":"flood"}]},"resins":{"r":{}}}`, "coats remarks taken tasks"},
	"portion": {"coat_ml cup_loss_ml cups product scale_step_g",
		`{"product":{},"coat_ml":10,"cups":[{"name":"a","share":1}]}`, "a_g b_g cups"},
}

func TestFieldNamesAreTheContract(t *testing.T) {
	raw, err := calc.OpenAPI("test")
	require.NoError(t, err)
	var doc map[string]any
	require.NoError(t, json.Unmarshal(raw, &doc))
	assert.Len(t, calc.Names(), len(contract))
	for name, want := range contract {
		got := answer(t, name, want.example)
		assert.Equal(t, want.answer, strings.Join(keys(got), " "), "%s answers", name)
		assert.Equal(t, want.request, strings.Join(keys(requestProperties(t, doc, name)), " "), "%s takes", name)
	}
}

func keys(m map[string]any) []string {
	out := make([]string, 0, len(m))
	for k := range m {
		out = append(out, k)
	}
	sort.Strings(out)
	return out
}

// requestProperties finds a request's fields in the description, following
// its reference.
func requestProperties(t *testing.T, doc map[string]any, name string) map[string]any {
	t.Helper()
	op := doc["paths"].(map[string]any)["/api/v1/calc/"+name].(map[string]any)["post"].(map[string]any)
	content := op["requestBody"].(map[string]any)["content"].(map[string]any)
	schema := content["application/json"].(map[string]any)["schema"].(map[string]any)
	if ref, ok := schema["$ref"].(string); ok {
		name := ref[strings.LastIndexByte(ref, '/')+1:]
		schema = doc["components"].(map[string]any)["schemas"].(map[string]any)[name].(map[string]any)
	}
	return schema["properties"].(map[string]any)
}

// A product's fields all have the published default.
func TestProductDefaults(t *testing.T) {
	short := answer(t, "mix", `{"product":{},"total_g":100}`)
	full := answer(t, "mix", `{"product":{"working_min":45,"hard_h":24,"viscosity_mpas":1000,"ratio_a":1,"ratio_b":1,"by":"volume","density_a_kg_m3":1130,"density_b_kg_m3":1000,"tolerance":0.02},"total_g":100}`)
	assert.Equal(t, full, short)
}
