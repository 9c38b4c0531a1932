package demo

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/color"
	"image/png"

	"jevvo/internal/studio/billing"
)

// terms are the demo studio's.
var terms = map[string]string{
	"studio": "Studio Orla Wenning", "address": "Net loft 4\nOuter Sallow", "contact": "orla@wenning.example",
	"tax": "19 %", "tax_name": "sales tax", "bank": "Bank of the Isles, 0042 1187",
	"hour_rate": "38.00", "hourly_room": "4.50",
}

// fillTrade quotes the ferry line's boards; they agreed, and the deposit is asked for.
func fillTrade(ctx context.Context, st *laid, commission int64) error {
	if err := st.Billing.Show(ctx, commission, "both tiles, in the ticket hall"); err != nil {
		return err
	}
	room, err := st.Wall.AddRoom(ctx, commission, bytes.NewReader(ticketHall()))
	if err != nil {
		return err
	}
	boards, err := st.Pieces.Of(ctx, commission)
	if err != nil {
		return err
	}
	var ids []string
	for _, p := range boards {
		if !p.Tile {
			ids = append(ids, fmt.Sprint(p.ID))
		}
	}
	asked, err := st.Wall.Read(ctx,
		map[string]string{"room": fmt.Sprint(room), "corners": "0.68,0.12 0.94,0.08 0.94,0.93 0.68,0.89", "width": "90 cm",
			"height": "210 cm", "right": "-150 cm", "down": "-25 cm", "gap": "12 cm"}, ids)
	if err != nil {
		return err
	}
	if _, err := st.Wall.Hang(ctx, commission, asked); err != nil {
		return err
	}
	if _, err := st.Documents.Make(ctx, commission, billing.Quote, "en", ""); err != nil {
		return err
	}
	if err := st.Billing.Approve(ctx, commission, "by letter from the ferry line's office", nil); err != nil {
		return err
	}
	_, err = st.Documents.Make(ctx, commission, billing.Deposit, "en", "")
	return err
}

// ticketHall is a made-up photograph: a pale wall in light from the left, seen at an
// angle, with a door of 90 × 210 cm in it and the floor below.
func ticketHall() []byte {
	const w, h = 1200, 800
	m := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			light := 0.93 - 0.25*float64(x)/w - 0.05*float64(y)/h
			c := [3]float64{228 * light, 226 * light, 218 * light}
			if float64(y) > 800*(0.89+0.04*(float64(x)/w-0.68)/0.26) {
				c = [3]float64{120 * light, 104 * light, 88 * light}
			} else if inDoor(float64(x)/w, float64(y)/h) {
				c = [3]float64{92 * light, 118 * light, 124 * light}
			}
			m.SetRGBA(x, y, color.RGBA{uint8(c[0]), uint8(c[1]), uint8(c[2]), 255})
		}
	}
	var b bytes.Buffer
	if err := png.Encode(&b, m); err != nil {
		return nil
	}
	return b.Bytes()
}

// inDoor reports whether a place of the picture lies in the door.
func inDoor(x, y float64) bool {
	if x < 0.68 || x > 0.94 {
		return false
	}
	f := (x - 0.68) / 0.26
	return y > 0.12-0.04*f && y < 0.89+0.04*f
}
