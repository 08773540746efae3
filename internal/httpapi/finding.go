package httpapi

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/internal/finding"
	"uzzel/internal/library"
	"uzzel/internal/store"
)

// UseBody is a dashboard, or the pages of a record type, where a report is.
type UseBody struct {
	Board int64  `json:"board" doc:"0 for record pages"`
	Title string `json:"title"`
	Pages bool   `json:"pages"`
}

// FoundBody is a report, dashboard or folder.
type FoundBody struct {
	Kind        string    `json:"kind" enum:"report,board,folder"`
	ID          int64     `json:"id"`
	Title       string    `json:"title"`
	Description string    `json:"description"`
	FolderID    int64     `json:"folderId"`
	Folder      string    `json:"folder"`
	Private     bool      `json:"private"`
	Owner       string    `json:"owner"`
	Start       string    `json:"start"`
	Text        string    `json:"text"`
	Changed     int64     `json:"changed"`
	Opened      int64     `json:"opened"`
	Favourite   bool      `json:"favourite"`
	MayChange   bool      `json:"mayChange"`
	MayShare    bool      `json:"mayShare"`
	Panels      int       `json:"panels"`
	Boards      []UseBody `json:"boards"`
	Deleted     int64     `json:"deleted"`
	DeletedBy   string    `json:"deletedBy"`
}

// FoundList is what was found, and what was looked for in words.
type FoundList struct {
	Said  string      `json:"said"`
	Items []FoundBody `json:"items"`
}

// UsedBody is where a report is.
type UsedBody struct {
	Uses   []UseBody `json:"uses"`
	Hidden int       `json:"hidden" doc:"How many dashboards it stands on that one may not open"`
}

type findIn struct {
	Kind      string `query:"kind"`
	Whose     string `query:"whose"`
	Favourite bool   `query:"favourite"`
	Opened    bool   `query:"opened"`
	Folder    int64  `query:"folder"`
	Board     string `query:"board"`
	Start     string `query:"start"`
	Changed   string `query:"changed"`
	For       string `query:"for"`
	Search    string `query:"search"`
	Sort      string `query:"sort"`
	Deleted   bool   `query:"deleted"`
}

type itemIn struct {
	Kind string `path:"kind"`
	ID   int64  `path:"id"`
}

func (i *itemIn) item() store.Item { return store.Item{Kind: i.Kind, Item: i.ID} }

func usesBody(list []library.Use) []UseBody {
	out := []UseBody{}
	for _, u := range list {
		out = append(out, UseBody{u.Board, u.Title, u.Pages})
	}
	return out
}

func (a *api) finding(g huma.API) {
	huma.Register(
		g,
		op(http.MethodGet, "/api/find", "find", "Reports, dashboards and folders"),
		func(ctx context.Context, in *findIn) (*out[FoundList], error) {
			list, said, err := a.app.Finder.Find(ctx, view(ctx), finding.Find(*in))
			body := FoundList{said, []FoundBody{}}
			for _, f := range list {
				body.Items = append(
					body.Items,
					FoundBody{
						f.Kind,
						f.Item.Item,
						f.Title,
						f.Description,
						f.FolderID,
						f.Folder,
						f.Private,
						f.Owner,
						f.Start,
						f.Text,
						f.Changed,
						f.Opened,
						f.Favourite,
						f.MayChange,
						f.MayShare,
						f.Panels,
						usesBody(f.Boards),
						f.Deleted,
						f.DeletedBy,
					},
				)
			}
			return &out[FoundList]{body}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/favourites/{kind}/{id}", "add-favourite", "Mark as a favourite"),
		func(ctx context.Context, in *itemIn) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.Library.SetFavourite(ctx, view(ctx), in.item(), true))
		},
	)
	huma.Register(
		g,
		op(http.MethodDelete, "/api/favourites/{kind}/{id}", "drop-favourite", "No longer a favourite"),
		func(ctx context.Context, in *itemIn) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.Library.SetFavourite(ctx, view(ctx), in.item(), false))
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/opened/{kind}/{id}", "note-opened", "Remember that it was opened"),
		func(ctx context.Context, in *itemIn) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.Library.NoteOpened(ctx, view(ctx), in.item()))
		},
	)
	huma.Register(
		g,
		op(http.MethodPost, "/api/deleted/{kind}/{id}/back", "bring-back", "Bring back what was deleted"),
		func(ctx context.Context, in *itemIn) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.Finder.BringBack(ctx, view(ctx), in.item()))
		},
	)
	huma.Register(
		g,
		op(http.MethodGet, "/api/reports/{id}/uses", "report-uses", "Where a report stands"),
		func(ctx context.Context, in *idIn) (*out[UsedBody], error) {
			uses, hidden, err := a.app.Library.UsedOn(ctx, view(ctx), in.ID)
			return &out[UsedBody]{UsedBody{usesBody(uses), hidden}}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/reports/{id}/folder", "move-report", "Put a report into another folder"),
		func(ctx context.Context, in *struct {
			ID   int64 `path:"id"`
			Body struct {
				Folder int64 `json:"folder"`
			}
		}) (*out[ReportBody], error) {
			r, err := a.app.Library.MoveReport(ctx, view(ctx), in.ID, in.Body.Folder)
			return a.opened(ctx, r, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/reports/{id}/owner", "give-report", "Make another person its owner"),
		func(ctx context.Context, in *struct {
			ID   int64 `path:"id"`
			Body struct {
				Owner int64 `json:"owner"`
			}
		}) (*out[ReportBody], error) {
			r, err := a.app.Library.GiveTo(ctx, view(ctx), in.ID, in.Body.Owner)
			return a.opened(ctx, r, err)
		},
	)
}
