package colour

// ObserverAt returns the table's entry for a band.
func ObserverAt(i int) XYZ { return observer[i] }

// RawWhite returns the white point of the tables before they are scaled.
func RawWhite() (sum XYZ) {
	for i, o := range observer {
		sum.X, sum.Y, sum.Z = sum.X+o.X*daylight[i], sum.Y+o.Y*daylight[i], sum.Z+o.Z*daylight[i]
	}
	return sum
}
