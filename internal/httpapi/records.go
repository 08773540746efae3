package httpapi

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/core/schema"
	"uzzel/internal/admin"
	"uzzel/internal/boards"
	"uzzel/internal/library"
)

// RecordFieldBody is one field of an open record.
type RecordFieldBody struct {
	Key         string      `json:"key"`
	Label       string      `json:"label"`
	Description string      `json:"description"`
	Kind        schema.Kind `json:"kind"`
	Text        string      `json:"text"`
	Worked      bool        `json:"worked"`
	ToType      string      `json:"toType,omitempty"`
	To          string      `json:"to,omitempty"`
	Hidden      bool        `json:"hidden,omitempty" doc:"Whether it links to a record that is not one's to see"`
	Worth       string      `json:"worth,omitempty" doc:"What an amount in another currency comes to in the organisation's"`
}

// RecordBody is one record with the reports on its page.
type RecordBody struct {
	Type   string            `json:"type"`
	One    string            `json:"one"`
	Label  string            `json:"label"`
	ID     string            `json:"id"`
	Name   string            `json:"name"`
	Fields []RecordFieldBody `json:"fields"`
	Panels []RecordPanel     `json:"panels"`
	Layout *admin.PageLayout `json:"layout,omitempty" doc:"How its page is laid out for one's team; as it comes where there is none"`
}

type pagesIn struct {
	Type string `path:"type"`
	Team int64  `query:"team" doc:"0 for all that have none of their own"`
}

// PageLayoutBody is how the pages of a record type are laid out.
type PageLayoutBody struct {
	Layout  *admin.PageLayout `json:"layout,omitempty" doc:"Left out: as it comes"`
	Version int               `json:"version"`
}

// RecordPanel is a report on a record's page, narrowed to the record.
type RecordPanel struct {
	Report int64  `json:"report"`
	Title  string `json:"title"`
	Words  string `json:"words" doc:"What it shows of the record: deals of this customer"`
	boards.Look
	Ways []library.Way `json:"ways" doc:"The ways in which its records belong to that of the page"`
}

// PlaceableBody is a report that could stand on the pages of a record type, or why it cannot.
type PlaceableBody struct {
	Report int64  `json:"report"`
	Title  string `json:"title"`
	Owner  string `json:"owner"`
	Words  string `json:"words" doc:"What it would show of the record"`
	Why    string `json:"why" doc:"Why it cannot; empty where it can"`
}

type recordIn struct {
	Type string `path:"type"`
	ID   string `path:"id"`
}

type pageIn struct {
	Type   string `path:"type"`
	Report int64  `path:"report"`
}

// PageBody says whether a report is on the pages of a record type.
type PageBody struct {
	Type  string `json:"type"`
	Label string `json:"label"`
	On    bool   `json:"on"`
}

// ClosedPlaceBody is a dashboard, or the pages of a record type, where some may not open a report that is there.
type ClosedPlaceBody struct {
	Board    int64    `json:"board" doc:"0 for record pages"`
	Title    string   `json:"title"`
	Pages    bool     `json:"pages"`
	To       []string `json:"to" doc:"The people that it is closed to"`
	Into     int64    `json:"into" doc:"A folder in which all of them may open it and to which one may move it; 0 for none"`
	IntoName string   `json:"intoName"`
}

