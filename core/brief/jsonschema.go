package brief

import (
	"encoding/json"
	"reflect"
	"strings"

	"uzzel/core/period"
)

// JSONSchema is the format as a JSON Schema (draft 2020-12), made from the types that it is read into and tightened
// where members exclude or need one another. What a schema cannot say, whether there is such a field above all, Bind
// does.
func JSONSchema() ([]byte, error) {
	g := schemaMaker{defs: map[string]any{}}
	root := g.object(reflect.TypeFor[Brief]())
	root["$schema"] = "https://json-schema.org/draft/2020-12/schema"
	root["title"] = "Brief"
	root["description"] = "A report's definition, version 1. What a brief computes is in docs/brief.md."
	for name, t := range g.defs {
		tighten(name, t.(map[string]any))
	}
	tighten("Brief", root)
	root["$defs"] = g.defs
	return json.MarshalIndent(root, "", " ")
}

type object = map[string]any

// members of an object: those that are there, and no others of some.
func with(required []string, without ...string) object {
	out := object{"required": append([]string{}, required...)}
	if len(without) > 0 {
		none := object{}
		for _, name := range without {
			none[name] = false
		}
		out["properties"] = none
	}
	return out
}

func list(item any, least, most int) object {
	return object{"type": "array", "items": item, "minItems": least, "maxItems": most}
}

func when(member string, is any, then object) object {
	return object{"if": object{"properties": object{member: is}, "required": []string{member}}, "then": then}
}

func among(values ...string) object { return object{"enum": values} }

func atLeast(n int) object { return object{"type": "integer", "minimum": n} }

func span(from, to int) object { return object{"type": "integer", "minimum": from, "maximum": to} }

func text() object { return object{"type": "string", "maxLength": 200} }

func ref(name string) object { return object{"$ref": "#/$defs/" + name} }

var (
	keyText    = object{"type": "string", "pattern": keyRule.String(), "not": object{"const": "label"}}
	amountText = object{"type": "string", "pattern": `^-?[0-9]+(\.[0-9]+)?$`, "maxLength": 41}
	pathText   = object{"type": "string", "minLength": 1}
	valueText  = object{"type": "string", "minLength": 1}
)

