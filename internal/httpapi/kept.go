package httpapi

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/core/brief"
	"uzzel/core/chart"
	"uzzel/core/table"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/kept"
)

// KeptBody is a result that one kept, in a list of them.
type KeptBody struct {
	ID     int64  `json:"id"`
	Name   string `json:"name"`
	Report int64  `json:"report,omitempty" doc:"The report that it is of"`
	Day    string `json:"day" doc:"The organisation's day on which it was kept"`
	When   string `json:"when" doc:"The same in words, with the time"`
}

// KeptWholeBody is a result as it was when one kept it.
type KeptWholeBody struct {
	KeptBody
	Brief     *Brief             `json:"brief,omitempty" doc:"What it is compared by: over the days that its period came to. Left out where it can no longer be asked"`
	Title     string             `json:"title"`
	Text      string             `json:"text" doc:"The sentence"`
	Unseen    string             `json:"unseen,omitempty"`
	Days      string             `json:"days,omitempty" doc:"The days of its period"`
	Count     int64              `json:"count" doc:"Of the records"`
	Drawing   *chart.Drawing     `json:"drawing"`
	Groups    []string           `json:"groups"`
	Summaries []string           `json:"summaries"`
	Lines     []KeptLineBody     `json:"lines" doc:"The innermost groups, and the total last"`
	Left      int                `json:"left" doc:"How many lines there were besides"`
	Type      string             `json:"type,omitempty" doc:"Of the records; left out where it has none of its own"`
	Columns   []table.ListColumn `json:"columns" doc:"Of the records"`
	Kept      int                `json:"kept" doc:"How many records were kept"`
	Of        int                `json:"of" doc:"How many there were"`
}

// KeptLineBody is a group of a kept result, or its total.
type KeptLineBody struct {
	Labels []string `json:"labels" doc:"None of the total"`
	Values []string `json:"values" doc:"By summary"`
}

// KeptRowsBody are records as they were.
type KeptRowsBody struct {
	From int         `json:"from"`
	Rows []table.Row `json:"rows"`
}

// AgainstBody is a kept result beside the same now.
type AgainstBody struct {
	Groups    []string          `json:"groups"`
	Summaries []string          `json:"summaries"`
	Lines     []AgainstLineBody `json:"lines" doc:"The groups that there were, those that came since, and the total last"`
	Left      int               `json:"left" doc:"How many groups are not compared"`
}

// AgainstLineBody is a group then and now.
type AgainstLineBody struct {
	Labels []string          `json:"labels"`
	Cells  []AgainstCellBody `json:"cells" doc:"By summary"`
}

// AgainstCellBody is a value then and now.
type AgainstCellBody struct {
	Was    string `json:"was" doc:"Empty where the group was not there"`
	Now    string `json:"now"`
	Change string `json:"change" doc:"With its sign; empty where it cannot be told"`
	Way    int    `json:"way" doc:"1 for more, -1 for less, 0 for neither"`
}

func keptBody(r *kept.Result) KeptBody { return KeptBody{r.ID, r.Name, r.Report, r.Day, r.When} }

func keptWhole(r *kept.Result) KeptWholeBody {
	c := r.Copy
	body := KeptWholeBody{
		KeptBody: keptBody(
			r,
		),
		Title:     c.Title,
		Text:      c.Text,
		Unseen:    c.Unseen,
		Days:      c.Days,
		Count:     c.Count,
		Drawing:   c.Drawing,
		Groups:    append([]string{}, c.Groups...),
		Summaries: sumLabels(c.Summaries),
		Lines:     []KeptLineBody{},
		Left:      c.Left,
		Columns:   []table.ListColumn{},
	}
	if r.Brief != nil {
		b := public(brief.ForOwner(r.Brief), 0)
		if r.Fixed {
			b.Reading = r.Report
		}
		body.Brief = &b
	}
	for _, l := range c.Lines {
		body.Lines = append(body.Lines, KeptLineBody{append([]string{}, l.Labels...), append([]string{}, l.Shown...)})
	}
	if c.Records != nil {
		body.Type, body.Columns, body.Kept, body.Of = c.Records.Type, c.Records.Columns, len(c.Records.Rows), c.Records.Of
	}
	return body
}

func sumLabels(list []answers.CopySum) []string {
	names := []string{}
	for _, s := range list {
		names = append(names, s.Label)
	}
	return names
}

type keptID struct {
	ID int64 `path:"id"`
}

