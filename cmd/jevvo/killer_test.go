package main_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"io"
	"math/rand/v2"
	"mime/multipart"
	"net/http"
	"net/url"
	"regexp"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/testsize"
)

// A writer changes one aggregate, again and again; what was acknowledged must be found.
type writer struct {
	name  string
	write func(p running, n int) bool // acknowledged
	found func(t *testing.T, p running, n int) bool
	acked []int
	next  int
}

var killClient = &http.Client{CheckRedirect: func(*http.Request,
	[]*http.Request) error {
	return http.ErrUseLastResponse
}}

// ask sends a request and returns its answer; 0 when the program has gone.
func ask(method, at, kind string, body io.Reader) (int, string) {
	r, err := http.NewRequest(method, at, body)
	if err != nil {
		panic(err)
	}
	r.Header.Set("Content-Type", kind)
	res, err := killClient.Do(r)
	if err != nil {
		return 0, ""
	}
	defer res.Body.Close()
	text, err := io.ReadAll(res.Body)
	if err != nil && res.StatusCode >= 300 {
		return res.StatusCode, "" // the answer had begun: it counts
	}
	return res.StatusCode, string(text)
}

func postForm(p running, path string, form url.Values) bool {
	status, _ := ask(http.MethodPost, p.url+path, "application/x-www-form-urlencoded", strings.NewReader(form.Encode()))
	return status == http.StatusSeeOther
}

func sendJSON(p running, method, path string, v any) bool {
	text, err := json.Marshal(v)
	if err != nil {
		panic(err)
	}
	status, _ := ask(method, p.url+path, "application/json", bytes.NewReader(text))
	return status > 0 && status < 300
}

var revField = regexp.MustCompile(`name="rev" value="(\d+)"`)

// revOf reads the revision a form stands on.
func revOf(p running, path string) string {
	_, text := ask(http.MethodGet, p.url+path, "", nil)
	if m := revField.FindStringSubmatch(text); m != nil {
		return m[1]
	}
	return ""
}

// stocked changes how much is in a pack of a material; it only grows.
func stocked(kind, field, unit string) writer {
	type item struct {
		ID, Rev int64
		Fields  map[string]string
	}
	first := func(p running) (i item) {
		_, text := ask(http.MethodGet, p.url+"/api/v1/stock", "", nil)
		var all map[string][]item
		if json.Unmarshal([]byte(text), &all) == nil && len(all[kind]) > 0 {
			i = all[kind][0]
		}
		return i
	}
	return writer{name: kind,
		write: func(p running, n int) bool {
			i := first(p)
			return sendJSON(p, http.MethodPatch, fmt.Sprintf("/api/v1/stock/%s/%d", kind, i.ID),
				map[string]any{"rev": i.Rev, "fields": map[string]string{field: fmt.Sprintf("%d %s", n+20, unit)}})
		},
		found: func(t *testing.T, p running, n int) bool {
			stands, _, _ := strings.Cut(first(p).Fields[field], " ")
			v, err := strconv.ParseFloat(stands, 64)
			return assert.NoError(t, err) && int(v+0.5) >= n+20
		}}
}

func dot(n int) []byte {
	m := image.NewRGBA(image.Rect(0, 0, 32, 32))
	for k := range 32 * 32 {
		m.Set(k%32, k/32, color.RGBA{uint8(n >> 8), uint8(n), uint8(k), 255})
	}
	var b bytes.Buffer
	if err := png.Encode(&b, m); err != nil {
		panic(err)
	}
	return b.Bytes()
}

func contains(t *testing.T, p running, path, what string) bool {
	t.Helper()
	status, text := ask(http.MethodGet, p.url+path, "", nil)
	return assert.Equal(t, http.StatusOK, status, path) && strings.Contains(text, what)
}

// counted counts the stock of one pigment, always a little more.
func counted() writer {
	return writer{name: "stock", write: func(p running, n int) bool {
		return postForm(p, "/stock/of/pigment-2/count",
			url.Values{"amount": {fmt.Sprintf("%d g", n+1)}, "reason": {"counted again"}})
	}, found: func(t *testing.T, p running, n int) bool {
		_, text := ask(http.MethodGet, p.url+"/api/v1/stock", "", nil)
		var all struct {
			Pigments []struct {
				ID   int64
				Have float64
			}
		}
		require.NoError(t, json.Unmarshal([]byte(text), &all))
		for _, i := range all.Pigments {
			if i.ID == 2 {
				return i.Have >= float64(n+1)
			}
		}
		return false
	}}
}

