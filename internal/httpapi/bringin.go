package httpapi

import (
	"bytes"
	"context"
	"net/http"
	"strconv"

	"github.com/danielgtaylor/huma/v2"
	"github.com/go-chi/chi/v5/middleware"

	"uzzel/core/result"
	"uzzel/internal/bringin"
	"uzzel/internal/exchange"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

// FileBody is a file that was read, to be brought in.
type FileBody struct {
	ID        string     `json:"id"`
	Encoding  string     `json:"encoding"`
	Separator string     `json:"separator"`
	Header    []string   `json:"header"`
	Rows      [][]string `json:"rows" doc:"The first lines"`
	Lines     int        `json:"lines"`
}

// BringColumn is what a column of a file is.
type BringColumn struct {
	Field  string `json:"field" doc:"The key of the field; empty for a column that is left out"`
	Form   string `json:"form,omitempty" enum:"point,comma,ymd,dmy,mdy,words," doc:"How its values are written"`
	Unsure bool   `json:"unsure,omitempty" doc:"Whether another form would read the values as well"`
}

// BringPlan is how a file is brought in.
type BringPlan struct {
	Type    string        `json:"type"`
	Columns []BringColumn `json:"columns" maxItems:"200"`
	Key     string        `json:"key,omitempty" doc:"The field by which a line is found among the records that are there; empty where all are new"`
	Make    bool          `json:"make,omitempty" doc:"Whether records that links name and that are not there are made"`
}

func (p BringPlan) plan() bringin.Plan {
	out := bringin.Plan{Type: p.Type, Key: p.Key, Make: p.Make}
	for _, c := range p.Columns {
		out.Columns = append(out.Columns, bringin.Column(c))
	}
	return out
}

// RefusedLine is a line that cannot be brought in.
type RefusedLine struct {
	Line   int    `json:"line"`
	Column string `json:"column"`
	Reason string `json:"reason"`
}

// OutcomeBody is what would come of a file, or came of it.
type OutcomeBody struct {
	New     int                 `json:"new"`
	Changed int                 `json:"changed"`
	Same    int                 `json:"same"`
	Refused int                 `json:"refused"`
	Lines   []RefusedLine       `json:"lines" doc:"The first hundred that are refused"`
	Makes   map[string]int      `json:"makes" doc:"The records that are made because links name them, by their type"`
	Columns []BringColumn       `json:"columns" doc:"As they were read: in the form that was recognised where the plan names none"`
	Unknown map[string][]string `json:"unknown" doc:"Values that are none of the choices, by field"`
	Import  int64               `json:"import,omitempty" doc:"The import, once it is done"`
}

func outcomeBody(o *bringin.Outcome) OutcomeBody {
	b := OutcomeBody{
		New:     o.New,
		Changed: o.Changed,
		Same:    o.Same,
		Refused: len(o.Refused),
		Lines:   []RefusedLine{},
		Makes:   o.Makes,
		Unknown: o.Unknown,
		Columns: []BringColumn{},
	}
	for _, c := range o.Columns {
		b.Columns = append(b.Columns, BringColumn(c))
	}
	for _, r := range o.Refused[:min(100, len(o.Refused))] {
		b.Lines = append(b.Lines, RefusedLine{r.Line, r.Column, r.Reason})
	}
	return b
}

// ImportBody is something that was brought in.
type ImportBody struct {
	ID      int64  `json:"id"`
	Type    string `json:"type"`
	File    string `json:"file"`
	By      string `json:"by"`
	At      int64  `json:"at" doc:"Seconds since 1970-01-01"`
	Made    int    `json:"made"`
	Changed int    `json:"changed"`
	Refused int    `json:"refused"`
	Undone  bool   `json:"undone"`
}

func importBody(i store.Import, by string) ImportBody {
	return ImportBody{i.ID, i.RecordType, i.File, by, i.At, i.Made, i.Changed, i.Refused, i.Undone != nil}
}

// LeftBody says what stays though an import, or a change of many records, was taken back.
type LeftBody struct {
	Left int `json:"left" doc:"Records that were changed since, and stay"`
}

// GuessBody is what a file most likely is.
type GuessBody struct {
	Plan  BringPlan `json:"plan"`
	Again bool      `json:"again" doc:"Whether it is as the latest file with such columns was brought in"`
}

// ProgressBody is how far a file is brought in.
type ProgressBody struct {
	Phase   string       `json:"phase" enum:"checking,writing,done,stopped,failed"`
	Done    int          `json:"done"`
	Of      int          `json:"of"`
	Outcome *OutcomeBody `json:"outcome,omitempty" doc:"Once it is done"`
	Why     string       `json:"why,omitempty" doc:"Why it failed; nothing of it is written"`
}

type fileIn struct {
	ID string `path:"id"`
}

type planIn struct {
	ID   string `path:"id"`
	Body BringPlan
}

// filePath takes files, which are larger than other requests.
const filePath = "/api/bring-in"

// sized lets requests be so large as what they are for needs.
func sized(next http.Handler) http.Handler {
	small, large := middleware.RequestSize(maxBody)(next), middleware.RequestSize(bringin.MaxFile+1)(next)
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.URL.Path == filePath {
			large.ServeHTTP(w, r)
			return
		}
		small.ServeHTTP(w, r)
	})
}

