package httpapi

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"
)

// TwinBody is one of two records that are likely the same.
type TwinBody struct {
	ID   int64  `json:"id"`
	Name string `json:"name"`
}

// PairBody is two records that are likely the same, and what they have in common.
type PairBody struct {
	A   TwinBody `json:"a"`
	B   TwinBody `json:"b"`
	Why []string `json:"why"`
}

// twins are the operations on records that were entered twice.
func (a *api) twins(g huma.API) {
	huma.Register(
		g,
		op(
			http.MethodGet,
			"/api/duplicates/{type}",
			"duplicates",
			"Records that were likely entered twice, the likeliest first",
		),
		func(ctx context.Context, in *typeIn) (*out[[]PairBody], error) {
			found, err := a.app.Twins.Find(ctx, view(ctx), in.Type)
			list := []PairBody{}
			for _, p := range found {
				list = append(list, PairBody{TwinBody{p.A, p.NameA}, TwinBody{p.B, p.NameB}, p.Why})
			}
			return &out[[]PairBody]{list}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(
			http.MethodPut,
			"/api/duplicates/{type}/apart",
			"apart",
			"Keep that two records that look alike are two, or no longer",
		),
		func(ctx context.Context, in *struct {
			Type string `path:"type"`
			Body struct {
				A  int64 `json:"a"`
				B  int64 `json:"b"`
				On bool  `json:"on"`
			}
		}) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.Twins.Apart(ctx, view(ctx), in.Type, in.Body.A, in.Body.B, in.Body.On))
		},
	)
}
