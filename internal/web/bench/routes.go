// Package bench is the screens at the bench: a coat step by step with the
// resin's clock, rehearsals, weighing out, levelling, and the instruments.
package bench

import (
	"embed"
	"fmt"
	"strconv"
	"sync"

	"github.com/gin-gonic/gin"

	"jevvo/internal/exchange/picture"
	"jevvo/internal/studio/session"
	"jevvo/internal/web/frame"
)

//go:embed all:templates
var templates embed.FS

type area struct {
	*frame.Area
	mu   sync.Mutex
	stop func() // of the stand-in scale that was switched on here
}

// Routes adds the area to the frame.
func Routes(f *frame.Frame) error {
	pages, err := f.Area(templates)
	if err != nil {
		return err
	}
	a := &area{Area: pages}
	a.GET("/bench", a.list)
	a.GET("/streams", a.streams)
	a.POST("/bench/round", a.roundDone)
	a.GET("/pieces/:id/bench", a.ofPiece)
	a.POST("/pieces/:id/bench/:coat", a.start)
	a.screenRoutes("/benches", false)
	a.screenRoutes("/rehearsals", true)
	a.Upload("/benches/:id/photo", picture.MaxBytes, a.photo)
	a.GET("/benches/:id/photos/:photo", a.showPhoto)
	a.POST("/benches/:id/leftover", a.leftover)
	a.POST("/benches/:id/left", a.left)
	a.weighRoutes()
	a.GET("/pieces/:id/level", a.level)
	a.POST("/pieces/:id/level", a.readLevel)
	a.deviceRoutes()
	return nil
}

func (a *area) screenRoutes(at string, rehearsal bool) {
	a.GET(at+"/:id", a.show(rehearsal))
	for path, press := range map[string]session.Press{"/met": session.PartsMeet, "/undo": session.TakeBack,
		"/close": session.Close} {
		a.POST(at+"/:id"+path, a.press(rehearsal, func(*gin.Context) session.Press { return press }))
	}
	// Which step a screen means it says itself: another pair of hands may press
	// meanwhile.
	a.POST(at+"/:id/done", a.press(rehearsal,
		func(c *gin.Context) session.Press { return session.DoneAt(stepOf(c), c.PostForm("said")) }))
	a.POST(at+"/:id/skip", a.press(rehearsal, func(c *gin.Context) session.Press { return session.SkippedAt(stepOf(c)) }))
	a.POST(at+"/:id/note", a.note(rehearsal))
	a.keyRoutes(at, rehearsal)
}

// stepOf is the step a press is about, −1 for the one in hand.
func stepOf(c *gin.Context) int {
	if i, err := strconv.Atoi(c.PostForm("step")); err == nil && i >= 0 {
		return i
	}
	return -1
}

// base is the address of a bench day or a rehearsal.
func base(b session.Bench) string {
	if b.Rehearsal {
		return fmt.Sprintf("/rehearsals/%d", b.ID)
	}
	return fmt.Sprintf("/benches/%d", b.ID)
}
