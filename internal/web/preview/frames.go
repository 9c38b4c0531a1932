package preview

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/flow"
	"jevvo/internal/core/geom"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/preview"
	"jevvo/internal/web/frame"
	"jevvo/internal/words"
)

// events tells of frames as they are calculated.
func (a *area) events(c *gin.Context) error {
	p, ok := a.Studio.Preview.Find(c.Param("key"))
	if !ok {
		return errGone
	}
	say, err := a.teller(c, p)
	if err != nil {
		return err
	}
	defer p.Watch()()
	stream := frame.OpenStream(c)
	ctx := c.Request.Context()
	var s preview.State
	for seen := 0; ; {
		was := s
		s = p.Wait(ctx, was)
		if s.Waiting && !was.Waiting &&
			!event(
				stream,
				"waiting",
				map[string]string{"words": msg.ID("Two coats are being calculated already; this one waits for its turn.").In(
					say.lang)},
			) {
			return nil
		}
		for ; seen < s.Frames; seen++ {
			if f, ok := p.Frame(seen); ok && !event(stream, "frame", say.told(p, seen, f)) {
				return nil
			}
		}
		switch {
		case ctx.Err() != nil:
			return nil
		case s.Ended && s.Err != nil:
			event(stream, "failed", map[string]string{"words": why(s.Err).In(say.lang)})
			return nil
		case s.Ended:
			event(stream, "whole", map[string]int{"frames": seen})
			return nil
		}
	}
}

// errGone is a play that is no longer held.
var errGone = form.Refusef("", "this preview has expired; open the page again")

func why(err error) msg.Text {
	var m flow.MoveError
	if errors.Is(err, context.Canceled) {
		return msg.ID("Stopped: the preview goes as far as it was calculated.")
	}
	if errors.As(err, &m) {
		return msg.F("One of the moves cannot be made: %v.", msg.Of(m.Err))
	}
	return msg.F("The preview was not finished: %s.", msg.Of(err))
}

func event(s *frame.Stream, name string, data any) bool {
	text, err := json.Marshal(data)
	return err == nil && s.Send(name, string(text))
}

func (a *area) picture(c *gin.Context) error {
	p, ok := a.Studio.Preview.Find(c.Param("key"))
	if !ok {
		return errGone
	}
	n, err := strconv.Atoi(c.Param("n"))
	if err != nil {
		return errGone
	}
	f, ok := p.Frame(n)
	if !ok {
		return errGone
	}
	c.Header("Cache-Control", "private, max-age=3600, immutable")
	switch c.Param("what") {
	case "picture.png":
		c.Data(http.StatusOK, "image/png", f.Sharpest())
	case "relief.png":
		c.Data(http.StatusOK, "image/png", f.Relief)
	case "layers":
		return a.layers(c, p, n)
	case "still.png":
		data, err := p.Still(f)
		if err != nil {
			return err
		}
		c.Header("Content-Disposition", `attachment; filename="`+stillName(p, f).In(msg.LangOf(c.Request.Context()))+`"`)
		c.Data(http.StatusOK, "image/png", data)
	default:
		return errGone
	}
	return nil
}

// still is how a coat looked at the end of its last preview.
func (a *area) still(c *gin.Context) error {
	data, err := a.Studio.Preview.StillPicture(c.Request.Context(), frame.ID(c), c.Query("coat"))
	if err != nil {
		return err
	}
	if c.Query("look") != "" {
		c.Header("Cache-Control", "private, max-age=86400, immutable")
	}
	c.Data(http.StatusOK, "image/png", data)
	return nil
}

// moving is the whole play as an animated picture.
func (a *area) moving(c *gin.Context) error {
	p, ok := a.Studio.Preview.Find(c.Param("key"))
	if !ok {
		return errGone
	}
	data, err := p.Moving()
	if err != nil {
		return err
	}
	c.Header("Content-Disposition", fmt.Sprintf(`attachment; filename="%d-%s-moving.png"`, p.Piece, p.Coat))
	c.Data(http.StatusOK, "image/apng", data)
	return nil
}

// stop ends a play that nobody waits for any longer.
func (a *area) stop(c *gin.Context) error {
	a.Studio.Preview.Stop(c.Param("key"))
	c.Status(http.StatusNoContent)
	return nil
}

// stillName is the name of a still as a file.
func stillName(p *preview.Play, f *preview.Frame) msg.Text {
	return msg.F("%d-%s-%.0f-min.png", p.Piece, p.Coat, f.At/60)
}

// layers answers what lies under the loupe.
func (a *area) layers(c *gin.Context, p *preview.Play, n int) error {
	x, errX := strconv.ParseFloat(c.Query("x"), 64)
	y, errY := strconv.ParseFloat(c.Query("y"), 64)
	if errX != nil || errY != nil {
		return errGone
	}
	settings, err := a.Studio.Setup.Settings(c.Request.Context())
	if err != nil {
		return err
	}
	seen, err := p.Loupe(n, geom.At(x, y))
	if err != nil {
		c.JSON(http.StatusOK, []layer{})
		return nil
	}
	lang, out := settings.Lang(), []layer{}
	for _, s := range seen {
		l := layer{Film: film(s.Film, settings.Units).In(lang), Hides: percent(s.Hiding).In(lang)}
		if s.Cup == flow.Mixed {
			l.Name = msg.ID("stirred together").In(lang)
		} else {
			cup := p.Scene.Cups[s.Cup]
			l.Name, l.Swatch = words.Filled(cup.Colour.Name).In(lang), cup.Look.Film
		}
		out = append(out, l)
	}
	c.JSON(http.StatusOK, out)
	return nil
}

// A layer is one line under the loupe.
type layer struct {
	Name   string `json:"name"`
	Swatch string `json:"swatch"`
	Film   string `json:"film"`
	Hides  string `json:"hides"`
}
