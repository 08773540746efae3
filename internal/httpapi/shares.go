package httpapi

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/internal/store"
)

// SharesBody is whom a single report or dashboard is shared with, besides those who may open its folder.
type SharesBody struct {
	Access  []AccessBody `json:"access"`
	Version int          `json:"version,omitempty" doc:"The one that was read"`
}

func (a *api) shares(g huma.API) {
	huma.Register(
		g,
		op(http.MethodGet, "/api/shares/{kind}/{id}", "shares", "Whom a report or dashboard is shared with by itself"),
		func(ctx context.Context, in *struct {
			Kind string `path:"kind" enum:"report,board"`
			ID   int64  `path:"id"`
		}) (*out[SharesBody], error) {
			list, version, err := a.app.Library.Shares(ctx, view(ctx), store.Item{Kind: in.Kind, Item: in.ID})
			return &out[SharesBody]{SharesBody{accessBodies(list), version}}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/shares/{kind}/{id}", "share", "Share a report or dashboard with teams and people"),
		func(ctx context.Context, in *struct {
			Kind string `path:"kind" enum:"report,board"`
			ID   int64  `path:"id"`
			Body SharesBody
		}) (*struct{}, error) {
			return nil, a.fail(
				ctx,
				a.app.Library.Share(
					ctx,
					view(ctx),
					store.Item{Kind: in.Kind, Item: in.ID},
					accessesOf(in.Body.Access),
					in.Body.Version,
				),
			)
		},
	)
}
