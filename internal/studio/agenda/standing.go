package agenda

import (
	"context"
	"fmt"

	"jevvo/internal/core/plan"
	"jevvo/internal/store"
	"jevvo/internal/studio/materials"
	"jevvo/internal/studio/session"
)

// inputs is the state an agenda depends on.
type inputs struct {
	key  standingKey
	book *materials.Book
	bench
	marks map[int64][]store.TaskMark

	happened store.Versions // of what happened
}

// standingKey tells two standings apart. What happened counts by its words: a bench day that went on
// without changing them makes no new agenda.
type standingKey struct {
	versions store.Versions
	happened string
}

// bench is the bench days' data.
type bench struct {
	benches map[int64][]session.Bench
	happens map[int64]map[string]plan.Happened
	words   string
}

// stand reads what the agenda depends on: three small queries while nothing has
// changed.
func (s *Service) stand(ctx context.Context) (inputs, error) {
	v, err := s.store.Versions(ctx)
	if err != nil {
		return inputs{}, err
	}
	st := inputs{happened: v.Of(store.ScopeSessions, store.ScopeMarks)}
	if st.book, err = s.materials.BookAt(ctx, v); err != nil {
		return st, err
	}
	if st.bench, err = s.benches.Get(ctx, v.Of(store.ScopeSessions, store.ScopePieces), s.readBenches); err != nil {
		return st, err
	}
	if st.marks, err = s.marks.Get(ctx, v.Of(store.ScopeMarks, store.ScopePieces), s.readMarks); err != nil {
		return st, err
	}
	at := v.Of(store.ScopeSettings, store.ScopeMaterials, store.ScopePieces, store.ScopeMarks)
	st.key = standingKey{at, st.words}
	return st, nil
}

func (s *Service) readBenches(ctx context.Context) (bench, error) {
	all, err := s.log.AllBenches(ctx)
	if err != nil {
		return bench{}, err
	}
	b := bench{benches: all, happens: map[int64]map[string]plan.Happened{}}
	for id, list := range all {
		b.happens[id] = session.Happened(list)
	}
	b.words = fmt.Sprint(b.happens) // maps print in order of their keys
	return b, nil
}

func (s *Service) readMarks(ctx context.Context) (map[int64][]store.TaskMark, error) {
	all, err := s.store.TaskMarks(ctx)
	if err != nil {
		return nil, err
	}
	out := map[int64][]store.TaskMark{}
	for _, mark := range all {
		out[mark.Piece] = append(out[mark.Piece], mark)
	}
	return out, nil
}
