// Package documents makes the papers of a commission: quote, confirmation, invoices,
// delivery note, care card, label and certificate. Each is kept as it was made, with a
// number of a series that has no gaps, and can be sent.
package documents

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"image"
	"image/jpeg"
	"io"
	"slices"
	"strconv"
	"strings"
	"time"

	"jevvo/internal/device"
	"jevvo/internal/exchange/paper"
	"jevvo/internal/exchange/picture"
	"jevvo/internal/form"
	"jevvo/internal/store"
	"jevvo/internal/studio/billing"
	"jevvo/internal/studio/mail"
	"jevvo/internal/studio/prices"
	"jevvo/internal/studio/renders"
	"jevvo/internal/studio/wall"
)

// A Service makes papers.
type Service struct {
	store  *store.Store
	trade  *billing.Service
	prices *prices.Service
	looks  *renders.Service
	wall   *wall.Service
	post   *mail.Service
	desk   *picture.Desk
	now    func() time.Time
}

// New returns the service.
func New(db *store.Store, tr *billing.Service, pr *prices.Service, lk *renders.Service, w *wall.Service,
	ps *mail.Service,
	desk *picture.Desk, now func() time.Time) *Service {
	return &Service{db, tr, pr, lk, w, ps, desk, now}
}

// A Doc is a paper as it is kept: all its words, and its pictures as JPEG.
type Doc struct {
	Kind, Title, Number, Lang string
	At                        time.Time
	Studio                    string
	Lines, To                 []string
	Facts                     []paper.Fact
	Opening                   string
	Heads                     [4]string
	Items                     []paper.Item
	Totals                    []paper.Total
	Pictures                  []Picture
	Options                   []Option
	Parts                     []paper.Part
	Foot                      []string
	Logo                      []byte `json:",omitempty"`
	Asks                      string `json:",omitempty"` // of an invoice: the whole sum it is about
}

// A Picture is a board of a paper.
type Picture struct {
	Caption       string
	JPEG          []byte
	Width, Height float64
}

// An Option is one way of a quote.
type Option struct {
	Name, Text, Amount string
	JPEG               []byte
	Chosen             bool
}

// A Kept is a paper that was made.
type Kept struct {
	ID, Commission int64
	Doc
}

// Make makes a paper of a commission in a language, with a text of its own for the
// opening where one is typed.
func (s *Service) Make(ctx context.Context, commission int64, kind, lang, opening string) (Kept, error) {
	k, ok := FindKind(kind)
	if !ok {
		return Kept{}, form.Refusef("kind", "there is no document of the kind %q", kind)
	}
	lang = TongueOf(lang).Code
	d, err := s.trade.Deal(ctx, commission)
	if err != nil {
		return Kept{}, err
	}
	if err := allow(k, d); err != nil {
		return Kept{}, err
	}
	b := builder{kind: k, deal: d, terms: d.Total.Terms, words: writer{lang, d.Total.Texts}, now: s.now()}
	doc, err := s.build(ctx, b)
	if err != nil {
		return Kept{}, err
	}
	if text := strings.TrimSpace(opening); text != "" {
		doc.Opening = string([]rune(text)[:min(len([]rune(text)), 2000)])
	}
	out := Kept{Commission: commission}
	err = s.store.Write(ctx, "make the paper", func(tx *store.Tx) error {
		if err := asksAnew(ctx, tx, commission, doc); err != nil {
			return err
		}
		series := fmt.Sprintf("%s%d", k.Series, s.now().Local().Year())
		n, err := tx.NextNumber(ctx, series)
		if err != nil {
			return err
		}
		doc.Number = fmt.Sprintf("%s-%04d", series, n)
		set, err := doc.paper()
		if err != nil {
			return err
		}
		pdf, err := set.PDF(ctx)
		if err != nil {
			return fmt.Errorf("set the paper: %w", err)
		}
		text, err := json.Marshal(doc)
		if err != nil {
			return err
		}
		out.Doc = doc
		out.ID, err = tx.AddPaper(ctx,
			store.Paper{Commission: commission, Kind: kind, Number: doc.Number, At: doc.At, Doc: text}, pdf)
		return err
	})
	return out, err
}

// allow refuses a document whose time has not come.
func allow(k Kind, d billing.Deal) error {
	switch {
	case len(d.Boards) == 0:
		return form.Refusef("kind", "there is no board to write about yet")
	case k.Money && !d.Total.Gross.IsPositive():
		return form.Refusef("kind",
			"the boards add up to nothing: enter prices for your materials, or a price for the piece, first")
	case k.Key == billing.Deposit && !d.Total.Quote.Deposit.IsPositive():
		return form.Refusef("kind", "no deposit is asked for; it is set under money in the settings")
	case k.Key == billing.Invoice && !d.Open().IsPositive():
		return form.Refusef("kind", "everything is paid already")
	case k.Key == billing.Confirmation && d.Approved() == nil:
		return form.Refusef("kind", "nothing has been agreed yet: save the approval first")
	}
	return nil
}

// asksAnew refuses an invoice over the sum that the newest of its kind is about.
func asksAnew(ctx context.Context, tx *store.Tx, commission int64, doc Doc) error {
	if doc.Asks == "" {
		return nil
	}
	rows, err := tx.Papers(ctx, commission)
	if err != nil {
		return err
	}
	for _, row := range slices.Backward(rows) {
		if row.Kind != doc.Kind {
			continue
		}
		var was Doc
		if err := json.Unmarshal(row.Doc, &was); err != nil {
			return fmt.Errorf("read the paper %s: %w", row.Number, err)
		}
		if was.Asks == doc.Asks {
			return form.Refusef("kind", "%s is for the same amount; send that one again, or change the price first", row.Number)
		}
		return nil
	}
	return nil
}

