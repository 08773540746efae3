package httpapi

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/internal/people"
	"uzzel/internal/store"
)

// RightBody is something that someone may do for others.
type RightBody struct {
	Key   string `json:"key"`
	Words string `json:"words"`
}

// HolderBody is a person or a team with rights besides those of roles.
type HolderBody struct {
	Kind   string   `json:"kind" enum:"person,team"`
	ID     int64    `json:"id"`
	Name   string   `json:"name"`
	Rights []string `json:"rights"`
}

// RightsBody is who has which rights besides those of roles.
type RightsBody struct {
	Rights  []RightBody  `json:"rights" doc:"Those that there are"`
	Holders []HolderBody `json:"holders"`
	Version int          `json:"version"`
}

func (a *api) rights(g huma.API) {
	huma.Register(
		g,
		op(http.MethodGet, "/api/rights", "rights", "Who has which rights besides those of their role"),
		func(ctx context.Context, _ *none) (*out[RightsBody], error) {
			holders, version, err := a.app.Roster.Holders(ctx, view(ctx))
			body := RightsBody{Rights: []RightBody{}, Holders: []HolderBody{}, Version: version}
			for _, e := range people.Each {
				body.Rights = append(body.Rights, RightBody{e.Key, e.Words})
			}
			for _, h := range holders {
				body.Holders = append(body.Holders, HolderBody{h.Kind, h.Subject, h.Name, h.Rights.Keys()})
			}
			return &out[RightsBody]{body}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(
			http.MethodPut,
			"/api/rights/{kind}/{id}",
			"set-rights",
			"Have a person or a team have some rights, and no others",
		),
		func(ctx context.Context, in *struct {
			Kind string `path:"kind" enum:"person,team"`
			ID   int64  `path:"id"`
			Body struct {
				Rights  []string `json:"rights" maxItems:"50"`
				Version int      `json:"version" doc:"The one that was read"`
			}
		}) (*struct{}, error) {
			rights, err := people.RightsOf(in.Body.Rights)
			if err == nil {
				to := store.Access{Kind: in.Kind, Subject: in.ID}
				err = a.app.Roster.Grant(ctx, view(ctx), to, rights, in.Body.Version)
			}
			return nil, a.fail(ctx, err)
		},
	)
}
