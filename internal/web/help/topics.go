package help

import "jevvo/internal/msg"

// A Topic is help for a screen: what it is for, how to begin, what its signs mean.
type Topic struct {
	ID      string
	Title   msg.ID
	Picture string // of pictures; "" for none
	For     msg.ID
	Do      []msg.ID
	Pages   []string // templates of the screens it is about
}

// topics are in the order in which a painter comes to them.
var topics = []Topic{
	{"today", "Today", "today",
		"The front door: what is wet and how long its window is open, what to do next, what is due, late or short, and " +
			"when the next evening is free.", []msg.ID{
			"Work down the list. Done keeps the time and moves what follows; Take back undoes it.",
			"The line at the top is the day: full bars are work for the hands, brackets the windows of a task, dotted lines " +
				"what lies and cures.",
			"A red triangle presses, a ring can wait, a tick is settled.",
		}, []string{"today", "first", "outbox"}},
	{"piece", "A piece", "piece",
		"One board, or a set poured together, from the brief to the record. The board stands on the left as it will look, " +
			"its parts on the right.", []msg.ID{
			"Type the size and choose a surface; the amounts, the cups and the hours follow. One part is open at a time, each " +
				"says in one line how it stands.",
			"Put the layers in order by drag, or with the arrow keys on their grip. Every change can be undone.",
			"A dotted figure says how it is reckoned and where the sum comes from when you point at it.",
			"The filled button is what to do next. Once all coats are poured the page says what came of them.",
		}, []string{"piece", "new", "pieces", "rescale", "card"}},
	{"composition", "Composition", "composition", "Where each cup is poured. Shares and amounts follow the drawing.",
		[]msg.ID{
			"Choose a layout to begin from, or a thing, and draw it on the board; drag what lies there, or move it by the " +
				"arrow keys.",
			"Neighbours says what touches what: where two colours turn to mud, part well, or open cells.",
		}, []string{"compose"}},
	{"preview", "Poured on the screen", "preview",
		"The coat as its resin, cups and moves will make it. Film, spread, hiding, and the time and spacing of cells are " +
			"reckoned; which cell is where is one possible draw.", []msg.ID{
			"Play it, or drag the time line. Point at the board to see what lies on what there.",
			"Try a move of your own, or one of the other ways below; put one aside to compare. Into the plan takes over what " +
				"you poured by hand.",
		}, []string{"preview"}},
	{"mixer", "A cup", "mixer",
		"A cup as the film it will be, over what lies below it: how it looks, whether it hides, and what another " +
			"drop would do.", []msg.ID{
			"Choose pigments from the shelf. Start small, a drop at a time; the stick vanishes in a deep cup long before a " +
				"thin film hides.",
			"A drawdown on the pigment's page makes its colour and its hiding true.",
		}, []string{"mixer", "pigment", "pigments"}},
	{"weigh-out", "Weigh out", "weigh-out",
		"Part A, part B and each pigment, in the order that wastes the least, watched while you pour.", []msg.ID{
			"With a scale connected the number follows by itself; without one type what the display shows. Gloves on, eyes " +
				"covered, the room open.",
			"Too much of one part is answered with what to add of the other. Nothing is scooped out once the parts " +
				"have touched.",
		}, []string{"weigh", "weighings", "devices"}},
	{"bench", "The bench", "bench",
		"One step at a time, with the resin's clock beside it. The large button is all that gloves need.", []msg.ID{
			"Press when the parts meet: from then on the clock runs. The verdict says whether now is the time, and how long " +
				"the window stays open.",
			"Take back undoes the last press. What is done is kept at once, also when the network or the power goes.",
			"A rehearsal runs the coat many times as fast and says what to do better.",
		}, []string{"bench", "start", "benches", "level"}},
	{"days", "Days and month", "days",
		"All that is to be done, laid around the waits, the nights, the places on the shelf and the due days.", []msg.ID{
			"Drag a task, or use the arrow keys; while you drag, it says what stands in the way. x lets it go again, e says " +
				"that it is done.",
			"Open an evening in words under Hours out of the usual: Thu 18–21, 24 Dec shut, tomorrow only 9–12.",
			"What if shows what a longer day, another resin or a coat less would change, without keeping it.",
		}, []string{"days", "month", "week"}},
	{"commission", "Commissions", "commission",
		"From what the client wants over test tiles, a quote and the approval to the paid invoice.", []msg.ID{
			"The next step stands at the top with its day. Pour tiles, let the client choose; the boards take the " +
				"chosen recipe.",
			"Papers are kept as they were made, with numbers that have no gaps. Hang the boards on a photograph of the " +
				"client's wall before you quote.",
		}, []string{"commission", "commissions", "client", "wall", "paper", "price", "year", "terms"}},
	{"journal", "Journal and findings", "journal",
		"What was noted, photographed and judged, day by day, and what this studio's own pours teach.", []msg.ID{
			"Fill in a result the day after the pour, dry. After three of a kind the findings begin to speak.",
			"Something wrong? Choose what you see; the questions lead to the likeliest cause and what to do now.",
		}, []string{"journal", "findings", "faults", "fault", "result", "diary", "strength"}},
	{"stock", "Stock", "stock", "What was bought, opened, used and is reserved, lot by lot, with what to order by when.",
		[]msg.ID{
			"Book a purchase or count what is there; pours and weigh-outs take from it by themselves, the oldest lot first.",
		}, []string{"stock", "orders", "thing", "goods"}},
	{"shelf", "Shelf and techniques", "technique",
		"Your resins with their data sheets, your pigments, and every way of making a coat.", []msg.ID{
			"Copy the ratio, the working time, the hard time and the viscosity from the product's sheet; the clock goes by " +
				"them, and by what you observe.",
			"Copy a technique to make it yours. Its steps are timed from the size of the board.",
		}, []string{"shelf", "resin", "technique", "techniques", "palette", "palettes", "sum", "sums", "settings", "screens",
			"labels", "scan", "shared", "glossary"}},
}

// Of is the topic a screen belongs to; the first where it has none.
func of(page string) Topic {
	for _, t := range topics {
		for _, p := range t.Pages {
			if p == page {
				return t
			}
		}
	}
	return topics[0]
}
