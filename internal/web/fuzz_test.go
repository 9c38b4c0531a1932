package web_test

import (
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
)

// Whatever is posted as a form is answered, and never by 500.
func FuzzForms(f *testing.F) {
	s := open(f)
	s.piece(map[string]string{"name": "Creek"})
	f.Add("name=Creek&width=60+cm", "application/x-www-form-urlencoded", uint8(0))
	f.Add("%zz", "application/x-www-form-urlencoded", uint8(1))
	f.Add("a;b", "application/x-www-form-urlencoded", uint8(2))
	f.Add("--x\r\nContent-Disposition: form-data; name=\"name\"\r\n\r\nCreek\r\n--x--\r\n",
		"multipart/form-data; boundary=x", uint8(3))
	f.Add("once=1&once=2&speed=NaN", "application/x-www-form-urlencoded; charset=utf-16", uint8(4))
	at := []string{"/pieces", "/pieces/1/edit", "/settings", "/commissions", "/pieces/1/bench/first", "/materials",
		"/pigments"}
	f.Fuzz(func(t *testing.T, body, kind string, which uint8) {
		path := at[int(which)%len(at)]
		r := httptest.NewRequestWithContext(t.Context(), http.MethodPost, "http://localhost"+path, strings.NewReader(body))
		r.Header.Set("Content-Type", kind)
		w := httptest.NewRecorder()
		s.h.ServeHTTP(w, r)
		if w.Code >= 500 {
			t.Fatalf("%s answers %d to %q", path, w.Code, body)
		}
	})
}
