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
	// Colour is a colour of six hexadecimal digits.
	Colour string `json:"colour,omitempty" doc:"That it has on every chart; empty for one of the palette"`
}

// StageBody is a stage, with what it was called before.
type StageBody struct {
	ChoiceBody
	Pipeline   string  `json:"pipeline"`
	Status     string  `json:"status" enum:"open,won,lost"`
	Likelihood float64 `json:"likelihood" doc:"In percent"`
}

// FieldEditBody is a field of one's own.
type FieldEditBody struct {
	Label       string      `json:"label"`
	Kind        schema.Kind `json:"kind" enum:"text,number,money,percent,date,time,yesno,choice,link"`
	To          string      `json:"to,omitempty" doc:"The record type that a link leads to"`
	Back        string      `json:"back,omitempty" doc:"What a link is called from there; empty for the label of its type"`
	Description string      `json:"description,omitempty" doc:"What it is for, shown beside it"`
	Unit        string      `json:"unit,omitempty" doc:"Of a number"`
	Phrase      string      `json:"phrase,omitempty" doc:"How a sentence says a date before a period: due, expected to arrive"`
	Format      string      `json:"format,omitempty" enum:"email,phone,page" doc:"Of a text"`
	Least       string      `json:"least,omitempty"`
	Most        string      `json:"most,omitempty"`
	Default     string      `json:"default,omitempty" doc:"What a new record begins with"`
	Required    bool        `json:"required,omitempty"`
	Unique      bool        `json:"unique,omitempty" doc:"No two records have the same value"`
	Formula     string      `json:"formula,omitempty" maxLength:"2000" doc:"What works it out from other fields; empty for one that is filled in"`
	Yes         string      `json:"yes,omitempty" doc:"What yes is called, of yes or no"`
	No          string      `json:"no,omitempty" doc:"What no is called, of yes or no"`
	Retired     bool        `json:"retired,omitempty" doc:"Whether it is offered no more"`
}

// LimitBody is who sees and who changes a field.
type LimitBody struct {
	See    string `json:"see" enum:",composers,administrators" doc:"Empty for everyone"`
	Change string `json:"change" enum:",composers,administrators" doc:"Empty for everyone who sees it"`
}

func (b *FieldEditBody) edit(choices []string) shape.FieldEdit {
	return shape.FieldEdit{
		Label: b.Label, Kind: b.Kind, To: b.To, Back: b.Back, Description: b.Description, Unit: b.Unit, Phrase: b.Phrase,
		Format: b.Format, Least: b.Least, Most: b.Most, Default: b.Default, Required: b.Required, Unique: b.Unique,
		Formula: b.Formula, Yes: b.Yes, No: b.No, Retired: b.Retired, Choices: choices,
	}
}

func fieldEditBody(f *schema.Field, back string) FieldEditBody {
	return FieldEditBody{
		f.Label,
		f.Kind,
		f.To,
		back,
		f.Description,
		f.Unit,
		f.Phrase,
		f.Format,
		f.Least,
		f.Most,
		f.Default,
		f.Required,
		f.Unique,
		f.Formula(),
		f.Yes,
		f.No,
		f.Retired,
	}
}

// ShapedField is a field, with its choices where it has some.
type ShapedField struct {
	Key string `json:"key"`
	FieldEditBody
	Added   bool         `json:"added"`
	Worked  bool         `json:"worked" doc:"Whether it is worked out and not filled in"`
	Limit   LimitBody    `json:"limit"`
	Needed  bool         `json:"needed" doc:"Whether everyone who sees a record sees it"`
	Stages  bool         `json:"stages" doc:"Whether its choices are the stages"`
	Choices []ChoiceBody `json:"choices"`
}

// ShapeBody is how the records of a type are shaped.
type ShapeBody struct {
	Label   string        `json:"label" doc:"What many of them are called"`
	One     string        `json:"one" doc:"What one of them is called"`
	Own     bool          `json:"own" doc:"Whether it is a record type of one's own"`
	Fields  []ShapedField `json:"fields"`
	Icon    string        `json:"icon,omitempty" doc:"The drawing that they are shown with; empty for none"`
	Stages  []StageBody   `json:"stages" doc:"Of the types that have stages"`
	Version int           `json:"version"`
}

// TypeEditBody is what records are called.
type TypeEditBody struct {
	Label   string `json:"label" doc:"Many of them"`
	One     string `json:"one" doc:"One of them"`
	Icon    string `json:"icon,omitempty" enum:"anchor,boat,berth,buoy,crane,crate,tag,tool,leaf,house,people,paper,star,pin,clock,coins" doc:"The drawing that they are shown with; left out for none"`
	Owned   bool   `json:"owned,omitempty" doc:"Of new ones: whether each belongs to a person"`
	Version int    `json:"version,omitempty" doc:"The one that was read"`
}

