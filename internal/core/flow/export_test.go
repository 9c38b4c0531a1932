package flow

// StepWhole lets a run always step the whole film, to compare with.
func (r *Run) StepWhole() { r.coat.film.move.off = true }
