package frame

import (
	"bytes"
	"encoding/pem"
	"io/fs"
	"net/http"

	"github.com/gin-gonic/gin"
)

// installRoutes answer what makes the bench an application of a device of its own.
func (f *Frame) installRoutes() error {
	worker, err := fs.ReadFile(static, "static/worker.js")
	if err != nil {
		return err
	}
	worker = bytes.ReplaceAll(worker, []byte("{{VERSION}}"), []byte(f.Version))
	manifest := gin.H{
		"name": "Jevvo bench", "short_name": "Bench", "start_url": "/bench", "scope": "/", "display": "standalone",
		"background_color": "#222222", "theme_color": "#222222",
		"icons": []gin.H{
			{"src": "/static/drop.svg", "sizes": "any", "type": "image/svg+xml"},
			{"src": "/static/icon-192.png", "sizes": "192x192", "type": "image/png"},
			{"src": "/static/icon-512.png", "sizes": "512x512", "type": "image/png", "purpose": "any maskable"},
		},
	}
	f.engine.GET("/worker.js", func(c *gin.Context) {
		c.Header("Cache-Control", "no-cache")
		c.Data(http.StatusOK, "text/javascript; charset=utf-8", worker)
	})
	f.engine.GET("/manifest.webmanifest", func(c *gin.Context) {
		c.Header("Content-Type", "application/manifest+json")
		c.JSON(http.StatusOK, manifest)
	})
	// A device that trusts it keeps the pages of the bench.
	f.engine.GET("/certificate.crt", func(c *gin.Context) {
		if f.LAN == nil {
			f.Fail(c, errNoPage)
			return
		}
		Attach(c, "jevvo-certificate.crt")
		c.Data(http.StatusOK, "application/x-x509-ca-cert",
			pem.EncodeToMemory(&pem.Block{Type: "CERTIFICATE", Bytes: f.LAN.Certificate.Certificate[0]}))
	})
	return nil
}
