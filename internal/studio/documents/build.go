package documents

import (
	"context"
	"image"
	"image/draw"
	"runtime"
	"strconv"
	"strings"
	"time"

	"github.com/shopspring/decimal"
	scale "golang.org/x/image/draw"
	"golang.org/x/sync/errgroup"

	"jevvo/internal/core/money"
	"jevvo/internal/core/units"
	"jevvo/internal/exchange/paper"
	"jevvo/internal/msg"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/billing"
	"jevvo/internal/studio/prices"
	"jevvo/internal/studio/recovery"
)

// builder writes one paper.
type builder struct {
	kind  Kind
	deal  billing.Deal
	terms prices.Terms
	words writer
	now   time.Time
}

func (b builder) money(v decimal.Decimal) string  { return string(b.terms.Money().Text(v)) }
func (b builder) number(v decimal.Decimal) string { return string(b.terms.Money().Number(v)) }

func percent(v decimal.Decimal) string { return v.Mul(decimal.NewFromInt(100)).String() + " %" }

// lines splits typed lines.
func lines(texts ...string) []string {
	var out []string
	for _, text := range texts {
		for l := range strings.SplitSeq(text, "\n") {
			if l = strings.TrimSpace(l); l != "" {
				out = append(out, l)
			}
		}
	}
	return out
}

// addressed is the address of a client, who is named once though the address begins with the name.
func addressed(client, address string) []string {
	if first, _, _ := strings.Cut(address, "\n"); strings.EqualFold(strings.TrimSpace(first), strings.TrimSpace(client)) {
		client = ""
	}
	return lines(client, address)
}

// build writes all words and gathers all pictures of a paper.
func (s *Service) build(ctx context.Context, b builder) (Doc, error) {
	d := Doc{Kind: b.kind.Key, Title: b.words.text(b.kind.Key), Lang: b.words.lang, At: b.now, Studio: b.terms.Studio,
		Lines: lines(b.terms.Address, b.terms.Contact),
		To:    addressed(b.deal.Client, b.deal.Address), Opening: b.words.text("opening." + b.kind.Key)}
	d.Facts = []paper.Fact{{Label: b.words.text("date"), Value: b.words.day(b.now)},
		{Label: b.words.text("order"), Value: b.deal.Name}}
	var err error
	if d.Logo, err = s.Logo(ctx); err != nil {
		return d, err
	}
	if b.kind.Money {
		if b.terms.TaxNumber != "" {
			d.Foot = append(d.Foot, b.words.text("tax-number")+" "+b.terms.TaxNumber)
		}
		if b.terms.Bank != "" {
			d.Foot = append(d.Foot, b.words.text("bank")+" "+b.terms.Bank)
		}
	}
	b.write(&d)
	if err := s.pictures(ctx, b, &d); err != nil {
		return d, err
	}
	if text := b.words.text("closing." + b.kind.Key); text != "" {
		d.Parts = append(d.Parts, paper.Part{Text: text})
	}
	return d, nil
}

// write writes what is particular to a kind.
func (b builder) write(d *Doc) {
	fact := func(key, value string) {
		d.Facts = append(d.Facts, paper.Fact{Label: b.words.text(key), Value: value})
	}
	switch b.kind.Key {
	case billing.Quote:
		fact("valid", b.words.day(b.now.AddDate(0, 0, b.terms.ValidDays)))
		b.ready(fact)
		b.items(d)
		b.totals(d)
		b.depositLine(d)
	case billing.Confirmation:
		b.ready(fact)
		b.items(d)
		b.totals(d)
		b.depositLine(d)
	case billing.Deposit:
		fact("due", b.words.day(b.now.AddDate(0, 0, b.terms.PayDays)))
		b.depositItems(d)
		d.Asks = b.deal.Total.Quote.Deposit.String()
	case billing.Invoice:
		d.Asks = b.deal.Total.Gross.String()
		fact("due", b.words.day(b.now.AddDate(0, 0, b.terms.PayDays)))
		b.items(d)
		b.totals(d)
		if b.deal.Paid.IsPositive() {
			d.Totals = append(d.Totals, paper.Total{Label: b.words.text("paid"), Amount: "−" + b.money(b.deal.Paid)},
				paper.Total{Label: b.words.text("rest"), Amount: b.money(b.deal.Open()), Strong: true})
		}
	case billing.Delivery:
		b.items(d)
		for i := range d.Items {
			d.Items[i].Each, d.Items[i].Sum = "", ""
		}
		d.Heads[2], d.Heads[3] = "", ""
	case billing.Care:
		b.care(d)
	case billing.Label, billing.Certificate:
		b.about(d)
	}
}

func (b builder) ready(fact func(key, value string)) {
	if !b.deal.Ready.IsZero() {
		fact("ready", b.words.day(b.deal.Ready))
	}
	if b.deal.TooLate() { // said, where it is not the day that was asked for
		fact("wanted", b.words.day(b.deal.Due))
	}
}