func (a *api) records(g huma.API) {
	huma.Register(
		g,
		op(http.MethodGet, "/api/records/{type}/{id}", "record", "A record and the reports on its page"),
		func(ctx context.Context, in *recordIn) (*out[RecordBody], error) {
			r, panels, err := a.app.Boards.Record(ctx, view(ctx), in.Type, in.ID)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			body := RecordBody{
				Type:   r.Type.Key,
				One:    r.Type.One,
				Label:  r.Type.Label,
				ID:     r.ID,
				Name:   r.Name,
				Fields: []RecordFieldBody{},
				Panels: []RecordPanel{},
			}
			for _, f := range r.Fields {
				body.Fields = append(
					body.Fields,
					RecordFieldBody{
						f.Field.Key,
						f.Field.Label,
						f.Field.Description,
						f.Field.Kind,
						f.Text,
						f.Field.Worked != nil && f.Field.Formula() == "",
						f.Field.To,
						f.To,
						f.Hidden,
						f.Worth,
					},
				)
			}
			for _, p := range panels {
				body.Panels = append(body.Panels, RecordPanel{
					p.Report.ID,
					p.Report.Title,
					p.Words,
					boards.Look{Link: p.Link, Light: p.Light, Heading: p.Heading, Tall: p.Tall},
					p.Ways,
				})
			}
			body.Layout, err = a.app.Admin.PageFor(ctx, view(ctx), in.Type)
			return &out[RecordBody]{body}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodGet, "/api/reports/{id}/pages", "report-pages", "The record pages that a report can stand on"),
		func(ctx context.Context, in *idIn) (*out[[]PageBody], error) {
			r, err := a.app.Library.Report(ctx, view(ctx), in.ID)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			on, err := a.app.Library.PagesOf(ctx, view(ctx), r)
			list := []PageBody{}
			for _, t := range view(ctx).Snap.Schema.Types {
				if is, ok := on[t.Key]; ok {
					list = append(list, PageBody{t.Key, t.Label, is})
				}
			}
			return &out[[]PageBody]{list}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(
			http.MethodGet,
			"/api/reports/{id}/closed",
			"closed-at",
			"Where a report stands before people who may not open it",
		),
		func(ctx context.Context, in *idIn) (*out[[]ClosedPlaceBody], error) {
			places, err := a.app.Boards.ClosedAt(ctx, view(ctx), in.ID)
			list := []ClosedPlaceBody{}
			for _, p := range places {
				list = append(list, ClosedPlaceBody{p.Board, p.Title, p.Pages, p.To, p.Into, p.IntoName})
			}
			return &out[[]ClosedPlaceBody]{list}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodGet, "/api/page-layouts/{type}", "page-layout", "How the pages of a record type are laid out"),
		func(ctx context.Context, in *pagesIn) (*out[PageLayoutBody], error) {
			l, version, err := a.app.Admin.PageLayout(ctx, in.Type, in.Team)
			return &out[PageLayoutBody]{PageLayoutBody{l, version}}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/page-layouts/{type}", "set-page-layout", "Lay out the pages of a record type"),
		func(ctx context.Context, in *struct {
			Type string `path:"type"`
			Team int64  `query:"team"`
			Body PageLayoutBody
		}) (*struct{}, error) {
			return nil, a.fail(
				ctx, a.app.Admin.SetPageLayout(ctx, view(ctx), in.Type, in.Team, in.Body.Layout, in.Body.Version))
		},
	)
	huma.Register(
		g,
		op(
			http.MethodGet,
			"/api/page-layouts/{type}/draft",
			"page-draft",
			"What one has left unsaved of the pages of a record type",
		),
		func(ctx context.Context, in *pagesIn) (*out[admin.PageDraft], error) {
			d, err := a.app.Admin.PageDraft(ctx, view(ctx), in.Type, in.Team)
			return &out[admin.PageDraft]{d}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/page-layouts/{type}/draft", "keep-page-draft", "Keep how pages are being laid out"),
		func(ctx context.Context, in *struct {
			Type string `path:"type"`
			Team int64  `query:"team"`
			Body admin.PageDraft
		}) (*out[admin.PageDraft], error) {
			d, err := a.app.Admin.KeepPageDraft(ctx, view(ctx), in.Type, in.Team, in.Body)
			return &out[admin.PageDraft]{d}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(
			http.MethodDelete,
			"/api/page-layouts/{type}/draft",
			"drop-page-draft",
			"Throw away what one has left unsaved of pages",
		),
		func(ctx context.Context, in *pagesIn) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.Admin.DropPageDraft(ctx, view(ctx), in.Type, in.Team))
		},
	)
	huma.Register(
		g,
		op(http.MethodGet, "/api/pages/{type}", "placeables", "The reports that could stand on the pages of a record type"),
		func(ctx context.Context, in *typeIn) (*out[[]PlaceableBody], error) {
			found, err := a.app.Boards.Placeables(ctx, view(ctx), in.Type)
			list := []PlaceableBody{}
			for _, p := range found {
				list = append(list, PlaceableBody{p.Report.ID, p.Report.Title, p.Report.OwnerName, p.Words, p.Why})
			}
			return &out[[]PlaceableBody]{list}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(
			http.MethodPut,
			"/api/pages/{type}/{report}/look",
			"set-look",
			"Change how a report stands on the pages of a record type",
		),
		func(ctx context.Context, in *struct {
			Type   string `path:"type"`
			Report int64  `path:"report"`
			Body   boards.Look
		}) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.Boards.SetLook(ctx, view(ctx), in.Type, in.Report, in.Body))
		},
	)
	huma.Register(
		g,
		op(
			http.MethodPut,
			"/api/page-order/{type}",
			"order-page",
			"Have the reports on the pages of a record type stand in an order",
		),
		func(ctx context.Context, in *struct {
			Type string `path:"type"`
			Body struct {
				Reports []int64 `json:"reports" maxItems:"200"`
			}
		}) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.Boards.OrderPage(ctx, view(ctx), in.Type, in.Body.Reports))
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/pages/{type}/{report}", "put-on-page", "Put a report on the pages of a record type"),
		func(ctx context.Context, in *pageIn) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.Boards.PutOnPage(ctx, view(ctx), in.Type, in.Report))
		},
	)
	huma.Register(
		g,
		op(http.MethodDelete, "/api/pages/{type}/{report}", "take-off-page", "Take a report off the pages of a record type"),
		func(ctx context.Context, in *pageIn) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.Boards.TakeOffPage(ctx, view(ctx), in.Type, in.Report))
		},
	)
}
