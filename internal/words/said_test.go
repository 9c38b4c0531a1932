package words_test

import (
	"go/ast"
	"go/parser"
	"go/token"
	"regexp"
	"strconv"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/diagnose"
	"jevvo/internal/core/material"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/propose"
	"jevvo/internal/core/resin"
	"jevvo/internal/core/schedule"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/core/verdict"
	"jevvo/internal/core/wet"
	"jevvo/internal/msg"
	"jevvo/internal/words"
)

func say(t msg.Text) string { return msg.Say(t, msg.English) }

func TestSpansOfWaiting(t *testing.T) {
	for m, want := range map[int]string{0: "0 min", 45: "45 min", 60: "1 h", 61: "1 h 1 min", 1439: "23 h 59 min",
		1440: "1 day", 1441: "1 day", 1500: "1 day 1 h", 3060: "2 days 3 h", 2880: "2 days"} {
		assert.Equal(t, want, say(words.Span(m)), m)
	}
}

// Whole drops of a liquid up to thirty, then what they fill; eighths of a teaspoon of a powder.
func TestPigmentAsItIsDosed(t *testing.T) {
	ink := material.Pigment{Drop: 0.05, Liquid: 1000} // a drop of 0.05 g
	for g, want := range map[units.Mass]string{0.05: "1 drop", 0.07: "1 drop", 0.08: "2 drops", 1.5: "30 drops",
		1.53: "1.5 mL", 3: "3 mL"} {
		assert.Equal(t, want, say(words.Measure(ink, g, units.Metric)), g)
	}
	assert.Equal(t, "30 drops", say(words.Measure(ink, 1.5, units.US)))
	assert.Equal(t, "1 1/4 tsp", say(words.Measure(ink, 6, units.US)), "a US teaspoon is 4.93 mL (NIST SP 811)")
	mica := material.Pigment{Spoon: 2}
	for g, want := range map[units.Mass]string{0.1: "a pinch", 0.13: "1/8 tsp", 0.5: "1/4 tsp", 1.75: "7/8 tsp",
		2:    "1 tsp",
		2.25: "1 1/8 tsp", 6: "3 tsp"} {
		assert.Equal(t, want, say(words.Measure(mica, g, units.US)), g)
	}
	assert.Nil(t, words.Measure(material.Pigment{}, 1, units.Metric), "of what is neither nothing is known")
}

func TestMaterialsAsTheyAreMeasuredOut(t *testing.T) {
	stuff := func(unit technique.Unit, amount float64) plan.Material {
		return plan.Material{Material: technique.Material{Unit: unit}, Amount: amount}
	}
	for unit, want := range map[technique.Unit]string{technique.Grams: "2.5 g", technique.Millis: "2.5 mL",
		technique.Metres: "2.5 m"} {
		assert.Equal(t, want, say(words.Material(stuff(unit, 2.5))))
	}
	assert.Equal(t, "3 drops", say(words.Material(stuff(technique.Drops, 3))))
	assert.Equal(t, "1 sheet", say(words.Material(stuff(technique.Sheets, 1))))
}

// Coats are counted; the last of three or more that seals is the top coat.
func TestCoatsByTheirPlace(t *testing.T) {
	coat := func(place, of int, seals bool) *plan.Coat {
		return &plan.Coat{Place: place, Of: of, Technique: technique.Technique{Name: "Swipe", Seals: seals}}
	}
	for want, c := range map[string]*plan.Coat{"First pour": coat(0, 1, true), "Second coat": coat(1, 2, true),
		"Top coat": coat(2, 3, true), "Third coat": coat(2, 3, false), "Sixth coat": coat(5, 9, false),
		"Coat 7": coat(6, 9, true)} {
		assert.Equal(t, want, say(words.Coat(c)))
	}
	assert.Equal(t, "Second coat, swipe", say(words.CoatWith(coat(1, 2, true))))
}

