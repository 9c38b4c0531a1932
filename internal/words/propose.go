package words

import (
	"strings"

	"jevvo/internal/core/propose"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
)

// Proposal names a proposal.
func Proposal(id string) string {
	switch id {
	case "again":
		return T("Once more, with what was lost")
	case "veil":
		return T("A thin veil over what is to step back")
	case "wash":
		return T("A transparent ink, sealed")
	case "mend":
		return T("Mend the flaw first")
	}
	return T("Seal it and leave it")
}

// ProposalReason says why something is proposed.
func ProposalReason(r propose.Reason, sys units.System) string {
	at := Places(r.Places)
	switch r.Code {
	case propose.ClearOverKept:
		return F("Clear over what stays: %s.", at)
	case propose.VeilOverLoud:
		return F("White over what is to step back: %s.", at)
	case propose.ThinVeil:
		return F("%s thin, so that what lies below shows through.", r.Film.Film(sys))
	case propose.DarkOverLarge:
		return inked(r.Cup, F("Dark and transparent over what is too large: %s.", at))
	case propose.InkShifts:
		return inked(
			r.Cup,
			F("A transparent ink shifts the hue there and leaves the drawing: %s. Warm against cold, cold against warm.", at),
		)
	case propose.SealsInk:
		return T("The clear coat over it seals the ink.")
	case propose.LostComesFirst:
		return F("%s got lost: it comes first, and has most.", r.Cup)
	case propose.LeftOut:
		return F("%s took over: it is left out.", r.Cup)
	case propose.AgainThere:
		return F("%s once more: %s.", r.Cup, at)
	case propose.AmountFollows:
		return F("%s for the places that are touched, clear for the rest.", r.Volume.Text(sys))
	case propose.NothingAsked:
		return T("Nothing was marked to be changed.")
	case propose.SealsIt:
		return T("A clear coat deepens the colours and protects them; nothing else is done to it.")
	case propose.FlawFirst:
		return F("What is wrong at %s is found and mended before anything is poured over it.", at)
	}
	return ""
}

// inked adds which ink of the shelf it would be.
func inked(ink, text string) string {
	if ink == "" {
		return text + " " + T("There is no ink on the shelf yet.")
	}
	return text + " " + F("On the shelf: %s.", ink)
}

// Places lists places of a board.
func Places(all []technique.Place) string {
	names := make([]string, len(all))
	for i, p := range all {
		names[i] = T(p.Name())
	}
	return strings.Join(names, ", ")
}
