package diagnose

// SureWords say a probability in words, as they stand on the record.
func SureWords(p float64) string {
	switch {
	case p >= 0.95:
		return "almost certain"
	case p >= 0.8:
		return "very likely"
	case p >= 0.6:
		return "likely"
	case p >= 0.4:
		return "as likely as not"
	}
	return "not settled"
}