// A reason of the schedule names what it is about, with its minutes.
func TestWhyADayDoesNotDo(t *testing.T) {
	p := schedule.Problem{Pieces: []schedule.Piece{{ID: "Dune", Tasks: []schedule.Task{{ID: "prime"}, {ID: "pour"}}}}}
	for code, want := range map[schedule.ReasonCode]string{
		schedule.NeverOpen:    "There are no opening hours.",
		schedule.LateByWork:   "Dune is late on its own: its work alone takes until after the due date.",
		schedule.InACircle:    "In Dune these wait for one another in a circle: prime, pour.",
		schedule.TooFewPlaces: "Dune needs 90 level places; the drying rack has 30 that fit.",
		schedule.TaskTooLong:  "Dune, pour takes 1 h 30 min, longer than the studio is ever open at a stretch (30 min).",
		schedule.WindowShut:   "Dune, pour must start within 1 h 30 min after prime, and no opening hours allow that.",
		schedule.LateByWaits: "Dune is late on its own: its waits alone run past the due date; the longest: pour waits " +
			"1 h 30 min after prime (has to dry).",
		"another": "Dune cannot keep its waits within the opening hours.",
	} {
		r := schedule.Reason{Code: code, Task: 1, Minutes: 90, Most: 30, Why: msg.ID("has to dry"), Circle: []int{0, 1}}
		assert.Equal(t, want, say(words.Reason(r, p)), code)
	}
	for _, code := range []schedule.ReasonCode{schedule.InTheWay, schedule.LateByHours, schedule.LateByRack,
		schedule.LateByHands} {
		assert.NotContains(t, say(words.Reason(schedule.Reason{Code: code}, p)), "cannot keep its waits", code)
	}
}

// What stands in the way of a time, and what the days say of a piece.
func TestWhatTheDaysSay(t *testing.T) {
	at, made := msg.Own("Mon 14:00"), &plan.Plan{}
	o := words.Placed{Name: "Dune", Task: &plan.Task{What: msg.ID("Sand")}, Plan: made, When: at, Need: 3, Have: 1,
		Err: assert.AnError}
	for code, want := range map[string]string{"past": "That is over.",
		"closed": "The studio is closed then; it opens Mon 14:00.",
		"closes": "It would not be done before the studio closes, Mon 14:00.",
		"waits":  "Not before Mon 14:00: sand has to dry.",
		"window": "Too late: its window after sand closes Mon 14:00.",
		"hands":  "Your hands are at sand, Dune, until Mon 14:00."} {
		o.Code = code
		assert.Equal(t, want, say(words.Obstacle(o, plan.WhyDries)), code)
	}
	for code, want := range map[string]string{
		"tape-missed":    "Dune: sand was to be done by Mon 14:00. Now warm the edge with air and pull it slowly; trim what tears.",
		"few-places":     "Dune needs 3 places; the drying rack has 1 that fit. It is planned as if it dried elsewhere.",
		"pin-let-go":     "Dune, sand cannot be at Mon 14:00: its waits or the other work do not allow it. It was unpinned.",
		"not-calculated": "Dune cannot be calculated: " + assert.AnError.Error() + ".",
		"left-out":       "Dune cannot be planned within these hours and places.",
	} {
		o.Code = code
		assert.Equal(t, want, say(words.Agenda(o)), code)
	}
}

// A relief says how it comes out: with time to spare, short of it, or with a batch too old.
func TestReliefsInWords(t *testing.T) {
	for want, r := range map[string]plan.Relief{"fits with 12 min to spare": {Holds: true, Spare: 12, Overdue: 3},
		"a batch still stands 3 min too long": {Spare: 5, Overdue: 3}, "still 8 min short": {Spare: -8}} {
		assert.Equal(t, want, say(words.ReliefText(r)))
	}
	for kind, want := range map[plan.ReliefKind]string{plan.ReliefRoom: "A room of 18 °C",
		plan.ReliefPeople: "2 people at the bench", plan.ReliefCups: "Each cup mixed on its own",
		plan.ReliefHalves: "A board of half the face", plan.ReliefResin: "Slow 90"} {
		name, why := words.Relief(plan.Relief{Kind: kind, Room: 18, People: 2, Name: msg.Own("Slow 90")}, units.Metric)
		assert.Equal(t, want, say(name))
		assert.NotEmpty(t, why, kind)
	}
}