// numbered makes quotes: as many stay as were acknowledged, and their numbers have no
// gap.
func numbered() writer {
	made, tried := 0, 0
	return writer{name: "papers", write: func(p running, _ int) bool {
		tried++
		ok := postForm(p, "/commissions/1/papers", url.Values{"kind": {"label"}, "lang": {"en"}})
		if ok {
			made++
		}
		return ok
	}, found: func(t *testing.T, p running, _ int) bool {
		_, text := ask(http.MethodGet, p.url+"/commissions/1", "", nil)
		numbers := regexp.MustCompile(`>L\d{4}-(\d+)<`).FindAllStringSubmatch(text, -1)
		for i, m := range numbers {
			if v, err := strconv.Atoi(m[1]); err != nil || v != i+1 {
				return assert.Fail(t, "the numbers have a gap", "%v", numbers)
			}
		}
		return made <= len(numbers) && len(numbers) <= tried
	}}
}

// improvised presses at the bench what nobody planned: as many lines stand on the day as
// were acknowledged.
func improvised() writer {
	made, tried := 0, 0
	return writer{name: "improvised", write: func(p running, _ int) bool {
		tried++
		ok := postForm(p, "/benches/1/happened", url.Values{"what": {"lid-off"}})
		if ok {
			made++
		}
		return ok
	}, found: func(t *testing.T, p running, _ int) bool {
		_, text := ask(http.MethodGet, p.url+"/benches/1", "", nil)
		_, notes, _ := strings.Cut(text, `class="bench-notes"`)
		notes, _, _ = strings.Cut(notes, "</ul>") // below it the panels name all that can happen
		stand := strings.Count(notes, "Lid was off")
		return assert.True(t, made <= stand && stand <= tried, "%d stand, %d acknowledged, %d tried", stand, made, tried)
	}}
}

// tiled adds test tiles to a commission: each is a piece of its own, and once.
func tiled() writer {
	return writer{name: "tiles", write: func(p running, n int) bool {
		return postForm(p, "/commissions/1/tiles", url.Values{"name": {fmt.Sprintf("Tile killed-t%d.", n)}})
	}, found: func(t *testing.T, p running, n int) bool {
		return contains(t, p, fmt.Sprintf("/api/v1/pieces?find=killed-t%d.", n), `"total":1`)
	}}
}

// aggregates are writers to everything a studio keeps.
func aggregates() []*writer {
	resins, pigments := stocked("resins", "kit", "ml"), stocked("pigments", "bottle", "g")
	stock, papers, bench, tiles := counted(), numbered(), improvised(), tiled()
	return []*writer{
		{name: "pieces", write: func(p running, n int) bool {
			return sendJSON(p, http.MethodPost, "/api/v1/pieces",
				map[string]any{"fields": map[string]string{"name": fmt.Sprintf("killed-%d.", n)}})
		}, found: func(t *testing.T, p running, n int) bool {
			return contains(t, p, fmt.Sprintf("/api/v1/pieces?find=killed-%d.", n), `"total":1`)
		}},
		&resins, &pigments, &stock, &papers, &bench, &tiles,
		{name: "settings", write: func(p running, n int) bool {
			return postForm(p, "/settings",
				url.Values{"rev": {revOf(p, "/settings")}, "mail_from": {fmt.Sprintf("kill-%06d@studio.example", n)}})
		}, found: func(t *testing.T, p running, n int) bool {
			_, text := ask(http.MethodGet, p.url+"/settings", "", nil)
			m := regexp.MustCompile(`kill-(\d+)@`).FindStringSubmatch(text)
			if m == nil {
				return false
			}
			v, err := strconv.Atoi(m[1])
			return err == nil && v >= n
		}},
		{name: "commissions", write: func(p running, n int) bool {
			return postForm(p, "/commissions",
				url.Values{"name": {fmt.Sprintf("Commission kill-%d.", n)}, "client": {"Mara Lind"}})
		}, found: func(t *testing.T, p running, n int) bool {
			return contains(t, p, fmt.Sprintf("/commissions?find=kill-%d.", n), fmt.Sprintf("Commission kill-%d.", n))
		}},
		{name: "bench and journal", write: func(p running, n int) bool {
			return sendJSON(p, http.MethodPost, "/api/v1/journal",
				map[string]any{"bench": 1, "text": fmt.Sprintf("killnote%dz", n)})
		}, found: func(t *testing.T, p running, n int) bool {
			return contains(t, p, fmt.Sprintf("/api/v1/journal?find=killnote%dz", n), fmt.Sprintf("killnote%dz", n))
		}},
		{name: "photographs", write: func(p running, n int) bool {
			var b bytes.Buffer
			w := multipart.NewWriter(&b)
			part, err := w.CreateFormFile("photo", "wet.png")
			if err != nil {
				panic(err)
			}
			part.Write(dot(n))
			w.Close()
			status, _ := ask(http.MethodPost, p.url+"/benches/1/photo", w.FormDataContentType(), &b)
			return status == http.StatusSeeOther
		}, found: nil}, // counted below
	}
}

