package papers

import (
	"fmt"
	"strings"
	"time"

	"jevvo/internal/core/surface"
	"jevvo/internal/msg"
	"jevvo/internal/studio/trade"
	"jevvo/internal/words"
)

// A Kind is a sort of paper.
type Kind struct {
	Key    string
	Series string // of its numbers; those of one series run on
	Money  bool   // it says amounts
	Small  bool   // a label
}

// Kinds holds them in the order they are made.
var Kinds = []Kind{
	{Key: trade.Quote, Series: "Q", Money: true}, {Key: trade.Confirmation, Series: "C", Money: true},
	{Key: trade.Deposit, Series: "I", Money: true}, {Key: trade.Invoice, Series: "I", Money: true},
	{Key: trade.Delivery, Series: "D"}, {Key: trade.Care, Series: "K"}, {Key: trade.Label, Series: "L", Small: true},
	{Key: trade.Certificate, Series: "Z"},
}

// FindKind returns the kind with a key.
func FindKind(key string) (Kind, bool) {
	for _, k := range Kinds {
		if k.Key == key {
			return k, true
		}
	}
	return Kind{}, false
}

// Languages are those papers can be written in.
var Languages = []string{"en", "de"}

// texts are the words of papers by key; a studio can write its own for
// the openings and closings.
var texts = map[string]msg.ID{
	"quote": "Quote", "confirmation": "Order confirmation", "deposit": "Deposit invoice", "invoice": "Invoice",
	"delivery": "Delivery note", "care": "Care of your painting", "label": "", "certificate": "Certificate",
	"date": "Date", "valid": "Valid until", "due": "Payable until", "ready": "Ready about", "wanted": "Wanted by",
	"order": "Order", "what": "What", "boards": "Boards", "each": "Each", "sum": "Sum", "subtotal": "Sum",
	"discount": "Discount", "delivery-cost": "Delivery",
	"net": "Net", "tax": "%s %s", "holds": "holds %s %s", "total": "To pay", "deposit-line": "Deposit of %s",
	"paid": "Paid so far", "rest": "Remainder", "deposit-ask": "Deposit on order", "page": "page", "of": "of",
	"tax-number": "Tax number", "bank": "Account",
	"title": "Title", "size": "Size", "materials": "Materials", "edition": "Edition", "signed": "Signed",
	"materials-text": "Epoxy resin and pigments on %s", "one-of-one": "one of one", "one-of": "%d of %d", "by": "by",
	"chosen": "your choice",
	"opening.quote": "Thank you for asking. These are the boards as we spoke of them, at the size and in the " +
		"colours shown.",
	"opening.confirmation": "Thank you for the order. It is made as agreed:",
	"opening.deposit":      "With this deposit the boards take their days in the studio.",
	"opening.invoice":      "For the boards made to your order:",
	"opening.delivery":     "Handed over today:",
	"opening.care":         "Your painting is of epoxy resin, poured in layers.",
	"opening.label":        "",
	"opening.certificate":  "This painting was poured by hand in the studio and is the only one of its kind.",
	"closing.quote": "Poured colours settle as they will: cells and edges come close to the tile, never the " +
		"same. The days hold if the order comes within the time of this quote.",
	"closing.confirmation": "A change from here on may move the day and the price; we will say so and ask again.",
	"closing.deposit":      "", "closing.invoice": "Thank you.",
	"closing.delivery":    "Received in good order:\n\n\n____________________________",
	"closing.certificate": "", "closing.label": "",
	"care-cured": "Fully cured on %s. Until then put nothing on it and lean nothing against it.",
	"care-heat":  "No hot cups or plates before %s, and then as far as the product's sheet allows.",
	"care-light": "Light: out of direct sun; the sun yellows every resin in time and fades some colours.",
	"care-clean": "Cleaning: a soft, damp cloth and mild soap. No solvents, no abrasives, no glass cleaner.",
	"care-heat2": "Heat: keep it away from stoves, radiators and hot cars; what the product's sheet says goes " +
		"before this card.",
	"care-scratch": "Scratches: the surface is hard but not glass; use felt under what stands on it.",
}

// Editable are the keys of the texts a studio writes itself.
func Editable() []string {
	var out []string
	for _, k := range Kinds {
		for _, place := range []string{"opening.", "closing."} {
			if texts[place+k.Key] != "" {
				out = append(out, place+k.Key)
			}
		}
	}
	return out
}

// Usual returns a text in a language as it stands where a studio wrote none.
func Usual(l, key string) string { return msg.C("paper", texts[key]).In(lang(l)) }

// Name is what a kind of paper is called.
func Name(kind string) msg.ID { return texts[kind] }

// A writer writes a paper in one language, with the studio's own texts before the usual.
type writer struct {
	lang string
	own  map[string]string
}

func (w writer) text(key string) string {
	if own := strings.TrimSpace(w.own[w.lang+"."+key]); own != "" {
		return own
	}
	return Usual(w.lang, key)
}

func (w writer) textf(key string, args ...any) string { return fmt.Sprintf(w.text(key), args...) }

// day writes a day.
func (w writer) day(t time.Time) string {
	return t.Local().Format(msg.C("paper", "2 January 2006").In(lang(w.lang)))
}

// support is a surface in the words of a paper.
func (w writer) support(s surface.Support) string {
	return msg.C("paper", s.Rule().Words).In(lang(w.lang))
}

// lang says texts in the language of a paper.
func lang(code string) msg.Lang { return words.In(words.Language(code)) }
