package httpapi

import (
	"context"
	"encoding/json"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/core/board"
	"uzzel/core/brief"
	"uzzel/internal/boards"
	"uzzel/internal/starters"
	"uzzel/internal/store"
)

// SetBody is a ready dashboard that ships with the application.
type SetBody struct {
	Key    string   `json:"key"`
	Title  string   `json:"title"`
	About  string   `json:"about"`
	Panels []string `json:"panels" doc:"The titles of its reports"`
}

// WholePanel is a panel with its report.
type WholePanel struct {
	X           int           `json:"x"`
	Y           int           `json:"y"`
	W           int           `json:"w"`
	H           int           `json:"h"`
	Options     board.Options `json:"options,omitempty"`
	Title       string        `json:"title,omitempty"`
	Description string        `json:"description,omitempty"`
	Brief       *Brief        `json:"brief,omitempty"`
}

// WholeBody is a dashboard with all that it needs, as a file has it.
type WholeBody struct {
	Title   string        `json:"title"`
	Filters board.Filters `json:"filters,omitempty"`
	Panels  []WholePanel  `json:"panels"`
	Left    []string      `json:"left,omitempty" doc:"Reports that are not in it, as their owners keep something of them to themselves"`
}

func (a *api) wholes(g huma.API) {
	huma.Register(
		g,
		op(http.MethodGet, "/api/sets", "sets", "The ready dashboards that ship with the application"),
		func(_ context.Context, _ *none) (*out[[]SetBody], error) {
			list := []SetBody{}
			for _, s := range starters.Sets() {
				body := SetBody{Key: s.Key, Title: s.Title, About: s.About}
				for _, p := range s.Panels {
					body.Panels = append(body.Panels, p.Starter.Title)
				}
				list = append(list, body)
			}
			return &out[[]SetBody]{list}, nil
		},
	)
	huma.Register(
		g,
		op(http.MethodPost, "/api/sets/{key}", "add-set", "Make a ready dashboard one's own"),
		func(ctx context.Context, in *struct {
			Key  string `path:"key"`
			Body struct {
				Title  string `json:"title"`
				Folder int64  `json:"folder"`
			}
		}) (*out[BoardBody], error) {
			b, err := a.app.Boards.AddSet(ctx, view(ctx), in.Key, in.Body.Title, in.Body.Folder)
			return &out[BoardBody]{boardBody(b)}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodGet, "/api/boards/{id}/whole", "whole-board", "A dashboard with the briefs of its reports"),
		func(ctx context.Context, in *idIn) (*out[WholeBody], error) {
			w, err := a.app.Boards.Whole(ctx, view(ctx), in.ID)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			body := WholeBody{Title: w.Title, Panels: []WholePanel{}, Left: w.Left}
			if w.Filters != "" {
				_ = json.Unmarshal([]byte(w.Filters), &body.Filters) // checked when it was kept
			}
			for _, p := range w.Panels {
				panel := WholePanel{
					X:           p.Panel.X,
					Y:           p.Panel.Y,
					W:           p.Panel.W,
					H:           p.Panel.H,
					Title:       p.Title,
					Description: p.Description,
				}
				if p.Panel.Options != "" {
					_ = json.Unmarshal([]byte(p.Panel.Options), &panel.Options)
				}
				if p.Brief != nil {
					shown := public(brief.ForOwner(p.Brief), 0)
					panel.Brief = &shown
				}
				body.Panels = append(body.Panels, panel)
			}
			return &out[WholeBody]{body}, nil
		},
	)
	huma.Register(
		g,
		lenient(op(http.MethodPost, "/api/whole-boards", "add-whole-board", "Make a dashboard with its reports from a file")),
		func(ctx context.Context, in *struct {
			Body struct {
				Folder int64     `json:"folder"`
				Board  WholeBody `json:"board"`
			}
		}) (*out[BoardBody], error) {
			w := boards.WholeBoard{Title: in.Body.Board.Title, Filters: plain(in.Body.Board.Filters)}
			for _, p := range in.Body.Board.Panels {
				placed := boards.PlacedReport{
					Panel:       store.Panel{X: p.X, Y: p.Y, W: p.W, H: p.H, Options: plain(p.Options)},
					Title:       p.Title,
					Description: p.Description,
				}
				if p.Brief != nil {
					if err := p.Brief.checked(); err != nil {
						return nil, a.fail(ctx, err)
					}
					placed.Brief = p.Brief.Brief
				}
				w.Panels = append(w.Panels, placed)
			}
			b, err := a.app.Boards.AddWhole(ctx, view(ctx), w, in.Body.Folder)
			return &out[BoardBody]{boardBody(b)}, a.fail(ctx, err)
		},
	)
}
