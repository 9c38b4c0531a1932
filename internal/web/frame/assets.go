package frame

import (
	"crypto/sha256"
	"encoding/hex"
	"io/fs"
	"net/http"

	"github.com/gin-gonic/gin"
)

// aMinute is for how long a browser does not ask again: while pages are leafed through.
const aMinute = "max-age=60"

// serveStatic answers for what ships with the program. A browser keeps it and asks after a
// minute whether it is still so: a script of the day before is not played on a page of today.
func (f *Frame) serveStatic() error {
	files, err := fs.Sub(static, "static")
	if err != nil {
		return err
	}
	tags := map[string]string{}
	err = fs.WalkDir(files, ".", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		content, err := fs.ReadFile(files, path)
		sum := sha256.Sum256(content)
		tags["/"+path] = `"` + hex.EncodeToString(sum[:8]) + `"`
		return err
	})
	if err != nil {
		return err
	}
	tagged := func(c *gin.Context) {
		c.Header("Cache-Control", aMinute)
		if tag, ok := tags[c.Param("filepath")]; ok {
			c.Header("ETag", tag)
		}
	}
	f.engine.Group("/static", tagged).StaticFS("/", http.FS(files))
	return nil
}