// MadeKeyBody is the key of a record type or a field that was made.
type MadeKeyBody struct {
	Key string `json:"key"`
}

// TypeUseBody is what goes with a record type of one's own where it is taken away.
type TypeUseBody struct {
	Records int      `json:"records"`
	Reports []string `json:"reports" doc:"Titles of the reports that use it"`
	Links   []string `json:"links" doc:"Fields of other types that lead to it"`
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
			sch := view(ctx).Snap.Schema
			t := sch.Type(in.Type)
			body := ShapeBody{
				Label:  t.Label,
				One:    t.One,
				Own:    t.Added,
				Icon:   t.Icon,
				Fields: []ShapedField{},
				Stages: []StageBody{},
			}
			for _, f := range fields {
				back := sch.Settings.Types[in.Type].Fields[f.Field.Key].Back
				field := ShapedField{
					Key: f.Field.Key, FieldEditBody: fieldEditBody(f.Field, back), Added: f.Field.Added,
					Worked: f.Field.Worked != nil, Limit: LimitBody(sch.Limited(in.Type, f.Field.Key)),
					Needed: sch.Needed(t, f.Field), Stages: f.Field.Stages, Choices: []ChoiceBody{},
				}
				for _, c := range f.Choices {
					field.Choices = append(field.Choices, ChoiceBody(c))
				}
				body.Fields = append(body.Fields, field)
				if f.Field.Stages {
					body.Stages = stageBodies(t.Stages, field.Choices)
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
		op(http.MethodPut, "/api/shape/{type}/stages", "set-stages", "Set the stages of a type"),
		func(ctx context.Context, in *struct {
			Type string `path:"type"`
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
			return nil, a.fail(ctx, a.app.Shape.SetStages(ctx, view(ctx), in.Type, list, in.Body.Version))
		},
	)
	huma.Register(
		g,
		op(http.MethodPost, "/api/shape/{type}/fields", "add-field", "Add a field of one's own to a record type"),
		func(ctx context.Context, in *struct {
			Type string `path:"type"`
			Body struct {
				FieldEditBody
				Choices []string `json:"choices,omitempty" maxItems:"500"`
				Version int      `json:"version,omitempty" doc:"The one that was read"`
			}
		}) (*out[MadeKeyBody], error) {
			key, err := a.app.Shape.AddField(ctx, view(ctx), in.Type, in.Body.edit(in.Body.Choices), in.Body.Version)
			return &out[MadeKeyBody]{MadeKeyBody{key}}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/shape/{type}/fields/{field}", "set-field", "Change a field of one's own"),
		func(ctx context.Context, in *struct {
			Type  string `path:"type"`
			Field string `path:"field"`
			Body  struct {
				FieldEditBody
				Version int `json:"version,omitempty" doc:"The one that was read"`
			}
		}) (*struct{}, error) {
			e := in.Body.edit(nil)
			return nil, a.fail(ctx, a.app.Shape.SetField(ctx, view(ctx), in.Type, in.Field, e, in.Body.Version))
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

func (a *api) limits(g huma.API) {
	huma.Register(
		g,
		op(http.MethodGet, "/api/shape/{type}/fields/{field}/uses", "field-uses", "What uses a field of one's own"),
		func(ctx context.Context, in *struct {
			Type  string `path:"type"`
			Field string `path:"field"`
		}) (*out[[]string], error) {
			titles, err := a.app.Shape.UsedBy(ctx, view(ctx), in.Type, in.Field)
			return &out[[]string]{append([]string{}, titles...)}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/shape/{type}/limits/{field}", "set-limit", "Say who sees and who changes a field"),
		func(ctx context.Context, in *struct {
			Type  string `path:"type"`
			Field string `path:"field"`
			Body  struct {
				LimitBody
				Version int `json:"version,omitempty" doc:"The one that was read"`
			}
		}) (*struct{}, error) {
			l := schema.Limit(in.Body.LimitBody)
			return nil, a.fail(ctx, a.app.Shape.SetLimit(ctx, view(ctx), in.Type, in.Field, l, in.Body.Version))
		},
	)
}

func (a *api) types(g huma.API) {
	huma.Register(
		g,
		op(http.MethodPost, "/api/shape", "add-type", "Add a record type of one's own"),
		func(ctx context.Context, in *struct{ Body TypeEditBody }) (*out[MadeKeyBody], error) {
			e := shape.TypeEdit{Label: in.Body.Label, One: in.Body.One, Icon: in.Body.Icon, Owned: in.Body.Owned}
			key, err := a.app.Shape.AddType(ctx, view(ctx), e, in.Body.Version)
			return &out[MadeKeyBody]{MadeKeyBody{key}}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/shape/{type}", "set-type", "Call the records of a type otherwise"),
		func(ctx context.Context, in *struct {
			Type string `path:"type"`
			Body TypeEditBody
		}) (*struct{}, error) {
			e := shape.TypeEdit{Label: in.Body.Label, One: in.Body.One, Icon: in.Body.Icon}
			return nil, a.fail(ctx, a.app.Shape.SetType(ctx, view(ctx), in.Type, e, in.Body.Version))
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/rail", "set-rail", "Set the order in which record types are offered"),
		func(ctx context.Context, in *struct {
			Body struct {
				Order   []string `json:"order" maxItems:"100" doc:"Their keys; those that are left out come after"`
				Version int      `json:"version,omitempty" doc:"The one that was read"`
			}
		}) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.Shape.SetRail(ctx, view(ctx), in.Body.Order, in.Body.Version))
		},
	)
	huma.Register(
		g,
		op(http.MethodGet, "/api/currencies", "currencies", "The currencies that amounts may be in, and what they are worth"),
		func(ctx context.Context, _ *struct{}) (*out[CurrenciesBody], error) {
			version, err := a.app.Shape.Version(ctx)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			c, err := a.app.Shape.Currencies(view(ctx))
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			body := CurrenciesBody{Own: c.Own, Others: []CurrencyBody{}, Hold: c.Hold, Version: version}
			for _, o := range c.Others {
				body.Others = append(body.Others, CurrencyBody(o))
			}
			return &out[CurrenciesBody]{body}, nil
		},
	)
	huma.Register(
		g,
		op(
			http.MethodPut,
			"/api/currencies",
			"set-currencies",
			"Set in which currencies amounts may be besides the organisation's",
		),
		func(ctx context.Context, in *struct {
			Body struct {
				Others  []string `json:"others" maxItems:"100" doc:"Of ISO 4217, in their order"`
				Hold    int      `json:"hold" doc:"For how many days a rate holds where no later one comes"`
				Version int      `json:"version,omitempty" doc:"The one that was read"`
			}
		}) (*struct{}, error) {
			b := in.Body
			return nil, a.fail(ctx, a.app.Shape.SetCurrencies(ctx, view(ctx), b.Others, b.Hold, b.Version))
		},
	)
	huma.Register(
		g,
		op(http.MethodGet, "/api/shape/{type}/uses", "type-uses", "What uses a record type of one's own"),
		func(ctx context.Context, in *typeIn) (*out[TypeUseBody], error) {
			use, err := a.app.Shape.TypeUsedBy(ctx, view(ctx), in.Type)
			body := TypeUseBody{use.Records, append([]string{}, use.Reports...), append([]string{}, use.Links...)}
			return &out[TypeUseBody]{body}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodDelete, "/api/shape/{type}", "drop-type", "Take a record type of one's own away with its records"),
		func(ctx context.Context, in *struct {
			Type    string `path:"type"`
			Version int    `query:"version" doc:"The one that was read"`
		}) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.Shape.DropType(ctx, view(ctx), in.Type, in.Version))
		},
	)
}

// CurrenciesBody is in which currencies amounts may be.
type CurrenciesBody struct {
	Own     string         `json:"own" doc:"The organisation's"`
	Others  []CurrencyBody `json:"others"`
	Hold    int            `json:"hold" doc:"For how many days a rate holds where no later one comes"`
	Version int            `json:"version"`
}

// CurrencyBody is a currency that is not the organisation's.
type CurrencyBody struct {
	Code    string `json:"code" doc:"Of ISO 4217"`
	Records int    `json:"records" doc:"How many records have their amounts in it"`
	Rates   int    `json:"rates" doc:"How many exchange rates it has"`
	Latest  string `json:"latest,omitempty" doc:"What it is worth: 11.6 NOK = 1 EUR"`
	Day     string `json:"day,omitempty" doc:"Since when"`
	Stale   bool   `json:"stale,omitempty" doc:"Whether that does not hold any more"`
}

// stageBodies are the stages, with how many records are in each.
func stageBodies(stages []schema.Stage, choices []ChoiceBody) []StageBody {
	list := []StageBody{}
	for _, s := range stages {
		b := StageBody{ChoiceBody{Name: s.Name, Was: s.Name}, s.Pipeline, s.Status, s.Likelihood}
		for _, c := range choices {
			if c.Name == s.Name {
				b.ChoiceBody = c
			}
		}
		list = append(list, b)
	}
	return list
}
