package httpapi

import (
	"context"
	"net/http"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/internal/records"
)

// ValuesBody is a record as it is kept.
type ValuesBody struct {
	ID      int64             `json:"id"`
	Version string            `json:"version" doc:"Changes with every value; the ETag of the record"`
	Values  map[string]string `json:"values" doc:"By the key of the field, in the form of docs/brief.md, \"Records\", without empty ones"`
}

func valuesBody(r records.Record) ValuesBody { return ValuesBody{r.ID, r.Version, r.Values} }

// RecordsPage is some of the records of a type, by number.
type RecordsPage struct {
	Records []ValuesBody `json:"records"`
	More    bool         `json:"more" doc:"Whether others follow"`
}

// EditBody is what a record is changed to.
type EditBody struct {
	ID      int64             `json:"id"`
	Version string            `json:"version,omitempty" doc:"The one that was read; without it, it is changed whatever it is by now"`
	Values  map[string]string `json:"values" doc:"By the key of the field; an empty text empties it"`
}

// DeletedBody is a record that was deleted and can be brought back.
type DeletedBody struct {
	ID      int64  `json:"id"`
	Name    string `json:"name"`
	Deleted int64  `json:"deleted" doc:"Seconds since 1970-01-01"`
}

// MergedBody is what a merge is undone by.
type MergedBody struct {
	Merge int64 `json:"merge"`
}

type withTag struct {
	ETag string `header:"ETag"`
	Body ValuesBody
}

func tagged(r records.Record) *withTag { return &withTag{`"` + r.Version + `"`, valuesBody(r)} }

type typeIn struct {
	Type string `path:"type"`
}

type oneIn struct {
	Type string `path:"type"`
	ID   int64  `path:"id"`
}

// DroppedBody is which records were deleted.
type DroppedBody struct {
	IDs []int64 `json:"ids"`
}

