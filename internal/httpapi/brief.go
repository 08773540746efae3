package httpapi

import (
	"context"
	"encoding/json"
	"fmt"
	"reflect"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/core/brief"
)

// Brief is a brief in a request or a response. It is read by the format's own rules, whose errors name the member,
// rather than by the contract's. Besides the format's members it may have "reading": the number of the report that it
// is a reading of, whose owner fixed conditions that are not in it and hold all the same.
type Brief struct {
	*brief.Brief
	Reading int64
	err     error
}

// UnmarshalJSON reads a brief strictly. What is wrong with it is kept for check, which can name every member at fault.
func (b *Brief) UnmarshalJSON(data []byte) error {
	var outer map[string]json.RawMessage
	if err := json.Unmarshal(data, &outer); err == nil && outer["reading"] != nil {
		if err := json.Unmarshal(outer["reading"], &b.Reading); err != nil {
			b.err = brief.Problems{{Pointer: "/reading", Message: "this should be the number of a report"}}
			return nil
		}
		delete(outer, "reading")
		if data, err = json.Marshal(outer); err != nil {
			return err
		}
	}
	b.Brief, b.err = brief.Decode(data)
	return nil
}

// checked says why a request's brief cannot be used, nil where it can.
func (b *Brief) checked() error {
	switch {
	case b.err != nil:
		return b.err
	case b.Brief == nil:
		return brief.Problems{{Message: "there is no brief"}}
	}
	return nil
}

// asked is what a request asks: its brief with the conditions that hold for it though they are not in it.
func (a *api) asked(ctx context.Context, b *Brief) (*brief.Brief, error) {
	if err := b.checked(); err != nil {
		return nil, err
	}
	return a.app.Library.Reading(ctx, view(ctx), b.Reading, b.Brief)
}

// public is a brief as it is handed out; reading is the report whose conditions hold besides, 0 for none.
func public(p brief.Public, reading int64) Brief { return Brief{Brief: p.Brief(), Reading: reading} }

// MarshalJSON writes the brief.
func (b Brief) MarshalJSON() ([]byte, error) {
	text, err := json.Marshal(b.Brief)
	if err != nil || b.Reading == 0 || b.Brief == nil {
		return text, err
	}
	return append(fmt.Appendf(nil, `{"reading":%d,`, b.Reading), text[1:]...), nil
}

// Schema refers to the brief's own schema.
func (Brief) Schema(r huma.Registry) *huma.Schema {
	ref := r.Schema(reflect.TypeFor[brief.Brief](), true, "Brief")
	if s := r.SchemaFromRef(ref.Ref); s != nil {
		s.Properties["reading"] = &huma.Schema{
			Type:        "integer",
			Format:      "int64",
			Description: "The report that it is a reading of, where its owner fixed conditions that are not shown and hold all the same",
		}
	}
	return ref
}

// whoseForm and periodForm, and momentForm below, are the two forms that these members have.
type whoseForm struct{}

func (whoseForm) Schema(huma.Registry) *huma.Schema {
	ids := &huma.Schema{Type: "array", Items: &huma.Schema{Type: "string"}}
	return &huma.Schema{OneOf: []*huma.Schema{
		{Type: "string", Enum: []any{"everyone", "mine", "team"}},
		{Type: "object", AdditionalProperties: false, Properties: map[string]*huma.Schema{"people": ids, "teams": ids}}}}
}

type periodForm struct{}

func (periodForm) Schema(huma.Registry) *huma.Schema {
	text, number := &huma.Schema{Type: "string"}, &huma.Schema{Type: "integer"}
	return &huma.Schema{OneOf: []*huma.Schema{
		text,
		{
			Type:                 "object",
			AdditionalProperties: false,
			Properties: map[string]*huma.Schema{"last": number, "next": number, "unit": text,
				"current": {Type: "boolean"}, "from": text, "to": text},
		},
	}}
}

// momentForm is a day, a word, or so many units ago.
type momentForm struct{}

func (momentForm) Schema(huma.Registry) *huma.Schema {
	text := &huma.Schema{Type: "string"}
	return &huma.Schema{OneOf: []*huma.Schema{text, {
		Type:                 "object",
		AdditionalProperties: false,
		Properties:           map[string]*huma.Schema{"ago": {Type: "integer"}, "unit": text},
	}}}
}

func registerBrief(r huma.Registry) {
	r.RegisterTypeAlias(reflect.TypeFor[brief.Whose](), reflect.TypeFor[whoseForm]())
	r.RegisterTypeAlias(reflect.TypeFor[brief.Period](), reflect.TypeFor[periodForm]())
	r.RegisterTypeAlias(reflect.TypeFor[brief.Moment](), reflect.TypeFor[momentForm]())
}
