// Package journal shows what happened: the journal, what came of each coat, what the
// records teach, and what causes a fault.
package journal

import (
	"embed"

	"jevvo/internal/exchange/picture"
	"jevvo/internal/web/frame"
)

//go:embed all:templates
var templates embed.FS

type area struct{ *frame.Area }

// mostAtOnce bounds an upload of photographs.
const mostAtOnce = 6 * picture.MaxBytes

// Routes adds the area to the frame.
func Routes(f *frame.Frame) error {
	pages, err := f.Area(templates)
	if err != nil {
		return err
	}
	a := &area{pages}
	a.GET("/journal", a.journal)
	a.GET("/findings", a.findings)
	a.POST("/findings/calibrate", a.calibrate)
	a.GET("/findings/technique/:id", a.taughtOf)
	a.GET("/pieces/:id/taught", a.taught)
	a.GET("/faults", a.faults)
	a.GET("/faults/:id", a.fault)
	a.GET("/pieces/:id/result", a.result)
	a.POST("/pieces/:id/result", a.keepResult)
	a.GET("/pieces/:id/judge", a.judge)
	a.POST("/pieces/:id/judge/mark", a.mark)
	a.POST("/pieces/:id/judge/take", a.take)
	a.GET("/pieces/:id/strength", a.strength)
	a.POST("/pieces/:id/strength", a.strengthen)
	a.Upload("/pieces/:id/photos", mostAtOnce, a.addPhotos)
	a.GET("/pieces/:id/photos/:photo/:size", a.photo)
	a.GET("/pieces/:id/faults", a.pieceFaults)
	a.POST("/pieces/:id/faults/remedy", a.remedy)
	a.POST("/pieces/:id/faults/confirm", a.confirm)
	a.POST("/pieces/:id/faults/prevent", a.prevent)
	a.GET("/pieces/:id/journal", a.diary)
	a.GET("/pieces/:id/journal.zip", a.export)
	return nil
}