// tighten says of a definition what its members need and exclude.
func tighten(name string, o object) {
	props := o["properties"].(object)
	set := func(more object) {
		for member, s := range more {
			props[member] = s
		}
	}
	condition := []string{"is", "values", "other", "period", "where", "at_least", "ask", "fixed"}
	switch name {
	case "Brief":
		set(
			object{
				"version": object{"const": Version},
				"parts":   list(ref("Part"), 2, MaxParts),
				"groups":  list(ref("Group"), 0, MaxGroups),
				"across":  list(ref("Group"), 0, MaxAcross),
				"limit": atLeast(
					1,
				),
				"target":    amountText,
				"periods":   among(Then),
				"targetOf":  keyText,
				"columns":   list(ref("Column"), 0, MaxColumns),
				"order":     list(ref("Order"), 0, MaxColumns),
				"own":       list(ref("Own"), 0, MaxOwn),
				"summaries": list(ref("Summary"), 0, MaxSummaries),
			},
		)
		o["oneOf"] = []any{
			with([]string{"start"}, "parts"),
			with(
				[]string{"parts"},
				"start",
				"bring",
				"whose",
				"period",
				"filter",
				"own",
				"columns",
				"order",
				"limit",
				"targetOf",
				"since",
			),
		}
		o["allOf"] = []any{
			object{"not": object{"required": []string{"target", "targetOf"}}},
			when("compare", true, object{"anyOf": []any{with([]string{"period"}), with([]string{"parts"})}}),
			when(
				"parts",
				true,
				object{
					"properties": object{
						"summaries": object{"items": with([]string{"formula"})},
						"groups":    object{"items": with([]string{"paths"})},
						"across":    object{"items": with([]string{"paths"})},
					},
				},
			),
			when(
				"start",
				true,
				object{
					"properties": object{
						"groups": object{"items": with([]string{"field"}, "paths")},
						"across": object{"items": with([]string{"field"}, "paths")},
					},
				},
			),
		}
	case "Part":
		set(object{"key": keyText, "own": list(ref("Own"), 0, MaxOwn), "summaries": list(ref("Summary"), 0, MaxSummaries)})
		o["required"] = []string{"key", "start"}
	case "Tree":
		set(
			object{
				"values":   list(valueText, 1, MaxValues),
				"at_least": atLeast(1),
				"field":    pathText,
				"link":     pathText,
				"other":    pathText,
			},
		)
		alone := func(member string, others ...string) object {
			return with([]string{member}, append(others, condition...)...)
		}
		small := []string{"under", "at_most", "over", "at_least"}
		o["oneOf"] = []any{
			alone("all", "any", "not", "field", "link"),
			alone("any", "all", "not", "field", "link"),
			alone("not", "all", "any", "field", "link"),
			with([]string{"field", "is"}, "all", "any", "not", "link", "where", "at_least"),
			object{
				"required": []string{"link", "is"},
				"properties": object{
					"all":    false,
					"any":    false,
					"not":    false,
					"field":  false,
					"values": false,
					"other":  false,
					"period": false,
					"is":     among("some", "none"),
				},
			},
		}
		o["allOf"] = []any{
			object{"if": object{"required": []string{"field"}}, "then": object{"allOf": []any{
				object{"properties": object{"is": object{"not": among("some", "none")}}},
				object{
					"if": object{"properties": object{"is": among("empty", "filled", "within")}},
					"else": object{
						"oneOf": []any{with([]string{"values"}, "other", "period"), with([]string{"other"}, "values", "period")},
					},
				},
				when(
					"is",
					among("empty", "filled"),
					object{"properties": object{"values": false, "other": false, "period": false}},
				),
				when("is", among("within"), with([]string{"period"}, "values", "other")),
				when(
					"is",
					among("contains", "not_contains", "starts_with", "between"),
					object{"properties": object{"other": false}},
				),
				when("is", among(small...), object{"properties": object{"values": object{"maxItems": 1}}}),
				when("is", among("between"), object{"properties": object{"values": object{"minItems": 2, "maxItems": 2}}}),
			}}},
			when("is", among("none"), object{"properties": object{"at_least": false}})}
	case "Own":
		set(object{"key": keyText, "formula": object{"type": "string", "minLength": 1, "maxLength": MaxFormula}})
		ways := []string{"formula", "linked", "bands", "merge"}
		var one []any
		for i, way := range ways {
			others := append(append([]string{}, ways[:i]...), ways[i+1:]...)
			one = append(one, with([]string{way}, others...))
		}
		o["oneOf"] = one
	case "Linked":
		set(object{"link": pathText, "of": pathText, "by": pathText})
		o["allOf"] = []any{
			when("fn", among("count"), with(nil, "of", "by")),
			when("fn", among("newest", "oldest"), with([]string{"of", "by"})),
			when("fn", among("filled", "distinct", "sum", "average", "median", "min", "max"), with([]string{"of"}, "by")),
		}
	case "Bands":
		set(object{"of": pathText, "edges": list(amountText, 1, 100)})
	case "Merge":
		set(object{"of": pathText, "sets": object{"type": "array", "items": ref("MergeSet"), "minItems": 1}})
	case "MergeSet":
		set(object{"label": object{"type": "string", "minLength": 1}, "values": object{"type": "array", "items": valueText}})
	case "Bring":
		set(object{"link": pathText})
	case "MainPeriod", "Column", "Order":
		set(object{"field": pathText})
	case "Group":
		set(object{"field": pathText})
		o["oneOf"] = []any{with([]string{"field"}, "paths"), with([]string{"paths"}, "field")}
		o["not"] = object{"required": []string{"every", "top"}, "properties": object{"every": object{"const": true}}}
	case "Top":
		set(object{"n": atLeast(1), "by": pathText})
	case "GroupOrder":
		set(object{"by": pathText})
	case "Summary":
		set(
			object{"key": keyText, "of": pathText, "formula": object{"type": "string", "minLength": 1, "maxLength": MaxFormula}},
		)
		o["oneOf"] = []any{with([]string{"fn"}, "formula"), with([]string{"formula"}, "fn", "of", "where")}
		o["allOf"] = []any{
			when("fn", among("filled", "distinct", "sum", "average", "median", "min", "max"), with([]string{"of"})),
		}
	case "Format":
		set(object{"decimals": span(0, 6), "width": span(0, 1000)})
	case "Chart":
		last := MaxGroups + MaxAcross - 1
		set(
			object{
				"category":   span(0, last),
				"series":     span(0, last),
				"height":     span(MinHeight, MaxHeight),
				"palette":    list(object{"type": "string", "pattern": hex.String()}, MinPalette, MaxPalette),
				"from":       amountText,
				"to":         amountText,
				"heading":    text(),
				"below":      text(),
				"source":     text(),
				"valueTitle": text(),
				"groupTitle": text(),
				"style":      text(),
			},
		)
	}
}

