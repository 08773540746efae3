package httpapi

import (
	"encoding/json"
	"reflect"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/core/brief"
)

// Brief is a brief in a request or a response. It is read by the format's own rules, whose errors name the member,
// rather than by the contract's.
type Brief struct {
	*brief.Brief
	err error
}

// UnmarshalJSON reads a brief strictly. What is wrong with it is kept for check, which can name every member at fault.
func (b *Brief) UnmarshalJSON(data []byte) error {
	b.Brief, b.err = brief.Decode(data)
	return nil
}

// check says why a request's brief cannot be used, nil where it can.
func (b *Brief) check() error {
	if b.err == nil && b.Brief == nil {
		return brief.Problems{{Message: "there is no brief"}}
	}
	return b.err
}

// MarshalJSON writes the brief.
func (b Brief) MarshalJSON() ([]byte, error) { return json.Marshal(b.Brief) }

// Schema refers to the brief's own schema.
func (Brief) Schema(r huma.Registry) *huma.Schema {
	return r.Schema(reflect.TypeFor[brief.Brief](), true, "Brief")
}

// whoseForm and periodForm are the two forms that these members have.
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
	return &huma.Schema{OneOf: []*huma.Schema{text,
		{Type: "object", AdditionalProperties: false, Properties: map[string]*huma.Schema{"last": number, "next": number, "unit": text,
			"current": {Type: "boolean"}, "from": text, "to": text}}}}
}

func registerBrief(r huma.Registry) {
	r.RegisterTypeAlias(reflect.TypeFor[brief.Whose](), reflect.TypeFor[whoseForm]())
	r.RegisterTypeAlias(reflect.TypeFor[brief.Period](), reflect.TypeFor[periodForm]())
}
