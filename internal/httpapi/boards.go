package httpapi

import (
	"context"
	"encoding/json"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/core/board"
	"uzzel/internal/boards"
	"uzzel/internal/library"
	"uzzel/internal/store"
)

// PanelBody is a report placed on a board, or words, in cells of a grid twelve wide.
type PanelBody struct {
	Report  int64         `json:"report" doc:"0 for words"`
	X       int           `json:"x"`
	Y       int           `json:"y"`
	W       int           `json:"w"`
	H       int           `json:"h"`
	Options board.Options `json:"options,omitempty"`
}

// BoardBody is a dashboard.
type BoardBody struct {
	ID        int64         `json:"id"`
	Title     string        `json:"title"`
	Folder    int64         `json:"folder"`
	Owner     string        `json:"owner"`
	MayChange bool          `json:"mayChange"`
	MayShare  bool          `json:"mayShare" doc:"Whether one may share it by itself"`
	Version   int           `json:"version"`
	Panels    []PanelBody   `json:"panels"`
	Filters   board.Filters `json:"filters" doc:"What its panels are narrowed to when it opens"`
}

type boardIn struct {
	Title   string        `json:"title"`
	Folder  int64         `json:"folder"`
	Version int           `json:"version,omitempty"`
	Panels  []PanelBody   `json:"panels"`
	Filters board.Filters `json:"filters,omitempty"`
}

// ClosedBody is a report on a dashboard that some who may open the dashboard may not open.
type ClosedBody struct {
	Report  int64    `json:"report"`
	Title   string   `json:"title" doc:"Empty where one may not open it oneself"`
	Folder  string   `json:"folder"`
	To      []string `json:"to" doc:"The people that it is closed to"`
	MayMove bool     `json:"mayMove"`
}

func closedBodies(list []boards.Closed) []ClosedBody {
	out := []ClosedBody{}
	for _, c := range list {
		out = append(out, ClosedBody(c))
	}
	return out
}

func boardBody(b library.Board) BoardBody {
	body := BoardBody{
		ID:        b.ID,
		Title:     b.Title,
		Folder:    b.Folder,
		Owner:     b.OwnerName,
		MayChange: b.MayChange,
		MayShare:  b.MayShare,
		Version:   b.Version,
		Panels:    []PanelBody{},
	}
	if b.Filters != "" {
		_ = json.Unmarshal([]byte(b.Filters), &body.Filters) // checked when it was kept
	}
	body.Panels = panelBodies(b.Panels)
	return body
}

func panelBodies(panels []store.Panel) []PanelBody {
	list := []PanelBody{}
	for _, p := range panels {
		panel := PanelBody{Report: p.Report, X: p.X, Y: p.Y, W: p.W, H: p.H}
		if p.Options != "" {
			_ = json.Unmarshal([]byte(p.Options), &panel.Options) // checked when it was kept
		}
		list = append(list, panel)
	}
	return list
}

func (b boardIn) board(id int64) store.Board {
	board := store.Board{ID: id, Title: b.Title, Folder: b.Folder, Version: b.Version}
	board.Filters = plain(b.Filters)
	board.Panels = panelsOf(b.Panels)
	return board
}

func panelsOf(list []PanelBody) []store.Panel {
	var panels []store.Panel
	for _, p := range list {
		panels = append(panels, store.Panel{Report: p.Report, X: p.X, Y: p.Y, W: p.W, H: p.H, Options: plain(p.Options)})
	}
	return panels
}

// plain is a value as JSON, "" where it holds nothing.
func plain(v any) string {
	text, err := json.Marshal(v)
	if err != nil || string(text) == "{}" {
		return ""
	}
	return string(text)
}

