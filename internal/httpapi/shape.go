package httpapi

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/core/schema"
	"uzzel/internal/shape"
)

// ChoiceBody is a choice, with what it was called before.
type ChoiceBody struct {
	Name string `json:"name"`
	Was  string `json:"was,omitempty" doc:"What it is called until then; empty for a new one"`
	Uses int    `json:"uses,omitempty" doc:"How many records have it"`
}

// StageBody is a stage, with what it was called before.
type StageBody struct {
	ChoiceBody
	Pipeline   string  `json:"pipeline"`
	Status     string  `json:"status" enum:"open,won,lost"`
	Likelihood float64 `json:"likelihood" doc:"In percent"`
}

// ShapedField is a field whose choices can be set, or that was added.
type ShapedField struct {
	Key     string       `json:"key"`
	Label   string       `json:"label"`
	Kind    schema.Kind  `json:"kind"`
	Added   bool         `json:"added"`
	Stages  bool         `json:"stages" doc:"Whether its choices are the stages"`
	Choices []ChoiceBody `json:"choices"`
}

// ShapeBody is how the records of a type are shaped.
type ShapeBody struct {
	Fields  []ShapedField `json:"fields"`
	Stages  []StageBody   `json:"stages" doc:"Of the types that have stages"`
	Version int           `json:"version"`
}

// NewFieldBody is a field of one's own.
type NewFieldBody struct {
	Label   string      `json:"label"`
	Kind    schema.Kind `json:"kind" enum:"text,number,money,percent,date,yesno,choice"`
	Choices []string    `json:"choices,omitempty" maxItems:"500"`
	Version int         `json:"version,omitempty" doc:"The one that was read"`
}

func choices(list []ChoiceBody) []shape.Choice {
	var out []shape.Choice
	for _, c := range list {
		out = append(out, shape.Choice(c))
	}
	return out
}

func (a *api) shape(g huma.API) {
	huma.Register(
		g,
		op(http.MethodGet, "/api/shape/{type}", "shape", "How the records of a type are shaped"),
		func(ctx context.Context, in *typeIn) (*out[ShapeBody], error) {
			fields, err := a.app.Shape.Of(view(ctx), in.Type)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			body := ShapeBody{Fields: []ShapedField{}, Stages: []StageBody{}}
			for _, f := range fields {
				field := ShapedField{f.Field.Key, f.Field.Label, f.Field.Kind, f.Field.Added, f.Field.Stages, []ChoiceBody{}}
				for _, c := range f.Choices {
					field.Choices = append(field.Choices, ChoiceBody(c))
				}
				body.Fields = append(body.Fields, field)
				if f.Field.Stages {
					body.Stages = stageBodies(view(ctx).Snap.Schema.Settings.Stages, field.Choices)
				}
			}
			body.Version, err = a.app.Shape.Version(ctx)
			return &out[ShapeBody]{body}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/shape/{type}/choices/{field}", "set-choices", "Set the choices of a field"),
		func(ctx context.Context, in *struct {
			Type  string `path:"type"`
			Field string `path:"field"`
			Body  struct {
				Choices []ChoiceBody `json:"choices" maxItems:"500"`
				Version int          `json:"version,omitempty" doc:"The one that was read"`
			}
		}) (*struct{}, error) {
			b := in.Body
			return nil, a.fail(ctx, a.app.Shape.SetChoices(ctx, view(ctx), in.Type, in.Field, choices(b.Choices), b.Version))
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/stages", "set-stages", "Set the stages"),
		func(ctx context.Context, in *struct {
			Body struct {
				Stages  []StageBody `json:"stages" maxItems:"500"`
				Version int         `json:"version,omitempty" doc:"The one that was read"`
			}
		}) (*struct{}, error) {
			var list []shape.Stage
			for _, s := range in.Body.Stages {
				list = append(
					list,
					shape.Stage{Choice: shape.Choice(s.ChoiceBody), Pipeline: s.Pipeline, Status: s.Status, Likelihood: s.Likelihood},
				)
			}
			return nil, a.fail(ctx, a.app.Shape.SetStages(ctx, view(ctx), list, in.Body.Version))
		},
	)
	huma.Register(
		g,
		op(http.MethodPost, "/api/shape/{type}/fields", "add-field", "Add a field of one's own to a record type"),
		func(ctx context.Context, in *struct {
			Type string `path:"type"`
			Body NewFieldBody
		}) (*struct{}, error) {
			e := shape.FieldEdit{Label: in.Body.Label, Kind: in.Body.Kind, Choices: in.Body.Choices}
			_, err := a.app.Shape.AddField(ctx, view(ctx), in.Type, e, in.Body.Version)
			return nil, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/shape/{type}/fields/{field}", "rename-field", "Give a field of one's own another label"),
		func(ctx context.Context, in *struct {
			Type  string `path:"type"`
			Field string `path:"field"`
			Body  struct {
				Label   string `json:"label"`
				Version int    `json:"version,omitempty" doc:"The one that was read"`
			}
		}) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.Shape.RenameField(ctx, view(ctx), in.Type, in.Field, in.Body.Label, in.Body.Version))
		},
	)
	huma.Register(
		g,
		op(
			http.MethodDelete,
			"/api/shape/{type}/fields/{field}",
			"drop-field",
			"Take a field of one's own away with its values",
		),
		func(ctx context.Context, in *struct {
			Type    string `path:"type"`
			Field   string `path:"field"`
			Version int    `query:"version" doc:"The one that was read"`
		}) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.Shape.DropField(ctx, view(ctx), in.Type, in.Field, in.Version))
		},
	)
}

// stageBodies are the stages, with how many records are in each.
func stageBodies(stages []schema.Stage, choices []ChoiceBody) []StageBody {
	list := []StageBody{}
	for _, s := range stages {
		b := StageBody{ChoiceBody{Name: s.Name, Was: s.Name}, s.Pipeline, s.Status, s.Likelihood}
		for _, c := range choices {
			if c.Name == s.Name {
				b.Uses = c.Uses
			}
		}
		list = append(list, b)
	}
	return list
}
