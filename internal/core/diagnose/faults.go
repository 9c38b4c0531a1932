package diagnose

// The motifs of the pictures.
const (
	Film     Motif = "film"     // the face, touched
	Patches  Motif = "patches"  // spots of another gloss
	Bubbles  Motif = "bubbles"  // rings of one size
	Pinholes Motif = "pinholes" // many small points
	Eyes     Motif = "eyes"     // holes with a rim
	Streaks  Motif = "streaks"  // colours run together
	Bands    Motif = "bands"    // a board in stripes
	Haze     Motif = "haze"     // cloudy
	Burn     Motif = "burn"     // a brown place
	Side     Motif = "side"     // the board from the side
	Corner   Motif = "corner"   // a corner of the board
	Specks   Motif = "specks"   // dust, clumps, glitter
	Tape     Motif = "tape"     // a taped edge
	Waves    Motif = "waves"    // lines of light on the face
	Layers   Motif = "layers"   // a cut through the coats
	Vessel   Motif = "cup"      // a mixing cup
	Rings    Motif = "rings"    // marks of cups
)

// Faults are the visible defects (handbook of the trade: common practice).
var Faults = []Fault{
	{"sticky-all", "Sticky all over", "A finger sticks wherever it touches, a day on.", Everywhere, NextDay, Film},
	{"sticky-patches", "Sticky in patches", "Hard here, tacky there.", Spots, NextDay, Patches},
	{"soft", "Soft, dents later", "A fingernail leaves a mark days on.", Everywhere, Later, Film},
	{"bubbles-from-below", "Bubbles that come back", "Bubbles rise again where they were burst.", Spots, WhileWet,
		Bubbles},
	{"micro-bubbles", "Pinholes, fine bubbles", "Many tiny bubbles or holes all over.", Everywhere, NextDay, Pinholes},
	{"fish-eyes", "Fish eyes", "Round holes where the film draws back.", Spots, WhileWet, Eyes},
	{"pits", "Pits", "Small dents in a hard face.", Spots, NextDay, Eyes},
	{"mud", "Colours turned to mud", "They have mixed into one dull colour.", Patterns, WhileWet, Streaks},
	{"colour-sank", "A colour sank", "It was on top and is hardly seen.", Patterns, NextDay, Layers},
	{"no-cells", "No cells came", "The colours lie beside each other and nothing opens.", Patterns, WhileWet, Bands},
	{"cells-closed", "Cells closed again", "They were there and have gone.", Patterns, NextDay, Bands},
	{"fog", "Fog, a dull bloom", "A white or greasy haze on a hard face.", Everywhere, NextDay, Haze},
	{"scorch", "Scorched", "Yellow or brown, rippled where the flame was.", Spots, WhileWet, Burn},
	{"see-through-sides", "Sides see-through", "The board shows at the sides and edges.", Edges, NextDay, Side},
	{"bare-corner", "A bare corner", "Resin has left a corner or an edge.", Edges, WhileWet, Corner},
	{"thick-middle", "Thick in the middle", "A bulge towards the middle or one side.", Everywhere, NextDay, Side},
	{"tear-drops", "Tear drops from tilting", "Runs that stretch towards one edge.", Patterns, WhileWet, Streaks},
	{"run-off", "Too much ran off", "More went over the edges than was calculated.", Edges, WhileWet, Side},
	{"dust", "Dust and hairs", "Specks stand in the face.", Spots, NextDay, Specks},
	{"clumps", "Clumps of pigment", "Grains or threads of colour.", Spots, WhileWet, Specks},
	{"bled-under-tape", "Bled under the tape", "Resin behind the tape's edge.", Edges, NextDay, Tape},
	{"tape-locked", "Tape locked in", "It tears and stays under the resin.", Edges, NextDay, Tape},
	{"glue-stain", "Glue stain", "A stain where tape or glue was.", Edges, NextDay, Tape},
	{"dam-leaked", "The dam leaked", "Resin ran out under or through it.", Edges, WhileWet, Tape},
	{"waves", "Waves in the face", "Lines of light bend over it.", Everywhere, NextDay, Waves},
	{"yellowing", "Yellowed", "Clear and white have turned yellow.", Everywhere, Later, Haze},
	{"dominates", "One colour dominates", "It has spread over the others.", Patterns, WhileWet, Bands},
	{"glitter-loud", "Glitter too loud", "It covers what it should lift.", Patterns, WhileWet, Specks},
	{"peels", "The coat peels", "It comes off the coat below.", Everywhere, Later, Layers},
	{"cup-overheated", "The cup got hot", "It steamed, thickened at once or cracked.", Elsewhere, WhileWet, Vessel},
	{"warped", "The board warped", "It no longer lies flat.", Elsewhere, Later, Side},
	{"cup-rings", "Rings from hot cups", "A cup has left its mark on a coaster.", Spots, Later, Rings},
}
