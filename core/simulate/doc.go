// Package simulate measures how good the diagnosis is: vehicles are drawn from a network (world.go), and a virtual technician
// works on them, does the checks that a policy chooses, stops, repairs, and is charged for every minute (technician.go). The
// vehicle may come from another network than the one that gives the advice.
package simulate
