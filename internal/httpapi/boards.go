package httpapi

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/internal/desk"
	"uzzel/internal/store"
)

// PanelBody is a report placed on a board, in cells of a grid twelve wide.
type PanelBody struct {
	Report int64 `json:"report"`
	X      int   `json:"x"`
	Y      int   `json:"y"`
	W      int   `json:"w"`
	H      int   `json:"h"`
}

// BoardBody is a dashboard.
type BoardBody struct {
	ID        int64       `json:"id"`
	Title     string      `json:"title"`
	Folder    int64       `json:"folder"`
	Owner     string      `json:"owner"`
	MayChange bool        `json:"mayChange"`
	Version   int         `json:"version"`
	Panels    []PanelBody `json:"panels"`
}

type boardIn struct {
	Title   string      `json:"title"`
	Folder  int64       `json:"folder"`
	Version int         `json:"version,omitempty"`
	Panels  []PanelBody `json:"panels"`
}

func boardBody(b desk.Board) BoardBody {
	body := BoardBody{b.ID, b.Title, b.Folder, b.OwnerName, b.MayChange, b.Version, []PanelBody{}}
	for _, p := range b.Panels {
		body.Panels = append(body.Panels, PanelBody{p.Report, p.X, p.Y, p.W, p.H})
	}
	return body
}

func (b boardIn) board(id int64) store.Board {
	board := store.Board{ID: id, Title: b.Title, Folder: b.Folder, Version: b.Version}
	for _, p := range b.Panels {
		board.Panels = append(board.Panels, store.Panel{Report: p.Report, X: p.X, Y: p.Y, W: p.W, H: p.H})
	}
	return board
}

func (a *api) boards(g huma.API) {
	huma.Register(g, op(http.MethodGet, "/api/boards", "boards", "The dashboards one may open"), func(ctx context.Context, _ *none) (*out[[]BoardBody], error) {
		rows, err := a.desk.Boards(ctx, who(ctx))
		list := []BoardBody{}
		for _, b := range rows {
			list = append(list, boardBody(b))
		}
		return &out[[]BoardBody]{list}, a.fail(ctx, err)
	})
	huma.Register(g, op(http.MethodGet, "/api/boards/{id}", "board", "A dashboard"), func(ctx context.Context, in *idIn) (*out[BoardBody], error) {
		b, err := a.desk.Board(ctx, who(ctx), in.ID)
		return &out[BoardBody]{boardBody(b)}, a.fail(ctx, err)
	})
	huma.Register(g, op(http.MethodPost, "/api/boards", "add-board", "Make a dashboard"), func(ctx context.Context, in *struct{ Body boardIn }) (*out[BoardBody], error) {
		b, err := a.desk.AddBoard(ctx, who(ctx), in.Body.board(0))
		return &out[BoardBody]{boardBody(b)}, a.fail(ctx, err)
	})
	huma.Register(g, op(http.MethodPut, "/api/boards/{id}", "change-board", "Keep a changed dashboard"), func(ctx context.Context, in *struct {
		ID   int64 `path:"id"`
		Body boardIn
	}) (*out[BoardBody], error) {
		b, err := a.desk.ChangeBoard(ctx, who(ctx), in.Body.board(in.ID))
		return &out[BoardBody]{boardBody(b)}, a.fail(ctx, err)
	})
}
