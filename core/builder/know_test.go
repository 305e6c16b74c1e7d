package builder_test

import (
	"sync"
	"testing"

	"innercompass/internal/catalog"
	"innercompass/knowledge"
)

var loaded = sync.OnceValues(func() (*catalog.Catalog, error) { return catalog.Load(knowledge.FS) })

func know(t testing.TB) *catalog.Catalog {
	t.Helper()
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	return c
}