func (a *api) keptResults(g huma.API) {
	huma.Register(
		g,
		lenient(op(http.MethodPost, "/api/kept", "keep-result", "Keep what a brief is answered now, as it is now")),
		func(ctx context.Context, in *struct {
			Body struct {
				Brief  Brief  `json:"brief"`
				Report int64  `json:"report,omitempty" doc:"The saved report that the brief is a reading of"`
				Name   string `json:"name" doc:"What the result is of where it is empty"`
			}
		}) (*out[KeptBody], error) {
			if err := in.Body.Brief.checked(); err != nil {
				return nil, a.fail(ctx, err)
			}
			report := max(in.Body.Report, in.Body.Brief.Reading)
			r, err := a.app.Kept.Keep(ctx, view(ctx), report, in.Body.Brief.Brief, in.Body.Name)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			return &out[KeptBody]{keptBody(r)}, nil
		},
	)
	huma.Register(
		g,
		op(http.MethodGet, "/api/kept", "kept-results", "The results that one kept, the newest first"),
		func(ctx context.Context, in *struct {
			Report int64 `query:"report" doc:"Of which report; of all where it is left out"`
		}) (*out[[]KeptBody], error) {
			list, err := a.app.Kept.Of(ctx, view(ctx), in.Report)
			body := []KeptBody{}
			for i := range list {
				body = append(body, keptBody(&list[i]))
			}
			return &out[[]KeptBody]{body}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodGet, "/api/kept/{id}", "kept-result", "A result as it was when one kept it"),
		func(ctx context.Context, in *keptID) (*out[KeptWholeBody], error) {
			r, err := a.app.Kept.Open(ctx, view(ctx), in.ID)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			return &out[KeptWholeBody]{keptWhole(r)}, nil
		},
	)
	huma.Register(
		g,
		op(http.MethodGet, "/api/kept/{id}/records", "kept-records", "The records of a kept result, as they were"),
		func(ctx context.Context, in *struct {
			ID    int64 `path:"id"`
			From  int   `query:"from" minimum:"0"`
			Count int   `query:"count" minimum:"1" maximum:"1000" default:"200"`
		}) (*out[KeptRowsBody], error) {
			r, err := a.app.Kept.Open(ctx, view(ctx), in.ID)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			return &out[KeptRowsBody]{KeptRowsBody{in.From, append([]table.Row{}, r.Page(in.From, in.Count)...)}}, nil
		},
	)
	huma.Register(
		g,
		op(
			http.MethodGet,
			"/api/kept/{id}/against",
			"kept-against",
			"A kept result beside what it is now, over the same days",
		),
		func(ctx context.Context, in *keptID) (*out[AgainstBody], error) {
			c, err := a.app.Kept.Against(ctx, view(ctx), in.ID)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			body := AgainstBody{append([]string{}, c.Groups...), sumLabels(c.Summaries), []AgainstLineBody{}, c.Left}
			for _, l := range c.Lines {
				line := AgainstLineBody{append([]string{}, l.Labels...), []AgainstCellBody{}}
				for _, cell := range l.Cells {
					line.Cells = append(line.Cells, AgainstCellBody(cell))
				}
				body.Lines = append(body.Lines, line)
			}
			return &out[AgainstBody]{body}, nil
		},
	)
	huma.Register(
		g,
		op(http.MethodPut, "/api/kept/{id}", "name-kept-result", "Call a kept result something else"),
		func(ctx context.Context, in *struct {
			ID   int64 `path:"id"`
			Body struct {
				Name string `json:"name"`
			}
		}) (*none, error) {
			return nil, a.fail(ctx, a.app.Kept.Name(ctx, view(ctx), in.ID, in.Body.Name))
		},
	)
	huma.Register(
		g,
		op(http.MethodDelete, "/api/kept/{id}", "delete-kept-result", "Delete a kept result for good"),
		func(ctx context.Context, in *keptID) (*none, error) {
			return nil, a.fail(ctx, a.app.Kept.Delete(ctx, view(ctx), in.ID))
		},
	)
	o := op(http.MethodGet, "/api/kept/{id}/file", "kept-file", "A kept result as a file")
	o.Responses = fileResponses()
	huma.Register(g, o, func(ctx context.Context, in *struct {
		ID     int64  `path:"id"`
		View   string `query:"view" doc:"summary or records"`
		Format string `query:"format" enum:"csv,xlsx,json" default:"csv"`
	}) (*exportOut, error) {
		r, err := a.app.Kept.Open(ctx, view(ctx), in.ID)
		if err != nil {
			return nil, a.fail(ctx, err)
		}
		if r.Brief == nil && in.Format == "json" {
			return nil, a.fail(ctx, fault.New(fault.Invalid, "/format", "This is taken out as CSV or as a workbook alone."))
		}
		t, err := r.Extract(view(ctx), in.View)
		if err != nil {
			return nil, a.fail(ctx, err)
		}
		return a.file(ctx, t, in.View, in.Format, nil)
	})
}
