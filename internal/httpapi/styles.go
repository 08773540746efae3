package httpapi

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/core/chart"
	"uzzel/internal/people"
	"uzzel/internal/styles"
)

// StyleBody is the house style, with what is wrong with its palette for some readers.
type StyleBody struct {
	Style    chart.Style     `json:"style"`
	Palette  []string        `json:"palette" doc:"The palette in force: the style's, or our own"`
	Findings []chart.Finding `json:"findings"`
	Version  int             `json:"version"`
}

func (a *api) styles(g huma.API) {
	huma.Register(
		g,
		op(http.MethodGet, "/api/settings/style", "style", "The house style"),
		func(ctx context.Context, _ *none) (*out[StyleBody], error) {
			looks := view(ctx).Looks
			body := StyleBody{Version: looks.HouseVersion(), Style: looks.House, Palette: looks.House.Palette}
			if len(body.Palette) == 0 {
				body.Palette = chart.Palette()
			}
			body.Findings = chart.CheckPalette(body.Palette)
			return &out[StyleBody]{body}, nil
		},
	)
	huma.Register(
		g,
		lenient(op(http.MethodPut, "/api/settings/style", "set-style", "Set the house style")),
		func(ctx context.Context, in *struct {
			Body struct {
				Style   chart.Style `json:"style"`
				Version int         `json:"version,omitempty" doc:"The one that was read"`
			}
		}) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.Styles.SetHouse(ctx, who(ctx), in.Body.Style, in.Body.Version))
		},
	)
	huma.Register(
		g,
		lenient(
			op(http.MethodPost, "/api/settings/style/preview", "preview-style", "Charts as a house style would have them"),
		),
		func(ctx context.Context, in *struct {
			Body struct {
				Style chart.Style `json:"style"`
			}
		}) (*out[[]*chart.Drawing], error) {
			list, err := view(ctx).Preview(ctx, in.Body.Style)
			return &out[[]*chart.Drawing]{list}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPost, "/api/settings/palette", "check-palette", "What is wrong with a palette for some readers"),
		func(_ context.Context, in *struct {
			Body struct {
				Palette []string `json:"palette" maxItems:"12"`
			}
		}) (*out[[]chart.Finding], error) {
			return &out[[]chart.Finding]{chart.CheckPalette(in.Body.Palette)}, nil
		},
	)
}

// KeptStyleBody is a style that charts ask for by its key.
type KeptStyleBody struct {
	Key       string      `json:"key"`
	Name      string      `json:"name"`
	Owner     string      `json:"owner"`
	MayChange bool        `json:"mayChange"`
	Style     chart.Style `json:"style"`
	Version   int         `json:"version"`
}

type keptStyleIn struct {
	Name    string      `json:"name"`
	Style   chart.Style `json:"style"`
	Version int         `json:"version,omitempty" doc:"The one that was read"`
}

func (a *api) keptStyles(g huma.API) {
	body := func(ctx context.Context, k styles.Kept) KeptStyleBody {
		return KeptStyleBody{k.Key, k.Name, people.Name(view(ctx).Snap, k.Owner), k.MayChange(who(ctx)), k.Style, k.Version}
	}
	huma.Register(
		g,
		op(http.MethodGet, "/api/styles", "styles", "The styles that are kept by name"),
		func(ctx context.Context, _ *none) (*out[[]KeptStyleBody], error) {
			list := []KeptStyleBody{}
			for _, k := range view(ctx).Looks.Kept {
				list = append(list, body(ctx, k))
			}
			return &out[[]KeptStyleBody]{list}, nil
		},
	)
	huma.Register(
		g,
		lenient(op(http.MethodPost, "/api/styles", "keep-style", "Keep a style by name")),
		func(ctx context.Context, in *struct{ Body keptStyleIn }) (*out[KeptStyleBody], error) {
			k, err := a.app.Styles.Keep(ctx, who(ctx), "", in.Body.Name, in.Body.Style, 0)
			return &out[KeptStyleBody]{body(ctx, k)}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		lenient(
			op(
				http.MethodPut,
				"/api/styles/{key}",
				"change-style",
				"Change a kept style, and with it all charts that ask for it",
			),
		),
		func(ctx context.Context, in *struct {
			Key  string `path:"key"`
			Body keptStyleIn
		}) (*out[KeptStyleBody], error) {
			k, err := a.app.Styles.Keep(ctx, who(ctx), in.Key, in.Body.Name, in.Body.Style, in.Body.Version)
			return &out[KeptStyleBody]{body(ctx, k)}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodDelete, "/api/styles/{key}", "drop-style", "Delete a kept style"),
		func(ctx context.Context, in *struct {
			Key string `path:"key"`
		}) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.Styles.Drop(ctx, who(ctx), in.Key))
		},
	)
	huma.Register(
		g,
		op(
			http.MethodPut,
			"/api/reports/{id}/style",
			"dress",
			"Have a report's chart follow a kept style, or the house style",
		),
		func(ctx context.Context, in *struct {
			ID   int64 `path:"id"`
			Body struct {
				Style string `json:"style" doc:"A key; empty for the house style"`
			}
		}) (*out[ReportBody], error) {
			r, err := a.app.Library.Dress(ctx, view(ctx), in.ID, in.Body.Style)
			return a.opened(ctx, r, err)
		},
	)
}
