package pieces

import (
	"maps"
	"slices"
	"strings"
	"time"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/school"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/materials"
	"jevvo/internal/words"
)

type timeOf = time.Time

// CoatKey is the key of a field of a coat.
func CoatKey(coat, field string) string { return "coat." + coat + "." + field }

// CupKey is the key of a field of a cup of a coat.
func CupKey(coat, cup, field string) string { return "coat." + coat + ".colour." + cup + "." + field }

// UseKey is the key of an amount of a material of a layer.
func UseKey(layer, material string) string { return "layer." + layer + ".use." + material }

// layerFields is the catalogue of one layer.
func layerFields(l plan.Layer, b *materials.Book) form.Fields[plan.Spec] {
	at := func(s *plan.Spec) *plan.Layer { return s.Layer(l.ID) }
	var out form.Fields[plan.Spec]
	add := func(f form.Field[plan.Layer]) { out = append(out, form.Within(f, f.Key, at)) }
	if l.Kind == plan.Prepare || l.Kind == plan.Finish {
		add(form.Count("layer."+l.ID+".times", "Times", func(l *plan.Layer) *int { return &l.Times }, 1, 6))
		return out
	}
	if l.Step != nil {
		return ownStepFields(l.ID)
	}
	add(form.Text("layer."+l.ID+".keeps", "Keeps visible", func(l *plan.Layer) *string { return &l.Keeps }, 200,
		false).Said(form.Filled))
	if t, ok := b.Techniques().Find(l.What); ok {
		for _, n := range t.Needs {
			if m, ok := technique.FindMaterial(n.Material); ok {
				add(useField(l.ID, m))
			}
		}
	}
	if l.Coat == nil {
		return out
	}
	add(techniqueField(l.ID, b))
	out = append(out, coatFields(l, b)...)
	for _, c := range l.Coat.Colours {
		out = append(out, cupFields(l.ID, c.ID, b)...)
	}
	return append(out, movesFields(l, b)...)
}

// ownStepFields are those of a step of the painter's own.
func ownStepFields(id string) form.Fields[plan.Spec] {
	at := func(s *plan.Spec) *plan.OwnStep {
		if l := s.Layer(id); l != nil {
			return l.Step
		}
		return nil
	}
	key := func(name string) string { return OwnStepKey(id, name) }
	var out form.Fields[plan.Spec]
	fields := form.Fields[plan.OwnStep]{
		form.Text(key("name"), "Step", func(s *plan.OwnStep) *string { return &s.Name }, 60, true),
		form.Text(key("note"), "What to do", func(s *plan.OwnStep) *string { return &s.Note }, 300, false),
		form.Minutes(key("minutes"), "Takes", "min", func(s *plan.OwnStep) *float64 { return &s.Minutes }, 1, 24*60),
		form.Minutes(key("dry"), "Dries", "min", func(s *plan.OwnStep) *float64 { return &s.Dry }, 0, 30*24*60),
		form.Swatch(key("swatch"), "Colour", func(s *plan.OwnStep) *string { return &s.Swatch }).
			OrNothing(func(s *plan.OwnStep) bool { return s.Swatch == "" }, func(s *plan.OwnStep) { s.Swatch = "" }),
		form.Text(key("caution"), "Caution", func(s *plan.OwnStep) *string { return &s.Caution }, 200, false),
	}
	for _, f := range fields {
		out = append(out, form.Within(f, f.Key, at))
	}
	return out
}

// OwnStepKey is the key of a field of a step of the painter's own.
func OwnStepKey(layer, field string) string { return "layer." + layer + ".step." + field }

// techniqueField gives a coat another technique.
func techniqueField(id string, b *materials.Book) form.Field[plan.Layer] {
	return form.Field[plan.Layer]{Key: CoatKey(id, "technique"), Label: msg.ID("Technique"), Kind: form.Choose,
		Of:  "techniques",
		Get: func(l *plan.Layer, _ units.System) string { return l.What },
		Set: func(l *plan.Layer, text string, _ units.System) (msg.Text, error) {
			t, ok := b.Techniques().Find(text)
			if !ok || t.Between {
				return nil, refusal.New("there is no technique %q", text)
			}
			before, _ := b.Techniques().Find(l.What)
			l.Retechnique(t, before)
			return nil, nil
		}}
}