func (a *api) boards(g huma.API) {
	huma.Register(
		g,
		op(http.MethodGet, "/api/boards", "boards", "The dashboards one may open"),
		func(ctx context.Context, _ *none) (*out[[]BoardBody], error) {
			rows, err := a.app.Library.Boards(ctx, view(ctx))
			list := []BoardBody{}
			for _, b := range rows {
				list = append(list, boardBody(b))
			}
			return &out[[]BoardBody]{list}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodGet, "/api/boards/{id}", "board", "A dashboard"),
		func(ctx context.Context, in *idIn) (*out[BoardBody], error) {
			b, err := a.app.Library.Board(ctx, view(ctx), in.ID)
			return &out[BoardBody]{boardBody(b)}, a.fail(ctx, err)
		},
	)
	a.panels(g)
	huma.Register(
		g,
		op(http.MethodDelete, "/api/boards/{id}", "delete-board", "Put a dashboard among what was recently deleted"),
		func(ctx context.Context, in *idIn) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.Boards.Delete(ctx, view(ctx), in.ID))
		},
	)
	huma.Register(
		g,
		lenient(op(http.MethodPost, "/api/boards", "add-board", "Make a dashboard")),
		func(ctx context.Context, in *struct{ Body boardIn }) (*out[BoardBody], error) {
			b, err := a.app.Boards.Add(ctx, view(ctx), in.Body.board(0))
			return &out[BoardBody]{boardBody(b)}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		lenient(op(http.MethodPut, "/api/boards/{id}", "change-board", "Keep a changed dashboard")),
		func(ctx context.Context, in *struct {
			ID   int64 `path:"id"`
			Body boardIn
		}) (*out[BoardBody], error) {
			b, err := a.app.Boards.Change(ctx, view(ctx), in.Body.board(in.ID))
			return &out[BoardBody]{boardBody(b)}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		lenient(
			op(http.MethodPost, "/api/boards/{id}/panels", "add-panel", "Place one more panel, where there is room for it"),
		),
		func(ctx context.Context, in *struct {
			ID   int64 `path:"id"`
			Body struct {
				Report  int64         `json:"report,omitempty"`
				W       int           `json:"w,omitempty"`
				H       int           `json:"h,omitempty"`
				Options board.Options `json:"options,omitempty"`
			}
		}) (*out[BoardBody], error) {
			b, err := a.app.Boards.Place(
				ctx,
				view(ctx),
				in.ID,
				store.Panel{Report: in.Body.Report, W: in.Body.W, H: in.Body.H, Options: plain(in.Body.Options)},
			)
			return &out[BoardBody]{boardBody(b)}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodDelete, "/api/boards/{id}/reports/{report}", "take-off", "Take a report off a dashboard"),
		func(ctx context.Context, in *struct {
			ID     int64 `path:"id"`
			Report int64 `path:"report"`
		}) (*out[BoardBody], error) {
			b, err := a.app.Boards.TakeOff(ctx, view(ctx), in.ID, in.Report)
			return &out[BoardBody]{boardBody(b)}, a.fail(ctx, err)
		},
	)
	a.layouts(g)
	huma.Register(
		g,
		op(
			http.MethodGet,
			"/api/boards/{id}/closed",
			"closed-reports",
			"The reports on a dashboard that some who may open it may not open",
		),
		func(ctx context.Context, in *idIn) (*out[[]ClosedBody], error) {
			list, err := a.app.Boards.ClosedReports(ctx, view(ctx), in.ID)
			return &out[[]ClosedBody]{closedBodies(list)}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(
			http.MethodPost,
			"/api/boards/{id}/open-reports",
			"open-reports",
			"Put those that one may change into the dashboard's folder",
		),
		func(ctx context.Context, in *idIn) (*out[[]ClosedBody], error) {
			list, err := a.app.Boards.OpenReports(ctx, view(ctx), in.ID)
			return &out[[]ClosedBody]{closedBodies(list)}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/boards/{id}/folder", "move-board", "Put a dashboard into another folder"),
		func(ctx context.Context, in *struct {
			ID   int64 `path:"id"`
			Body struct {
				Folder int64 `json:"folder"`
			}
		}) (*out[BoardBody], error) {
			b, err := a.app.Boards.Move(ctx, view(ctx), in.ID, in.Body.Folder)
			return &out[BoardBody]{boardBody(b)}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/boards/{id}/owner", "give-board", "Make another person its owner"),
		func(ctx context.Context, in *struct {
			ID   int64 `path:"id"`
			Body struct {
				Owner int64 `json:"owner"`
			}
		}) (*out[BoardBody], error) {
			b, err := a.app.Boards.Give(ctx, view(ctx), in.ID, in.Body.Owner)
			return &out[BoardBody]{boardBody(b)}, a.fail(ctx, err)
		},
	)
}
