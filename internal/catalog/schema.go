package catalog

import (
	"encoding/json"
	"reflect"
	"strings"

	"innercompass/core/knowledge"
	"innercompass/core/unitsheet"
)

// choices are the fields whose text is one of a few words, by Go type and field.
var choices = map[string][]any{
	"Sheet.Format":             {unitsheet.Format},
	"Sheet.Control":            {"hydraulic", "electronic", "hand"},
	"GearingSheet.ForwardSign": {1, -1},
	"ElementSheet.Kind":        {"clutch", "brake", "band", "freewheel", "selector"},
	"RangeSheet.Outcome":       {"forward", "reverse", "neutral"},
	"ControlSheet.Kind":        {"solenoid", "valve"},
	"ControlSheet.Rest":        {0, 1},
	"StepSheet.Kind":           {"part", "valve", "seal", "orifice", "tap", "sensor"},
	"SharedSheet.Kind":         {"drum", "passage", "seal-rings", "bushing", "accumulator", "shaft"},
	"SensorSheet.Kind":         {"speed", "pressure", "temperature", "position"},
	"PumpSheet.Driven":         {"hub", "shaft", "electric", "input"},
	"ThrottleSheet.Kind":       {"cable", "modulator"},
	"LevelProcedure.Engine":    {"running", "off"},
	"LevelProcedure.At":        {"stick", "plug"},
	"Finding.Stage":            {"complaint", "checks", "teardown", "code"},
	"Cause.System":             systems(),
	"Damage.System":            systems(),
	"Cause.Ages":               {"wear", "steady", "early"},
	"Check.Fluid":              {"hot", "cold"},
	"Option.Strategy":          {"targeted", "thorough", "exchange", "watch"},
	"Option.Fluid":             {"none", "refill", "fill"},
	"Option.Qualities":         {"new", "rebuilt", "used", "kit"},
	"Caution.Hazard":           {"high", "plain"},
}

func systems() []any {
	var out []any
	for _, s := range knowledge.Systems {
		out = append(out, s)
	}
	return out
}

// SheetSchema is the JSON Schema of a unit sheet, made from the types that read it.
func SheetSchema() ([]byte, error) {
	s := schemaOf(reflect.TypeFor[unitsheet.Sheet](), "")
	s["$schema"] = "https://json-schema.org/draft/2020-12/schema"
	s["title"] = "Inner Compass unit sheet"
	out, err := json.MarshalIndent(s, "", " ")
	return append(out, '\n'), err
}

// sentences are the shapes of the links that are written as one sentence; what they name is checked when they are read.
var sentences = map[reflect.Type]string{
	reflect.TypeFor[knowledge.FindingState]():  `^[A-Za-z0-9_.-]+( [0-9.]+%)?: .+$`,
	reflect.TypeFor[knowledge.Frequency]():     `^(` + names(knowledge.Levels) + `), because .+$`,
	reflect.TypeFor[knowledge.Shows]():         `^\S+ \S+, (` + names(knowledge.Strengths) + `), because .+$`,
	reflect.TypeFor[knowledge.Brings]():        `^\S+, (` + names(knowledge.Strengths) + `), because .+$`,
	reflect.TypeFor[knowledge.From]():          `^\S+ \S+, (` + names(knowledge.Strengths) + `), because .+$`,
	reflect.TypeFor[knowledge.FaultLink]():     `^[a-z-]+( of \S+)?, hot (` + names(knowledge.Strengths) + `), cold (` + names(knowledge.Strengths) + `), because .+$`,
	reflect.TypeFor[knowledge.HistoryFactor](): `^\S+ \S+, (much likelier|likelier|less likely|much less likely), because .+$`,
	reflect.TypeFor[knowledge.Cure]():          `^\S+ [0-9.]+%$`,
	reflect.TypeFor[knowledge.FailsWith]():     `^\S+, because .+$`,
}

func names[T knowledge.Named](list []T) string {
	out := make([]string, len(list))
	for i, x := range list {
		out[i] = x.Word()
	}
	return strings.Join(out, "|")
}

// KnowledgeSchema is the JSON Schema of a file of the knowledge base, made from the types that read it.
func KnowledgeSchema() ([]byte, error) {
	s := schemaOf(reflect.TypeFor[knowledge.Base](), "")
	s["$schema"] = "https://json-schema.org/draft/2020-12/schema"
	s["title"] = "Inner Compass knowledge"
	out, err := json.MarshalIndent(s, "", " ")
	return append(out, '\n'), err
}

func schemaOf(t reflect.Type, field string) map[string]any {
	if pattern, ok := sentences[t]; ok {
		return map[string]any{"type": "string", "maxLength": 2000, "pattern": pattern}
	}
	if field == "Sheet.Own" {
		return schemaOf(reflect.TypeFor[knowledge.Base](), "")
	}
	if c, ok := choices[field]; ok && t.Kind() != reflect.Slice { // of a list, each of its entries
		return map[string]any{"enum": c}
	}
	switch t.Kind() {
	case reflect.Pointer:
		return schemaOf(t.Elem(), field)
	case reflect.String:
		return map[string]any{"type": "string", "maxLength": 2000}
	case reflect.Bool:
		return map[string]any{"type": "boolean"}
	case reflect.Int:
		return map[string]any{"type": "integer"}
	case reflect.Float64:
		return map[string]any{"type": "number"}
	case reflect.Map:
		return map[string]any{"type": "object", "additionalProperties": schemaOf(t.Elem(), "")}
	case reflect.Slice:
		return map[string]any{"type": "array", "items": schemaOf(t.Elem(), field)}
	case reflect.Array:
		return map[string]any{"type": "array", "items": schemaOf(t.Elem(), ""), "minItems": t.Len(), "maxItems": t.Len()}
	}
	properties, required := map[string]any{}, []string{}
	for i := range t.NumField() {
		f := t.Field(i)
		name, options, _ := strings.Cut(f.Tag.Get("yaml"), ",")
		if name == "-" || !f.IsExported() {
			continue
		}
		properties[name] = schemaOf(f.Type, t.Name()+"."+f.Name)
		if options != "omitempty" {
			required = append(required, name)
		}
	}
	return map[string]any{"type": "object", "additionalProperties": false, "properties": properties, "required": required}
}
