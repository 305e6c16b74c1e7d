package instruments_test

import (
	"flag"
	"os"
	"testing"

	"innercompass/core/instruments"
)

var update = flag.Bool("update", false, "write docs/instruments.md anew")

func TestTheDocumentIsCurrent(t *testing.T) {
	const path = "../../docs/instruments.md"
	want := instruments.Document()
	if *update {
		if err := os.WriteFile(path, []byte(want), 0o644); err != nil {
			t.Fatal(err)
		}
	}
	if got, err := os.ReadFile(path); err != nil || string(got) != want {
		t.Errorf("%s is not what the definitions say (%v): go test ./core/instruments -run Document -update", path, err)
	}
}
