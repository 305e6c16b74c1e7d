package paper

import (
	"encoding/json"
	"reflect"
	"strings"
	"time"

	"innercompass/internal/records"
)

// Schema is the JSON Schema of a record's open file, made from the types that write it. Fields that are not known are
// allowed: later versions add some.
func Schema() ([]byte, error) {
	s := map[string]any{"$schema": "https://json-schema.org/draft/2020-12/schema", "title": "Inner Compass record", "type": "object", "required": []string{"digest", "content"},
		"properties": map[string]any{"digest": map[string]any{"type": "string", "pattern": "^[0-9a-f]{64}$", "description": "SHA-256 of the bytes of content as they stand in the file"},
			"signature": map[string]any{"type": "object", "description": "Ed25519 over the words \"Inner Compass: record of this SHA-256 was issued\", a line feed, and the digest as it is written", "required": []string{"key", "signature"}, "properties": map[string]any{"key": map[string]any{"type": "string", "contentEncoding": "base64", "description": "public key of the shop, 32 bytes"}, "signature": map[string]any{"type": "string", "contentEncoding": "base64", "description": "64 bytes"}}}, "content": schemaOf(reflect.TypeFor[records.RecordContent]())}}
	out, err := json.MarshalIndent(s, "", " ")
	return append(out, '\n'), err
}

func schemaOf(t reflect.Type) map[string]any {
	if t == reflect.TypeFor[time.Time]() {
		return map[string]any{"type": "string", "format": "date-time"}
	}
	switch t.Kind() {
	case reflect.Pointer:
		return schemaOf(t.Elem())
	case reflect.String:
		return map[string]any{"type": "string"}
	case reflect.Bool:
		return map[string]any{"type": "boolean"}
	case reflect.Int, reflect.Int64:
		return map[string]any{"type": "integer"}
	case reflect.Float64:
		return map[string]any{"type": "number"}
	case reflect.Slice:
		return map[string]any{"type": []string{"array", "null"}, "items": schemaOf(t.Elem())}
	}
	properties, required := map[string]any{}, []string{}
	for i := range t.NumField() {
		name, options, _ := strings.Cut(t.Field(i).Tag.Get("json"), ",")
		properties[name] = schemaOf(t.Field(i).Type)
		if options != "omitempty" {
			required = append(required, name)
		}
	}
	return map[string]any{"type": "object", "properties": properties, "required": required}
}
