package shop_test

import (
	"errors"
	"strings"
	"testing"

	"innercompass/internal/app/apptest"
	"innercompass/internal/problem"
	"innercompass/internal/shop"
)

// The price book goes out as a table and comes back as it was; what is wrong is named by row and column and changes nothing.
func TestPriceBookAsATable(t *testing.T) {
	s := apptest.New(t)
	table := "unit;item;quality;price;hours;note\n*;parts:pump;kit;85,50;;from the catalogue\nnorrad-h4;hours:reseal;;;2,2;\n*;fluid;;1.250,00;;\n"
	book, err := s.Shop.ImportPrices(ctx, table)
	if err != nil || len(book.Prices) != 3 || book.Prices[0].Amount != 125000 || book.Prices[1].Amount != 8550 || book.Prices[2].Hours != 2.2 {
		t.Fatalf("%+v %v", book, err)
	}
	out, err := s.Shop.PricesCSV(ctx)
	if err != nil {
		t.Fatal(err)
	}
	again, err := s.Shop.ImportPrices(ctx, string(out))
	if err != nil || again.Rev != book.Rev {
		t.Errorf("%v: it does not come back as it went:\n%s", err, out)
	}
	for text, field := range map[string]string{
		"unit,item,price\n*,parts:pump,-5\n":                                 "row 1, price",
		"unit,item,price\n*,fluid,9\n*,parts:pump,much\n":                    "row 2, price",
		"unit,item,price\n*,luck,5\n":                                        "row 1, item",
		"unit,item,price\nmoon,fluid,5\n":                                    "row 1, unit",
		"unit,item,price\n*,parts:magic,5\n":                                 "row 1, item",
		"unit,item,hours\n*,hours:pump,many\n":                               "row 1, hours",
		"unit,item,quality,price\n*,parts:pump,shiny,5\n":                    "row 1, quality",
		"item,price\nfluid,5\n":                                              "text",
		"unit,item,colour\n*,fluid,red\n":                                    "text",
		"unit,item,price\n":                                                  "text",
		"unit,item,price\n*,fluid,5\n*,fluid,6\n":                            "row 2, item",
		"unit,item,price,hours\n*,fluid,5,2\n":                               "row 1, hours",
		"unit,item,price\n*,fluid,99999999999999\n":                          "row 1, price",
		"unit,item,price,note\n*,fluid,5," + strings.Repeat("x", 200) + "\n": "row 1, note",
	} {
		if _, err := s.Shop.ImportPrices(ctx, text); apptest.FieldOf(err) != field {
			t.Errorf("%q: %v, want it named as %s", text, err, field)
		}
	}
	if now, _ := s.Shop.Prices(ctx); now.Rev != book.Rev {
		t.Error("a refused table changed the book")
	}
	if _, err := s.Shop.SavePrices(ctx, nil, "another"); !errors.Is(err, problem.ErrChanged) {
		t.Errorf("an old revision: %v", err)
	}
}

// Parts and kits of a unit's stack are priced by their ids, for all units by the kind of a part.
func TestPartsAndKitsArePriced(t *testing.T) {
	s := apptest.New(t)
	good := shop.Book{{Unit: "norrad-h4", Item: "part:dc-pack", Amount: 12050}, {Unit: "norrad-h4", Item: "kit:seals", Amount: 8800}, {Unit: "*", Item: "part:gasket", Amount: 700}, {Unit: "norrad-h4", Item: "machine:direct-drum", Amount: 6000}}
	if _, err := s.Shop.SavePrices(ctx, good, ""); err != nil {
		now, _ := s.Shop.Prices(ctx)
		if _, err = s.Shop.SavePrices(ctx, good, now.Rev); err != nil {
			t.Fatal(err)
		}
	}
	now, err := s.Shop.Prices(ctx)
	if err != nil || len(now.Prices) != 4 {
		t.Fatalf("%v, %v", now, err)
	}
	for _, bad := range []shop.Price{{Unit: "norrad-h4", Item: "part:nothing"}, {Unit: "*", Item: "part:dc-pack"}, {Unit: "*", Item: "kit:seals"}, {Unit: "norrad-h4", Item: "part:"}} {
		if _, err := s.Shop.SavePrices(ctx, shop.Book{bad}, now.Rev); apptest.FieldOf(err) != "prices[0].item" {
			t.Errorf("%s: %v", bad.Item, err)
		}
	}
	if price, from := now.Prices.Part("norrad-h4", "pan-gasket", "gasket"); price != 7 || from != "shop" {
		t.Errorf("a gasket by its kind: %g from %s", price, from)
	}
	if price, from := now.Prices.Part("norrad-h4", "dc-pack", "pack"); price != 120.5 || from != "shop" {
		t.Errorf("the pack by its own: %g from %s", price, from)
	}
}
