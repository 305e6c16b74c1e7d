// Package knowledge holds the knowledge base and the unit sheets as files.
package knowledge

import "embed"

// FS holds what is known of the trade (trade/*.yaml), the unit sheets (units/*.yaml), schemes of
// gears to build one's own from (schemes/*.yaml), the customers' words (words), the texts that the
// reader of them is measured on (bench/words-*.yaml), and what things are called elsewhere (alike.yaml).
//
//go:embed trade/*.yaml units/*.yaml words/* alike.yaml bench/words-*.yaml schemes/*.yaml
var FS embed.FS

// BlankSheet is the unit sheet that a practitioner's own one starts from.
//
//go:embed blank/sheet.yaml
var BlankSheet []byte

// Bench holds cases from the trade that the diagnosis is measured on; nothing is learnt from them.
//
//go:embed bench/*.yaml
var Bench embed.FS
