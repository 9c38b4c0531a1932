package demo

import (
	"context"
	"fmt"
	"time"

	"jevvo/internal/store"
	"jevvo/internal/studio/materials"
	"jevvo/internal/studio/stock"
)

// supplier is whom the demo studio buys from.
const supplier = "Harbour stores"

// bought is the demo studio's purchases: of which thing how much, how many days
// ago, kept until how many days from today (0 for no date).
var bought = []struct {
	kind   store.Kind
	name   string
	amount string
	ago    int
	until  int
}{
	{store.Resins, "Hollin Bench 45", "2 kits", 190, 200}, {store.Resins, "Hollin Slow 60", "1 kit", 190, 150},
	{store.Resins, "Tansy Studio 90", "1 kit", 400, -12},
	{store.Pigments, "Lacing white", "1 bottle", 190, 0}, {store.Pigments, "Soft white", "1 bottle", 190, 0},
	{store.Pigments, "Bone", "1 bottle", 190, 0}, {store.Pigments, "Brine", "1 bottle", 190, 0},
	{store.Pigments, "Deep tarn", "1 bottle", 190, 0}, {store.Pigments, "Eelgrass", "1 bottle", 190, 0},
	{store.Pigments, "Slate", "1 bottle", 190, 0}, {store.Pigments, "Sluice rust", "1 bottle", 190, 0},
	{store.Pigments, "Ink-blue tint", "20 g", 190, 0}, {store.Pigments, "Lamp soot", "9 g", 190, 0},
	{store.Goods, "Canvas 18 × 18 in", "4", 21, 0}, {store.Goods, "Gloves", "2 packs", 190, 0},
	{store.Goods, "Mixing cups", "3 packs", 190, 0}, {store.Goods, "Dam tape", "1 pack", 190, 0},
	{store.Goods, "Cell oil", "1 pack", 190, 0},
}

// goods is its stock besides resins and pigments.
var goods = []map[string]string{
	{"name": "Canvas 18 × 18 in", "unit": "pieces", "support": "canvas", "size": "18 x 18 in", "pack": "2",
		"price": "31.80", "supplier": "Loft and frame", "lead_days": "9"},
	{"name": "Gloves", "unit": "pairs", "take": "2", "each": "pour", "pack": "50", "price": "14.50", "supplier": supplier,
		"lead_days": "3", "least": "20"},
	{"name": "Mixing cups", "unit": "pieces", "take": "1", "each": "cup", "pack": "40", "price": "9.60",
		"supplier": supplier, "lead_days": "3", "least": "12"},
	{"name": "Dam tape", "unit": "m", "take": "1.1", "each": "edge", "pack": "33", "price": "7.20", "supplier": supplier,
		"lead_days": "3"},
	{"name": "Cell oil", "unit": "drops", "covers": "silicone", "pack": "900", "price": "8.40", "take": "0",
		"supplier": supplier, "lead_days": "3"},
}

// fillStock buys what the demo studio has.
func fillStock(ctx context.Context, st *laid, book *materials.Book) error {
	of := map[string]stock.Thing{}
	for _, p := range book.Resins {
		of[p.Name] = stock.Thing{Kind: store.Resins, ID: p.ID}
	}
	for _, p := range book.Paints {
		of[p.Name] = stock.Thing{Kind: store.Pigments, ID: p.ID}
	}
	for _, typed := range goods {
		g, n, err := st.Stock.SaveGoods(ctx, 0, 0, typed)
		if err != nil || !n.OK() {
			return fmt.Errorf("stock %s: %w %v", typed["name"], err, n.Errors)
		}
		of[g.Name] = stock.Thing{Kind: store.Goods, ID: g.ID}
	}
	for _, b := range bought {
		day := func(n int) string { return st.Now().AddDate(0, 0, n).Local().Format(time.DateOnly) }
		typed := map[string]string{"amount": b.amount, "bought": day(-b.ago), "supplier": supplier}
		if b.until != 0 {
			typed["best_before"] = day(b.until)
		}
		if err := st.Stock.Buy(ctx, of[b.name], typed); err != nil {
			return fmt.Errorf("buy %s: %w", b.name, err)
		}
	}
	return nil
}
