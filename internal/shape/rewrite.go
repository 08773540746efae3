package shape

import (
	"encoding/json"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/schema"
)

// rewriter has JSON that people keep name values as they are called now: reports in it wherever they are, and what
// dashboards are narrowed to.
type rewriter struct {
	schema     *schema.Schema
	typ, field string
	to         map[string]string
}

// text rewrites a text of JSON; one that is none, or has nothing of the values in it, is left as it is.
func (r rewriter) text(text string) (string, error) {
	some := false
	for was := range r.to {
		quoted, err := json.Marshal(was)
		if err != nil {
			return text, err
		}
		bare := strings.Trim(string(quoted), `"`) // inside a text that is JSON itself, its quotes are escaped
		some = some || strings.Contains(text, bare)
	}
	if !some {
		return text, nil
	}
	raw, changed, err := r.raw(json.RawMessage(text))
	if err != nil || !changed {
		return text, err
	}
	return string(raw), nil
}

func (r rewriter) raw(raw json.RawMessage) (json.RawMessage, bool, error) {
	var list []json.RawMessage
	if json.Unmarshal(raw, &list) == nil {
		changed := false
		for i, x := range list {
			next, did, err := r.raw(x)
			if err != nil {
				return raw, false, err
			}
			list[i], changed = next, changed || did
		}
		if !changed {
			return raw, false, nil
		}
		out, err := json.Marshal(list)
		return out, true, err
	}
	var object map[string]json.RawMessage
	if json.Unmarshal(raw, &object) != nil {
		return r.inner(raw)
	}
	if object["version"] != nil && (object["start"] != nil || object["parts"] != nil) {
		if b, err := brief.Decode(raw); err == nil {
			if !brief.RenameValues(r.schema, b, r.typ, r.field, r.to) {
				return raw, false, nil
			}
			out, err := json.Marshal(b)
			return out, true, err
		}
	}
	if out, ok := r.filter(object); ok {
		text, err := json.Marshal(out)
		return text, true, err
	}
	changed := false
	for key, x := range object {
		next, did, err := r.raw(x)
		if err != nil {
			return raw, false, err
		}
		object[key], changed = next, changed || did
	}
	if !changed {
		return raw, false, nil
	}
	out, err := json.Marshal(object)
	return out, true, err
}

// inner rewrites JSON that is kept as a text inside of JSON: the options of panels.
func (r rewriter) inner(raw json.RawMessage) (json.RawMessage, bool, error) {
	var text string
	if json.Unmarshal(raw, &text) != nil || !strings.HasPrefix(text, "{") {
		return raw, false, nil
	}
	now, err := r.text(text)
	if err != nil || now == text {
		return raw, false, err
	}
	out, err := json.Marshal(now)
	return out, true, err
}

// filter rewrites what a dashboard is narrowed to by a field: its type, its key and the values.
func (r rewriter) filter(object map[string]json.RawMessage) (map[string]json.RawMessage, bool) {
	var typ, field string
	var values []string
	if json.Unmarshal(object["type"], &typ) != nil || json.Unmarshal(object["field"], &field) != nil ||
		json.Unmarshal(object["values"], &values) != nil || typ != r.typ || field != r.field {
		return nil, false
	}
	changed := false
	for i, v := range values {
		if now, ok := r.to[v]; ok {
			values[i], changed = now, true
		}
	}
	if !changed {
		return nil, false
	}
	text, err := json.Marshal(values)
	if err != nil {
		return nil, false
	}
	object["values"] = text
	return object, true
}