func coatFields(l plan.Layer, b *materials.Book) form.Fields[plan.Spec] {
	at := func(s *plan.Spec) *plan.CoatSpec { return s.Coat(l.ID) }
	key := func(name string) string { return CoatKey(l.ID, name) }
	fields := form.Fields[plan.CoatSpec]{
		productField(key("product"), b),
		amountField(key("amount")),
		form.Volume(key("reserve"), "Clear held back", func(c *plan.CoatSpec) *units.Volume { return &c.Reserve }, 0,
			20_000).Hinted("0 mL"),
		form.Volume(key("texture"), "Texture takes", func(c *plan.CoatSpec) *units.Volume { return &c.Texture }, 0, 20_000),
		form.Volume(key("inclusions"), "Inclusions displace", func(c *plan.CoatSpec) *units.Volume { return &c.Inclusions },
			0, 20_000),
		form.Choice(key("mixing"), "Mixed", func(c *plan.CoatSpec) *string { return &c.Mixing },
			waysOf(school.Mixing)...),
		form.Choice(key("colouring"), "Coloured", func(c *plan.CoatSpec) *string { return &c.Colouring },
			waysOf(school.Colour)...),
		form.Temperature(key("warm"), "Bottles warmed to", func(c *plan.CoatSpec) *units.Temperature { return &c.Warm }, 20,
			45).
			OrNothing(func(c *plan.CoatSpec) bool { return c.Warm == 0 },
				func(c *plan.CoatSpec) { c.Warm = 0 }).Hinted("as the room"),
		form.Count(key("people"), "People at the bench", func(c *plan.CoatSpec) *int { return &c.People }, 0, 3).
			OrNothing(func(c *plan.CoatSpec) bool { return c.People == 0 },
				func(c *plan.CoatSpec) { c.People = 0 }).Hinted("as usual"),
		form.Bool(key("machine"), "Stirred by machine", func(c *plan.CoatSpec) *bool { return &c.Machine }),
		form.Angle(key("tilt"), "Tilted by", func(c *plan.CoatSpec) *units.Angle { return &c.Tilt }, 60).
			OrNothing(func(c *plan.CoatSpec) bool { return c.Tilt == 0 },
				func(c *plan.CoatSpec) { c.Tilt = 0 }).Hinted("the usual run-off"),
		form.Minutes(key("tilt_for"), "for", "min", func(c *plan.CoatSpec) *float64 { return &c.TiltFor }, 0, 60),
		form.Choice(key("tape"), "Tape comes off", func(c *plan.CoatSpec) *string { return &c.Tape },
			append(waysOf(school.Tape), form.Option{Value: school.TapeMinutes, Label: msg.ID("after minutes of its own")})...),
		form.Minutes(key("tape_after"), "after", "min", func(c *plan.CoatSpec) *float64 { return &c.TapeAfter }, 0, 48*60),
		form.Choice(key("tape_first"), "Side released first", func(c *plan.CoatSpec) *plan.Compass { return &c.TapeFirst },
			sides()...),
		form.Bool(key("silicone"), "Silicone in the accents", func(c *plan.CoatSpec) *bool { return &c.Silicone }),
		form.Count(key("drops"), "Drops in 30 mL", func(c *plan.CoatSpec) *int { return &c.Drops }, 1, 10).
			OrNothing(func(c *plan.CoatSpec) bool { return c.Drops == 0 }, func(c *plan.CoatSpec) { c.Drops = 0 }).Hinted("2"),
		form.Temperature(key("room"), "Room temperature for this coat",
			func(c *plan.CoatSpec) *units.Temperature { return &c.Room }, 5,
			45).
			OrNothing(func(c *plan.CoatSpec) bool { return c.Room == 0 },
				func(c *plan.CoatSpec) { c.Room = 0 }).Hinted("as the piece"),
	}
	if t, ok := b.Techniques().Find(l.What); ok {
		for _, o := range t.Options {
			fields = append(fields, optionField(l.ID, o))
		}
	}
	for _, e := range technique.Extras {
		fields = append(fields, extraField(l.ID, e))
	}
	out := make(form.Fields[plan.Spec], len(fields))
	for i, f := range fields {
		out[i] = form.Within(f, f.Key, at)
	}
	return out
}

