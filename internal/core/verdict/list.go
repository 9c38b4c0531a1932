package verdict

// A List is the obstacles to a plan, in the order of work.
type List []Diagnostic

// Of returns those of a part, those of one coat and of the whole piece when coat is not "".
func (l List) Of(part Part, coat string) List {
	var out List
	for _, d := range l {
		if d.Part == part && (coat == "" || d.Coat == "" || d.Coat == coat) {
			out = append(out, d)
		}
	}
	return out
}

// Worst returns the gravest weight of a part.
func (l List) Worst(part Part) Weight {
	worst := Settled
	for _, d := range l {
		if d.Part == part && (d.Weight == Trouble || (d.Weight == Mind && worst == Settled)) {
			worst = d.Weight
		}
	}
	return worst
}

// Gravest is the one thing to say of the whole plan, false when it holds.
func (l List) Gravest() (Diagnostic, bool) {
	for _, w := range []Weight{Trouble, Mind} {
		for _, d := range l {
			if d.Weight == w {
				return d, true
			}
		}
	}
	return Diagnostic{}, false
}
