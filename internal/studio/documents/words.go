package documents

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"jevvo/internal/core/surface"
	"jevvo/internal/msg"
	"jevvo/internal/studio/billing"
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
	{Key: billing.Quote, Series: "Q", Money: true}, {Key: billing.Confirmation, Series: "C", Money: true},
	{Key: billing.Deposit, Series: "I", Money: true}, {Key: billing.Invoice, Series: "I", Money: true},
	{Key: billing.Delivery, Series: "D"}, {Key: billing.Care, Series: "K"}, {Key: billing.Label, Series: "L", Small: true},
	{Key: billing.Certificate, Series: "Z"},
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

// A Tongue is a language documents can be written in.
type Tongue struct {
	Code   string
	Name   string // in itself
	Letter bool   // it is printed on letter paper, otherwise A4
	Texts  string // whose texts of the studio's own it uses
}

// Tongues holds them, the first where none is chosen.
var Tongues = []Tongue{{"en", "English", false, "en"}, {"en-US", "English (US)", true, "en"},
	{"de", "Deutsch", false, "de"}}

// TongueOf returns the language with the code, or the first.
func TongueOf(code string) Tongue {
	i := slices.IndexFunc(Tongues, func(t Tongue) bool { return t.Code == code })
	return Tongues[max(0, i)]
}

// texts are the words of papers by key; a studio can write its own for
// the openings and closings.
var texts = map[string]msg.ID{
	"quote": "Quote", "confirmation": "Order confirmation", "deposit": "Deposit invoice", "invoice": "Invoice",
	"delivery": "Delivery note", "care": "Care of your painting", "label": "", "certificate": "Certificate",
	"date": "Date", "valid": "Valid until", "due": "Due by", "ready": "Ready around", "wanted": "Wanted by",
	"order": "Order", "what": "What", "boards": "Quantity", "each": "Each", "sum": "Sum", "subtotal": "Sum",
	"discount": "Discount", "delivery-cost": "Delivery",
	"net": "Net", "tax": "%s %s", "holds": "includes %s %s", "total": "To pay", "deposit-line": "Deposit of %s",
	"paid": "Paid so far", "rest": "Balance", "deposit-ask": "Deposit on order", "page": "page", "of": "of",
	"tax-number": "Tax number", "bank": "Account",
	"title": "Title", "size": "Size", "materials": "Materials", "edition": "Edition", "signed": "Signed",
	"materials-text": "Epoxy resin and pigments on %s", "one-of-one": "one of one", "one-of": "%d of %d", "by": "by",
	"chosen": "your choice",
	"opening.quote": "Thank you for your enquiry. This is what we discussed, in the size and the " +
		"colours shown.",
	"opening.confirmation": "Thank you for your order. We will make it as agreed:",
	"opening.deposit":      "This deposit reserves the studio days for your order.",
	"opening.invoice":      "Made to your order:",
	"opening.delivery":     "Handed over today:",
	"opening.care":         "Your painting is made of epoxy resin, poured in layers.",
	"opening.label":        "",
	"opening.certificate":  "This painting was poured by hand in the studio and is one of a kind.",
	"closing.quote": "Poured colours find their own way: cells and edges will be close to the tile, never identical. " +
		"The dates hold if you order while this quote is valid.",
	"closing.confirmation": "Changes from now on may affect the date and the price; we will tell you and ask again first.",
	"closing.deposit":      "", "closing.invoice": "Thank you.",
	"closing.delivery":    "Received in good order:\n\n\n____________________________",
	"closing.certificate": "", "closing.label": "",
	"care-cured": "Fully cured on %s. Until then put nothing on it and lean nothing against it.",
	"care-heat":  "No hot cups or plates before %s, and after that only as far as the product's data sheet allows.",
	"care-light": "Light: keep it out of direct sun; sunlight yellows any resin in time and fades some colours.",
	"care-clean": "Cleaning: a soft, damp cloth and mild soap. No solvents, no abrasives, no glass cleaner.",
	"care-heat2": "Heat: keep it away from stoves, radiators and hot cars; the product's data sheet takes precedence " +
		"over this card.",
	"care-scratch": "Scratches: the surface is hard but not glass; put felt under anything that stands on it.",
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

// Name is the name of a kind of document.
func Name(kind string) msg.ID { return texts[kind] }

// A writer writes a paper in one language, with the studio's own texts before the usual.
type writer struct {
	lang string
	own  map[string]string
}

func (w writer) text(key string) string {
	if own := strings.TrimSpace(w.own[TongueOf(w.lang).Texts+"."+key]); own != "" {
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
