package frame

import (
	"context"
	"net/http"
	"regexp"
	"strings"

	"jevvo/internal/studio/access"
)

// localLink is a link to a page of the studio.
var localLink = regexp.MustCompile(`(<a\b[^>]*?)\bhref="(/[^"?#]*)[^"]*"`)

// offered leaves links without their address that who asks may not follow: what they
// name stays to be read.
func (f *Frame) offered(ctx context.Context, page []byte) []byte {
	v, in := VisitorOf(ctx)
	if !in || v.Role == access.Studio {
		return page
	}
	return localLink.ReplaceAllFunc(page, func(tag []byte) []byte {
		parts := localLink.FindSubmatch(tag)
		if at := f.routeOf(string(parts[2])); at == "" || v.Sees(at) {
			return tag
		}
		return parts[1]
	})
}

// shows lists the addresses that show something, in their parts.
func (f *Frame) shows() (out [][]string) {
	for _, at := range f.engine.Routes() {
		if at.Method == http.MethodGet {
			out = append(out, strings.Split(at.Path, "/"))
		}
	}
	return out
}

// routeOf is which registered address answers a path: of several the one with the most
// words of its own; "" for none.
func (f *Frame) routeOf(path string) string {
	is, most := strings.Split(path, "/"), -1
	var route []string
	for _, of := range f.gets() {
		if words, fits := fit(of, is); fits && words > most {
			route, most = of, words
		}
	}
	return strings.Join(route, "/")
}

// fit reports whether a path is one of a route, and how many words they share.
func fit(of, is []string) (words int, fits bool) {
	for i, part := range of {
		switch {
		case strings.HasPrefix(part, "*"):
			return words, true
		case i >= len(is) || part != is[i] && !strings.HasPrefix(part, ":"):
			return 0, false
		case part == is[i]:
			words++
		}
	}
	return words, len(of) == len(is)
}
