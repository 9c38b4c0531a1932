package materials

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
)

// ownPrefix begins the ids of a studio's own techniques.
const ownPrefix = "own-"

// ownID reads the number of a studio's own technique.
func ownID(id string) (int64, bool) {
	n, err := strconv.ParseInt(strings.TrimPrefix(id, ownPrefix), 10, 64)
	return n, strings.HasPrefix(id, ownPrefix) && err == nil && n > 0
}

// OwnTechnique is the id of a technique of the studio's own.
func OwnTechnique(n int64) string { return ownPrefix + strconv.FormatInt(n, 10) }

// IsOwnTechnique reports whether an id is one of those.
func IsOwnTechnique(id string) bool {
	_, own := ownID(id)
	return own
}

func (s *Service) techniques(ctx context.Context) (technique.Book, error) {
	docs, err := s.store.AllOf(ctx, store.Techniques)
	if err != nil {
		return nil, err
	}
	book := append(technique.Book(nil), technique.Library...)
	for _, d := range docs {
		t, err := decodeTechnique(d)
		if err != nil {
			return nil, err
		}
		book = append(book, t)
	}
	return book, nil
}

func decodeTechnique(d store.Document) (technique.Technique, error) {
	var t technique.Technique
	if err := json.Unmarshal(d.Doc, &t); err != nil {
		return t, fmt.Errorf("read the technique %q: %w", d.Name, err)
	}
	t.ID, t.Name, t.Own = OwnTechnique(d.ID), msg.Preset(d.Name), true
	return complete(t).Identified(), nil
}

// complete marks, in a technique from before lots were told apart, the step
// that colours cups: between mixing and pouring, by the cup.
func complete(t technique.Technique) technique.Technique {
	if t.Between || slices.ContainsFunc(t.Steps, func(s technique.Step) bool { return s.Colours }) {
		return t
	}
	mixed := false
	t.Steps = slices.Clone(t.Steps)
	for i := range t.Steps {
		s := &t.Steps[i]
		if s.Pours {
			break
		}
		if mixed && s.PerCup > 0 {
			s.Colours = true
			break
		}
		mixed = mixed || s.Mixes
	}
	return t
}

// Technique returns one technique, built in or own, with the revision of an
// own one.
func (s *Service) Technique(ctx context.Context, id string) (technique.Technique, int64, error) {
	if t, ok := technique.Find(id); ok {
		return t, 0, nil
	}
	n, own := ownID(id)
	if !own {
		return technique.Technique{}, 0, store.ErrNotFound
	}
	d, err := s.store.Document(ctx, store.Techniques, n)
	if err != nil {
		return technique.Technique{}, 0, err
	}
	t, err := decodeTechnique(d)
	return t, d.Rev, err
}

// CopyTechnique makes a technique of the studio's own out of another.
func (s *Service) CopyTechnique(ctx context.Context, id string, l msg.Lang) (string, error) {
	t, _, err := s.Technique(ctx, id)
	if err != nil {
		return "", err
	}
	fresh := int64(0)
	err = s.store.Write(ctx, "copy the technique", func(tx *store.Tx) error {
		docs, err := tx.AllOf(ctx, store.Techniques)
		if err != nil {
			return err
		}
		name := msg.F("%s, our way", t.Name).In(l)
		for n := 2; slices.ContainsFunc(docs, func(d store.Document) bool { return strings.EqualFold(d.Name, name) }); n++ {
			name = msg.F("%s, our way %d", t.Name, n).In(l)
		}
		fresh, err = tx.Create(ctx, store.Techniques, name, t, s.now())
		return err
	})
	return OwnTechnique(fresh), err
}

// stepFields are the typed values of one step.
func stepFields(i int) form.Fields[technique.Technique] {
	key := fmt.Sprintf("step.%d.", i)
	at := func(t *technique.Technique) *technique.Step { return &t.Steps[i] }
	windows := []form.Option{{Value: "", Label: msg.ID("before mixing")}}
	for _, p := range []cure.Phase{cure.Runny, cure.Lacing, cure.Holding, cure.Stringy, cure.SoftSet, cure.Tacky,
		cure.Firm, cure.Hard} {
		windows = append(windows, form.Option{Value: string(p), Label: msg.ID(p)})
	}
	return form.Fields[technique.Technique]{
		form.Preset(key+"name", "Step", func(t *technique.Technique) *msg.Preset { return &at(t).Name }, 60, true),
		form.Preset(key+"do", "What to do", func(t *technique.Technique) *msg.Preset { return &at(t).Do }, 500, true),
		form.Preset(key+"look", "Look for", func(t *technique.Technique) *msg.Preset { return &at(t).LookFor }, 300, false),
		form.Minutes(key+"fixed", "Minutes", "min", func(t *technique.Technique) *float64 { return &at(t).Fixed }, 0, 24*60),
		form.Minutes(key+"cup", "a cup", "min", func(t *technique.Technique) *float64 { return &at(t).PerCup }, 0, 120),
		form.Minutes(key+"m2", "a m²", "min", func(t *technique.Technique) *float64 { return &at(t).PerM2 }, 0, 24*60),
		form.Choice(key+"window", "Window", func(t *technique.Technique) *cure.Phase { return &at(t).Window }, windows...),
	}
}