// OptionKey is the key of a choice of a coat's technique.
func OptionKey(coat, option string) string { return CoatKey(coat, "option."+option) }

// ExtraKey is the key of a step a coat can have besides.
func ExtraKey(coat, extra string) string { return CoatKey(coat, "extra."+extra) }

func optionField(coat string, o technique.Option) form.Field[plan.CoatSpec] {
	var choices []form.Option
	for _, c := range o.Choices {
		choices = append(choices, form.Option{Value: c.Key, Label: c.Words})
	}
	return form.Field[plan.CoatSpec]{Key: OptionKey(coat, o.Key), Label: o.Name, Kind: form.Choose, Options: choices,
		Get: func(c *plan.CoatSpec, _ units.System) string {
			if way := c.Options[o.Key]; way != "" {
				return way
			}
			return o.Choices[0].Key
		},
		Set: func(c *plan.CoatSpec, text string, _ units.System) (msg.Text, error) {
			if !slices.ContainsFunc(o.Choices, func(w technique.Choice) bool { return w.Key == text }) {
				return nil, refusal.New("%q is not one of the options", text)
			}
			chosen := maps.Clone(c.Options)
			if chosen == nil {
				chosen = map[string]string{}
			}
			chosen[o.Key] = text
			c.Options = chosen
			return nil, nil
		}}
}

func extraField(coat string, e technique.Extra) form.Field[plan.CoatSpec] {
	yes := form.Bool(ExtraKey(coat, e.ID), "", func(c *plan.CoatSpec) *bool {
		on := slices.Contains(c.Extras, e.ID)
		return &on
	})
	yes.Label = e.Name
	set := yes.Set
	yes.Set = func(c *plan.CoatSpec, text string, sys units.System) (msg.Text, error) {
		if _, err := set(c, text, sys); err != nil { // the text alone is judged
			return nil, err
		}
		kept := slices.DeleteFunc(slices.Clone(c.Extras), func(id string) bool { return id == e.ID })
		if text == "yes" {
			kept = append(kept, e.ID)
		}
		c.Extras = kept
		return nil, nil
	}
	return yes
}

// waysOf are the ways of a school a coat can go, the studio's own first.
func waysOf(key string) []form.Option {
	q, _ := school.Find(key)
	out := []form.Option{{Label: msg.ID("as usual")}}
	for _, w := range q.Ways {
		out = append(out, form.Option{Value: w.Key, Label: w.Words})
	}
	return out
}

// sides are the sides of a board as it lies.
func sides() []form.Option {
	out := []form.Option{{Label: msg.ID("all alike")}}
	for _, s := range plan.Sides {
		out = append(out, form.Option{Value: string(s), Label: msg.ID(s)})
	}
	return out
}

func productField(key string, b *materials.Book) form.Field[plan.CoatSpec] {
	f := form.Owned(key, "Resin", "products", func(c *plan.CoatSpec) *int64 { return &c.Product }, false)
	set := f.Set
	f.Set = func(c *plan.CoatSpec, text string, sys units.System) (msg.Text, error) {
		trial := *c
		if _, err := set(&trial, text, sys); err != nil {
			return nil, refusal.New("choose one of your resins")
		}
		if _, ok := b.Products[trial.Product]; !ok {
			return nil, refusal.New("this resin is not in your materials")
		}
		c.Product = trial.Product
		return nil, nil
	}
	return f
}

