package httpapi

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/core/brief"
	"uzzel/internal/answers"
	"uzzel/internal/library"
	"uzzel/internal/store"
)

// AccessBody is whom a folder, or a single report or dashboard, is open to.
type AccessBody struct {
	Kind      string `json:"kind" enum:"everyone,team,person"`
	Subject   int64  `json:"subject" doc:"The team or person, 0 for everyone"`
	MayChange bool   `json:"mayChange"`
}

// FolderBody is a folder.
type FolderBody struct {
	ID        int64        `json:"id"`
	Name      string       `json:"name"`
	Private   bool         `json:"private" doc:"Whether it is one's own, seen by nobody else"`
	Parent    int64        `json:"parent" doc:"The folder it stands in, 0 for none"`
	MayChange bool         `json:"mayChange" doc:"Whether one may change what lies in it"`
	MayManage bool         `json:"mayManage" doc:"Whether one may change its name and access"`
	Access    []AccessBody `json:"access"`
	Version   int          `json:"version" doc:"Of its name and access"`
}

// ReportBody is a kept report.
type ReportBody struct {
	ID          int64          `json:"id"`
	Folder      int64          `json:"folder"`
	Title       string         `json:"title"`
	Description string         `json:"description"`
	Owner       string         `json:"owner"`
	OwnerID     int64          `json:"ownerId"`
	Team        bool           `json:"team" doc:"Whether it is a team's"`
	MayChange   bool           `json:"mayChange"`
	MayShare    bool           `json:"mayShare" doc:"Whether one may share it by itself"`
	Version     int            `json:"version"`
	Changed     int64          `json:"changed" doc:"When it was changed last, seconds since 1970"`
	Brief       Brief          `json:"brief"`
	Text        string         `json:"text" doc:"The sentence"`
	NoDownload  bool           `json:"noDownload" doc:"Whether readers may not download it"`
	Shown       []brief.Column `json:"shown" doc:"The columns of the records behind a number; none for the report's own"`
	ShownFixed  bool           `json:"shownFixed" doc:"Whether readers may not change them"`
}

// SubjectBody is someone whom things can be shared with.
type SubjectBody struct {
	Kind string `json:"kind" enum:"team,person"`
	ID   int64  `json:"id"`
	Name string `json:"name"`
}

type keepIn struct {
	Title       string         `json:"title"`
	Description string         `json:"description"`
	Folder      int64          `json:"folder"`
	Brief       Brief          `json:"brief"`
	Version     int            `json:"version,omitempty" doc:"The version that was changed"`
	NoDownload  bool           `json:"noDownload,omitempty"`
	Shown       []brief.Column `json:"shown,omitempty"`
	ShownFixed  bool           `json:"shownFixed,omitempty"`
	Team        bool           `json:"team,omitempty"`
	From        int64          `json:"from,omitempty" doc:"The report that it is a reading or a copy of"`
}

type idIn struct {
	ID int64 `path:"id"`
}

// folderIn is a folder to be made or changed.
type folderIn struct {
	Name   string       `json:"name"`
	Parent int64        `json:"parent,omitempty"`
	Access []AccessBody `json:"access,omitempty"`
	// Version is the one that was read.
	Version int `json:"version,omitempty"`
}

func (f folderIn) folder(id int64) store.Folder {
	out := store.Folder{ID: id, Name: f.Name}
	if f.Parent != 0 {
		out.Parent = &f.Parent
	}
	out.Access = accessesOf(f.Access)
	return out
}

func accessesOf(list []AccessBody) []store.Access {
	var out []store.Access
	for _, a := range list {
		out = append(out, store.Access{Kind: a.Kind, Subject: a.Subject, MayChange: a.MayChange})
	}
	return out
}

func accessBodies(list []store.Access) []AccessBody {
	out := []AccessBody{}
	for _, a := range list {
		out = append(out, AccessBody{a.Kind, a.Subject, a.MayChange})
	}
	return out
}

func folderBody(f library.Folder) FolderBody {
	body := FolderBody{
		ID:        f.ID,
		Name:      f.Name,
		Private:   f.Owner != nil,
		MayChange: f.MayChange,
		MayManage: f.MayManage,
		Access:    accessBodies(f.Access),
		Version:   f.Version,
	}
	if f.Parent != nil {
		body.Parent = *f.Parent
	}
	return body
}

func reportBody(v *answers.View, r library.Report) ReportBody {
	b := public(r.Brief, r.Reading())
	return ReportBody{
		r.ID,
		r.Folder,
		r.Title,
		r.Description,
		r.OwnerName,
		r.Owner,
		r.Team,
		r.MayChange,
		library.MayShare(v, r.Owner),
		r.Version,
		r.Changed,
		b,
		say(v, b),
		r.NoDownload,
		append([]brief.Column{}, r.Shown...),
		r.ShownFixed,
	}
}

