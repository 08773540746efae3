package httpapi

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/internal/desk"
	"uzzel/internal/store"
)

// FolderBody is a folder.
type FolderBody struct {
	ID      int64  `json:"id"`
	Name    string `json:"name"`
	Private bool   `json:"private" doc:"Whether it is one's own, seen by nobody else"`
}

// ReportBody is a kept report.
type ReportBody struct {
	ID          int64  `json:"id"`
	Folder      int64  `json:"folder"`
	Title       string `json:"title"`
	Description string `json:"description"`
	Owner       string `json:"owner"`
	MayChange   bool   `json:"mayChange"`
	Version     int    `json:"version"`
	Changed     int64  `json:"changed" doc:"When it was changed last, seconds since 1970"`
	Brief       Brief  `json:"brief"`
	Text        string `json:"text" doc:"The sentence"`
}

type keepIn struct {
	Title       string `json:"title"`
	Description string `json:"description"`
	Folder      int64  `json:"folder"`
	Brief       Brief  `json:"brief"`
	Version     int    `json:"version,omitempty" doc:"The version that was changed"`
}

type idIn struct {
	ID int64 `path:"id"`
}

type nameIn struct {
	Body struct {
		Name string `json:"name"`
	}
}

func folderBody(f store.Folder) FolderBody { return FolderBody{f.ID, f.Name, f.Owner != nil} }

func (a *api) reportBody(r desk.Report) ReportBody {
	text := ""
	if bound, err := a.desk.Bind(r.Brief); err == nil {
		text = a.desk.Say(bound).String()
	}
	return ReportBody{r.ID, r.Folder, r.Title, r.Description, r.OwnerName, r.MayChange, r.Version, r.Changed, Brief{Brief: r.Brief}, text}
}

func (a *api) keeping(g huma.API) {
	huma.Register(g, op(http.MethodGet, "/api/folders", "folders", "The folders one may open"), func(ctx context.Context, _ *none) (*out[[]FolderBody], error) {
		rows, err := a.desk.Folders(ctx, who(ctx))
		list := []FolderBody{}
		for _, f := range rows {
			list = append(list, folderBody(f))
		}
		return &out[[]FolderBody]{list}, a.fail(ctx, err)
	})
	huma.Register(g, op(http.MethodPost, "/api/folders", "add-folder", "Make a folder for everyone"), func(ctx context.Context, in *nameIn) (*out[FolderBody], error) {
		f, err := a.desk.AddFolder(ctx, who(ctx), in.Body.Name)
		return &out[FolderBody]{folderBody(f)}, a.fail(ctx, err)
	})
	huma.Register(g, op(http.MethodGet, "/api/reports", "reports", "The reports one may open"), func(ctx context.Context, _ *none) (*out[[]ReportBody], error) {
		rows, err := a.desk.Reports(ctx, who(ctx))
		list := []ReportBody{}
		for _, r := range rows {
			list = append(list, a.reportBody(r))
		}
		return &out[[]ReportBody]{list}, a.fail(ctx, err)
	})
	huma.Register(g, op(http.MethodGet, "/api/reports/{id}", "report", "A report"), func(ctx context.Context, in *idIn) (*out[ReportBody], error) {
		r, err := a.desk.Report(ctx, who(ctx), in.ID)
		if err != nil {
			return nil, a.fail(ctx, err)
		}
		return &out[ReportBody]{a.reportBody(r)}, nil
	})
	keep := func(k keepIn) desk.Keep {
		return desk.Keep{Title: k.Title, Description: k.Description, Folder: k.Folder, Brief: k.Brief.Brief, Version: k.Version}
	}
	huma.Register(g, lenient(op(http.MethodPost, "/api/reports", "keep-report", "Keep a new report")), func(ctx context.Context, in *struct{ Body keepIn }) (*out[ReportBody], error) {
		if err := in.Body.Brief.check(); err != nil {
			return nil, a.fail(ctx, err)
		}
		r, err := a.desk.KeepNew(ctx, who(ctx), keep(in.Body))
		if err != nil {
			return nil, a.fail(ctx, err)
		}
		return &out[ReportBody]{a.reportBody(r)}, nil
	})
	huma.Register(g, lenient(op(http.MethodPut, "/api/reports/{id}", "change-report", "Keep a changed report")), func(ctx context.Context, in *struct {
		ID   int64 `path:"id"`
		Body keepIn
	}) (*out[ReportBody], error) {
		if err := in.Body.Brief.check(); err != nil {
			return nil, a.fail(ctx, err)
		}
		r, err := a.desk.KeepChanged(ctx, who(ctx), in.ID, keep(in.Body))
		if err != nil {
			return nil, a.fail(ctx, err)
		}
		return &out[ReportBody]{a.reportBody(r)}, nil
	})
}