// amountField reads how much a coat takes, as a painter says it.
func amountField(key string) form.Field[plan.CoatSpec] {
	return form.Field[plan.CoatSpec]{Key: key, Label: msg.ID("How much"), Kind: form.Line, Say: form.Figures,
		Hint: msg.ID("1.6 mm, 12 fl oz or 400 g"),
		Get: func(c *plan.CoatSpec, sys units.System) string {
			switch a := c.Amount; {
			case a.Volume > 0:
				return form.VolumeText(a.Volume, sys)
			case a.Mass > 0:
				return form.MassText(a.Mass)
			case a.Film <= 0: // it fills its mould
				return ""
			}
			return form.FilmText(c.Amount.Film, sys)
		},
		Set: func(c *plan.CoatSpec, text string, sys units.System) (msg.Text, error) {
			if strings.TrimSpace(text) == "" {
				c.Amount = plan.Amount{}
				return nil, nil
			}
			if r, err := units.ParseLength(text, form.BareFilm(text, sys)); err == nil {
				if err := form.Between(r.Value, 0.2, 150,
					func(l units.Length) string { return form.FilmText(l, sys) }); err != nil {
					return nil, err
				}
				c.Amount = plan.Amount{Film: r.Value}
				return r.Note, nil
			}
			if r, err := units.ParseVolume(text, form.BareVolume(sys)); err == nil {
				if err := form.Between(r.Value, 1, 100_000,
					func(v units.Volume) string { return form.VolumeText(v, sys) }); err != nil {
					return nil, err
				}
				c.Amount.Volume, c.Amount.Mass = r.Value, 0
				return msg.Sentences(msg.ID("for the whole coat; its film follows."), r.Note), nil
			}
			if r, err := units.ParseMass(text, "g"); err == nil {
				if err := form.Between(r.Value, 1, 100_000, form.MassText); err != nil {
					return nil, err
				}
				c.Amount.Volume, c.Amount.Mass = 0, r.Value
				return msg.Sentences(msg.ID("of mixed resin for the whole coat; its film follows."), r.Note), nil
			}
			return nil, refusal.New("%q is not an amount; write a film as 1.6 mm, or 12 fl oz or 400 g for the coat", text)
		}}
}

// useField reads an amount of a material, empty for the usual one.
func useField(layer string, m technique.Material) form.Field[plan.Layer] {
	find := func(l *plan.Layer) int {
		for i, u := range l.Uses {
			if u.Material == m.ID {
				return i
			}
		}
		return -1
	}
	return form.Field[plan.Layer]{Key: UseKey(layer, m.ID), Label: m.Name, Kind: form.Line, Say: amount,
		Hint: msg.ID("usual"),
		Get: func(l *plan.Layer, _ units.System) string {
			if i := find(l); i >= 0 {
				return units.Fixed(l.Uses[i].Amount, 2) + " " + string(m.Unit)
			}
			return ""
		},
		Set: func(l *plan.Layer, text string, _ units.System) (msg.Text, error) {
			i := find(l)
			if strings.TrimSpace(text) == "" {
				if i >= 0 {
					l.Uses = append(l.Uses[:i:i], l.Uses[i+1:]...)
				}
				return nil, nil
			}
			v, err := materialAmount(text, m.Unit)
			if err == nil {
				err = form.Between(v, 0, 100_000, func(v float64) msg.Text { return words.Counted(v, 1, string(m.Unit)) })
			}
			if err != nil {
				return nil, err
			}
			if i < 0 {
				l.Uses = append(l.Uses[:len(l.Uses):len(l.Uses)], plan.Use{Material: m.ID})
				i = len(l.Uses) - 1
			}
			l.Uses[i].Amount = v
			return nil, nil
		}}
}

// amount writes one with its unit as a language does.
func amount(text string, l msg.Lang) string { return words.Amount(text).In(l) }

// materialAmount reads an amount in the unit of a material.
func materialAmount(text string, unit technique.Unit) (float64, error) {
	switch unit {
	case technique.Grams:
		r, err := units.ParseMass(text, "g")
		return float64(r.Value), err
	case technique.Millis:
		r, err := units.ParseVolume(text, "ml")
		return float64(r.Value), err
	case technique.Metres:
		r, err := units.ParseLength(text, "m")
		return float64(r.Value / units.Metre), err
	}
	return units.ParseNumber(words.Uncounted(text, string(unit)))
}