// Whenever the program is ended, everything it had acknowledged is there at the next
// start, and nothing is damaged. It is ended $JEVVO_KILLS times, such as 300 at night.
func TestKilledUnderWrites(t *testing.T) {
	data := t.TempDir()
	all := aggregates()
	random := rand.New(rand.NewPCG(1, 2))
	p := start(t, data, "demo")
	require.True(t, postForm(p, "/pieces/1/bench/first", url.Values{"anyway": {"yes"}}))
	for round := range testsize.Of(t, "JEVVO_KILLS", 4) {
		var writing, first sync.WaitGroup
		for _, w := range all {
			if round%2 == 1 && w.name != "papers" && w.name != "stock" {
				continue // a paper stands on all the rest: it needs rounds in which that holds still
			}
			if len(w.acked) == 0 {
				first.Add(1)
			}
			writing.Go(func() {
				for {
					n := w.next
					w.next++
					if w.write(p, n) {
						w.acked = append(w.acked, n)
						if len(w.acked) == 1 {
							first.Done()
						}
					} else if status, _ := ask(http.MethodGet, p.url+"/healthz", "", nil); status == 0 {
						if len(w.acked) == 0 {
							first.Done() // by itself: said below
						}
						return // it has gone
					}
				}
			})
		}
		first.Wait() // on a slow machine too, everything has been written once
		// This sleep is the experiment: the moment of the end is drawn.
		time.Sleep(time.Duration(50+random.IntN(600)) * time.Millisecond)
		require.NoError(t, p.Process.Kill())
		p.Wait()
		writing.Wait()
		p = start(t, data, "demo")
		for _, w := range all {
			if w.found == nil {
				continue
			}
			for _, n := range w.acked[max(0, len(w.acked)-5):] {
				assert.True(t, w.found(t, p, n), "round %d: %s %d was acknowledged", round, w.name, n)
			}
		}
		_, bench := ask(http.MethodGet, p.url+"/benches/1", "", nil)
		photos := all[len(all)-1]
		kept := strings.Count(bench, `/benches/1/photos/`) / 2
		assert.GreaterOrEqual(t, kept, len(photos.acked), "round %d: photographs", round)
		assert.LessOrEqual(t, kept, photos.next, "round %d: photographs kept twice", round)
	}
	for _, w := range all {
		assert.NotEmpty(t, w.acked, "%s wrote nothing", w.name)
		t.Logf("%s: %d acknowledged of %d", w.name, len(w.acked), w.next)
		for _, n := range w.acked[:max(0, len(w.acked)-5)] {
			if w.found != nil && n%7 == 0 {
				assert.True(t, w.found(t, p, n), "%s %d was acknowledged", w.name, n)
			}
		}
	}
	require.NoError(t, p.Process.Kill())
	p.Wait()
	out, errs, code := run("", "check", "--data", data)
	assert.Zero(t, code, out+errs)
}