func (b builder) items(d *Doc) {
	d.Heads = [4]string{b.words.text("what"), b.words.text("boards"), b.words.text("each"), b.words.text("sum")}
	for _, it := range b.deal.Total.Items {
		item := paper.Item{Text: it.Name, Detail: it.Size, Count: strconv.Itoa(it.Boards), Each: b.number(it.Each),
			Sum: b.number(it.Sum)}
		if it.Less.IsPositive() {
			item.Detail += ", " + b.words.text("discount") + " " + b.number(it.Less)
		}
		d.Items = append(d.Items, item)
	}
}

// totals are the lines from the sum of the boards to what is to be paid.
func (b builder) totals(d *Doc) {
	q := b.deal.Total.Quote
	add := func(key string, v decimal.Decimal, minus, strong bool) {
		text := b.money(v)
		if minus {
			text = "−" + text
		}
		d.Totals = append(d.Totals, paper.Total{Label: b.words.text(key), Amount: text, Strong: strong})
	}
	if q.Discount.IsPositive() || q.Delivery.IsPositive() {
		add("subtotal", q.List, false, false)
	}
	if q.Discount.IsPositive() {
		add("discount", q.Discount, true, false)
	}
	if q.Delivery.IsPositive() {
		add("delivery-cost", q.Delivery, false, false)
	}
	if b.terms.Tax.IsPositive() && !b.terms.Inclusive {
		add("net", q.Net, false, false)
		d.Totals = append(d.Totals,
			paper.Total{Label: b.words.textf("tax", b.terms.TaxName, percent(b.terms.Tax)), Amount: b.money(q.Tax)})
	}
	add("total", q.Gross, false, true)
	if b.terms.Tax.IsPositive() && b.terms.Inclusive {
		d.Totals = append(d.Totals,
			paper.Total{Label: b.words.textf("holds", b.terms.TaxName, percent(b.terms.Tax)), Amount: b.money(q.Tax)})
	}
}

func (b builder) depositLine(d *Doc) {
	if q := b.deal.Total.Quote; q.Deposit.IsPositive() {
		d.Totals = append(d.Totals, paper.Total{Label: b.words.text("deposit-ask"), Amount: b.money(q.Deposit)})
	}
}

// depositItems are the one line of a deposit, with the tax it holds.
func (b builder) depositItems(d *Doc) {
	q := b.deal.Total.Quote
	d.Heads = [4]string{b.words.text("what"), "", "", b.words.text("sum")}
	d.Items = []paper.Item{{Text: b.words.textf("deposit-line", percent(b.terms.Deposit)),
		Detail: b.deal.Name + ", " + b.money(q.Gross), Sum: b.number(q.Deposit)}}
	d.Totals = []paper.Total{{Label: b.words.text("total"), Amount: b.money(q.Deposit), Strong: true}}
	if b.terms.Tax.IsPositive() {
		d.Totals = append(d.Totals, paper.Total{Label: b.words.textf("holds", b.terms.TaxName, percent(b.terms.Tax)),
			Amount: b.money(money.Inside(q.Deposit, b.terms.Tax, b.terms.Digits))})
	}
}

// care is the card that goes with a board.
func (b builder) care(d *Doc) {
	var text []string
	if !b.deal.Cured.IsZero() {
		text = append(text, b.words.textf("care-cured", b.words.day(b.deal.Cured)))
	}
	if !b.deal.HeatSafe.IsZero() {
		text = append(text, b.words.textf("care-heat", b.words.day(b.deal.HeatSafe)))
	}
	for _, key := range []string{"care-heat2", "care-light", "care-clean", "care-scratch"} {
		text = append(text, b.words.text(key))
	}
	d.Parts = append(d.Parts, paper.Part{Text: strings.Join(text, "\n")})
}

// about is the text for the back of a board, and on its certificate.
func (b builder) about(d *Doc) {
	d.To = nil
	for _, board := range b.deal.Boards {
		n := max(1, board.Piece.Count)
		edition := b.words.text("one-of-one")
		if n > 1 {
			edition = b.words.textf("one-of", 1, n)
			for i := 2; i <= n; i++ {
				edition += ", " + b.words.textf("one-of", i, n)
			}
		}
		text := []string{
			b.words.text("size") + ": " + sizeOf(board.View),
			b.words.text("materials") + ": " + b.words.textf("materials-text", b.words.support(board.Piece.Support)),
			b.words.text("date") + ": " + b.words.day(b.now),
			b.words.text("edition") + ": " + edition,
		}
		if b.kind.Key == billing.Certificate {
			text = append(text, "", b.words.text("signed")+": ____________________________")
		}
		d.Parts = append(d.Parts, paper.Part{Heading: board.Name, Text: strings.Join(text, "\n")})
	}
}

