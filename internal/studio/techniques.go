package studio

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strconv"
	"strings"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/store"
)

// ownPrefix begins the ids of a studio's own techniques.
const ownPrefix = "own-"

func ownTechnique(id string) bool {
	n, err := strconv.ParseInt(strings.TrimPrefix(id, ownPrefix), 10, 64)
	return strings.HasPrefix(id, ownPrefix) && err == nil && n > 0
}

// Techniques returns the library and the studio's own.
func (s *Studio) Techniques(ctx context.Context) (technique.Book, error) {
	rows, err := s.store.Items(ctx, store.Techniques)
	if err != nil {
		return nil, err
	}
	book := append(technique.Book(nil), technique.Library...)
	for _, row := range rows {
		t, err := decodeTechnique(row)
		if err != nil {
			return nil, err
		}
		book = append(book, t)
	}
	return book, nil
}

func decodeTechnique(row store.Item) (technique.Technique, error) {
	var t technique.Technique
	if err := json.Unmarshal(row.Doc, &t); err != nil {
		return t, fmt.Errorf("read the technique %q: %w", row.Name, err)
	}
	t.ID, t.Name, t.Own = ownPrefix+strconv.FormatInt(row.ID, 10), row.Name, true
	return t, nil
}

// Technique returns one technique, built in or own, with the revision of an
// own one.
func (s *Studio) Technique(ctx context.Context, id string) (technique.Technique, int64, error) {
	if t, ok := technique.Find(id); ok {
		return t, 0, nil
	}
	if !ownTechnique(id) {
		return technique.Technique{}, 0, store.ErrNotFound
	}
	n, _ := strconv.ParseInt(strings.TrimPrefix(id, ownPrefix), 10, 64)
	row, err := s.store.Item(ctx, store.Techniques, n)
	if err != nil {
		return technique.Technique{}, 0, err
	}
	t, err := decodeTechnique(row)
	return t, row.Rev, err
}

// CopyTechnique makes a technique of the studio's own out of another.
func (s *Studio) CopyTechnique(ctx context.Context, id string) (string, error) {
	t, _, err := s.Technique(ctx, id)
	if err != nil {
		return "", err
	}
	for n := 1; n < 100; n++ {
		name := fmt.Sprintf("%s, our way", t.Name)
		if n > 1 {
			name = fmt.Sprintf("%s, our way %d", t.Name, n)
		}
		fresh, err := s.store.CreateItem(ctx, store.Techniques, name, t)
		if errors.Is(err, store.ErrTaken) {
			continue
		}
		return ownPrefix + strconv.FormatInt(fresh, 10), err
	}
	return "", &RefusedError{errors.New("there are many of that name already; rename one first")}
}

// stepFields are the typed values of one step.
func stepFields(i int) Fields[technique.Technique] {
	key := fmt.Sprintf("step.%d.", i)
	at := func(t *technique.Technique) *technique.Step { return &t.Steps[i] }
	windows := []cure.Phase{"", cure.Runny, cure.Lacing, cure.Holding, cure.SoftSet, cure.Tacky, cure.Hard}
	return Fields[technique.Technique]{
		textField(key+"name", "Step", func(t *technique.Technique) *string { return &at(t).Name }, 60, true),
		textField(key+"do", "What to do", func(t *technique.Technique) *string { return &at(t).Do }, 500, true),
		textField(key+"look", "Look for", func(t *technique.Technique) *string { return &at(t).LookFor }, 300, false),
		minutesField(key+"fixed", "Minutes", "min", func(t *technique.Technique) *float64 { return &at(t).Fixed }, 0, 24*60),
		minutesField(key+"cup", "a cup", "min", func(t *technique.Technique) *float64 { return &at(t).PerCup }, 0, 120),
		minutesField(key+"m2", "a m²", "min", func(t *technique.Technique) *float64 { return &at(t).PerM2 }, 0, 24*60),
		choiceField(key+"window", "Window", func(t *technique.Technique) *cure.Phase { return &at(t).Window }, windows...),
	}
}

func techniqueFields(t technique.Technique) Fields[technique.Technique] {
	fields := Fields[technique.Technique]{
		textField("name", "Name", func(t *technique.Technique) *string { return &t.Name }, 80, true),
		textField("summary", "In a sentence", func(t *technique.Technique) *string { return &t.Summary }, 300, false),
		shareField("runoff", "Usual run-off", func(t *technique.Technique) *float64 { return &t.RunOff.Usual }, 0.5),
	}
	for i := range t.Steps {
		fields = append(fields, stepFields(i)...)
	}
	return fields
}

// TechniqueValues returns a technique as typed text.
func TechniqueValues(t technique.Technique, sys units.System) map[string]string {
	return techniqueFields(t).values(&t, sys)
}

// SaveTechnique takes a typed technique of the studio's own. Nothing is kept
// while a value is refused.
func (s *Studio) SaveTechnique(ctx context.Context, id string, rev int64, typed map[string]string) (technique.Technique, Notices, error) {
	t, _, err := s.Technique(ctx, id)
	if err != nil || !t.Own {
		return t, Notices{}, errors.Join(err, notOwn(t))
	}
	t.Steps = append([]technique.Step(nil), t.Steps...)
	n := techniqueFields(t).apply(&t, typed, units.Metric)
	t.RunOff.Low, t.RunOff.High = min(t.RunOff.Low, t.RunOff.Usual), max(t.RunOff.High, t.RunOff.Usual)
	if n.OK() {
		if err := t.Check(); err != nil {
			n.Errors["name"] = err.Error()
		}
	}
	if !n.OK() {
		return t, n, nil
	}
	num, _ := strconv.ParseInt(strings.TrimPrefix(id, ownPrefix), 10, 64)
	_, err = s.saveItem(ctx, store.Techniques, num, rev, t.Name, t, false, n)
	return t, n, err
}

func notOwn(t technique.Technique) error {
	if t.ID != "" && !t.Own {
		return &RefusedError{errors.New("a built-in technique stays as it is; copy it and change the copy")}
	}
	return nil
}

// ChangeStep moves, removes or repeats a step of an own technique.
func (s *Studio) ChangeStep(ctx context.Context, id string, i int, how string) error {
	t, rev, err := s.Technique(ctx, id)
	if err != nil || !t.Own {
		return errors.Join(err, notOwn(t))
	}
	if i < 0 || i >= len(t.Steps) {
		return store.ErrNotFound
	}
	steps := append([]technique.Step(nil), t.Steps...)
	switch how {
	case "up":
		if i > 0 {
			steps[i-1], steps[i] = steps[i], steps[i-1]
		}
	case "remove":
		steps = append(steps[:i], steps[i+1:]...)
	case "after":
		fresh := technique.Step{Name: "New step", Do: "Say what to do.", Window: steps[i].Window, BeforeMixing: steps[i].BeforeMixing, Fixed: 1}
		steps = append(steps[:i+1], append([]technique.Step{fresh}, steps[i+1:]...)...)
	default:
		return store.ErrNotFound
	}
	t.Steps = steps
	if err := t.Check(); err != nil {
		return &RefusedError{err}
	}
	num, _ := strconv.ParseInt(strings.TrimPrefix(id, ownPrefix), 10, 64)
	return s.store.UpdateItem(ctx, store.Techniques, num, rev, t.Name, t, false)
}
