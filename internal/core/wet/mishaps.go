package wet

import (
	"slices"

	"jevvo/internal/msg"
)

// A Mishap is something that went otherwise than planned.
type Mishap struct {
	ID    string
	Name  msg.ID
	Asks  Asks   // what is to be said of it
	Now   msg.ID // what to do
	Later msg.ID // what to look at afterwards
}

// Asks is the value a mishap asks for.
type Asks string

// What is asked.
const (
	AsksNothing Asks = ""
	AsksFilm    Asks = "film"    // as it was poured
	AsksShare   Asks = "share"   // of the hardener that is missing
	AsksCup     Asks = "cup"     // that fell over
	AsksMinutes Asks = "minutes" // away
	AsksRoom    Asks = "room"    // temperature now
)

// Ids that the program acts on.
const (
	PouredOther   = "poured-other"
	HardenerShort = "hardener-short"
	FellOver      = "fell-over"
	RoomChanged   = "room-changed"
	TapeMissed    = "tape-missed"
)

// Mishaps holds them in the order they are offered (common practice).
var Mishaps = []Mishap{
	{
		TapeMissed,
		"Tape missed",
		AsksNothing,
		"Leave it. Once it is firm warm the edge with air and pull it slowly; what tears is cut and sanded.",
		"The edge: sand the ridge before the next coat.",
	},
	{
		"lid-off",
		"Lid was off",
		AsksNothing,
		"Cover it. Look along the light and lift dust out with a needle while hands may be on it; after that leave it.",
		"Dust: dry-sand the tops and wipe before the next coat.",
	},
	{
		PouredOther,
		"Poured thinner or thicker",
		AsksFilm,
		"The clock goes by the film that lies there now.",
		"Where it is thin it may show the ground; where it is thick it stays soft longer.",
	},
	{
		HardenerShort,
		"Hardener was short",
		AsksShare,
		"If it is still in the jug: weigh what is missing and add it. " +
			"Poured, only a scraper helps: wet it comes off easily, half set it does not.",
		"Press a nail on it tomorrow: what stays soft is scraped off; nothing that hardens is poured over it.",
	},
	{
		FellOver,
		"A cup fell over",
		AsksCup,
		"Gloves on, wipe it up before it runs underneath; what touched the table does not go back. Mix a fresh batch for " +
			"what is still needed.",
		"",
	},
	{"called-away", "Called away", AsksMinutes,
		"Cover it, flame and gun off and cold. The clock goes on; what closed meanwhile is said when you are back.", ""},
	{RoomChanged, "The room changed", AsksRoom,
		"The clock goes by the room as it is now.", "A cold night makes it blush and keeps it soft: the days move with it."},
}

// FindMishap returns the mishap with the id.
func FindMishap(id string) (Mishap, bool) {
	if i := slices.IndexFunc(Mishaps, func(m Mishap) bool { return m.ID == id }); i >= 0 {
		return Mishaps[i], true
	}
	return Mishap{}, false
}