// Kept returns a paper.
func (s *Service) Kept(ctx context.Context, id int64) (Kept, error) {
	row, err := s.store.Paper(ctx, id)
	if err != nil {
		return Kept{}, err
	}
	out := Kept{ID: row.ID, Commission: row.Commission}
	if err := json.Unmarshal(row.Doc, &out.Doc); err != nil {
		return out, fmt.Errorf("read the paper %s: %w", row.Number, err)
	}
	return out, nil
}

// PDF returns a paper as it was made.
func (s *Service) PDF(ctx context.Context, id int64) ([]byte, error) {
	return s.store.PaperPDF(ctx, id)
}

// Send sends a paper to an address, once to each.
func (s *Service) Send(ctx context.Context, id int64, to, text string) error {
	p, err := s.Kept(ctx, id)
	if err != nil {
		return err
	}
	to = strings.TrimSpace(to)
	if at := strings.Index(to, "@"); at < 1 || at == len(to)-1 || strings.ContainsAny(to, " ,;\n\r") || len(to) > 200 {
		return form.Refusef("to", "%q is not an address to send to", to)
	}
	pdf, err := s.PDF(ctx, id)
	if err != nil {
		return err
	}
	subject := strings.TrimSpace(p.Title + " " + p.Number)
	if p.Studio != "" {
		subject += ", " + p.Studio
	}
	if strings.TrimSpace(text) == "" {
		text = p.Opening
	}
	return s.post.Send(ctx, fmt.Sprintf("paper %d to %s", id, strings.ToLower(to)),
		mail.Letter{To: to, Subject: subject, Body: text + "\n\n" + p.Studio + "\n"},
		device.File{Name: p.Number + ".pdf", Data: pdf})
}

// SetLogo keeps the studio's logo, or takes it away.
func (s *Service) SetLogo(ctx context.Context, r io.Reader) error {
	var data []byte
	if r != nil {
		p, err := s.desk.Read(ctx, r)
		if err != nil {
			return &form.Refused{Field: "logo", Err: err}
		}
		if data, err = asJPEG(p.Small); err != nil {
			return err
		}
	}
	return s.store.Write(ctx, "keep the logo", func(tx *store.Tx) error {
		return tx.KeepBlob(ctx, store.LetterheadLogo, data, s.now())
	})
}

// Logo returns the studio's logo as JPEG, nil when there is none.
func (s *Service) Logo(ctx context.Context) ([]byte, error) {
	data, err := s.store.Blob(ctx, store.LetterheadLogo)
	if errors.Is(err, store.ErrNone) {
		return nil, nil
	}
	return data, err
}

// pictureQuality is that of pictures on papers.
const pictureQuality = 88

func asJPEG(m image.Image) ([]byte, error) {
	var b bytes.Buffer
	err := jpeg.Encode(&b, onWhite(m), &jpeg.Options{Quality: pictureQuality})
	return b.Bytes(), err
}

// paper is a doc to be set.
func (d Doc) paper() (paper.Paper, error) {
	k, _ := FindKind(d.Kind)
	w := writer{lang: d.Lang}
	p := paper.Paper{Kind: d.Kind, Title: d.Title, Number: d.Number, Small: k.Small, Letter: TongueOf(d.Lang).Letter,
		Lang: d.Lang, Page: w.text("page"),
		Of: w.text("of"), Studio: d.Studio, Lines: d.Lines, To: d.To,
		Facts: d.Facts, Opening: d.Opening, Heads: d.Heads, Items: d.Items, Totals: d.Totals, Parts: d.Parts, Foot: d.Foot,
		At: d.At}
	if k.Small || d.Kind == billing.Care || d.Kind == billing.Certificate {
		p.Number = "" // it stands among the facts
	}
	var err error
	if p.Logo, err = open(d.Logo); err != nil {
		return p, err
	}
	for _, v := range d.Pictures {
		m, err := open(v.JPEG)
		if err != nil {
			return p, err
		}
		p.Pictures = append(p.Pictures, paper.Picture{Caption: v.Caption, Image: m, Width: v.Width, Height: v.Height})
	}
	for _, v := range d.Options {
		m, err := open(v.JPEG)
		if err != nil {
			return p, err
		}
		p.Options = append(p.Options, paper.Option{Name: v.Name, Image: m, Text: v.Text, Amount: v.Amount, Chosen: v.Chosen})
	}
	return p, nil
}

func open(data []byte) (image.Image, error) {
	if len(data) == 0 {
		return nil, nil
	}
	return jpeg.Decode(bytes.NewReader(data))
}

// Shown is a picture of the paper: a board by its place from b0, an option from o0, or
// the logo.
func (d Doc) Shown(name string) ([]byte, bool) {
	if name == "logo" {
		return d.Logo, len(d.Logo) > 0
	}
	if name == "" {
		return nil, false
	}
	n, err := strconv.Atoi(name[1:])
	switch {
	case err != nil || n < 0:
		return nil, false
	case name[0] == 'b' && n < len(d.Pictures):
		return d.Pictures[n].JPEG, true
	case name[0] == 'o' && n < len(d.Options):
		return d.Options[n].JPEG, true
	}
	return nil, false
}
