package backup

// Tests try many passphrases: they need not take long.
func init() { work = 8 }
