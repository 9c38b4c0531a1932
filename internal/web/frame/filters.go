package frame

import (
	"net/url"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"

	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/materials"
)

// A Filter is a choice things on a wall are looked for by.
type Filter struct {
	Key     string
	Label   msg.ID
	Value   string
	Options []form.Option
}

// Filters are the choices of a wall, with what is asked.
type Filters []Filter

// WallFilters are those every wall of boards has; its states and months are its own.
func WallFilters(c *gin.Context, b *materials.Book, states []form.Option, clients, months []string) Filters {
	out := Filters{
		{Key: "state", Label: "State", Options: states}, {Key: "technique", Label: "Technique"},
		{Key: "pigment", Label: "Pigment"},
		{Key: "client", Label: "Client"}, {Key: "month", Label: "Month"},
	}
	for _, t := range b.Techniques().Coats() {
		out[1].Options = append(out[1].Options, form.Option{Value: t.ID, Label: t.Name})
	}
	for _, p := range b.Paints {
		out[2].Options = append(out[2].Options, form.Option{Value: strconv.FormatInt(p.ID, 10), Label: msg.Own(p.Name)})
	}
	for _, name := range clients {
		out[3].Options = append(out[3].Options, form.Option{Value: name, Label: msg.Own(name)})
	}
	for _, m := range months {
		if at, err := time.Parse("2006-01", m); err == nil {
			out[4].Options = append(out[4].Options, form.Option{Value: m, Label: msg.Date(at, "January 2006")})
		}
	}
	for k := range out {
		out[k].Value = c.Query(out[k].Key)
	}
	return out
}

// Of is the value asked for, "" for any.
func (f Filters) Of(key string) string {
	for _, x := range f {
		if x.Key == key {
			return x.Value
		}
	}
	return ""
}

// Asked are the choices made, as an address has them; none are made when it is empty.
func (f Filters) Asked() url.Values {
	out := url.Values{}
	for _, x := range f {
		if x.Value != "" {
			out.Set(x.Key, x.Value)
		}
	}
	return out
}
