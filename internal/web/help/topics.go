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
		"Your day at a glance: what is wet and how long its window is open, what to do next, what is due, late or running " +
			"low, and when the next evening is free.", []msg.ID{
			"Work down the list. Done saves the time and moves what follows; Undo takes it back.",
			"The line at the top is the day: full bars are hands-on work, brackets the windows of a task, dotted lines " +
				"what is curing.",
			"A red triangle is a problem, a ring is still to do, a tick is done.",
		}, []string{"today", "first", "outbox"}},
	{"piece", "A piece", "piece",
		"One board, or a set poured together, from the brief to the record. The board is on the left as it will look, its " +
			"parts on the right.", []msg.ID{
			"A new piece begins with its name, its board, a technique and your pigments; all else is proposed.",
			"Each part reads as a sentence. Change opens it in place; the amounts, the cups and the times follow what you type.",
			"Put the layers in order by drag, or with the arrow keys on their grip. Every change can be undone; the clock " +
				"beside Undo lists what was changed, and goes back to any of it.",
			"Point at a dotted figure to see how it is calculated and where the formula comes from.",
			"The filled button is the next thing to do. Once all coats are poured the page says how they turned out.",
		}, []string{"piece", "new", "pieces", "rescale", "card", "history"}},
	{"composition", "Composition", "composition", "Where each cup is poured. Shares and amounts follow the drawing.",
		[]msg.ID{
			"Choose a layout to begin from, or a thing, and draw it on the board; drag what lies there, or move it by the " +
				"arrow keys.",
			"Neighbours says what touches what: where two colours turn to mud, part well, or open cells.",
		}, []string{"compose"}},
	{"preview", "Poured on the screen", "preview",
		"The coat as its resin, cups and moves should make it. Film, spread, opacity, and the time and spacing of cells " +
			"are calculated; where each cell falls is one possible result.", []msg.ID{
			"Play it, or drag the time line. Point at the board to see what lies on what there.",
			"Try a move of your own, or one of the other ways below; put one aside to compare. “Into the plan” adds what you " +
				"poured by hand.",
		}, []string{"preview"}},
	{"mixer", "A cup", "mixer",
		"A cup as the film it will be, over what lies below it: how it looks, whether it covers, and what another " +
			"drop would do.", []msg.ID{
			"Choose pigments from your materials. Start small, a drop at a time; the stick vanishes in a deep cup long before " +
				"a thin film covers.",
			"A drawdown on the pigment's page makes its colour and its opacity accurate.",
		}, []string{"mixer", "pigment", "pigments"}},
	{"weigh-out", "Weigh out", "weigh-out",
		"Part A, part B and each pigment, in the order that wastes the least, checked while you pour.", []msg.ID{
			"With a scale connected the number follows by itself; without one, type what the display shows. Gloves on, eyes " +
				"protected, the room aired.",
			"If you pour too much of one part, it tells you how much of the other to add. Never scoop anything out once the " +
				"parts have touched.",
		}, []string{"weigh", "weighings", "devices"}},
	{"bench", "The bench", "bench",
		"One step at a time, with the resin's clock beside it. The large button is all that gloves need.", []msg.ID{
			"Press when you start mixing: that starts the clock. The verdict says whether now is the time, and how long the " +
				"window stays open.",
			"Undo takes the last press back. Every press is saved at once, even if the network or the power fails.",
			"Chimes, a voice, notices and letter keys are chosen below the bench, once on each device. A skip asks " +
				"first.",
			"A rehearsal runs the coat many times as fast and says what to do better.",
		}, []string{"bench", "start", "benches", "level"}},
	{"days", "Days and month", "days",
		"Everything to be done, fitted around waits, nights, places on the drying rack and due dates.", []msg.ID{
			"Drag a task, or use the arrow keys; while you drag, it tells you what is in the way. x unpins it, e marks it done.",
			"Open an evening in words under Special hours: Thu 18–21, 24 Dec closed, tomorrow only 9–12.",
			"What if shows what a longer day, another resin or one coat fewer would change, without saving it.",
		}, []string{"days", "month", "week"}},
	{"commission", "Commissions", "commission",
		"From what the client wants, through test tiles, a quote and the approval, to the paid invoice.", []msg.ID{
			"The next step is at the top, with its date. Pour tiles, let the client choose; the boards use the chosen recipe.",
			"Documents stay as they were issued, numbered without gaps. Hang the boards on a photograph of the client's wall " +
				"before you quote.",
			"The year shows what came in, what was spent, and what you made, hung up month by month.",
		}, []string{"commission", "commissions", "client", "wall", "paper", "price", "year", "terms"}},
	{"journal", "Journal and findings", "journal",
		"What was noted, photographed and judged, day by day, and what this studio's own pours teach.", []msg.ID{
			"Fill in a result the day after the pour, once dry. After three coats of a kind the findings appear.",
			"Something wrong? Choose what you see; the questions lead to the likeliest cause and what to do now.",
		}, []string{"journal", "findings", "faults", "fault", "result", "diary", "strength"}},
	{"stock", "Stock", "stock", "What was bought, opened, used and is reserved, lot by lot, with what to order by when.",
		[]msg.ID{
			"Enter a purchase or count what you have; pours and weigh-outs are deducted for you, the oldest lot first.",
		}, []string{"stock", "orders", "thing", "goods"}},
	{"materials", "Materials and techniques", "technique",
		"Your resins with their data sheets, your pigments, and every way of making a coat.", []msg.ID{
			"Copy the ratio, the working time, the time to hard and the viscosity from the product's data sheet; the clock " +
				"follows them, and what you observe.",
			"Import a list takes what you keep in a spreadsheet, and photographs of swatches; it shows what it makes first.",
			"The last change of a resin, a pigment, a technique or a palette can be undone on its own page.",
			"Copy a technique to make it yours. Its steps are timed from the size of the board.",
		}, []string{"materials", "resin", "technique", "techniques", "palette", "palettes", "sum", "calculators", "settings",
			"screens",
			"labels", "scan", "shared", "glossary", "import"}},
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
