package papers

import (
	"fmt"
	"strings"
	"time"

	"jevvo/internal/studio/trade"
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

// texts are the words of papers, by language and key; a studio can write its own for
// the openings and closings.
var texts = map[string]map[string]string{
	"en": {
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
	},
	"de": {
		"quote": "Angebot", "confirmation": "Auftragsbestätigung", "deposit": "Anzahlungsrechnung", "invoice": "Rechnung",
		"delivery": "Lieferschein", "care": "Pflege Ihres Bildes", "label": "", "certificate": "Zertifikat",
		"date": "Datum", "valid": "Gültig bis", "due": "Zahlbar bis", "ready": "Fertig etwa", "wanted": "Gewünscht bis",
		"order": "Auftrag", "what": "Was", "boards": "Tafeln", "each": "Einzeln", "sum": "Summe", "subtotal": "Summe",
		"discount": "Nachlass", "delivery-cost": "Lieferung",
		"net": "Netto", "tax": "%s %s", "holds": "darin %s %s", "total": "Zu zahlen", "deposit-line": "Anzahlung von %s",
		"paid": "Bisher bezahlt", "rest": "Rest", "deposit-ask": "Anzahlung bei Auftrag", "page": "Seite", "of": "von",
		"tax-number": "Steuernummer", "bank": "Konto",
		"title": "Titel", "size": "Maße", "materials": "Material", "edition": "Auflage", "signed": "Unterschrift",
		"materials-text": "Epoxidharz und Pigmente auf %s", "one-of-one": "Unikat", "one-of": "%d von %d", "by": "von",
		"chosen": "Ihre Wahl",
		"opening.quote": "Danke für Ihre Anfrage. Das sind die Tafeln, wie wir sie besprochen haben, in den " +
			"gezeigten Maßen und Farben.",
		"opening.confirmation": "Danke für den Auftrag. Gemacht wird, wie vereinbart:",
		"opening.deposit":      "Mit dieser Anzahlung bekommen die Tafeln ihre Tage im Atelier.",
		"opening.invoice":      "Für die nach Ihrem Auftrag gemachten Tafeln:",
		"opening.delivery":     "Heute übergeben:",
		"opening.care":         "Ihr Bild ist in Schichten aus Epoxidharz gegossen.",
		"opening.label":        "",
		"opening.certificate":  "Dieses Bild wurde im Atelier von Hand gegossen; es gibt kein zweites.",
		"closing.quote": "Gegossene Farben gehen ihren Weg: Zellen und Ränder kommen der Probe nahe, gleich werden " +
			"sie nie. Die Tage gelten, wenn der Auftrag in der Frist dieses Angebots kommt.",
		"closing.confirmation": "Eine Änderung ab jetzt kann Tag und Preis verschieben; wir sagen es und fragen dann " +
			"noch einmal.", "closing.deposit": "", "closing.invoice": "Vielen Dank.",
		"closing.delivery":    "In gutem Zustand erhalten:\n\n\n____________________________",
		"closing.certificate": "", "closing.label": "",
		"care-cured": "Ganz ausgehärtet am %s. Bis dahin nichts darauf stellen und nichts dagegen lehnen.",
		"care-heat":  "Keine heißen Tassen oder Teller vor dem %s, und dann nur so heiß, wie das Datenblatt erlaubt.",
		"care-light": "Licht: nicht in die pralle Sonne; sie lässt jedes Harz mit der Zeit vergilben und manche Farbe " +
			"verblassen.",
		"care-clean": "Reinigen: ein weiches, feuchtes Tuch und milde Seife. Keine Lösemittel, nichts Scheuerndes, kein " +
			"Glasreiniger.",
		"care-heat2":   "Wärme: fern von Herd, Heizung und heißem Auto; was im Datenblatt steht, geht dieser Karte vor.",
		"care-scratch": "Kratzer: die Fläche ist hart, aber kein Glas; Filz unter das, was darauf steht.",
	},
}

// Editable are the keys of the texts a studio writes itself.
func Editable() []string {
	var out []string
	for _, k := range Kinds {
		for _, place := range []string{"opening.", "closing."} {
			if texts["en"][place+k.Key] != "" {
				out = append(out, place+k.Key)
			}
		}
	}
	return out
}

// Usual returns a text as it stands where a studio wrote none.
func Usual(lang, key string) string { return texts[lang][key] }

// words writes a paper in one language, with the studio's own texts before the usual.
type words struct {
	lang string
	own  map[string]string
}

func (w words) text(key string) string {
	if own := strings.TrimSpace(w.own[w.lang+"."+key]); own != "" {
		return own
	}
	return texts[w.lang][key]
}

func (w words) textf(key string, args ...any) string { return fmt.Sprintf(w.text(key), args...) }

// day writes a day.
func (w words) day(t time.Time) string {
	if w.lang == "de" {
		return t.Local().Format("02.01.2006")
	}
	return t.Local().Format("2 January 2006")
}

// supports are the surfaces in the words of a paper.
var supports = map[string]map[string]string{
	"de": {"canvas": "Leinwand", "panel": "Holztafel", "cradled": "Holztafel mit Rahmen", "tile": "Fliese",
		"tray": "Tablett", "table": "Tischplatte", "mould": "Guss ohne Träger"},
}
