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

// check says why a request's brief cannot be used, nil where it can. Sealed conditions are opened, and stay unsaid.
func (a *api) check(b *Brief) error {
	if b.err != nil {
		return b.err
	}
	if b.Brief == nil {
		return brief.Problems{{Message: "there is no brief"}}
	}
	b.Brief = brief.Each(b.Brief, func(t brief.Tree) (brief.Tree, bool) {
		if t.Sealed == "" {
			return t, false
		}
		opened, err := a.seal.open(t.Sealed)
		if err != nil {
			b.err = brief.Problems{{Message: "a condition that the owner fixed cannot be read any more; open the report anew"}}
		}
		return opened, true
	})
	return b.err
}

// sealed is a brief as it is handed out: what is hidden in it is sealed.
func (a *api) sealed(b *brief.Brief) *Brief {
	return &Brief{Brief: brief.Each(b, func(t brief.Tree) (brief.Tree, bool) {
		if !t.Hidden {
			return t, false
		}
		return brief.Tree{Fixed: true, Sealed: a.seal.close(t)}, true
	})}
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