// cupFields is the catalogue of one cup.
func cupFields(coat, cup string, b *materials.Book) form.Fields[plan.Spec] {
	at := func(s *plan.Spec) *plan.Colour { return s.Coat(coat).Colour(cup) }
	key := func(name string) string { return CupKey(coat, cup, name) }
	roles := make([]form.Option, len(technique.Roles))
	for i, r := range technique.Roles {
		roles[i] = form.Option{Value: string(r.Role), Label: msg.ID(r.Name)}
	}
	// the technique's own names are ours
	name := form.Text(key("name"), "Cup", func(c *plan.Colour) *string { return &c.Name }, 60, true).Said(form.Filled)
	swatch := form.Swatch(key("swatch"), "Swatch", func(c *plan.Colour) *string { return &c.Swatch })
	fields := form.Fields[plan.Colour]{
		marking(name, func(c *plan.Colour) { c.Named = true }),
		form.Choice(key("role"), "Role", func(c *plan.Colour) *technique.Role { return &c.Role }, roles...),
		marking(swatch, func(c *plan.Colour) { c.Picked = true }),
		partField(key("share")),
		pigmentField(key("pigment"), b),
		loadField(key("load")),
	}
	out := make(form.Fields[plan.Spec], len(fields))
	for i, f := range fields {
		out[i] = form.Within(f, f.Key, at)
	}
	return out
}

// marking notes that a value is the painter's own once it was typed.
func marking(f form.Field[plan.Colour], mark func(*plan.Colour)) form.Field[plan.Colour] {
	set := f.Set
	f.Set = func(c *plan.Colour, text string, sys units.System) (msg.Text, error) {
		note, err := set(c, text, sys)
		if err == nil {
			mark(c)
		}
		return note, err
	}
	return f
}

// partField reads what a cup takes of the coat: a share, or a volume that
// stays.
func partField(key string) form.Field[plan.Colour] {
	share := form.Share(key, "Share", func(c *plan.Colour) *float64 { return &c.Share }, 100)
	return form.Field[plan.Colour]{Key: key, Label: msg.ID("Share"), Kind: form.Line, Say: form.Figures,
		Hint: msg.ID("20 % or 50 mL"),
		Get: func(c *plan.Colour, sys units.System) string {
			if c.Volume > 0 {
				return form.VolumeText(c.Volume, sys)
			}
			return share.Get(c, sys)
		},
		Set: func(c *plan.Colour, text string, sys units.System) (msg.Text, error) {
			note, shareErr := share.Set(c, text, sys)
			if shareErr == nil {
				c.Volume = 0
				return note, nil
			}
			r, err := units.ParseVolume(text, "")
			if err != nil || r.Value <= 0 || r.Value > 100_000 {
				return nil, shareErr
			}
			c.Volume = r.Value
			return r.Note, nil
		}}
}

// loadField reads how much pigment a cup carries: by mass of its resin, or
// grams that stay.
func loadField(key string) form.Field[plan.Colour] {
	load := form.Share(key, "Pigment", func(c *plan.Colour) *float64 { return &c.Load }, 0.5)
	return form.Field[plan.Colour]{Key: key, Label: msg.ID("Pigment"), Kind: form.Line, Say: form.Figures,
		Hint: msg.ID("3 % or 28 g"),
		Get: func(c *plan.Colour, sys units.System) string {
			if c.Mass > 0 {
				return form.MassText(c.Mass)
			}
			return load.Get(c, sys)
		},
		Set: func(c *plan.Colour, text string, sys units.System) (msg.Text, error) {
			note, loadErr := load.Set(c, text, sys)
			if loadErr == nil {
				c.Mass = 0
				return note, nil
			}
			r, err := units.ParseMass(text, "")
			if err != nil || r.Value <= 0 || r.Value > 10_000 {
				return nil, loadErr
			}
			c.Mass = r.Value
			return r.Note, nil
		}}
}

func pigmentField(key string, b *materials.Book) form.Field[plan.Colour] {
	f := form.Owned(key, "Pigment", "pigments", func(c *plan.Colour) *int64 { return &c.Pigment }, true)
	set := f.Set
	f.Set = func(c *plan.Colour, text string, sys units.System) (msg.Text, error) {
		trial := *c
		if _, err := set(&trial, text, sys); err != nil {
			return nil, err
		}
		p, ok := b.Pigments[trial.Pigment]
		if trial.Pigment != 0 && !ok {
			return nil, refusal.New("this pigment is not in your materials")
		}
		c.Pigment = trial.Pigment
		if ok {
			c.Adopt(p)
			if c.Load == 0 && c.Mass == 0 {
				c.Load = plan.UsualLoad(p, c.Role)
			}
		}
		return nil, nil
	}
	return f
}
