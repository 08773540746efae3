package brief

import (
	"encoding/json"
	"reflect"
	"strings"

	"uzzel/core/period"
)

// JSONSchema is the format as a JSON Schema (draft 2020-12), made from the types that it is read into.
func JSONSchema() ([]byte, error) {
	g := schemaMaker{defs: map[string]any{}}
	root := g.object(reflect.TypeFor[Brief]())
	root["$schema"] = "https://json-schema.org/draft/2020-12/schema"
	root["title"] = "Brief"
	root["description"] = "A report's definition, version 1. What a brief computes is in docs/brief.md."
	root["required"] = []string{"version"}
	root["oneOf"] = []any{map[string]any{"required": []string{"start"}}, map[string]any{"required": []string{"parts"}}}
	root["$defs"] = g.defs
	return json.MarshalIndent(root, "", " ")
}

type schemaMaker struct{ defs map[string]any }

// choices are the members that have a fixed set of values, by type and member.
var choices = map[string][]string{
	"Linked.fn":       {"count", "filled", "distinct", "sum", "average", "median", "min", "max", "newest", "oldest"},
	"Summary.fn":      summaryFns,
	"Summary.show":    shows,
	"Top.from":        {"largest", "smallest"},
	"Top.rest":        {"other", "drop"},
	"Brief.compare":   {"previous_period", "year_before"},
	"Chart.kind":      ChartKinds,
	"Chart.measure":   {"value", "share"},
	"Chart.labels":    ChartLabels,
	"Chart.legend":    Legends,
	"Chart.guides":    Guides,
	"Chart.on":        Grounds,
	"Chart.totals":    ChartTotals,
	"Format.style":    {"plain", "percent", "money"},
	"Format.unit":     {"plain", "K", "M"},
	"Format.date":     DateForms,
	"Tree.is":         append(append([]string{"some", "none"}, textOps...), "under", "at_most", "over", "at_least", "between", "within"),
	"Group.by":        unitNames(period.Units),
	"RollingUnit.any": unitNames(period.RollingUnits),
}

func unitNames(list []period.Unit) []string {
	out := make([]string, len(list))
	for i, u := range list {
		out[i] = string(u)
	}
	return out
}

func (g *schemaMaker) of(t reflect.Type) map[string]any {
	switch t {
	case reflect.TypeFor[Whose]():
		ids := map[string]any{"type": "array", "items": map[string]any{"type": "string"}}
		return map[string]any{"oneOf": []any{map[string]any{"enum": []string{"everyone", "mine", "team"}},
			map[string]any{"type": "object", "additionalProperties": false, "minProperties": 1, "properties": map[string]any{"people": ids, "teams": ids}}}}
	case reflect.TypeFor[Period]():
		whole := map[string]any{"type": "integer", "minimum": 1, "maximum": period.MaxRolling}
		day := map[string]any{"type": "string", "format": "date"}
		return map[string]any{"oneOf": []any{map[string]any{"enum": period.Words()},
			map[string]any{"type": "object", "additionalProperties": false, "minProperties": 1, "properties": map[string]any{"last": whole, "next": whole,
				"unit": map[string]any{"enum": choices["RollingUnit.any"]}, "current": map[string]any{"type": "boolean"}, "from": day, "to": day}}}}
	}
	switch t.Kind() {
	case reflect.Pointer:
		return g.of(t.Elem())
	case reflect.Slice:
		return map[string]any{"type": "array", "items": g.of(t.Elem())}
	case reflect.Map:
		return map[string]any{"type": "object", "additionalProperties": g.of(t.Elem())}
	case reflect.Bool:
		return map[string]any{"type": "boolean"}
	case reflect.Int:
		return map[string]any{"type": "integer"}
	case reflect.Struct:
		if _, ok := g.defs[t.Name()]; !ok {
			g.defs[t.Name()] = nil // seen, for types that hold themselves
			g.defs[t.Name()] = g.object(t)
		}
		return map[string]any{"$ref": "#/$defs/" + t.Name()}
	}
	return map[string]any{"type": "string"}
}

func (g *schemaMaker) object(t reflect.Type) map[string]any {
	props := map[string]any{}
	required := []string{}
	for i := range t.NumField() {
		f := t.Field(i)
		if f.Anonymous {
			inner, _ := g.object(f.Type)["properties"].(map[string]any)
			for k, v := range inner {
				if k != "key" {
					props[k] = v
				}
			}
			continue
		}
		name, opts, _ := strings.Cut(f.Tag.Get("json"), ",")
		props[name] = g.of(f.Type)
		if list := choices[t.Name()+"."+name]; list != nil {
			props[name] = map[string]any{"enum": list}
		}
		if !strings.Contains(opts, "omitempty") {
			required = append(required, name)
		}
	}
	out := map[string]any{"type": "object", "additionalProperties": false, "properties": props}
	if len(required) > 0 {
		out["required"] = required
	}
	return out
}
