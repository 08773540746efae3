package httpapi

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"
)

// ChangePoint is one thing that a change of the settings set.
type ChangePoint struct {
	What   string `json:"what"`
	Before string `json:"before"`
	After  string `json:"after"`
}

// ChangeBody is a change of the settings.
type ChangeBody struct {
	ID     int64         `json:"id"`
	At     int64         `json:"at" doc:"Seconds since 1970-01-01"`
	By     string        `json:"by"`
	What   string        `json:"what"`
	Points []ChangePoint `json:"points"`
	Back   bool          `json:"back" doc:"Whether it can be taken back"`
	Why    string        `json:"why,omitempty" doc:"Why it cannot"`
}

// ChangesBody is what was changed in the settings, the latest first.
type ChangesBody struct {
	Changes []ChangeBody `json:"changes"`
	More    bool         `json:"more" doc:"Whether there are others before"`
}

// BackupBody is when the data file was copied last.
type BackupBody struct {
	At    int64 `json:"at" doc:"Seconds since 1970-01-01; 0 where it never was"`
	Bytes int64 `json:"bytes"`
}

// changes are the operations on what was changed in the settings.
func (a *api) changes(g huma.API) {
	huma.Register(
		g,
		op(http.MethodGet, "/api/settings/backup", "last-backup", "When the data file was copied last"),
		func(ctx context.Context, _ *none) (*out[BackupBody], error) {
			c, err := a.app.LastBackup(view(ctx))
			return &out[BackupBody]{BackupBody(c)}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodGet, "/api/settings/changes", "setting-changes", "What was changed in the settings, and by whom"),
		func(ctx context.Context, in *struct {
			Search string `query:"search" maxLength:"200"`
			Before int64  `query:"before" doc:"Those before one"`
		}) (*out[ChangesBody], error) {
			list, more, err := a.app.Admin.Changes(ctx, view(ctx), in.Search, in.Before, 50)
			body := ChangesBody{[]ChangeBody{}, more}
			for _, c := range list {
				b := ChangeBody{c.ID, c.At, c.By, c.What, []ChangePoint{}, c.Back, c.Why}
				for _, p := range c.Points {
					b.Points = append(b.Points, ChangePoint(p))
				}
				body.Changes = append(body.Changes, b)
			}
			return &out[ChangesBody]{body}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(
			http.MethodPost,
			"/api/settings/changes/{id}/back",
			"take-setting-back",
			"Have a setting be what it was before a change",
		),
		func(ctx context.Context, in *idIn) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.Admin.TakeBack(ctx, view(ctx), in.ID))
		},
	)
}
