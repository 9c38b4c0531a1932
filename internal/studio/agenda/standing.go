package agenda

import (
	"context"
	"fmt"

	"jevvo/internal/core/plan"
	"jevvo/internal/store"
	"jevvo/internal/studio/session"
	"jevvo/internal/studio/shelf"
)

// standing is what an agenda stands on.
type standing struct {
	key     string
	book    *shelf.Book
	benches map[int64][]session.Bench
	happens map[int64]map[string]plan.Happened
	marks   map[int64][]store.TaskMark

	sessions, marked int64 // versions of what happened
}

// stand reads what the agenda stands on: three small queries while nothing has
// changed.
func (s *Service) stand(ctx context.Context) (standing, error) {
	v, err := s.store.Versions(ctx)
	if err != nil {
		return standing{}, err
	}
	st := standing{sessions: v[store.ScopeSessions], marked: v[store.ScopeMarks]}
	if st.book, err = s.shelf.BookAt(ctx, v); err != nil {
		return st, err
	}
	was, err := s.happened(ctx, v)
	if err != nil {
		return st, err
	}
	st.benches, st.happens = was.benches, was.happens
	if st.marks, err = s.marked(ctx, v); err != nil {
		return st, err
	}
	st.key = fmt.Sprint(st.book.Stand, v[store.ScopePieces], v[store.ScopeMarks], was.hash)
	return st, nil
}

// benchMemo is what bench days say, read anew only when one has changed.
type benchMemo struct {
	version, pieces int64
	benches         map[int64][]session.Bench
	happens         map[int64]map[string]plan.Happened
	hash            string
}

func (s *Service) happened(ctx context.Context, v store.Versions) (benchMemo, error) {
	s.mu.Lock()
	m := s.benches
	s.mu.Unlock()
	if m.benches != nil && m.version == v[store.ScopeSessions] && m.pieces == v[store.ScopePieces] {
		return m, nil
	}
	all, err := s.log.AllBenches(ctx)
	if err != nil {
		return benchMemo{}, err
	}
	m = benchMemo{version: v[store.ScopeSessions], pieces: v[store.ScopePieces], benches: all,
		happens: map[int64]map[string]plan.Happened{}}
	for id, list := range all {
		m.happens[id] = session.Happened(list)
	}
	m.hash = fmt.Sprint(m.happens) // maps print in order of their keys
	s.mu.Lock()
	s.benches = m
	s.mu.Unlock()
	return m, nil
}

// markMemo is what was ticked off or pinned, read anew only when that changed.
type markMemo struct {
	version, pieces int64
	marks           map[int64][]store.TaskMark
}

func (s *Service) marked(ctx context.Context, v store.Versions) (map[int64][]store.TaskMark, error) {
	s.mu.Lock()
	m := s.marks
	s.mu.Unlock()
	if m.marks != nil && m.version == v[store.ScopeMarks] && m.pieces == v[store.ScopePieces] {
		return m.marks, nil
	}
	all, err := s.store.TaskMarks(ctx)
	if err != nil {
		return nil, err
	}
	m = markMemo{v[store.ScopeMarks], v[store.ScopePieces], map[int64][]store.TaskMark{}}
	for _, mark := range all {
		m.marks[mark.Piece] = append(m.marks[mark.Piece], mark)
	}
	s.mu.Lock()
	s.marks = m
	s.mu.Unlock()
	return m.marks, nil
}
