package people

import (
	"context"
	"slices"
)

// Actor is whoever does something, and by which request. The zero value is a shop that is not set up: nobody in particular, who may do everything.
type Actor struct {
	Needed       bool // the shop is set up
	ID, Name     string
	Role         Role
	How          How
	Device       string // id of an admitted device
	DeviceName   string
	Session      string // hash
	Interim      bool   // the passphrase is to be changed before anything else
	Operation    string // of the contract, or a command
	Request      string // id of the request, as in the log
	AtTheMachine bool   // a command of innercompass
}

// May reports whether an actor has a right, and if not, why.
func (a Actor) May(r Right) (bool, string) {
	switch {
	case r == Anyone || !a.Needed || a.AtTheMachine:
		return true, ""
	case a.ID == "":
		return false, "nobody is signed in"
	case a.Interim && r != Oneself:
		return false, "this passphrase was given by somebody else: choose your own first"
	case !slices.Contains(roleRights[a.Role], r):
		return false, "this is not for " + a.Role.plural()
	case slices.Contains(strong, r) && !a.Strong():
		return false, "this takes a passkey, or the passphrase at a device of the shop"
	}
	return true, ""
}

// Strong reports whether two things were shown: a passkey with the finger or code that unlocks it, or a passphrase at an admitted device.
func (a Actor) Strong() bool {
	return a.How == ByPasskey || a.How == ByPassphrase && a.Device != ""
}

// Rights are those that count right now.
func (a Actor) Rights() []Right {
	var out []Right
	for _, r := range roleRights[Owner] {
		if ok, _ := a.May(r); ok {
			out = append(out, r)
		}
	}
	return out
}

func (r Role) plural() string {
	if r == FrontDesk {
		return "the front desk"
	}
	return string(r) + "s"
}

type actorKey struct{}

// With puts an actor into a context: whatever is changed under it is theirs.
func With(ctx context.Context, a Actor) context.Context { return context.WithValue(ctx, actorKey{}, a) }

// From is the actor of a context.
func From(ctx context.Context) Actor {
	a, _ := ctx.Value(actorKey{}).(Actor)
	return a
}

// By is the name that stands beside what is noted: the person's who is signed in, else the one that was given.
func By(ctx context.Context, given string) string {
	if a := From(ctx); a.Name != "" {
		return a.Name
	}
	return given
}

// atTheMachine stands in the trail for whoever ran a command where the data lies.
const atTheMachine = "at the machine"

// AtTheMachine is whoever runs a command where the data lies.
func AtTheMachine(operation string) Actor {
	return Actor{Name: atTheMachine, Operation: operation, AtTheMachine: true}
}
