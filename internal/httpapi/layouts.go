package httpapi

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/internal/store"
)

// BoardVersionBody is what a dashboard was once, and in words what the change to it was.
type BoardVersionBody struct {
	Version int         `json:"version"`
	Title   string      `json:"title"`
	Who     string      `json:"who"`
	At      int64       `json:"at" doc:"Unix seconds"`
	Change  []string    `json:"change"`
	Panels  []PanelBody `json:"panels"`
}

// BoardDraftBody is how one has arranged a dashboard without saving it. Version is of the dashboard that was arranged.
type BoardDraftBody struct {
	Version  int         `json:"version"`
	Revision int         `json:"revision" doc:"0 for none"`
	Changed  int64       `json:"changed" doc:"Unix seconds"`
	Panels   []PanelBody `json:"panels"`
}

func boardDraftBody(d store.BoardDraft) BoardDraftBody {
	return BoardDraftBody{d.Version, d.Revision, d.Changed, panelBodies(d.Layout.Panels)}
}

// layouts are the routes of what dashboards were, are about to be, and in which order they are.
func (a *api) layouts(g huma.API) {
	huma.Register(
		g,
		op(http.MethodGet, "/api/boards/{id}/versions", "board-versions", "What a dashboard was, the newest first"),
		func(ctx context.Context, in *idIn) (*out[[]BoardVersionBody], error) {
			rows, err := a.app.Boards.Versions(ctx, view(ctx), in.ID)
			list := []BoardVersionBody{}
			for _, v := range rows {
				list = append(list, BoardVersionBody{v.Version, v.Title, v.Who, v.At, v.Change, panelBodies(v.Layout.Panels)})
			}
			return &out[[]BoardVersionBody]{list}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(
			http.MethodPost,
			"/api/boards/{id}/versions/{version}/back",
			"board-version-back",
			"Make a dashboard what it was at a version",
		),
		func(ctx context.Context, in *struct {
			ID      int64 `path:"id"`
			Version int   `path:"version"`
		}) (*out[BoardBody], error) {
			b, err := a.app.Boards.BringVersionBack(ctx, view(ctx), in.ID, in.Version)
			return &out[BoardBody]{boardBody(b)}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodGet, "/api/boards/{id}/draft", "board-draft", "How one has arranged a dashboard without saving it"),
		func(ctx context.Context, in *idIn) (*out[BoardDraftBody], error) {
			d, err := a.app.Boards.Draft(ctx, view(ctx), in.ID)
			return &out[BoardDraftBody]{boardDraftBody(d)}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		lenient(op(http.MethodPut, "/api/boards/{id}/draft", "keep-board-draft", "Keep how a dashboard is being arranged")),
		func(ctx context.Context, in *struct {
			ID   int64 `path:"id"`
			Body struct {
				Version  int         `json:"version"`
				Revision int         `json:"revision,omitempty" doc:"The one it was read at; 0 for a new draft"`
				Panels   []PanelBody `json:"panels"`
			}
		}) (*out[BoardDraftBody], error) {
			d, err := a.app.Boards.KeepDraft(
				ctx,
				view(ctx),
				store.BoardDraft{Board: in.ID, Version: in.Body.Version, Revision: in.Body.Revision,
					Layout: store.Layout{Panels: panelsOf(in.Body.Panels)}},
			)
			return &out[BoardDraftBody]{boardDraftBody(d)}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodDelete, "/api/boards/{id}/draft", "drop-board-draft", "Throw away how one has arranged a dashboard"),
		func(ctx context.Context, in *idIn) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.Boards.DropDraft(ctx, view(ctx), in.ID))
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/board-order", "order-boards", "Keep the order in which one sees dashboards"),
		func(ctx context.Context, in *struct {
			Body struct {
				Boards []int64 `json:"boards" maxItems:"2000"`
			}
		}) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.Boards.Order(ctx, view(ctx), in.Body.Boards))
		},
	)
}