func (a *api) bringIn(g huma.API) {
	take := op(http.MethodPost, filePath, "bring-in", "Send a file of CSV or a workbook, to be brought in")
	take.MaxBodyBytes = bringin.MaxFile + 1
	huma.Register(
		g,
		take,
		func(ctx context.Context, in *struct {
			Name    string `query:"name" maxLength:"300"`
			RawBody []byte `contentType:"application/octet-stream"`
		}) (*out[FileBody], error) {
			id, s, err := a.app.BringIn.Take(view(ctx), in.Name, in.RawBody)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			rows := append([][]string{}, s.Rows[:min(5, len(s.Rows))]...)
			return &out[FileBody]{FileBody{id, s.Encoding, s.Separator, s.Header, rows, len(s.Rows)}}, nil
		},
	)
	huma.Register(
		g,
		op(http.MethodPost, filePath+"/{id}/guess", "guess-columns", "What the columns of a file most likely are"),
		func(ctx context.Context, in *struct {
			ID   string `path:"id"`
			Body struct {
				Type string `json:"type"`
			}
		}) (*out[GuessBody], error) {
			p, again, err := a.app.BringIn.Guess(ctx, view(ctx), in.ID, in.Body.Type)
			body := GuessBody{BringPlan{Type: p.Type, Columns: []BringColumn{}, Key: p.Key, Make: p.Make}, again}
			for _, c := range p.Columns {
				body.Plan.Columns = append(body.Plan.Columns, BringColumn(c))
			}
			return &out[GuessBody]{body}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(http.MethodPost, filePath+"/{id}/try", "try-bring-in", "What would come of a file; nothing is written"),
		func(ctx context.Context, in *planIn) (*out[OutcomeBody], error) {
			o, err := a.app.BringIn.Try(ctx, view(ctx), in.ID, in.Body.plan())
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			return &out[OutcomeBody]{outcomeBody(o)}, nil
		},
	)
	huma.Register(
		g,
		op(
			http.MethodPost,
			filePath+"/{id}/do",
			"do-bring-in",
			"Begin to bring in what is not refused of a file, all of it at once or none",
		),
		func(ctx context.Context, in *planIn) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.BringIn.Start(ctx, view(ctx), in.ID, in.Body.plan()))
		},
	)
	huma.Register(
		g,
		op(http.MethodGet, filePath+"/{id}/progress", "bring-in-progress", "How far a file is brought in"),
		func(ctx context.Context, in *fileIn) (*out[ProgressBody], error) {
			p, err := a.app.BringIn.Progress(view(ctx), in.ID)
			body := ProgressBody{Phase: p.Phase, Done: p.Done, Of: p.Of}
			if p.Outcome != nil {
				o := outcomeBody(p.Outcome)
				o.Import = p.Import
				body.Outcome = &o
			}
			if p.Err != nil {
				body.Why = a.fail(ctx, p.Err).Error()
			}
			return &out[ProgressBody]{body}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(
			http.MethodDelete,
			filePath+"/{id}/progress",
			"stop-bring-in",
			"Stop bringing a file in; nothing of it is written then",
		),
		func(ctx context.Context, in *fileIn) (*struct{}, error) {
			return nil, a.fail(ctx, a.app.BringIn.Stop(view(ctx), in.ID))
		},
	)
	refused := op(
		http.MethodPost,
		filePath+"/{id}/refused",
		"refused-lines",
		"The refused lines as CSV, to be corrected and brought in again",
	)
	refused.Responses = map[string]*huma.Response{
		"200": {Description: "CSV", Content: map[string]*huma.MediaType{"text/csv": {}}},
	}
	huma.Register(
		g,
		refused,
		func(ctx context.Context, in *planIn) (*huma.StreamResponse, error) {
			o, header, err := a.app.BringIn.RefusedLines(ctx, view(ctx), in.ID, in.Body.plan())
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			t := result.Lines{Header: append([]string{"line", "refused"}, header...)}
			for _, r := range o.Refused {
				t.Rows = append(t.Rows, append([]string{strconv.Itoa(r.Line), r.Column + ": " + r.Reason}, r.Cells...))
			}
			var text bytes.Buffer
			if _, err := exchange.WriteCSV(&text, t.Table(), true); err != nil {
				return nil, a.fail(ctx, err)
			}
			return &huma.StreamResponse{Body: func(ctx huma.Context) {
				ctx.SetHeader("Content-Type", "text/csv; charset=utf-8")
				ctx.SetHeader("Content-Disposition", `attachment; filename="refused lines.csv"`)
				_, _ = ctx.BodyWriter().Write(text.Bytes())
			}}, nil
		},
	)
	huma.Register(
		g,
		op(http.MethodGet, "/api/brought-in", "brought-in", "What was brought in, the latest first"),
		func(ctx context.Context, _ *none) (*out[[]ImportBody], error) {
			imports, err := a.app.BringIn.List(ctx, view(ctx))
			list := []ImportBody{}
			for _, i := range imports {
				list = append(list, importBody(i, people.Name(view(ctx).Snap, i.Person)))
			}
			return &out[[]ImportBody]{list}, a.fail(ctx, err)
		},
	)
	huma.Register(
		g,
		op(
			http.MethodPost,
			"/api/brought-in/{id}/undo",
			"undo-bring-in",
			"Take an import back, but for what was changed since",
		),
		func(ctx context.Context, in *idIn) (*out[LeftBody], error) {
			left, err := a.app.BringIn.Undo(ctx, view(ctx), in.ID)
			return &out[LeftBody]{LeftBody{left}}, a.fail(ctx, err)
		},
	)
}
