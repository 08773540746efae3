package httpapi

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/internal/answers"
	"uzzel/internal/library"
	"uzzel/internal/store"
)

// VersionBody is what a report was once.
type VersionBody struct {
	Version     int      `json:"version"`
	Title       string   `json:"title"`
	Description string   `json:"description"`
	Brief       Brief    `json:"brief"`
	At          int64    `json:"at"`
	Who         string   `json:"who"`
	Change      []string `json:"change" doc:"What the change was, in words"`
}

// DraftBody is work that was not kept yet.
type DraftBody struct {
	ID       int64  `json:"id"`
	Report   int64  `json:"report" doc:"0 for a new report"`
	Title    string `json:"title" doc:"Of the report it is of, else its sentence"`
	Version  int    `json:"version" doc:"Of the report that was changed"`
	Brief    Brief  `json:"brief"`
	Revision int    `json:"revision"`
	Changed  int64  `json:"changed"`
}

type draftIn struct {
	Body struct {
		ID       int64 `json:"id,omitempty"`
		Report   int64 `json:"report,omitempty"`
		Version  int   `json:"version,omitempty"`
		Brief    Brief `json:"brief"`
		Revision int   `json:"revision,omitempty" doc:"The one that was read"`
	}
}

func draftBody(v *answers.View, d library.Draft) DraftBody {
	b := public(d.Brief, d.Reading)
	body := DraftBody{ID: d.ID, Title: d.Title, Version: d.Version, Brief: b, Revision: d.Revision, Changed: d.Changed}
	if d.Report != nil {
		body.Report = *d.Report
	}
	if body.Title == "" {
		body.Title = say(v, b)
	}
	return body
}

func (a *api) history(g huma.API) {
	huma.Register(
		g,
		op(http.MethodGet, "/api/reports/{id}/versions", "versions", "What a report was"),
		func(ctx context.Context, in *idIn) (*out[[]VersionBody], error) {
			rows, err := a.app.Library.Versions(ctx, view(ctx), in.ID)
			list := []VersionBody{}
			for _, v := range rows {
				list = append(
					list,
					VersionBody{v.Version.Version, v.Title, v.Description, public(v.Brief, 0), v.At, v.Who, v.Change},
				)
			}
			return &out[[]VersionBody]{list}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(
			http.MethodPost,
			"/api/reports/{id}/versions/{version}/back",
			"version-back",
			"Make a report what it was at a version",
		),
		func(ctx context.Context, in *struct {
			ID      int64 `path:"id"`
			Version int   `path:"version"`
		}) (*out[ReportBody], error) {
			r, err := a.app.Library.BringVersionBack(ctx, view(ctx), in.ID, in.Version)
			return a.opened(ctx, r, err)
		},
	)
	huma.Register(
		g,
		lenient(op(http.MethodPost, "/api/difference", "difference", "What one brief says that another did not")),
		a.difference,
	)
	huma.Register(
		g,
		op(http.MethodGet, "/api/drafts", "drafts", "One's drafts"),
		func(ctx context.Context, _ *none) (*out[[]DraftBody], error) {
			rows, err := a.app.Library.Drafts(ctx, view(ctx))
			list := []DraftBody{}
			for _, d := range rows {
				list = append(list, draftBody(view(ctx), d))
			}
			return &out[[]DraftBody]{list}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		lenient(op(http.MethodPut, "/api/drafts", "keep-draft", "Keep a draft")),
		func(ctx context.Context, in *draftIn) (*out[DraftBody], error) {
			if err := in.Body.Brief.checked(); err != nil {
				return nil, a.fail(ctx, err)
			}
			d := store.Draft{ID: in.Body.ID, Version: in.Body.Version, Revision: in.Body.Revision}
			if in.Body.Report != 0 {
				d.Report = &in.Body.Report
			}
			kept, err := a.app.Library.KeepDraft(ctx, view(ctx), d, in.Body.Brief.Brief)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			return &out[DraftBody]{draftBody(view(ctx), kept)}, nil
		},
	)
	huma.Register(
		g,
		op(http.MethodDelete, "/api/drafts/{id}", "drop-draft", "Throw a draft away"),
		func(ctx context.Context, in *idIn) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.Library.DropDraft(ctx, view(ctx), in.ID))
		},
	)
	huma.Register(
		g,
		op(http.MethodGet, "/api/reports/{id}/dismissed", "dismissed", "The warnings dismissed for a report"),
		func(ctx context.Context, in *idIn) (*out[[]string], error) {
			list, err := a.app.Library.Dismissed(ctx, view(ctx), in.ID)
			return &out[[]string]{append([]string{}, list...)}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/reports/{id}/dismissed", "dismiss", "Dismiss a warning for a report"),
		func(ctx context.Context, in *struct {
			ID   int64 `path:"id"`
			Body struct {
				Code string `json:"code"`
			}
		}) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.Library.Dismiss(ctx, view(ctx), in.ID, in.Body.Code))
		},
	)
}

type differenceIn struct {
	Body struct {
		Was Brief `json:"was"`
		Now Brief `json:"now"`
	}
}

// difference answers what one brief says that another did not.
func (a *api) difference(ctx context.Context, in *differenceIn) (*out[[]string], error) {
	for _, b := range []*Brief{&in.Body.Was, &in.Body.Now} {
		if err := b.checked(); err != nil {
			return nil, a.fail(ctx, err)
		}
	}
	return &out[[]string]{
		append([]string{}, a.app.Library.Difference(view(ctx), in.Body.Was.Brief, in.Body.Now.Brief)...),
	}, nil
}
