package diagnose

// Prior returns the prior odds of a cause, for tests.
func (n *Network) Prior(cause string) float64 { return n.odds[n.node[cause]] }
