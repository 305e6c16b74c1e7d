package casework

// What the tests from outside look at.

// Basis is what a row of the Floor is computed with.
func (s *Service) Basis(st Settings) string { return s.basis(st) }

// Beside runs f beside what comes next.
func Beside(f func() int) func() (int, error) { return beside(f) }
