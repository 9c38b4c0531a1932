package bench

import (
	"context"
	"net/http"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/units"
	"jevvo/internal/device/simulated"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/bench"
	"jevvo/internal/web/api"
	"jevvo/internal/web/frame"
)

func (a *area) deviceRoutes() {
	a.GET("/devices", func(c *gin.Context) error { return a.sendDevices(c, http.StatusOK, "") })
	a.POST("/devices/scale/:how", a.standInScale)
	a.POST("/devices/room/:how", a.standInRoom)
	a.POST("/devices/key/renew", a.withKey(a.Studio.Setup.RenewKey))
	a.POST("/devices/key/drop", a.withKey(a.Studio.Setup.DropKey))
	a.POST("/room", a.typeRoom)
	a.POST("/room/:what", a.playRoom)
	a.POST("/scale/:what", a.playScale)
}

// A devicesPage is the instruments of the bench.
type devicesPage struct {
	Scale, Room       bool // connected
	PlayScale, Played bool // and a stand-in
	RoomNow           bench.Room
	Sys               units.System
	Key, Address      string // of sensors that post
	Wrong             string
}

func (a *area) sendDevices(c *gin.Context, status int, wrong string) error {
	now, err := a.Studio.Bench.RoomNow(c.Request.Context())
	if err != nil {
		return err
	}
	set, err := a.Studio.Setup.Settings(c.Request.Context())
	if err != nil {
		return err
	}
	d := a.Studio.Bench.Devices()
	page := devicesPage{Scale: d.Scale() != nil, Room: d.Room() != nil, PlayScale: d.Simulated("scale"),
		Played:  d.Simulated("room"),
		RoomNow: now, Sys: set.Units, Wrong: wrong, Address: "http://" + c.Request.Host + api.RoomPath}
	if page.Key, err = a.Studio.Setup.Key(); err != nil {
		return err
	}
	return a.Show(c, status, "devices", frame.Page{Title: msg.ID("Devices"), Nav: "settings", Data: page})
}

// standInScale switches a stand-in for a scale on or off. What it weighs is a
// play of this screen and of nothing on a bench.
func (a *area) standInScale(c *gin.Context) error {
	d := a.Studio.Bench.Devices()
	if d.Scale() != nil && !d.Simulated("scale") {
		return form.Refusef("scale", "a real scale is connected")
	}
	a.mu.Lock()
	defer a.mu.Unlock()
	if a.stop != nil {
		a.stop()
		a.stop = nil
	}
	d.ConnectScale(nil, false)
	if c.Param("how") == "on" {
		set, err := a.Studio.Setup.Settings(c.Request.Context())
		if err != nil {
			return err
		}
		ctx, stop := context.WithCancel(context.WithoutCancel(c.Request.Context()))
		scale := simulated.NewScale(uint64(time.Now().UnixNano()), set.ScaleStep)
		go scale.Run(ctx)
		a.stop = stop
		d.ConnectScale(scale, true)
	}
	return frame.Go(c, "/devices")
}

// standInRoom switches a stand-in for a room sensor on or off.
func (a *area) standInRoom(c *gin.Context) error {
	d := a.Studio.Bench.Devices()
	if d.Room() != nil && !d.Simulated("room") {
		return form.Refusef("room", "a real sensor is connected")
	}
	d.ConnectRoom(nil, false)
	if c.Param("how") == "on" {
		set, err := a.Studio.Setup.Settings(c.Request.Context())
		if err != nil {
			return err
		}
		d.ConnectRoom(simulated.NewRoom(set.Room, a.Studio.Now), true)
		if _, err := a.Studio.Bench.LookAtRoom(c.Request.Context()); err != nil {
			return err
		}
	}
	return frame.Go(c, "/devices")
}

func (a *area) withKey(do func() error) frame.Handler {
	return func(c *gin.Context) error {
		if err := do(); err != nil {
			return err
		}
		return frame.Go(c, "/devices")
	}
}

func (a *area) typeRoom(c *gin.Context) error {
	if _, err := a.Studio.Bench.TypeRoom(c.Request.Context(), c.PostForm("room"), c.PostForm("humidity")); err != nil {
		return err
	}
	return frame.Go(c, back(c))
}

// back is the page of this program that a form was sent from.
func back(c *gin.Context) string { return frame.Local(c.PostForm("back"), "/devices") }

// A roomPlayer is a room that can be played with on the page.
type roomPlayer interface {
	Door()
	Heater() bool
	Silence() bool
	Break() bool
}

// roomPlays are the ways to play with it.
var roomPlays = map[string]func(roomPlayer){
	"door": roomPlayer.Door, "heater": func(r roomPlayer) { r.Heater() },
	"silent": func(r roomPlayer) { r.Silence() }, "broken": func(r roomPlayer) { r.Break() },
}

func (a *area) playRoom(c *gin.Context) error {
	room, ok := a.Studio.Bench.Devices().Room().(roomPlayer)
	play, known := roomPlays[c.Param("what")]
	if !ok || !known {
		return frame.Missing
	}
	play(room)
	if _, err := a.Studio.Bench.LookAtRoom(c.Request.Context()); err != nil {
		return err
	}
	return frame.Go(c, back(c))
}

// A scalePlayer is a scale that can be played with on the page.
type scalePlayer interface {
	Lever(position float64)
	Place(units.Mass)
	Clear()
}

// emptyCup is the mass of a paper cup (common practice).
const emptyCup = 9 * units.Gram

func (a *area) playScale(c *gin.Context) error {
	scale, ok := a.Studio.Bench.Devices().Scale().(scalePlayer)
	if !ok {
		return frame.Missing
	}
	switch c.Param("what") {
	case "lever":
		v, err := strconv.ParseFloat(c.PostForm("lever"), 64)
		if err != nil || !(v >= 0 && v <= 100) {
			return form.Refusef("lever", "the lever stands between 0 and 100")
		}
		scale.Lever(v / 100)
	case "cup":
		scale.Clear()
		scale.Place(emptyCup)
	default:
		return frame.Missing
	}
	c.Status(http.StatusNoContent)
	return nil
}