// What a step takes is said amount by amount.
func TestWhatAStepTakes(t *testing.T) {
	all := words.Carried([]plan.Carry{
		{Kind: plan.CarryParts, Batch: resin.Batch{A: resin.Part{Mass: 60, Volume: 55}, B: resin.Part{Mass: 30, Volume: 28}}},
		{Kind: plan.CarryPigment, Cup: "sea", Mass: 0.5, Pigment: material.Pigment{Name: "Sedge", Spoon: 2}},
		{Kind: plan.CarryPigment, Cup: "sea", Mass: 0.5},
		{Kind: plan.CarrySilicone, Cup: "sea", Drops: 2},
		{Kind: plan.CarryTape, Sides: []plan.Compass{"east"}},
		{Kind: plan.CarryTape, Sides: []plan.Compass{"east", "west", "north", "south"}},
		{Kind: plan.CarryWhere, Where: "by the rim"},
	}, units.Metric)
	var got []string
	for _, text := range all {
		got = append(got, regexp.MustCompile(`[\x{202f}\x{a0}]`).ReplaceAllString(say(text), " "))
	}
	assert.Equal(t, []string{"A 60.0 g (55.0 mL) + B 30.0 g (28.0 mL)", "sea: 0.5 g Sedge (1/4 tsp)", "sea: 0.5 g pigment",
		"sea: 2 drops of silicone", "the east side first, then the west side, north and south last", "by the rim"}, got)
}

// Missing hardener is said by what it leaves: nothing within the tolerance, a soft resin, a
// sticky one, one that never sets.
func TestMissingHardener(t *testing.T) {
	for share, want := range map[float64]string{0.02: "^2 % less is within", 0.05: "^5 % less is within",
		0.06: "it sets, and stays softer", 0.3: "it stays sticky", 0.9: "never sets"} {
		assert.Regexp(t, want, say(words.HardenerShort(share, 0.05)), share)
	}
}

// Lines of a bench day.
func TestABenchDayInWords(t *testing.T) {
	event := func(told words.BenchTold) string { return say(words.BenchEvent(told, units.Metric)) }
	asks := map[wet.Asks]float64{wet.AsksFilm: 1.5, wet.AsksShare: 0.1, wet.AsksMinutes: 12, wet.AsksRoom: 19}
	said := map[wet.Asks]string{wet.AsksFilm: `: 1\.5\d* mm$`, wet.AsksShare: ": 10 %$", wet.AsksMinutes: ": 12 min$",
		wet.AsksRoom: `: 19 °C$`}
	for _, m := range wet.Mishaps {
		text := event(words.BenchTold{Kind: words.ToldHappening, Text: m.ID, Value: asks[m.Asks]})
		assert.Contains(t, text, say(m.Name), m.ID)
		assert.Regexp(t, said[m.Asks], text, m.ID)
		if m.Asks == wet.AsksRoom {
			assert.Contains(t, say(words.BenchEvent(
				words.BenchTold{Kind: words.ToldHappening, Text: m.ID, Value: 19}, units.US)), "66 °F")
		}
	}
	assert.Equal(t, "A cup fell over: sea",
		event(words.BenchTold{Kind: words.ToldHappening, Text: wet.FellOver, Cup: "sea"}))
	c, work := wet.Complaints[0], wet.Works[0]
	assert.Equal(t, say(c.Name)+": "+say(msg.Lower(work.Name))+", better for it",
		event(words.BenchTold{Kind: words.ToldComplaint, Text: c.ID, Work: work.ID, How: "better"}))
	assert.Equal(t, "Stopped: good as it is", event(words.BenchTold{Kind: words.ToldStop}))
	assert.Equal(t, "as typed", event(words.BenchTold{Text: "as typed", Added: msg.ID("Round done")}))
	assert.Equal(t, "Round done", event(words.BenchTold{Added: msg.ID("Round done")}))
}

// Every argument is said the way its text asks for it.
func TestArgumentsOfAVerdict(t *testing.T) {
	p := &plan.Plan{Coats: []plan.Coat{{Colours: nil}, {Place: 1, Of: 2}}}
	p.Coats[1].ID = "second"
	d := verdict.Diagnostic{Code: verdict.BatchStands, Weight: verdict.Mind, Coat: "second",
		Args: verdict.Args{"n": 1, "of": 2, "volume": units.Volume(120), "stands": 90.0, "cup": "sea"}}
	s := words.Say(d, p, units.Metric)
	assert.Equal(t, "Second coat: batch 1 of 2 (120 mL) would stand 1 h 30 min longer than it keeps: sea comes last.",
		regexp.MustCompile(`[\x{202f}\x{a0}]`).ReplaceAllString(say(s.Text), " "))
	assert.Contains(t, say(s.Advice), "sea sooner")
	assert.Equal(t, verdict.Mind, s.Weight)
	assert.Equal(t, "unheard-of", say(words.Say(verdict.Diagnostic{Code: "unheard-of"}, nil, units.Metric).Text))
}