// writing are the operations that read records as they are kept, and write them.
func (a *api) writing(g huma.API) {
	huma.Register(
		g,
		op(http.MethodGet, "/api/records/{type}", "records", "The records of a type as they are kept, by number"),
		func(ctx context.Context, in *struct {
			Type  string `path:"type"`
			After int64  `query:"after" doc:"The number of the last one that was read"`
			Count int    `query:"count" minimum:"1" maximum:"1000" default:"100"`
		}) (*out[RecordsPage], error) {
			list, more, err := a.app.Records.Page(ctx, view(ctx), in.Type, in.After, in.Count)
			body := RecordsPage{[]ValuesBody{}, more}
			for _, r := range list {
				body.Records = append(body.Records, valuesBody(r))
			}
			return &out[RecordsPage]{body}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPost, "/api/records/{type}", "make-records", "Make records, all of them or none"),
		func(ctx context.Context, in *struct {
			Type string `path:"type"`
			Body struct {
				Records []map[string]string `json:"records" minItems:"1" maxItems:"1000"`
			}
		}) (*out[[]int64], error) {
			ids, err := a.app.Records.Create(ctx, view(ctx), in.Type, in.Body.Records)
			return &out[[]int64]{ids}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPatch, "/api/records/{type}", "change-records", "Change records, all of them or none"),
		func(ctx context.Context, in *struct {
			Type string `path:"type"`
			Body struct {
				Records []EditBody `json:"records" minItems:"1" maxItems:"1000"`
			}
		}) (*out[[]ValuesBody], error) {
			var edits []records.Edit
			for _, e := range in.Body.Records {
				edits = append(edits, records.Edit(e))
			}
			changed, err := a.app.Records.Change(ctx, view(ctx), in.Type, edits)
			list := []ValuesBody{}
			for _, r := range changed {
				list = append(list, valuesBody(r))
			}
			return &out[[]ValuesBody]{list}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(
			http.MethodDelete,
			"/api/records/{type}",
			"delete-records",
			"Delete records, all of them or none; they can be brought back for 30 days",
		),
		func(ctx context.Context, in *struct {
			WorkIn
			Type string `path:"type"`
			Body WhichBody
		}) (*out[DroppedBody], error) {
			ctx, end := a.works.Begin(ctx, who(ctx).ID, in.Work)
			defer end()
			ids, err := a.which(ctx, in.Type, in.Body)
			if err == nil {
				err = a.app.Records.Delete(ctx, view(ctx), in.Type, ids)
			}
			return &out[DroppedBody]{DroppedBody{ids}}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(
			http.MethodPost,
			"/api/records/{type}/merge",
			"merge-records",
			"Have records become one; what links to them follows",
		),
		func(ctx context.Context, in *struct {
			Type string `path:"type"`
			Body struct {
				Keep   int64             `json:"keep" doc:"The one that stays"`
				Drop   []int64           `json:"drop" minItems:"1" maxItems:"20" doc:"Those that become it"`
				Values map[string]string `json:"values,omitempty" doc:"What the one that stays is changed to"`
			}
		}) (*out[MergedBody], error) {
			id, err := a.app.Records.Merge(ctx, view(ctx), in.Type, in.Body.Keep, in.Body.Drop, in.Body.Values)
			return &out[MergedBody]{MergedBody{id}}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPost, "/api/merges/{id}/undo", "undo-merge", "Take records apart again that were merged"),
		func(ctx context.Context, in *idIn) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.Records.Unmerge(ctx, view(ctx), in.ID))
		},
	)
	huma.Register(
		g,
		op(http.MethodGet, "/api/deleted-records/{type}", "deleted-records", "What was deleted of a type"),
		func(ctx context.Context, in *typeIn) (*out[[]DeletedBody], error) {
			deleted, err := a.app.Records.Deleted(ctx, view(ctx), in.Type)
			list := []DeletedBody{}
			for _, d := range deleted {
				list = append(list, DeletedBody{d.Record, d.Name, d.Deleted})
			}
			return &out[[]DeletedBody]{list}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(
			http.MethodPost,
			"/api/deleted-records/{type}/back",
			"bring-records-back",
			"Bring deleted records back, all or none",
		),
		func(ctx context.Context, in *struct {
			WorkIn
			Type string `path:"type"`
			Body struct {
				IDs []int64 `json:"ids" minItems:"1" maxItems:"10000"`
			}
		}) (*struct{}, error) {
			ctx, end := a.works.Begin(ctx, who(ctx).ID, in.Work)
			defer end()
			return nil, a.fail(ctx, a.app.Records.BringBack(ctx, view(ctx), in.Type, in.Body.IDs...))
		},
	)
	huma.Register(
		g,
		op(http.MethodPost, "/api/deleted-records/{type}/{id}/back", "bring-record-back", "Bring a deleted record back"),
		func(ctx context.Context, in *oneIn) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.Records.BringBack(ctx, view(ctx), in.Type, in.ID))
		},
	)
	huma.Register(
		g,
		op(http.MethodGet, "/api/records/{type}/{id}/values", "record-values", "A record as it is kept"),
		func(ctx context.Context, in *oneIn) (*withTag, error) {
			r, err := a.app.Records.Read(ctx, view(ctx), in.Type, in.ID)
			return tagged(r), a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPatch, "/api/records/{type}/{id}", "change-record", "Change a record"),
		func(ctx context.Context, in *struct {
			Type  string `path:"type"`
			ID    int64  `path:"id"`
			Match string `header:"If-Match" doc:"The ETag that was read: if the record is another by now, it is not changed"`
			Body  struct {
				Values map[string]string `json:"values"`
			}
		}) (*withTag, error) {
			version := strings.Trim(in.Match, `"*`)
			list, err := a.app.Records.Change(
				ctx,
				view(ctx),
				in.Type,
				[]records.Edit{{ID: in.ID, Version: version, Values: in.Body.Values}},
			)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			return tagged(list[0]), nil
		},
	)
}
