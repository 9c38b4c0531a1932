package commissions

import (
	"fmt"
	"net/http"

	"github.com/gin-gonic/gin"

	"jevvo/internal/exchange/picture"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/journal"
	"jevvo/internal/web/frame"
)

// wallRoutes are the boards of a commission on the client's wall.
func (a *area) wallRoutes() {
	const wall = "/commissions/:id/wall"
	a.GET(wall, a.wall)
	a.Upload(wall+"/rooms", picture.MaxBytes, a.addRoom)
	a.GET(wall+"/rooms/:room", a.room)
	a.POST(wall+"/hang", a.hang)
	a.GET(wall+"/hung/:hung", a.hung)
}

// A hangable is a piece that can hang, with its photographs.
type hangable struct {
	agenda.View
	Photos []journal.Photo
	Chosen bool
	Photo  string
}

type wallPage struct {
	ID          int64
	Name, Place string
	Rooms, Hung []int64 // newest first
	Room        int64
	Pieces      []hangable
	Typed       map[string]string
	Wrong       string
}

// Beside are the newest pictures, two side by side.
func (p wallPage) Beside() []int64 { return p.Hung[:min(2, len(p.Hung))] }

func (a *area) wall(c *gin.Context) error {
	return a.sendWall(c, http.StatusOK, map[string]string{}, nil, "")
}

func (a *area) sendWall(c *gin.Context, status int, typed map[string]string, chosen []string, wrong string) error {
	ctx := c.Request.Context()
	com, err := a.Studio.Commissions.Commission(ctx, frame.ID(c))
	if err != nil {
		return err
	}
	page := wallPage{ID: com.ID, Name: com.Name, Place: com.Place, Typed: typed, Wrong: wrong}
	if page.Rooms, page.Hung, err = a.Studio.Wall.Rooms(ctx, com.ID); err != nil {
		return err
	}
	backwards(page.Rooms)
	backwards(page.Hung)
	page.Room = frame.Number(c.Query("room"))
	if typed["room"] != "" {
		page.Room = frame.Number(typed["room"])
	}
	if page.Room == 0 && len(page.Rooms) > 0 {
		page.Room = page.Rooms[0]
	}
	list, err := a.Studio.Pieces.Of(ctx, com.ID)
	if err != nil {
		return err
	}
	views, err := a.Studio.Agenda.Views(ctx, list)
	if err != nil {
		return err
	}
	for _, v := range views {
		if v.Plan == nil || v.Broken != nil {
			continue
		}
		h := hangable{View: v, Chosen: chosen == nil && !v.Tile, Photo: typed[fmt.Sprintf("photo.%d", v.ID)]}
		for _, id := range chosen {
			h.Chosen = h.Chosen || id == fmt.Sprint(v.ID)
		}
		if h.Photos, err = a.Studio.Journal.Photos(ctx, v.ID); err != nil {
			return err
		}
		page.Pieces = append(page.Pieces, h)
	}
	return a.Show(c, status, "wall",
		frame.Page{Title: msg.F("%s, on the wall", com.Name), Nav: "commissions", Data: page})
}

func backwards(v []int64) {
	for i, j := 0, len(v)-1; i < j; i, j = i+1, j-1 {
		v[i], v[j] = v[j], v[i]
	}
}

func (a *area) addRoom(c *gin.Context) error {
	file, err := sent(c, "room")
	if err == nil && file == nil {
		err = form.Refusef("room", "choose a photograph first")
	}
	id := int64(0)
	if err == nil {
		defer file.Close()
		id, err = a.Studio.Wall.AddRoom(c.Request.Context(), frame.ID(c), file)
	}
	if refused, ok := frame.Refusal(err); ok {
		return a.sendWall(c, http.StatusUnprocessableEntity, map[string]string{}, nil, refused.Error())
	}
	if err != nil {
		return err
	}
	return frame.Go(c, fmt.Sprintf("/commissions/%d/wall?room=%d", frame.ID(c), id))
}

func (a *area) room(c *gin.Context) error {
	data, err := a.Studio.Wall.Room(c.Request.Context(), frame.ID(c), frame.Number(c.Param("room")))
	return jpegOr(c, data, err)
}

func (a *area) hung(c *gin.Context) error {
	data, err := a.Studio.Wall.Hung(c.Request.Context(), frame.ID(c), frame.Number(c.Param("hung")))
	return jpegOr(c, data, err)
}

func (a *area) hang(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	chosen := c.PostFormArray("piece")
	asked, err := a.Studio.Wall.Read(c.Request.Context(), typed, chosen)
	if err == nil {
		_, err = a.Studio.Wall.Hang(c.Request.Context(), frame.ID(c), asked)
	}
	if refused, ok := frame.Refusal(err); ok {
		return a.sendWall(c, http.StatusUnprocessableEntity, typed, chosen, refused.Error())
	}
	if err != nil {
		return err
	}
	return frame.Go(c, fmt.Sprintf("/commissions/%d/wall?room=%d#hung", frame.ID(c), asked.Room))
}