// Every reason that the rules of the faults give has a sentence, those that say nothing by
// themselves excepted; its figures stand in it.
func TestEveryReasonOfAFaultIsSaid(t *testing.T) {
	silent := map[string]bool{"lot-not": true, "recoat-hard-not": true}
	f, err := parser.ParseFile(token.NewFileSet(), "../core/diagnose/signs.go", nil, 0)
	require.NoError(t, err)
	codes := map[string]bool{}
	ast.Inspect(f, func(n ast.Node) bool {
		c, ok := n.(*ast.CompositeLit)
		if !ok || len(c.Elts) == 0 {
			return true
		}
		first := c.Elts[0]
		if keyed, ok := first.(*ast.KeyValueExpr); ok {
			first = keyed.Value
		}
		name, _ := c.Type.(*ast.Ident)
		if s, ok := first.(*ast.BasicLit); ok && name != nil && name.Name == "Reason" {
			code, _ := strconv.Unquote(s.Value)
			codes[code] = true
		}
		return true
	})
	require.NotEmpty(t, codes)
	for code := range codes {
		text := words.Because(diagnose.Reason{Code: diagnose.ReasonCode(code), Figures: []float64{0.5, 2, 3}}, units.Metric)
		if !silent[code] {
			require.NotNil(t, text, code)
			assert.NotContains(t, say(text), "%!", code)
		}
	}
	why := func(code string, f ...float64) string {
		return say(words.Because(diagnose.Reason{Code: diagnose.ReasonCode(code), Figures: f}, units.Metric))
	}
	assert.Equal(t, "hardener 12 % over", why("ratio", 0.12))
	assert.Equal(t, "hardener 12 % short", why("ratio", -0.12))
	assert.Equal(t, "17 °C all the time", why("cold", 17, 17.4))
	assert.Equal(t, "down to 15 °C, 18 °C on average", why("cold", 15, 18))
	assert.Equal(t, "only 2 h old; hard in about 22 h in this room", why("curing", 2, 0, 22.4))
	assert.Equal(t, "only 2 h old", why("curing", 2, 0, 0))
	assert.Equal(t, "pigment at 130 % of its limit", why("load", 1.3))
}

// Every reason of a proposal is said.
func TestEveryReasonOfAProposalIsSaid(t *testing.T) {
	for _, code := range []propose.Code{propose.ClearOverKept, propose.VeilOverLoud, propose.DarkOverLarge,
		propose.InkShifts, propose.LostComesFirst, propose.LeftOut, propose.AgainThere, propose.ThinVeil,
		propose.SealsInk, propose.NothingAsked, propose.SealsIt, propose.FlawFirst, propose.AmountFollows} {
		text := words.ProposalReason(propose.Reason{Code: code, Cup: "sea", Film: 0.5, Volume: 80}, units.Metric)
		require.NotNil(t, text, code)
		assert.NotContains(t, say(text), "%!", code)
	}
	dark := propose.Reason{Code: propose.DarkOverLarge, Places: []technique.Place{"middle"}}
	assert.Contains(t, say(words.ProposalReason(dark, units.Metric)), "There is no ink in your materials yet.")
	dark.Cup = "Night ink"
	assert.Contains(t, say(words.ProposalReason(dark, units.Metric)), "In your materials: Night ink.")
}

// The windows of a resin are all described, and what may follow a coat is listed.
func TestWindowsAndWhatFollows(t *testing.T) {
	assert.NotEmpty(t, words.Look(cure.Holding))
	assert.Equal(t, "ink by brush and paint",
		say(words.Follows(plan.NextDay{May: []plan.Follow{plan.FollowInk, plan.FollowPaint}})))
	for _, l := range words.Languages {
		assert.Equal(t, l.Language == words.American, l.Language.WeekBegins() == time.Sunday, l.Name)
	}
}
