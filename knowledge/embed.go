// Package knowledge holds the knowledge base and the unit sheets as files.
package knowledge

import "embed"

// FS holds findings, causes, checks and options (*.yaml) and the unit sheets (units/*.yaml).
//
//go:embed *.yaml units/*.yaml
var FS embed.FS

// BlankSheet is the unit sheet that a practitioner's own one starts from.
//
//go:embed blank/sheet.yaml
var BlankSheet []byte
