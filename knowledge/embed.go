// Package knowledge holds the knowledge base and the unit sheets as files.
package knowledge

import "embed"

// FS holds what is known of the trade (trade/*.yaml) and the unit sheets (units/*.yaml).
//
//go:embed trade/*.yaml units/*.yaml
var FS embed.FS

// BlankSheet is the unit sheet that a practitioner's own one starts from.
//
//go:embed blank/sheet.yaml
var BlankSheet []byte
