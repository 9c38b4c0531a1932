package words

import (
	"jevvo/internal/core/propose"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// Proposal names a proposal.
func Proposal(id string) msg.ID {
	switch id {
	case "again":
		return "Once more, with what was lost"
	case "veil":
		return "A thin veil over what is to step back"
	case "wash":
		return "A transparent ink, sealed"
	case "mend":
		return "Mend the flaw first"
	}
	return "Seal it and leave it"
}

// ProposalReason says why something is proposed.
func ProposalReason(r propose.Reason, sys units.System) msg.Text {
	at := Places(r.Places)
	switch r.Code {
	case propose.ClearOverKept:
		return msg.F("Clear over what stays: %s.", at)
	case propose.VeilOverLoud:
		return msg.F("White over what is to step back: %s.", at)
	case propose.ThinVeil:
		return msg.F("%s thin, so that what lies below shows through.", r.Film.Film(sys))
	case propose.DarkOverLarge:
		return inked(r.Cup, msg.F("Dark and transparent over what is too large: %s.", at))
	case propose.InkShifts:
		return inked(
			r.Cup,
			msg.F("A transparent ink shifts the hue there and leaves the drawing: %s. Warm against cold, cold against warm.",
				at),
		)
	case propose.SealsInk:
		return msg.ID("The clear coat over it seals the ink.")
	case propose.LostComesFirst:
		return msg.F("%s got lost: it comes first, and has most.", r.Cup)
	case propose.LeftOut:
		return msg.F("%s took over: it is left out.", r.Cup)
	case propose.AgainThere:
		return msg.F("%s once more: %s.", r.Cup, at)
	case propose.AmountFollows:
		return msg.F("%s for the places that are touched, clear for the rest.", r.Volume.Text(sys))
	case propose.NothingAsked:
		return msg.ID("Nothing was marked to be changed.")
	case propose.SealsIt:
		return msg.ID("A clear coat deepens the colours and protects them; nothing else is done to it.")
	case propose.FlawFirst:
		return msg.F("What is wrong at %s is found and mended before anything is poured over it.", at)
	}
	return nil
}

// inked adds which ink of the materials it would be.
func inked(ink string, text msg.Text) msg.Text {
	if ink == "" {
		return msg.Sentences(text, msg.ID("There is no ink in your materials yet."))
	}
	return msg.Sentences(text, msg.F("In your materials: %s.", ink))
}

// Places lists places of a board.
func Places(all []technique.Place) msg.Text {
	names := make([]msg.Text, len(all))
	for i, p := range all {
		names[i] = p.Name()
	}
	return msg.Join(", ", names...)
}
