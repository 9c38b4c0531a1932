package diagnose

import "slices"

// Questions are the questions and tests, with how often the answer is yes with
// the cause and without it (common practice).
var Questions = []Question{
	{"left-in-cup", "Is what was left in the mixing cup hard by now?", "off-ratio", 0.1, 0.8, false, ""},
	{"warmed-harder", "Did a day in a warm room make it harder?", "not-yet-cured", 0.95, 0.1, false, ""},
	{"streaks-in-cup", "Were there streaks in the cup when it was poured?", "under-mixed", 0.7, 0.08, false, ""},
	{"scraped-out", "Was the cup scraped out over the board?", "unscraped", 0.95, 0.25, false, ""},
	{"night-cold", "Did it get colder than 18 °C in the first night?", "cold", 0.9, 0.15, true, ""},
	{"wipes-off", "Does the bloom wipe off with warm water?", "damp", 0.8, 0.1, false, "fog"},
	{"damp-day", "Was the air damp that day, or the board freshly washed?", "damp", 0.8, 0.2, true, ""},
	{"same-place", "Do bubbles come back in the same places?", "bare-wood", 0.9, 0.15, false, "bubbles-from-below"},
	{"unsealed", "Was the board left unsealed?", "bare-wood", 0.95, 0.25, true, ""},
	{"bottles-cold", "Were the bottles colder than the room when they were mixed?", "cold-resin", 0.85, 0.15, false, ""},
	{"no-pass", "Was no flame or hot air passed over it?", "no-torch", 0.95, 0.2, true, ""},
	{"silicone-under", "Was there silicone in the coat below, or in a spray near the board?", "silicone-below", 0.9, 0.1,
		true, ""},
	{"touched-face", "Was the face touched, or not wiped, before the pour?", "not-degreased", 0.85, 0.2, true, ""},
	{"covered", "Was it left open while it cured?", "dust-uncovered", 0.9, 0.25, true, ""},
	{"many-passes", "Was it gone over more than twice?", "over-worked", 0.85, 0.2, false, ""},
	{"before-window", "Was it worked before the clock said so?", "too-runny", 0.8, 0.2, true, ""},
	{"drags", "Did the film drag rather than flow when it was worked?", "too-thick", 0.85, 0.1, true, ""},
	{"same-bottle", "Are both colours of one kind of pigment, in alike doses?", "similar-density", 0.8, 0.3, false, ""},
	{"white-below", "Does the heavier colour, often the white, lie below?", "lighter-on-top", 0.9, 0.3, false, ""},
	{"settled-in-cup", "Does that pigment settle in a cup left standing?", "heavy-pigment", 0.9, 0.2, false, ""},
	{"seen-through", "Does the ground show through it against the light?", "too-little-pigment", 0.85, 0.2, true, ""},
	{"smelt", "Did it smoke, smell or ripple under the flame?", "over-heated", 0.7, 0.05, false, ""},
	{"stood-still", "Did the flame stand over one place?", "held-still", 0.85, 0.05, true, ""},
	{"sides-bare", "Were the sides left unpainted?", "sides-unpainted", 0.95, 0.3, false, ""},
	{"bubble-off", "Does a level show the board out by more than its film?", "not-level", 0.85, 0.1, true, ""},
	{"short", "Was the last of it scraped together to reach the corners?", "too-little-resin", 0.8, 0.1, true, ""},
	{"steep", "Was it tipped by more than a hand's height?", "tilted-fast", 0.8, 0.15, false, ""},
	{"over-brim", "Did it stand higher than its edges?", "too-much-resin", 0.8, 0.1, true, ""},
	{"rubbed-in", "Was powder stirred straight into the full cup?", "unmixed-powder", 0.85, 0.2, false, ""},
	{"tape-lifts", "Does the tape lift at its edge when it is looked at closely?", "loose-tape", 0.8, 0.1, false, ""},
	{"tape-next-day", "Was the tape still on the next day?", "tape-late", 0.95, 0.1, true, ""},
	{"tape-warm", "Did tape stay on for days, or get warm?", "adhesive", 0.8, 0.1, false, ""},
	{"at-a-corner", "Did it leak at a corner or an end of the tape?", "gap-in-dam", 0.85, 0.2, false, ""},
	{"carried", "Was the board carried or shaken in its first hours?", "moved-late", 0.85, 0.1, false, ""},
	{"yellow-bottle", "Is the resin yellow in its bottle?", "old-resin", 0.85, 0.08, false, ""},
	{"in-sun", "Does the sun reach it where it hangs?", "sun", 0.9, 0.2, false, ""},
	{"shiny-below", "Was the coat below still shiny when it was poured over?", "not-scuffed", 0.9, 0.15, true, ""},
	{"days-between", "Were there more than two days between the coats?", "recoat-too-late", 0.9, 0.3, true, ""},
	{"full-cup", "Did the whole batch stand in one cup for longer than it took to mix?", "lot-too-large", 0.85, 0.15, true,
		""},
	{"back-bare", "Is the back unsealed?", "one-face-primed", 0.95, 0.25, false, ""},
	{"within-weeks", "Was it used hot within four weeks of the pour?", "heat-too-soon", 0.9, 0.15, false, ""},
	{"spoon-size", "Was pigment added until it looked right, without weighing?", "overload", 0.7, 0.25, true, ""},
}

// FindQuestion returns the question with the id.
func FindQuestion(id string) (Question, bool) {
	k := slices.IndexFunc(Questions, func(q Question) bool { return q.ID == id })
	if k < 0 {
		return Question{}, false
	}
	return Questions[k], true
}