type schemaMaker struct{ defs map[string]any }

// choices are the members that have a fixed set of values, by type and member.
var choices = map[string][]string{
	"Linked.fn":     {"count", "filled", "distinct", "sum", "average", "median", "min", "max", "newest", "oldest"},
	"Summary.fn":    summaryFns,
	"Summary.show":  shows,
	"Top.from":      {"largest", "smallest"},
	"Top.rest":      {"other", "drop"},
	"Brief.compare": {"previous_period", "year_before"},
	"Chart.kind":    ChartKinds,
	"Chart.measure": {"value", "share"},
	"Chart.labels":  ChartLabels,
	"Chart.legend":  Legends,
	"Chart.guides":  Guides,
	"Chart.on":      Grounds,
	"Chart.totals":  ChartTotals,
	"Format.style":  {"plain", "percent", "money"},
	"Format.unit":   {"plain", "K", "M"},
	"Format.date":   DateForms,
	"Tree.is": append(
		append([]string{"some", "none"}, textOps...),
		"under",
		"at_most",
		"over",
		"at_least",
		"between",
		"within",
	),
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
	case reflect.TypeFor[Moment]():
		return object{"oneOf": []any{
			object{"enum": momentWords},
			object{"type": "string", "format": "date", "pattern": `^[0-9]{4}-[0-9]{2}-[0-9]{2}$`},
			object{"type": "object", "additionalProperties": false, "required": []string{"ago", "unit"}, "properties": object{
				"ago": span(0, maxAgo), "unit": object{"enum": agoUnits}}},
		}}
	case reflect.TypeFor[Whose]():
		ids := map[string]any{"type": "array", "items": map[string]any{"type": "string"}}
		return map[string]any{"oneOf": []any{
			map[string]any{"enum": []string{"everyone", "mine", "team"}},
			map[string]any{
				"type":                 "object",
				"additionalProperties": false,
				"minProperties":        1,
				"properties":           map[string]any{"people": ids, "teams": ids},
			},
		}}
	case reflect.TypeFor[Period]():
		whole := map[string]any{"type": "integer", "minimum": 1, "maximum": period.MaxRolling}
		day := map[string]any{"type": "string", "format": "date"}
		unit, current := object{"enum": choices["RollingUnit.any"]}, object{"type": "boolean"}
		form := func(required []string, props object) object {
			return object{
				"type":                 "object",
				"additionalProperties": false,
				"required":             required,
				"minProperties":        1,
				"properties":           props,
			}
		}
		return object{
			"oneOf": []any{
				object{"enum": period.Words()},
				form([]string{"last", "unit"}, object{"last": whole, "unit": unit, "current": current}),
				form(
					[]string{"next", "unit"},
					object{"next": whole, "unit": unit, "current": current},
				),
				form([]string{}, object{"from": day, "to": day}),
			},
		}
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
		if name == "-" {
			continue
		}
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