func sizeOf(v agenda.View) string {
	sys := units.Metric
	if v.Agenda != nil {
		sys = v.Agenda.Book.Settings.Units
	}
	return string(v.Width.Text(sys) + " × " + v.Height.Text(sys))
}

// pictures draws the boards, and on a quote the tiles side by side and the wall.
func (s *Service) pictures(ctx context.Context, b builder, d *Doc) error {
	if b.kind.Small || b.kind.Key == billing.Deposit || b.kind.Key == billing.Care {
		return nil
	}
	var views []agenda.View
	for _, board := range b.deal.Boards {
		views = append(views, board.View)
	}
	var tiles []agenda.View
	if b.kind.Key == billing.Quote {
		var err error
		if tiles, err = s.trade.TilesOf(ctx, b.deal.ID); err != nil {
			return err
		}
	}
	taken, err := s.taken(ctx, append(views, tiles...))
	if err != nil {
		return err
	}
	for k, board := range b.deal.Boards {
		for i, p := range taken[k] {
			p.Caption = board.Name + ", " + sizeOf(board.View)
			if n := len(taken[k]); n > 1 {
				p.Caption += " (" + b.words.textf("one-of", i+1, n) + ")"
			}
			d.Pictures = append(d.Pictures, p)
		}
	}
	if b.kind.Key != billing.Quote {
		return nil
	}
	if err := s.options(ctx, b, d, tiles, taken[len(views):]); err != nil {
		return err
	}
	hung, err := s.wall.Newest(ctx, b.deal.ID)
	if err != nil || hung == nil {
		return err
	}
	small, err := onPaper(hung)
	d.Options = append(d.Options, Option{Name: b.deal.Place, JPEG: small})
	return err
}

// taken are pictures of the boards of some pieces, without captions, each piece by itself at once.
func (s *Service) taken(ctx context.Context, views []agenda.View) ([][]Picture, error) {
	out := make([][]Picture, len(views))
	group, ctx := errgroup.WithContext(ctx)
	group.SetLimit(runtime.GOMAXPROCS(0))
	for k, v := range views {
		group.Go(func() error {
			return recovery.Do(func() (err error) {
				out[k], err = s.picturesOf(ctx, v)
				return err
			})
		})
	}
	return out, group.Wait()
}

func (s *Service) picturesOf(ctx context.Context, v agenda.View) ([]Picture, error) {
	list, err := s.looks.Of(ctx, v)
	if err != nil {
		return nil, err
	}
	out := make([]Picture, len(list))
	for i, l := range list {
		data, err := asJPEG(l.Picture)
		if err != nil {
			return nil, err
		}
		out[i] = Picture{"", data, l.Width, l.Height}
	}
	return out, nil
}

// mostOnPaper is the longer side of a photograph on a paper, in pixels: 260 to an inch
// at a third of the width of A4.
const mostOnPaper = 600

func onPaper(photo []byte) ([]byte, error) {
	m, err := open(photo)
	if err != nil {
		return nil, err
	}
	size := m.Bounds().Size()
	f := min(1, mostOnPaper/float64(max(size.X, size.Y)))
	small := image.NewRGBA(image.Rect(0, 0, max(1, int(f*float64(size.X))), max(1, int(f*float64(size.Y)))))
	scale.ApproxBiLinear.Scale(small, small.Rect, m, m.Bounds(), scale.Src, nil)
	return asJPEG(small)
}

// options are the test tiles of the commission.
func (s *Service) options(ctx context.Context, b builder, d *Doc, tiles []agenda.View, taken [][]Picture) error {
	for k, tile := range tiles {
		if len(taken[k]) == 0 {
			continue
		}
		o := Option{Name: tile.Name, JPEG: taken[k][0].JPEG, Chosen: tile.ID == b.deal.Chosen,
			Text: msg.Lower(tile.Plan.Coats[0].Technique.Name).In(lang(b.words.lang))}
		gross, ok, err := s.trade.LikeTile(ctx, b.deal, tile)
		if err != nil {
			return err
		}
		if o.Chosen { // the boards are planned like it: one paper says one price
			gross, ok = b.deal.Total.Gross, true
		}
		if ok {
			o.Amount = b.money(gross)
		}
		if o.Chosen {
			o.Text += ": " + b.words.text("chosen")
		}
		d.Options = append(d.Options, o)
	}
	return nil
}

// onWhite lays what is transparent on white.
func onWhite(m image.Image) image.Image {
	b := m.Bounds()
	out := image.NewRGBA(image.Rect(0, 0, b.Dx(), b.Dy()))
	draw.Draw(out, out.Rect, image.White, image.Point{}, draw.Src)
	draw.Draw(out, out.Rect, m, b.Min, draw.Over)
	return out
}
