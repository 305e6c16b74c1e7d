package overview

import (
	"strings"
	"testing"
)

// What panics beside a request becomes its error: it does not end the server.
func TestAPanicBesideIsAnError(t *testing.T) {
	if _, err := beside(func() int { panic("a bad cell") })(); err == nil || !strings.Contains(err.Error(), "a bad cell") {
		t.Error(err)
	}
	if n, err := beside(func() int { return 7 })(); n != 7 || err != nil {
		t.Error(n, err)
	}
}
