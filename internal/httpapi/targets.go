package httpapi

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/core/brief"
	"uzzel/core/target"
	"uzzel/internal/aims"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/targets"
)

// MeasureBody is what targets are set for.
type MeasureBody struct {
	Key     string `json:"key"`
	Name    string `json:"name"`
	Start   string `json:"start" doc:"The record type that it counts"`
	Text    string `json:"text" doc:"What is measured, as a sentence"`
	Brief   Brief  `json:"brief" doc:"A report on this quarter's progress towards the target"`
	Version int    `json:"version" doc:"Of its targets; it counts changes of its name too"`
}

// GridRowBody is what is set for everyone, a team or a person.
type GridRowBody struct {
	Kind     string   `json:"kind" doc:"team, person, or empty for everyone"`
	ID       string   `json:"id"`
	Name     string   `json:"name"`
	Depth    int      `json:"depth" doc:"0 everyone, 1 a team, 2 a person of it"`
	Months   []string `json:"months" doc:"Empty where nothing is set"`
	Quarters []string `json:"quarters" doc:"The sums of what is set"`
	Year     string   `json:"year"`
	Below    string   `json:"below" doc:"What those within it come to, where it has no target of its own"`
}

// GridBody is a measure's targets of one year.
type GridBody struct {
	Measure MeasureBody   `json:"measure"`
	Year    int           `json:"year" doc:"That the first month is in"`
	Months  []string      `json:"months"`
	Quarter int           `json:"quarter" doc:"The quarter of it, from 0, that today is in, or the first"`
	Rows    []GridRowBody `json:"rows"`
	Version int           `json:"version" doc:"Of the measure's targets"`
}

// SettingBody is an amount for some months on, or each month's amount.
type SettingBody struct {
	Kind    string   `json:"kind" enum:",team,person"`
	ID      string   `json:"id"`
	Year    int      `json:"year"`
	From    int      `json:"from" minimum:"0" maximum:"11" doc:"The first month's place in the grid of the year"`
	Months  int      `json:"months" minimum:"1" maximum:"12"`
	Amount  string   `json:"amount,omitempty" maxLength:"40"`
	Cut     string   `json:"cut,omitempty" enum:"even,last_year" doc:"How the amount is cut into months"`
	Amounts []string `json:"amounts,omitempty" maxItems:"12" doc:"Instead of an amount: that of each month, empty for none"`
	Version int      `json:"version,omitempty" doc:"The version of the measure's targets that was read"`
}

// SetTargetsBody is what was set before, and how an amount was cut.
type SetTargetsBody struct {
	Before []string `json:"before"`
	Note   string   `json:"note"`
	// Version is the one that the targets have now.
	Version int `json:"version"`
}

func measureBody(v *answers.View, m aims.Measure) MeasureBody {
	return MeasureBody{
		Key:     m.Key,
		Name:    m.Name,
		Start:   m.Brief.Start,
		Text:    m.Words(v.Scene()),
		Brief:   public(brief.ForOwner(m.Progress()), 0),
		Version: m.Version,
	}
}

func (a *api) targets(g huma.API) {
	type measure struct {
		Name  string `json:"name" maxLength:"60"`
		Brief Brief  `json:"brief"`
	}
	huma.Register(
		g,
		op(http.MethodGet, "/api/targets", "measures", "What targets are set for"),
		func(ctx context.Context, _ *none) (*out[[]MeasureBody], error) {
			list := []MeasureBody{}
			for _, m := range view(ctx).Aims.Measures {
				list = append(list, measureBody(view(ctx), m))
			}
			return &out[[]MeasureBody]{list}, nil
		},
	)
	huma.Register(
		g,
		lenient(op(http.MethodPost, "/api/targets", "make-measure", "Set targets for something more")),
		func(ctx context.Context, in *struct{ Body measure }) (*out[MeasureBody], error) {
			if err := in.Body.Brief.checked(); err != nil {
				return nil, a.fail(ctx, err)
			}
			key, err := a.app.Targets.KeepMeasure(ctx, view(ctx), aims.Measure{Name: in.Body.Name, Brief: in.Body.Brief.Brief})
			return a.kept(ctx, key, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/targets/{key}", "rename-measure", "Give a measure another name"),
		func(ctx context.Context, in *struct {
			Key  string `path:"key"`
			Body struct {
				Name    string `json:"name" maxLength:"60"`
				Version int    `json:"version,omitempty" doc:"The one that was read"`
			}
		}) (*out[MeasureBody], error) {
			key, err := a.app.Targets.KeepMeasure(
				ctx,
				view(ctx),
				aims.Measure{Key: in.Key, Name: in.Body.Name, Version: in.Body.Version},
			)
			return a.kept(ctx, key, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodDelete, "/api/targets/{key}", "drop-measure", "Take a measure away with its targets"),
		func(ctx context.Context, in *struct {
			Key string `path:"key"`
		}) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.Targets.DropMeasure(ctx, view(ctx), in.Key))
		},
	)
	huma.Register(
		g,
		op(http.MethodGet, "/api/targets/{key}/grid", "target-grid", "A measure's targets of one year"),
		func(ctx context.Context, in *struct {
			Key  string `path:"key"`
			Year int    `query:"year" doc:"That the first month is in; 0 for the year of today"`
		}) (*out[GridBody], error) {
			if in.Year == 0 {
				in.Year = targets.ThisYear(view(ctx))
			}
			grid, err := a.app.Targets.Grid(view(ctx), in.Key, in.Year)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			body := GridBody{
				Measure: measureBody(view(ctx), grid.Measure),
				Version: grid.Version,
				Year:    grid.Year,
				Months:  grid.Months,
				Quarter: grid.Quarter,
			}
			for _, r := range grid.Rows {
				body.Rows = append(
					body.Rows,
					GridRowBody{r.Scope.Kind, r.Scope.ID, r.Name, r.Depth, r.Months, r.Quarters, r.Year, r.Below},
				)
			}
			return &out[GridBody]{body}, nil
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/targets/{key}/amounts", "set-targets", "Set targets for someone and some months"),
		func(ctx context.Context, in *struct {
			Key  string `path:"key"`
			Body SettingBody
		}) (*out[SetTargetsBody], error) {
			b := in.Body
			before, note, version, err := a.app.Targets.Set(
				ctx,
				view(ctx),
				in.Key,
				targets.Setting{
					Scope:   target.Scope{Kind: b.Kind, ID: b.ID},
					Year:    b.Year,
					From:    b.From,
					Months:  b.Months,
					Amount:  b.Amount,
					Cut:     b.Cut,
					Amounts: b.Amounts,
					Version: b.Version,
				},
			)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			return &out[SetTargetsBody]{SetTargetsBody{before, note, version}}, nil
		},
	)
}

func (a *api) kept(ctx context.Context, key string, err error) (*out[MeasureBody], error) {
	if err != nil {
		return nil, a.fail(ctx, err)
	}
	now := view(ctx).Now() // with what was kept just now
	if m := now.Aims.Measure(key); m != nil {
		return &out[MeasureBody]{measureBody(now, *m)}, nil
	}
	return nil, a.fail(ctx, &fault.Error{Reason: fault.NotFound, Message: "There is no such measure."})
}
