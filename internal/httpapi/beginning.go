package httpapi

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/core/brief"
	"uzzel/internal/admin"
	"uzzel/internal/answers"
	"uzzel/internal/starters"
)

// StarterBody is a ready report that ships with the application.
type StarterBody struct {
	Key      string `json:"key"`
	Category string `json:"category"`
	Title    string `json:"title"`
	About    string `json:"about"`
	Brief    Brief  `json:"brief"`
	Text     string `json:"text" doc:"The sentence"`
}

// QuestionBody is a first question of a starting point.
type QuestionBody struct {
	Title string `json:"title"`
	Brief Brief  `json:"brief"`
	Text  string `json:"text,omitempty" doc:"The sentence"`
}

// PointBody is a starting point: a record type with its links and fields in their order, and first questions.
type PointBody struct {
	ID        int64          `json:"id,omitempty"`
	Name      string         `json:"name"`
	About     string         `json:"about"`
	Brief     Brief          `json:"brief"`
	Questions []QuestionBody `json:"questions"`
	Teams     []int64        `json:"teams" doc:"The teams that see it, none for everyone"`
	Place     int            `json:"place,omitempty"`
	Version   int            `json:"version,omitempty" doc:"The version that was read"`
}

func say(v *answers.View, b Brief) string {
	bound, err := v.Bind(b.Brief)
	if err != nil {
		return ""
	}
	return v.Say(bound).String()
}

func (a *api) beginning(g huma.API) {
	huma.Register(
		g,
		op(http.MethodGet, "/api/starters", "starters", "The ready reports that ship with the application"),
		func(ctx context.Context, _ *none) (*out[[]StarterBody], error) {
			list := []StarterBody{}
			for _, s := range starters.All() {
				b := public(brief.ForOwner(s.Brief), 0)
				if text := say(view(ctx), b); text != "" { // one that the organisation's record types do not fit is not offered
					list = append(list, StarterBody{s.Key, s.Category, s.Title, s.About, b, text})
				}
			}
			return &out[[]StarterBody]{list}, nil
		},
	)
	huma.Register(
		g,
		op(http.MethodGet, "/api/starting-points", "starting-points", "What one may begin a report from"),
		func(ctx context.Context, _ *none) (*out[[]PointBody], error) {
			rows, err := a.app.Admin.StartingPoints(ctx, view(ctx))
			list := []PointBody{}
			for _, p := range rows {
				body := PointBody{
					p.ID,
					p.Name,
					p.About,
					public(brief.ForOwner(p.Brief), 0),
					[]QuestionBody{},
					p.Teams,
					p.Place,
					p.Version,
				}
				for _, q := range p.Questions {
					b := public(brief.ForOwner(q.Brief), 0)
					body.Questions = append(body.Questions, QuestionBody{q.Title, b, say(view(ctx), b)})
				}
				list = append(list, body)
			}
			return &out[[]PointBody]{list}, a.fail(ctx, err)
		},
	)
	keep := func(ctx context.Context, id int64, p *PointBody) error {
		point := admin.StartingPoint{
			ID:      id,
			Name:    p.Name,
			About:   p.About,
			Brief:   p.Brief.Brief,
			Teams:   p.Teams,
			Place:   p.Place,
			Version: p.Version,
		}
		if err := p.Brief.checked(); err != nil {
			return a.fail(ctx, err)
		}
		for _, q := range p.Questions {
			if err := q.Brief.checked(); err != nil {
				return a.fail(ctx, err)
			}
			point.Questions = append(point.Questions, admin.Question{Title: q.Title, Brief: q.Brief.Brief})
		}
		return a.fail(ctx, a.app.Admin.KeepStartingPoint(ctx, view(ctx), point))
	}
	huma.Register(
		g,
		lenient(op(http.MethodPost, "/api/starting-points", "add-starting-point", "Make a starting point")),
		func(ctx context.Context, in *struct{ Body PointBody }) (*struct{}, error) {
			return nil, keep(ctx, 0, &in.Body)
		},
	)
	huma.Register(
		g,
		lenient(op(http.MethodPut, "/api/starting-points/{id}", "change-starting-point", "Change a starting point")),
		func(ctx context.Context, in *struct {
			ID   int64 `path:"id"`
			Body PointBody
		}) (*struct{}, error) {
			return nil, keep(ctx, in.ID, &in.Body)
		},
	)
	huma.Register(
		g,
		op(http.MethodDelete, "/api/starting-points/{id}", "drop-starting-point", "Take a starting point away"),
		func(ctx context.Context, in *idIn) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.Admin.DropStartingPoint(ctx, view(ctx), in.ID))
		},
	)
	huma.Register(
		g,
		op(
			http.MethodPut,
			"/api/reports/{id}/board",
			"place-report",
			"Place a report on the dashboard of a name, made where there is none",
		),
		func(ctx context.Context, in *struct {
			ID   int64 `path:"id"`
			Body struct {
				Name string `json:"name"`
			}
		}) (*out[BoardBody], error) {
			b, err := a.app.Boards.PlaceOn(ctx, view(ctx), in.ID, in.Body.Name)
			return &out[BoardBody]{boardBody(b)}, a.fail(ctx, err)
		},
	)
}