// opened answers with a report, or with why there is none.
func (a *api) opened(ctx context.Context, r library.Report, err error) (*out[ReportBody], error) {
	if err != nil {
		return nil, a.fail(ctx, err)
	}
	return &out[ReportBody]{reportBody(view(ctx), r)}, nil
}

func (a *api) keeping(g huma.API) {
	huma.Register(
		g,
		op(http.MethodGet, "/api/folders", "folders", "The folders one may open"),
		func(ctx context.Context, _ *none) (*out[[]FolderBody], error) {
			rows, err := a.app.Library.Folders(ctx, view(ctx))
			list := []FolderBody{}
			for _, f := range rows {
				list = append(list, folderBody(f))
			}
			return &out[[]FolderBody]{list}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodGet, "/api/subjects", "subjects", "Whom things can be shared with"),
		func(ctx context.Context, _ *none) (*out[[]SubjectBody], error) {
			rows, err := a.app.People.Subjects(ctx)
			list := []SubjectBody{}
			for _, s := range rows {
				list = append(list, SubjectBody(s))
			}
			return &out[[]SubjectBody]{list}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPost, "/api/folders", "add-folder", "Make a shared folder"),
		func(ctx context.Context, in *struct{ Body folderIn }) (*out[FolderBody], error) {
			f, err := a.app.Library.KeepFolder(ctx, view(ctx), in.Body.folder(0), 0)
			return &out[FolderBody]{folderBody(library.Folder{Folder: f, MayChange: true, MayManage: true})}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/folders/{id}", "change-folder", "Change a shared folder's name and access"),
		func(ctx context.Context, in *struct {
			ID   int64 `path:"id"`
			Body folderIn
		}) (*struct{}, error) {
			_, err := a.app.Library.KeepFolder(ctx, view(ctx), in.Body.folder(in.ID), in.Body.Version)
			return nil, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodDelete, "/api/folders/{id}", "remove-folder", "Take away an empty folder"),
		func(ctx context.Context, in *idIn) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.Library.RemoveFolder(ctx, view(ctx), in.ID))
		},
	)
	huma.Register(
		g,
		op(http.MethodGet, "/api/reports", "reports", "The reports one may open"),
		func(ctx context.Context, _ *none) (*out[[]ReportBody], error) {
			rows, err := a.app.Library.Reports(ctx, view(ctx))
			list := []ReportBody{}
			for _, r := range rows {
				list = append(list, reportBody(view(ctx), r))
			}
			return &out[[]ReportBody]{list}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodGet, "/api/reports/{id}", "report", "A report"),
		func(ctx context.Context, in *idIn) (*out[ReportBody], error) {
			r, err := a.app.Library.Report(ctx, view(ctx), in.ID)
			return a.opened(ctx, r, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodDelete, "/api/reports/{id}", "delete-report", "Put a report among what was recently deleted"),
		func(ctx context.Context, in *idIn) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.Library.DeleteReport(ctx, view(ctx), in.ID))
		},
	)
	keep := func(k keepIn) library.Keep {
		return library.Keep{
			Title:       k.Title,
			Description: k.Description,
			Folder:      k.Folder,
			Brief:       k.Brief.Brief,
			Version:     k.Version,
			NoDownload:  k.NoDownload,
			Shown:       k.Shown,
			ShownFixed:  k.ShownFixed,
			Team:        k.Team,
			From:        max(k.From, k.Brief.Reading),
		}
	}
	huma.Register(
		g,
		lenient(op(http.MethodPost, "/api/reports", "keep-report", "Keep a new report")),
		func(ctx context.Context, in *struct{ Body keepIn }) (*out[ReportBody], error) {
			if err := in.Body.Brief.checked(); err != nil {
				return nil, a.fail(ctx, err)
			}
			r, err := a.app.Library.KeepNew(ctx, view(ctx), keep(in.Body))
			return a.opened(ctx, r, err)
		},
	)
	huma.Register(
		g,
		lenient(op(http.MethodPut, "/api/reports/{id}", "change-report", "Keep a changed report")),
		func(ctx context.Context, in *struct {
			ID   int64 `path:"id"`
			Body keepIn
		}) (*out[ReportBody], error) {
			if err := in.Body.Brief.checked(); err != nil {
				return nil, a.fail(ctx, err)
			}
			r, err := a.app.Library.KeepChanged(ctx, view(ctx), in.ID, keep(in.Body))
			return a.opened(ctx, r, err)
		},
	)
}
