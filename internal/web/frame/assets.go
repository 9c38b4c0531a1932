package frame

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"html/template"
	"io/fs"
	"net/http"
	"path"
	"regexp"
	"sync"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/klauspost/compress/gzhttp"
)

// How long a browser keeps a shipped file: under an address with its hash for good, otherwise
// while pages are leafed through.
const (
	aYear   = "public, max-age=31536000, immutable"
	aMinute = "max-age=60"
)

// hashes are those of the shipped files, by their paths under /static/.
var hashes = func() map[string]string {
	out := map[string]string{}
	err := fs.WalkDir(static, "static", func(name string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		content, err := fs.ReadFile(static, name)
		sum := sha256.Sum256(content)
		out[name[len("static/"):]] = hex.EncodeToString(sum[:8])
		return err
	})
	if err != nil {
		panic(err) // the files are embedded
	}
	return out
}()

// shipped is the address of a shipped file, with its hash.
func shipped(name string) (string, error) {
	hash, ok := hashes[name]
	if !ok {
		return "", fmt.Errorf("no file %q is shipped", name)
	}
	return "/static/" + name + "?v=" + hash, nil
}

// script is the element that loads the script of a kind of page.
func script(page string) (template.HTML, error) {
	at, err := shipped("built/" + page + ".js")
	return template.HTML(`<script src="` + at + `" type="module"></script>`), err // of shipped names
}

// inSheet finds the names of the icons in their sheet.
var inSheet = regexp.MustCompile(`<symbol id="([^"]+)"`)

// icons are the shipped icons by their names, each drawn from the one sheet.
var icons = sync.OnceValues(func() (map[string]template.HTML, error) {
	at, err := shipped("built/icons.svg")
	if err != nil {
		return nil, err
	}
	sheet, err := fs.ReadFile(static, "static/built/icons.svg")
	out := map[string]template.HTML{}
	for _, m := range inSheet.FindAllSubmatch(sheet, -1) {
		name := string(m[1])
		out[name] = template.HTML(`<svg class="lucide" aria-hidden="true" focusable="false"><use href="` + at + "#" +
			name + `"/></svg>`) // of shipped names
	}
	return out, err
})

// icon is an icon in a page.
func icon(name string) (template.HTML, error) {
	all, err := icons()
	if err != nil {
		return "", err
	}
	svg, ok := all[name]
	if !ok {
		return "", fmt.Errorf("no icon %q is shipped", name)
	}
	return svg, nil
}

// serveStatic answers for what ships with the program (RFC 9110, 13.1.2). Files without
// their hash in the address are asked for again after a minute: a script of the day before
// is not played on a page of today.
func (f *Frame) serveStatic() error {
	files, err := fs.Sub(static, "static")
	if err != nil {
		return err
	}
	f.engine.GET("/static/*filepath", func(c *gin.Context) { f.sendStatic(c, files) })
	f.engine.HEAD("/static/*filepath", func(c *gin.Context) { f.sendStatic(c, files) })
	return nil
}

func (f *Frame) sendStatic(c *gin.Context, files fs.FS) {
	name := path.Clean(c.Param("filepath"))[1:]
	content, err := fs.ReadFile(files, name)
	if err != nil {
		f.Fail(c, errNoPage)
		return
	}
	c.Header("Cache-Control", aMinute)
	if c.Query("v") == hashes[name] {
		c.Header("Cache-Control", aYear)
	}
	c.Header("ETag", `"`+hashes[name]+`"`)
	http.ServeContent(c.Writer, c.Request, name, time.Time{}, bytes.NewReader(content))
}

// compressed are the kinds of answers that gain by it; streams are sent as they come.
var compressed = []string{"text/html", "text/css", "text/javascript", "text/plain", "text/csv", "image/svg+xml",
	"application/json", "application/problem+json", "application/manifest+json"}

// compress packs answers for browsers that take them packed.
var compress = func() func(http.Handler) http.HandlerFunc {
	wrap, err := gzhttp.NewWrapper(gzhttp.ContentTypes(compressed))
	if err != nil {
		panic(err) // the options are constant
	}
	return wrap
}()