// TechniqueFields is the catalogue of a technique with its steps.
func TechniqueFields(t technique.Technique) form.Fields[technique.Technique] {
	fields := form.Fields[technique.Technique]{
		form.Preset("name", "Name", func(t *technique.Technique) *msg.Preset { return &t.Name }, 80, true),
		form.Preset("summary", "In a sentence", func(t *technique.Technique) *msg.Preset { return &t.Summary }, 300, false),
		form.Share("runoff", "Usual run-off", func(t *technique.Technique) *float64 { return &t.RunOff.Usual }, 0.5),
	}
	for i := range t.Steps {
		fields = append(fields, stepFields(i)...)
	}
	return fields
}

// SaveTechnique takes a typed technique of the studio's own. Nothing is kept
// while a value is refused.
func (s *Service) SaveTechnique(ctx context.Context, id string, rev int64,
	typed map[string]string, l msg.Lang) (technique.Technique, form.Notices, error) {
	t, _, err := s.Technique(ctx, id)
	if err != nil || !t.Own {
		return t, form.Notices{}, errors.Join(err, notOwn(t))
	}
	t.Steps = slices.Clone(t.Steps)
	n := TechniqueFields(t).Apply(&t, typed, form.Style{Units: units.Metric, Lang: l})
	t.RunOff.Low, t.RunOff.High = min(t.RunOff.Low, t.RunOff.Usual), max(t.RunOff.High, t.RunOff.Usual)
	if n.OK() {
		if err := t.Check(); err != nil {
			n.Refuse("name", msg.Of(err))
		}
	}
	if !n.OK() {
		return t, n, nil
	}
	num, _ := ownID(id)
	_, err = s.keep(ctx, store.Techniques, num, rev, string(t.Name), t, n)
	return t, n, err
}

func notOwn(t technique.Technique) error {
	if t.ID != "" && !t.Own {
		return form.Refusef("", "a built-in technique stays as it is; copy it and change the copy")
	}
	return nil
}

// ChangeStep moves, removes or repeats a step of an own technique.
func (s *Service) ChangeStep(ctx context.Context, id string, i int, how string) error {
	t, rev, err := s.Technique(ctx, id)
	if err != nil || !t.Own {
		return errors.Join(err, notOwn(t))
	}
	if i < 0 || i >= len(t.Steps) {
		return store.ErrNotFound
	}
	change, ok := stepChanges[how]
	if !ok {
		return store.ErrNotFound
	}
	t.Steps = change(slices.Clone(t.Steps), i)
	if err := t.Check(); err != nil {
		return &form.Refused{Err: err}
	}
	num, _ := ownID(id)
	return s.store.Write(ctx, "keep the technique",
		func(tx *store.Tx) error { return tx.Save(ctx, store.Techniques, num, rev, string(t.Name), t) })
}

// TechniqueChanged reports whether there is a change of an own technique to take back.
func (s *Service) TechniqueChanged(ctx context.Context, id string) (bool, error) {
	n, own := ownID(id)
	if !own {
		return false, nil
	}
	return s.Changed(ctx, store.Techniques, n)
}

// TakeTechniqueBack makes an own technique what it was before its last change; done again it makes
// the change again.
func (s *Service) TakeTechniqueBack(ctx context.Context, id string) error {
	n, own := ownID(id)
	if !own {
		return store.ErrNotFound
	}
	return s.TakeBack(ctx, store.Techniques, n)
}

// stepChanges are the changes offered for the step at i.
var stepChanges = map[string]func(steps []technique.Step, i int) []technique.Step{
	"up": func(steps []technique.Step, i int) []technique.Step {
		if i > 0 {
			steps[i-1], steps[i] = steps[i], steps[i-1]
		}
		return steps
	},
	"remove": func(steps []technique.Step, i int) []technique.Step { return slices.Delete(steps, i, i+1) },
	"after": func(steps []technique.Step, i int) []technique.Step {
		fresh := technique.Step{Name: "New step", Do: "Say what to do.", Window: steps[i].Window,
			BeforeMixing: steps[i].BeforeMixing, Fixed: 1}
		return slices.Insert(steps, i+1, fresh)
	},
}
